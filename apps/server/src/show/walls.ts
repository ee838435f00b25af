import type { Answer, Api, ShowSource, Wall } from '@gemmel/contract';
import { isRemoved } from '../library/removed';
import { PLAIN_SHOW, ShowSettings } from '@gemmel/core';
import { createHash, randomBytes, randomInt } from 'node:crypto';
import { LRUCache } from 'lru-cache';
import type { By } from '../act/perform';
import type { App } from '../context';
import { refuseForeign } from '../library/own';
import { notFound, refused } from '../problem';
import { listMusic } from './music';
import { showOf, slidesOf } from './shows';

/** How long a code is shown before there is another, in minutes; and how many screens may wait at once. */
const CODE = { minutes: 10, most: 100 } as const;

const hashOf = (token: string): Buffer => createHash('sha256').update(token).digest();

/** A screen asks to be on a wall: it gets a secret of 256 bits, of which only the hash is kept. */
export async function openWall(app: App): Promise<{ token: string }> {
  const { db } = app;
  await db('walls')
    .whereNull('library_id')
    .where('created_at', '<', db.raw('UTC_TIMESTAMP(3) - INTERVAL 1 DAY'))
    .delete();
  const [{ n }] = (await db('walls')
    .whereNull('library_id')
    .where('code_until', '>', db.raw('UTC_TIMESTAMP(3)'))
    .count('id as n')) as unknown as [{ n: number }];
  if (Number(n) >= CODE.most) throw refused('walls-full');
  const token = randomBytes(32).toString('base64url');
  await db('walls').insert({ token_hash: hashOf(token) });
  return { token };
}

/** A code for a screen that waits: the one it has while that is good, else a new one that no other screen shows. */
async function codeFor(app: App, id: number): Promise<string> {
  const { db } = app;
  const good = await db('walls').where('id', id).where('code_until', '>', db.raw('UTC_TIMESTAMP(3)')).first('code');
  if (good?.code) return good.code;
  for (;;) {
    const code = String(randomInt(1_000_000)).padStart(6, '0');
    try {
      await db('walls')
        .whereNull('library_id')
        .where('code_until', '<=', db.raw('UTC_TIMESTAMP(3)'))
        .where('code', code)
        .update({ code: null });
      await db('walls')
        .where('id', id)
        .update({ code, code_until: db.raw('UTC_TIMESTAMP(3) + INTERVAL ? MINUTE', [CODE.minutes]) });
      return code;
    } catch (error) {
      if ((error as { code?: string }).code !== 'ER_DUP_ENTRY') throw error;
    }
  }
}

interface Hung {
  id: number;
  library: number;
  source: ShowSource;
  settings: ShowSettings;
  title: string | null;
}

/** What a screen plays. @throws when there is no such screen, or what it plays is no longer there; null while it waits. */
async function hung(app: App, token: string): Promise<{ id: number; plays: Hung | null }> {
  const { db } = app;
  const row = await db('walls').where('token_hash', hashOf(token)).first();
  if (!row) throw refused('wall-ended');
  if (row.library_id === null) return { id: row.id, plays: null };
  if (await isRemoved(db, row.library_id)) throw refused('wall-ended');
  const base = { id: row.id, library: row.library_id };
  if (row.source !== null) {
    const source = JSON.parse(row.source) as ShowSource;
    return { id: row.id, plays: { ...base, source, settings: PLAIN_SHOW, title: row.name } };
  }
  const show = await db('shows')
    .where({ id: row.show_id!, library_id: row.library_id })
    .whereNull('removed_at')
    .first();
  if (!show) throw refused('wall-ended');
  return {
    id: row.id,
    plays: {
      ...base,
      source: JSON.parse(show.source) as ShowSource,
      settings: ShowSettings.parse(JSON.parse(show.settings)),
      title: show.name,
    },
  };
}

/** The pictures and the music a screen may ask for, as they were when it last looked. */
const allowed = new LRUCache<number, { pictures: Set<number>; music: Set<number> }>({ max: 200, ttl: 10 * 60_000 });

/** What a screen shows: its code while it waits, then its show as it is now. */
export async function wallOf(app: App, token: string): Promise<Answer<Api['wall']>> {
  const { id, plays } = await hung(app, token);
  if (!plays) return { state: 'waiting', code: await codeFor(app, id) };
  const show = await showOf(app, plays.library, plays.source);
  const music = (await listMusic(app, plays.library)).filter((piece) => plays.settings.music.includes(piece.id));
  allowed.set(id, {
    pictures: new Set(show.pictures.map((one) => one.id)),
    music: new Set(music.map((piece) => piece.id)),
  });
  await app
    .db('walls')
    .where('id', id)
    .update({ seen_at: app.db.raw('UTC_TIMESTAMP(3)') });
  // On a wall a show goes round.
  return { state: 'on', title: plays.title, settings: { ...plays.settings, again: true }, show, music };
}

/** Whether a screen may have a picture or a piece of music, and of which library that is. @throws when it may not. */
export async function reach(app: App, token: string, what: { picture: number } | { music: number }): Promise<number> {
  const { id, plays } = await hung(app, token);
  if (!plays) throw notFound('picture');
  let may = allowed.get(id);
  if (!may) {
    await wallOf(app, token);
    may = allowed.get(id)!;
  }
  if ('picture' in what ? !may.pictures.has(what.picture) : !may.music.has(what.music)) throw notFound('picture');
  return plays.library;
}

/** What a screen needs to show some pictures; those that are not of its show are left out. */
export async function wallSlides(app: App, token: string, ids: readonly number[]): Promise<Answer<Api['wallSlides']>> {
  const { id, plays } = await hung(app, token);
  if (!plays) return { slides: [] };
  if (!allowed.get(id)) await wallOf(app, token);
  const may = allowed.get(id)!.pictures;
  return {
    slides: await slidesOf(
      app,
      plays.library,
      ids.filter((picture) => may.has(picture)),
    ),
  };
}

/** Lets the screen that shows a code play a show or an album of this library. Whoever confirms it first has it. */
export async function confirmWall(
  app: App,
  { library, member }: By,
  { code, name, plays }: { code: string; name: string; plays: { show: number } | { album: number } },
): Promise<{ id: number }> {
  const { db } = app;
  if ('album' in plays) await refuseForeign(db, library, 'albums', [plays.album], 'album');
  else if (!(await db('shows').where({ id: plays.show, library_id: library }).whereNull('removed_at').first('id')))
    throw notFound('show');
  const row = await db('walls')
    .where('code', code)
    .whereNull('library_id')
    .where('code_until', '>', db.raw('UTC_TIMESTAMP(3)'))
    .first('id');
  const done =
    row &&
    (await db('walls')
      .where({ id: row.id, code })
      .whereNull('library_id')
      .update({
        library_id: library,
        name,
        code: null,
        code_until: null,
        confirmed_by: member,
        ...('album' in plays ? { source: JSON.stringify({ album: plays.album }) } : { show_id: plays.show }),
      }));
  if (!row || !done) throw refused('code-unknown');
  app.changed(library, 'shows');
  return { id: row.id };
}

/** The screens of a library, latest first. */
export async function listWalls(app: App, library: number): Promise<Wall[]> {
  const rows = await app
    .db('walls as w')
    .leftJoin('shows as s', 's.id', 'w.show_id')
    .where('w.library_id', library)
    .orderBy('w.id', 'desc')
    .select('w.id', 'w.name', 'w.source', 'w.seen_at', 's.name as show', 's.removed_at');
  return Promise.all(
    rows.map(async (row) => {
      const source = row.source === null ? null : (JSON.parse(row.source as string) as { album: number });
      const album = source && (await app.db('albums').where('id', source.album).whereNull('removed_at').first('name'));
      return {
        id: row.id,
        name: row.name ?? '',
        plays: source ? (album?.name ?? null) : row.removed_at === null ? ((row.show as string | null) ?? null) : null,
        seen: row.seen_at && `${row.seen_at.slice(0, 19).replace(' ', 'T')}Z`,
      };
    }),
  );
}

/** Takes a screen off the wall: what it had is no longer to be reached. */
export async function endWall(app: App, library: number, id: number): Promise<{ done: true }> {
  const gone = await app.db('walls').where({ id, library_id: library }).delete();
  if (!gone) throw notFound('show');
  allowed.delete(id);
  app.changed(library, 'shows');
  return { done: true };
}
