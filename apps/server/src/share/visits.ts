import type { Visit } from '@gemmel/contract';
import { isRemoved } from '../library/removed';
import { verify } from '@node-rs/argon2';
import { createHash } from 'node:crypto';
import { FailLimit } from '../account/limit';
import { hashOf } from '../account/links';
import { deviceOf } from '../account/signedIn';
import type { App } from '../context';
import { refused } from '../problem';
import { todayIn } from '../time/home';
import { lately } from './lately';
import { shareRow, stateOf, type GuestRow, type ShareRow } from './row';

/** How long a visit lasts from when something was last looked at, in hours; who comes later comes again. */
const LASTS = 6;
/** How long visits are told, in days. */
const TOLD = 90;
/** How old "seen last" of a visit may be, in seconds: it is not written with every picture. */
const SEEN = 300;

/** Somebody at a share: what is shared, and who they are as far as that is known. */
export interface AtShare {
  share: ShareRow;
  /** Whose own link it is. */
  guest: GuestRow | null;
  /** What tells guests apart; null for a browser that has not said anything yet. */
  who: Buffer | null;
}

/** What tells one guest of a share from another: the link of their own, or their browser's own mark. */
export function whoOf(share: number, guest: GuestRow | null, mark: string | undefined): Buffer | null {
  const by = guest ? `guest ${guest.id}` : mark ? `mark ${mark}` : null;
  return by === null ? null : createHash('sha256').update(`share ${share} ${by}`).digest();
}

/**
 * The share a link opens, while it is open. @throws a refusal in kind words: the same for a link that never was and for one that no longer
 * is anybody's. `brief` for a thumbnail, which may be looked up by what was known a moment ago.
 */
export async function atShare(app: App, token: string, mark?: string, brief = false): Promise<AtShare> {
  const { db } = app;
  const { shares } = lately(app);
  const there = brief ? shares.get(token) : undefined;
  if (there) return { ...there, who: whoOf(there.share.id, there.guest, mark) };
  const token_hash = hashOf(token);
  const [own, guest] = await Promise.all([
    db('shares').where({ token_hash, anybody: true }).first(),
    db('share_guests').where('token_hash', token_hash).whereNull('closed_at').first(),
  ]);
  const share = guest ? await db('shares').where('id', guest.share_id).first() : own;
  if (!share) throw refused('link-unknown');
  if (await isRemoved(db, share.library_id)) throw refused('share-closed');
  const state = stateOf(share, await todayIn(db, share.library_id));
  if (state === 'closed') throw refused('share-closed');
  if (state === 'over') throw refused('share-over');
  shares.set(token, { share, guest: guest ?? null });
  return { share, guest: guest ?? null, who: whoOf(share.id, guest ?? null, mark) };
}

interface There {
  id: number;
  name: string | null;
  word: boolean;
}

/** The visit somebody is on; null for one who has not come yet, or has been away for long. */
export async function visitOf({ db }: App, { share, who }: AtShare): Promise<There | null> {
  if (!who) return null;
  const row = await db('share_visits')
    .where({ share_id: share.id, who })
    .where('seen_at', '>', db.raw('UTC_TIMESTAMP(3) - INTERVAL ? HOUR', [LASTS]))
    .orderBy('id', 'desc')
    .first('id', 'name', 'word', 'seen_at');
  if (!row) return null;
  if (Date.now() - Date.parse(`${row.seen_at.replace(' ', 'T')}Z`) > SEEN * 1000)
    await db('share_visits')
      .where('id', row.id)
      .update({ seen_at: db.raw('UTC_TIMESTAMP(3)') });
  return { id: row.id, name: row.name, word: Boolean(row.word) };
}

/** Whether a word is still to be said by whoever is at a share. Who has a link of their own needs none. */
const asksWord = ({ share, guest }: AtShare, there: There | null): boolean =>
  share.word_hash !== null && guest === null && !there?.word;

/**
 * Lets somebody look at what a share shows. Where it is bound by a word or by how often it may be opened, they must have come in before.
 * @throws a refusal
 */
export async function mayLook(app: App, at: AtShare): Promise<There | null> {
  const bound = at.share.visits_most !== null || (at.share.word_hash !== null && at.guest === null);
  if (!bound) return null;
  const there = await visitOf(app, at);
  if (asksWord(at, there)) throw refused('share-word');
  if (!there) throw refused('share-worn');
  return there;
}

/** What a browser says it is, as far as it is told. */
const kindOf = (agent: string | undefined): Visit['device'] => deviceOf(agent ?? null)?.kind ?? 'computer';

/** Begins a visit, as long as there may be another; counts it. */
async function begin(app: App, at: AtShare, agent: string | undefined, word: boolean): Promise<There> {
  const { db } = app;
  const { share, guest } = at;
  const visit = await db.transaction(async (trx) => {
    const done = await trx('shares')
      .where('id', share.id)
      .whereNull('closed_at')
      .where((q) => void q.whereNull('visits_most').orWhereRaw('opened < visits_most'))
      .update({ opened: trx.raw('opened + 1'), last_opened: trx.raw('UTC_TIMESTAMP(3)') });
    if (!done) throw refused('share-worn');
    if (guest)
      await trx('share_guests')
        .where('id', guest.id)
        .update({ opened: trx.raw('opened + 1'), last_opened: trx.raw('UTC_TIMESTAMP(3)') });
    // A name that was said before is known again.
    const before = await trx('share_visits')
      .where({ share_id: share.id, who: at.who! })
      .orderBy('id', 'desc')
      .first('name');
    const name = guest?.name ?? before?.name ?? null;
    const [id] = (await trx('share_visits').insert({
      library_id: share.library_id,
      share_id: share.id,
      guest_id: guest?.id ?? null,
      who: at.who!,
      name,
      word,
      device: kindOf(agent),
    })) as [number];
    return { id, name, word };
  });
  app.changed(share.library_id, 'shares');
  return visit;
}

/** Who comes to look: a visit begins, or goes on. @throws a refusal where a word is asked for, or it has been opened often enough. */
export async function comeToLook(app: App, at: AtShare, agent: string | undefined): Promise<There> {
  const there = await visitOf(app, at);
  if (asksWord(at, there)) throw refused('share-word');
  return there ?? begin(app, at, agent, false);
}

/** Tries at the word of a share, from one place. */
const TRIES = { most: 10, minutes: 5 };

/** Lets guests in who know the word, and notes by which name they go. */
export class ShareDoor {
  private readonly tries = new FailLimit(TRIES);

  constructor(private readonly app: App) {}

  async enter(
    at: AtShare,
    { word, name }: { word?: string | undefined; name?: string | undefined },
    from: { place: string; agent: string | undefined },
  ): Promise<{ name: string | null }> {
    const { app } = this;
    let there = await visitOf(app, at);
    if (asksWord(at, there)) {
      if (word === undefined) throw refused('share-word');
      const key = `${at.share.id} ${from.place}`;
      if (!(await this.tries.begin(key))) throw refused('too-many-tries');
      if (!(await verify(at.share.word_hash!, word.trim()).catch(() => false))) throw refused('share-wrong-word');
      await this.tries.clear(key);
      if (there) await app.db('share_visits').where('id', there.id).update({ word: true });
      else there = await begin(app, at, from.agent, true);
    }
    there ??= await begin(app, at, from.agent, false);
    if (name !== undefined && at.guest === null) await app.db('share_visits').where('id', there.id).update({ name });
    return { name: at.guest?.name ?? name ?? there.name };
  }
}

/** Notes that pictures were saved. */
export async function noteSaved({ db }: App, at: AtShare, pictures: number): Promise<void> {
  if (!at.who) return;
  const row = await db('share_visits').where({ share_id: at.share.id, who: at.who }).orderBy('id', 'desc').first('id');
  if (row)
    await db('share_visits')
      .where('id', row.id)
      .update({ saved: db.raw('saved + ?', [pictures]) });
}

/** Who opened a share lately, newest first. */
export async function visitsOf(app: App, library: number, id: number): Promise<Visit[]> {
  await shareRow(app, library, id);
  const rows = await app
    .db('share_visits')
    .where({ share_id: id, library_id: library })
    .where('at', '>', app.db.raw('UTC_TIMESTAMP(3) - INTERVAL ? DAY', [TOLD]))
    .orderBy('id', 'desc')
    .limit(500)
    .select('at', 'device', 'name', 'saved');
  return rows.map(({ at, device, name, saved }) => ({ at: `${at.replace(' ', 'T')}Z`, device, name, saved }));
}

/** Forgets visits that are no longer told. */
export async function forgetVisits({ db }: App): Promise<void> {
  await db('share_visits')
    .where('at', '<', db.raw('UTC_TIMESTAMP(3) - INTERVAL ? DAY', [TOLD]))
    .limit(10_000)
    .delete();
}

/** Refuses what a share does not allow. */
export function needs(allowed: boolean): void {
  if (!allowed) throw refused('share-may-not');
}

/** The name a guest goes by. @throws a refusal for one who has not said. */
export async function nameOf(app: App, at: AtShare): Promise<string> {
  if (at.guest) return at.guest.name;
  const name = (await visitOf(app, at))?.name;
  if (!name) throw refused('share-name-first');
  return name;
}
