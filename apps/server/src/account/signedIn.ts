import type { SignedIn } from '@gemmel/contract';
import Bowser from 'bowser';
import type { App } from '../context';
import type { Session } from './accounts';

const iso = (at: string): string => `${at.replace(' ', 'T')}Z`;

/** What a browser says it is, in names people know; null for what says nothing known. */
export function deviceOf(said: string | null): SignedIn['device'] {
  if (!said) return null;
  const { browser, os, platform } = Bowser.parse(said);
  if (!browser.name && !os.name) return null;
  const kind = platform.type === 'mobile' ? 'phone' : platform.type === 'tablet' ? 'tablet' : 'computer';
  return { browser: browser.name ?? null, system: os.name ?? null, kind };
}

/** Where an account is signed in, the place seen last first. */
export async function placesOf({ db }: App, session: Session): Promise<SignedIn[]> {
  const rows = await db('sessions')
    .where('account_id', session.account)
    .where('expires_at', '>', db.raw('UTC_TIMESTAMP(3)'))
    .orderBy('seen_at', 'desc')
    .select('id', 'created_at', 'seen_at', 'device');
  return rows.map((row) => ({
    id: row.id,
    here: row.id === session.id,
    device: deviceOf(row.device),
    since: iso(row.created_at),
    seen: iso(row.seen_at),
  }));
}

/** Signs an account out at one other place, or at all others. */
export async function endPlaces({ db }: App, session: Session, id: number | null): Promise<void> {
  await db('sessions')
    .where('account_id', session.account)
    .whereNot('id', session.id)
    .where((q) => void (id !== null && q.where('id', id)))
    .delete();
}
