import type { Answer, Api } from '@gemmel/contract';
import { createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import { lookup } from 'node:dns/promises';
import type { App } from '../context';
import { perform, type By } from '../act/perform';
import { refused } from '../problem';
import { fromHere } from './hosts';
import { proxies } from './from';

/** How long the machine at an address is waited for, in ms. */
const PATIENCE = 6000;

/** What this very server answers to a question nobody could know before. */
export const proofOf = (app: App, nonce: string): string =>
  createHmac('sha256', app.config.secrets.links).update(`reached ${nonce}`).digest('base64url');

const inside = proxies(['loopback', 'private', '169.254.0.0/16', 'fe80::/10']);
const isInside = (address: string): boolean => inside.check(address, address.includes(':') ? 'ipv6' : 'ipv4');

/** Whether an address leads to this very server: it is asked something only this one can answer. */
async function isUs(app: App, address: string): Promise<boolean> {
  const nonce = randomBytes(16).toString('base64url');
  try {
    const response = await fetch(new URL(`/api/reached/${nonce}`, address), {
      signal: AbortSignal.timeout(PATIENCE),
      redirect: 'error',
    });
    const { proof } = (await response.json()) as { proof?: string };
    const [given, right] = [Buffer.from(proof ?? ''), Buffer.from(proofOf(app, nonce))];
    return given.length === right.length && timingSafeEqual(given, right);
  } catch {
    return false;
  }
}

/** Who can open a link: only this machine, those in the house, or everybody; as far as this machine can tell by asking itself. */
export async function reachOf(app: App, library: number): Promise<Answer<Api['reach']>> {
  const { address } = (await app.db('libraries').where('id', library).first('address'))!;
  const { host } = app.config;
  const listens = fromHere(host) ? 'machine' : 'house';
  if (address === null) return { address, who: listens, answers: null, secure: false };
  const url = new URL(address);
  const [answers, found] = await Promise.all([
    isUs(app, address),
    lookup(url.hostname.replace(/^\[|\]$/g, ''), { all: true }).catch(() => []),
  ]);
  const all = found.map((one) => one.address);
  const who =
    all.length && all.every(fromHere) ? 'machine' : all.length && all.every(isInside) ? 'house' : 'everywhere';
  return { address, who: answers ? who : null, answers, secure: url.protocol === 'https:' };
}

/** Sets the address by which guests reach this library; null for none. */
export function setAddress(app: App, by: By, address: string | null): Promise<{ act: number | null }> {
  if (address !== null) {
    const url = URL.canParse(address) ? new URL(address) : null;
    if (!url || !/^https?:$/.test(url.protocol) || url.pathname !== '/' || url.search || url.hash || url.username)
      throw refused('bad-address');
  }
  const kept = address === null ? null : new URL(address).origin;
  return perform(app, by, 'address', async ({ trx, library, hold, words }) => {
    await hold('libraries', [library]);
    await trx('libraries').where('id', library).update({ address: kept });
    words({ to: kept });
  });
}
