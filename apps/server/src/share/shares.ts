import type { Answer, Api, Share, ShareOf, ShareReach } from '@gemmel/contract';
import { hashPassword } from '../account/accounts';
import { perform, type Act, type By } from '../act/perform';
import { picturesOf } from '../album/from';
import { chunks, type App } from '../context';
import type { Db } from '../db/open';
import { refuseForeign } from '../library/own';
import { notFound, refused } from '../problem';
import { refuseForeignQuestion } from '../question/foreign';
import { AUDIENCES, atLeast, reaches } from '../sight/audience';
import { saidIn } from '../sight/said';
import { todayIn } from '../time/home';
import { insertGuests, type NewGuest } from './guests';
import { meantBy, reachSql } from './holding';
import { forgetLately } from './lately';
import { newLink } from './links';
import { mayIn, shareRow, tellColumns, tellsIn } from './row';
import { toShare } from './toShare';

type Settings = Pick<Share, 'title' | 'until' | 'visits' | 'may' | 'tells' | 'reach'>;

/** All shares, newest first. */
export async function listShares(app: App, library: number): Promise<Share[]> {
  const rows = await app.db('shares').where('library_id', library).orderBy('id', 'desc');
  return Promise.all(rows.map((row) => toShare(app, row)));
}

/** Refuses what is shared of another library, or is no longer there. */
async function refuseForeignOf(db: Db, library: number, of: ShareOf): Promise<void> {
  if ('album' in of) await refuseForeign(db, library, 'albums', [of.album], 'album');
  if ('event' in of) await refuseForeign(db, library, 'events', [of.event], 'event');
  if ('person' in of) await refuseForeign(db, library, 'people', [of.person], 'person');
  if ('ids' in of) await refuseForeign(db, library, 'pictures', of.ids, 'pictures');
  if ('question' in of) await refuseForeignQuestion(db, library, of.question);
  if ('album' in of && !(await db('albums').where('id', of.album).whereNull('removed_at').first('id')))
    throw notFound('album');
  if ('show' in of) {
    const show = await db('shows').where({ id: of.show, library_id: library }).whereNull('removed_at').first('id');
    if (!show) throw notFound('show');
  }
}

/** Which pictures a share would show, and which it would leave out because they are for fewer people. */
export async function tryShare(
  app: App,
  library: number,
  { of, reach }: { of: ShareOf; reach: ShareReach },
): Promise<Answer<Api['tryShare']>> {
  const { db } = app;
  await refuseForeignOf(db, library, of);
  const meant = await meantBy(app, library, of);
  const within = await reachSql(app, library, reach);
  const { said, usual } = await saidIn(db, library);
  const levels = AUDIENCES.slice(1).map((least) => atLeast(least, { library, member: null, said, usual }));
  const from = `FROM pictures p ${meant.join} WHERE ${meant.sql} AND p.library_id = ?`;
  const [[[sums]], [beyond]] = (await Promise.all([
    db.raw(
      `SELECT COUNT(*) AS n, COALESCE(SUM(${within.sql}), 0) AS within,
         ${levels.map(({ sql }, i) => `COALESCE(SUM(${sql}), 0) AS l${i}`).join(', ')} ${from}`,
      [...within.values, ...levels.flatMap(({ values }) => values), ...meant.values, library],
    ),
    db.raw(`SELECT p.id ${from} AND NOT (${within.sql}) ORDER BY ${meant.order} LIMIT 60`, [
      ...meant.values,
      library,
      ...within.values,
    ]),
  ])) as [[[Record<'n' | 'within' | 'l0' | 'l1' | 'l2', number>]], [{ id: number }[]]];
  const [n, inside, house, family, link] = [sums.n, sums.within, sums.l0, sums.l1, sums.l2].map(Number) as [
    number,
    number,
    number,
    number,
    number,
  ];
  return {
    pictures: inside,
    beyond: {
      pictures: n - inside,
      ids: beyond.map(({ id }) => id),
      me: n - house,
      house: reaches('house', reach) ? 0 : house - family,
      family: reaches('family', reach) ? 0 : family - link,
    },
  };
}

/** Writes the pictures of a share that shows what was there when it was opened. */
async function freeze({ trx, library, hold }: Act, share: number, ids: readonly number[]): Promise<void> {
  await hold('share_pictures', [share]);
  for (const [c, some] of chunks(ids, 1000).entries())
    await trx('share_pictures').insert(
      some.map((picture_id, i) => ({ library_id: library, share_id: share, picture_id, position: c * 1000 + i })),
    );
}

const settingColumns = (set: Settings) => ({
  title: set.title,
  until_day: set.until,
  visits_most: set.visits,
  may: JSON.stringify(set.may),
  reach: set.reach,
  ...tellColumns(set.tells),
});

async function refusePast(app: App, library: number, until: string | null | undefined): Promise<void> {
  if (until && until < (await todayIn(app.db, library))) throw refused('day-over');
}

/** Opens a share: of something, for anybody with its link, for named people or for members. */
export async function openShare(
  app: App,
  by: By & { member: number },
  what: Settings & {
    of: ShareOf;
    frozen: boolean;
    anybody: boolean;
    word: string | null;
    people: readonly NewGuest[];
    members: readonly number[];
  },
): Promise<{ share: Share; act: number | null }> {
  const { library } = by;
  const { of } = what;
  await refusePast(app, library, what.until);
  if (!what.anybody && what.people.length === 0 && what.members.length === 0) throw refused('share-for-nobody');
  await refuseForeignOf(app.db, library, of);
  const frozen = what.frozen || 'ids' in of;
  const ids = frozen ? await frozenIds(app, library, of) : [];
  if (frozen && ids.length === 0) throw refused('nothing-to-share');
  const word_hash = what.word === null ? null : await hashPassword(what.word);
  const { id, act } = await perform(app, by, 'open share', async (act) => {
    const { trx, made, words } = act;
    const [share] = (await trx('shares').insert({
      library_id: library,
      album_id: 'album' in of ? of.album : null,
      source: 'album' in of || 'ids' in of ? null : JSON.stringify(of),
      frozen,
      anybody: what.anybody,
      word_hash,
      created_by: by.member,
      ...settingColumns(what),
      ...newLink(app),
    })) as [number];
    made('shares', share);
    if (frozen) await freeze(act, share, ids);
    words({ name: what.title });
    return { id: share };
  });
  await insertGuests(app, await shareRow(app, library, id), what.people, what.members);
  return { share: await toShare(app, await shareRow(app, library, id)), act };
}

/** The pictures something shared holds now, in its order. */
async function frozenIds(app: App, library: number, of: ShareOf): Promise<number[]> {
  if ('ids' in of) return [...new Set(of.ids)];
  if ('show' in of) {
    const show = await app.db('shows').where({ id: of.show, library_id: library }).first('source');
    return picturesOf(app, library, JSON.parse(show!.source) as Parameters<typeof picturesOf>[2]);
  }
  return picturesOf(app, library, of);
}

/** Changes how a share is set; its links and what it is of stay. */
export async function changeShare(
  app: App,
  by: By,
  id: number,
  change: Partial<Settings> & { anybody?: boolean | undefined; word?: string | null | undefined },
): Promise<{ share: Share; act: number | null }> {
  await refusePast(app, by.library, change.until);
  const word_hash =
    change.word === undefined ? undefined : change.word === null ? null : await hashPassword(change.word);
  const { act } = await perform(app, by, 'change share', async ({ trx, library, hold, words }) => {
    if ((await hold('shares', [id])).length === 0) throw notFound('share');
    const row = (await trx('shares').where({ id, library_id: library }).first())!;
    words({ name: row.title, ...(change.title === undefined ? {} : { to: change.title }) });
    const now = {
      title: row.title,
      until: row.until_day,
      visits: row.visits_most,
      may: mayIn(row),
      tells: tellsIn(row),
      reach: row.reach,
      ...(Object.fromEntries(Object.entries(change).filter(([, value]) => value !== undefined)) as Partial<Settings>),
    };
    await trx('shares')
      .where('id', id)
      .update({
        ...settingColumns(now),
        ...(change.anybody === undefined ? {} : { anybody: change.anybody }),
        ...(word_hash === undefined ? {} : { word_hash }),
      });
  });
  return { share: await toShare(app, await shareRow(app, by.library, id)), act };
}

/** Closes a share, or opens it again. */
export async function setClosed(
  app: App,
  by: By,
  id: number,
  closed: boolean,
): Promise<{ share: Share; act: number | null }> {
  const { act } = await perform(app, by, closed ? 'close share' : 'reopen share', async ({ trx, hold, words }) => {
    if ((await hold('shares', [id])).length === 0) throw notFound('share');
    const { title } = (await trx('shares').where('id', id).first('title'))!;
    words({ name: title });
    // Saying the same twice changes nothing, not even when it was said.
    const closing = trx.raw('COALESCE(closed_at, UTC_TIMESTAMP(3))');
    await trx('shares')
      .where({ id, library_id: by.library })
      .update({ closed_at: closed ? closing : null });
  });
  return { share: await toShare(app, await shareRow(app, by.library, id)), act };
}

/** Gives a share a new link; the old one leads nowhere from now on. */
export async function renewLink(app: App, library: number, id: number): Promise<Share> {
  const done = await app.db('shares').where({ id, library_id: library }).update(newLink(app));
  if (!done) throw notFound('share');
  forgetLately(app);
  app.changed(library, 'shares');
  return toShare(app, await shareRow(app, library, id));
}
