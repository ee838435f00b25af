import type { Share, ShareGuest } from '@gemmel/contract';
import type { Where } from '@gemmel/core';
import type { Knex } from 'knex';
import type { App } from '../context';
import type { Db } from '../db/open';
import { todayIn } from '../time/home';
import { shown } from './holding';
import { unseal } from './links';
import { mayIn, ofIn, stateOf, tellsIn, type ShareRow } from './row';

const iso = (at: string | null): string | null => at && `${at.replace(' ', 'T')}Z`;

/** What a share is of, by name. */
async function aboutOf({ db }: App, row: ShareRow): Promise<Share['about']> {
  const of = ofIn(row);
  if (!of) return { kind: 'pictures', name: null };
  const theirs = { library_id: row.library_id };
  if ('album' in of) {
    const album = await db('albums')
      .where({ ...theirs, id: of.album })
      .first('kind', 'name');
    return { kind: album?.kind === 'smart' ? 'smart album' : 'album', name: album?.name ?? null };
  }
  if ('event' in of) {
    const event = await db('events')
      .where({ ...theirs, id: of.event })
      .first('title', 'start_day');
    return { kind: 'event', name: event ? (event.title ?? event.start_day) : null };
  }
  if ('person' in of)
    return {
      kind: 'person',
      name:
        (
          await db('people')
            .where({ ...theirs, id: of.person })
            .first('name')
        )?.name ?? null,
    };
  if ('show' in of)
    return {
      kind: 'show',
      name:
        (
          await db('shows')
            .where({ ...theirs, id: of.show })
            .first('name')
        )?.name ?? null,
    };
  if ('ids' in of) return { kind: 'pictures', name: null };
  // A question that asks for one place by its name is that place.
  const where: Where | null = 'where' in of.question ? of.question.where : null;
  if (where && 'own' in where) {
    const own = await db('own_places')
      .where({ ...theirs, id: where.own })
      .first('name');
    return { kind: 'place', name: own?.name ?? null };
  }
  const town = where && 'country' in where ? (where.place ?? where.region) : undefined;
  return town === undefined ? { kind: 'question', name: null } : { kind: 'place', name: town };
}

/** Those a share was made for by name. */
export async function guestsOf(app: App, share: number, open: boolean): Promise<ShareGuest[]> {
  const rows = await app.db('share_guests').where('share_id', share).orderBy('id');
  return rows.map((row) => {
    const token = open && row.closed_at === null ? unseal(app, row.sealed) : null;
    return {
      id: row.id,
      name: row.name,
      email: row.email,
      member: row.member_id,
      path: token && `/s/${token}`,
      opened: row.opened,
      lastOpened: iso(row.last_opened),
    };
  });
}

/** How many pictures guests of a share have added that wait for the keeper's word. */
async function waitingIn(db: Db, share: number): Promise<number> {
  const [{ n }] = (await db('pictures as p')
    .join('batches as b', 'b.id', 'p.batch_id')
    .where({ 'b.share_id': share, 'b.held': true })
    .count('* as n')) as unknown as [{ n: number }];
  return Number(n);
}

/** A share as its keeper is told of it. */
export async function toShare(app: App, row: ShareRow): Promise<Share> {
  const { db } = app;
  const state = stateOf(row, await todayIn(db, row.library_id));
  const open = state === 'open';
  const { join, sql, values, order } = await shown(app, row);
  const from = `FROM pictures p ${join} WHERE ${sql} AND p.library_id = ?`;
  const bound = [...values, row.library_id] as Knex.RawBinding[];
  const [[[{ n }]], [[cover]], about, guests, waiting] = await Promise.all([
    db.raw(`SELECT COUNT(*) AS n ${from}`, bound) as unknown as Promise<[[{ n: number }]]>,
    db.raw(`SELECT p.shown ${from} ORDER BY ${order} LIMIT 1`, bound) as unknown as Promise<
      [[{ shown: Buffer } | undefined]]
    >,
    aboutOf(app, row),
    guestsOf(app, row.id, open),
    waitingIn(db, row.id),
  ]);
  const token = row.anybody ? unseal(app, row.sealed) : null;
  return {
    id: row.id,
    title: row.title,
    about,
    frozen: Boolean(row.frozen),
    pictures: Number(n),
    cover: cover?.shown.toString('hex') ?? null,
    until: row.until_day,
    visits: row.visits_most,
    may: mayIn(row),
    tells: tellsIn(row),
    reach: row.reach,
    state,
    closedAt: iso(row.closed_at),
    opened: row.opened,
    lastOpened: iso(row.last_opened),
    anybody: Boolean(row.anybody),
    path: open && token ? `/s/${token}` : null,
    word: row.word_hash !== null,
    guests,
    waiting,
  };
}
