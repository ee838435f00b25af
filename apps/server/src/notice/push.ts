import type { PushPlace } from '@gemmel/contract';
import { createECDH, createHash, hkdfSync } from 'node:crypto';
import { isIP } from 'node:net';
import type { App } from '../context';
import { refused } from '../problem';

/** How many browsers of one member are told. */
const MOST = 10;
/** A place that could not be reached so often in a row is forgotten. */
const GIVEN_UP = 20;
/** How long a push service keeps what a browser that is switched off has not fetched, in s. */
const KEPT = 2 * 86_400;
/** How long a push service is waited for, in ms. */
const PATIENCE = 10_000;

const hashOf = (endpoint: string): Buffer => createHash('sha256').update(endpoint).digest();

/**
 * The pair of keys by which push services know this house (RFC 8292): drawn from its own secret, so that they stay the same as long as it
 * does and need no keeping.
 */
export function keysOf({ config }: App): { publicKey: string; privateKey: string } {
  const ecdh = createECDH('prime256v1');
  for (let n = 0; ; n++) {
    const drawn = Buffer.from(hkdfSync('sha256', config.secrets.links, 'gemmel', `push ${n}`, 32));
    try {
      // One in 2^32 is no private key of this curve.
      ecdh.setPrivateKey(drawn);
      return { publicKey: ecdh.getPublicKey('base64url'), privateKey: drawn.toString('base64url') };
    } catch {
      continue;
    }
  }
}

/** Whether an address can be that of a push service of the wide world: what a member names is written to by this machine. */
export function isPushService(endpoint: string): boolean {
  const { protocol, hostname, port, username } = new URL(endpoint);
  const name = hostname.replace(/^\[|\]$/g, '');
  return (
    protocol === 'https:' &&
    port === '' &&
    username === '' &&
    isIP(name) === 0 &&
    name.includes('.') &&
    !/\.(local|localhost|internal|lan|home|home\.arpa)$/.test(name)
  );
}

/** Has a browser of a member told from now on. */
export async function addPlace(app: App, member: number, { endpoint, keys }: PushPlace): Promise<void> {
  const { db } = app;
  if (!isPushService(endpoint)) throw refused('push-not-there');
  const [{ n }] = (await db('push_places').where('member_id', member).count('* as n')) as unknown as [{ n: number }];
  const hash = hashOf(endpoint);
  if (Number(n) >= MOST && !(await db('push_places').where({ member_id: member, endpoint_hash: hash }).first('id')))
    throw refused('push-enough');
  await db('push_places')
    .insert({ member_id: member, endpoint, endpoint_hash: hash, p256dh: keys.p256dh, auth: keys.auth })
    .onConflict(['member_id', 'endpoint_hash'])
    .merge(['p256dh', 'auth']);
  // What happened before the first of them is not told, nor what happened while there was none.
  await db('members')
    .where('id', member)
    .modify((q) => void (Number(n) > 0 && q.whereNull('pushed_at')))
    .update({ pushed_at: db.raw('UTC_TIMESTAMP(3)') });
}

/** Tells a browser nothing more, or none of a member's. */
export async function endPlace({ db }: App, member: number, endpoint?: string): Promise<void> {
  await db('push_places')
    .where('member_id', member)
    .modify((q) => void (endpoint !== undefined && q.where('endpoint_hash', hashOf(endpoint))))
    .delete();
}

/** What a browser shows. */
export interface Pushed {
  title: string;
  body: string;
  /** Where it leads, within the pages. */
  path: string;
}

/** Tells every browser of a member; those that are gone for good are forgotten. Answers how many were reached. */
export async function pushTo(app: App, member: number, told: Pushed): Promise<number> {
  const { db } = app;
  const places = await db('push_places').where('member_id', member);
  const keys = keysOf(app);
  const subject = `mailto:${app.config.mail?.from.match(/[^\s<>]+@[^\s<>]+/)?.[0] ?? 'gemmel@localhost.invalid'}`;
  const { default: webPush } = await import('web-push');
  const reached = await Promise.all(
    places.map(async ({ id, endpoint, p256dh, auth }) => {
      const { headers, body } = webPush.generateRequestDetails(
        { endpoint, keys: { p256dh, auth } },
        JSON.stringify(told),
        { vapidDetails: { subject, ...keys }, TTL: KEPT, contentEncoding: 'aes128gcm', urgency: 'low' },
      );
      try {
        const answer = await fetch(endpoint, {
          method: 'POST',
          headers: headers as Record<string, string>,
          body: new Uint8Array(body!),
          redirect: 'error',
          signal: AbortSignal.timeout(PATIENCE),
        });
        if (answer.ok) {
          await db('push_places').where({ id }).update({ failed: 0 });
          return true;
        }
        // Gone: the browser was told to be told nothing more.
        if (answer.status === 404 || answer.status === 410) await db('push_places').where({ id }).delete();
        else await db('push_places').where({ id }).increment('failed', 1);
      } catch {
        await db('push_places').where({ id }).increment('failed', 1);
      }
      await db('push_places').where({ id }).where('failed', '>=', GIVEN_UP).delete();
      return false;
    }),
  );
  return reached.filter(Boolean).length;
}
