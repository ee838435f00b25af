import type { Addition } from '@gemmel/contract';
import { perform, type By } from '../act/perform';
import { putIntoAlbum } from '../album/fill';
import { intoBin } from '../bin/acts';
import { chunks, type App } from '../context';
import { refuseOverLimit } from '../keep/storage';
import { openBatch } from '../intake/announce';
import { notFound, refused } from '../problem';
import { albumShared } from './holding';
import { mayIn, shareRow } from './row';
import { mayLook, nameOf, needs, type AtShare } from './visits';

/** What became of the files a guest has added, in the order they came. */
export async function additionsOf(app: App, at: AtShare): Promise<Addition[]> {
  await mayLook(app, at);
  if (!at.who || !mayIn(at.share).add) return [];
  const rows = (await app
    .db('batch_items as i')
    .join('batches as b', 'b.id', 'i.batch_id')
    .leftJoin('pictures as p', 'p.id', 'i.picture_id')
    .where({ 'b.share_id': at.share.id, 'b.who': at.who })
    .orderBy('i.id')
    .select(
      'i.id',
      'i.path',
      'i.state',
      'i.picture_id',
      'b.held',
      'p.id as there',
      'p.batch_id',
      'i.batch_id as mine',
    )) as {
    id: number;
    path: string;
    state: string;
    picture_id: number | null;
    held: number;
    there: number | null;
    batch_id: number | null;
    mine: number;
  }[];
  return rows.map((row): Addition => {
    const state = ((): Addition['state'] => {
      if (row.state === 'waiting' || row.state === 'received') return 'coming';
      if (row.state === 'failed' || row.state === 'aside' || row.state === 'skipped') return 'failed';
      // What the library has already is not told apart: nobody is to learn what else it has.
      if (row.there === null) return 'refused';
      return row.held ? 'waiting' : 'shown';
    })();
    return {
      item: row.id,
      name: row.path,
      state,
      picture: state === 'shown' && row.batch_id === row.mine ? row.there : null,
    };
  });
}

/** Announces files a guest is going to add, as far as the share allows; answers with everything they have added. */
export async function announceAdditions(
  app: App,
  at: AtShare,
  files: readonly { name: string; bytes: number }[],
): Promise<Addition[]> {
  await mayLook(app, at);
  const may = mayIn(at.share);
  needs(may.add);
  const name = await nameOf(app, at);
  const [{ n, bytes }] = (await app
    .db('batch_items as i')
    .join('batches as b', 'b.id', 'i.batch_id')
    .where({ 'b.share_id': at.share.id, 'b.who': at.who! })
    .select(app.db.raw('COUNT(*) AS n, COALESCE(SUM(i.bytes), 0) AS bytes'))) as unknown as [
    { n: number; bytes: number },
  ];
  const more = files.reduce((sum, file) => sum + file.bytes, 0);
  if (Number(n) + files.length > may.files || Number(bytes) + more > may.bytes) throw refused('share-no-more');
  await refuseOverLimit(app, at.share.library_id, { share: at.share.id }, more);
  await openBatch(
    app,
    at.share.library_id,
    name,
    files.map(({ name: path, bytes: size }) => ({ path: path.replace(/^.*[\\/]/, ''), bytes: size })),
    {
      way: 'browser',
      guest: { share: at.share.id, who: at.who!, held: !may.shown },
      ...(at.guest?.member_id ? { by: at.guest.member_id } : {}),
    },
  );
  return additionsOf(app, at);
}

/** The item of a file that a guest is sending. @throws a refusal for one that is not theirs. */
export async function ownItem(app: App, at: AtShare, item: number): Promise<void> {
  await mayLook(app, at);
  needs(mayIn(at.share).add);
  const row = at.who
    ? await app
        .db('batch_items as i')
        .join('batches as b', 'b.id', 'i.batch_id')
        .where({ 'i.id': item, 'b.share_id': at.share.id, 'b.who': at.who })
        .first('i.id')
    : undefined;
  if (!row) throw notFound('file');
}

/** Takes back a picture a guest has added, as long as the keeper has not said yes: it goes to the bin. */
export async function takeAddition(app: App, at: AtShare, item: number): Promise<void> {
  await ownItem(app, at, item);
  const { library_id: library } = at.share;
  const row = (await app
    .db('batch_items as i')
    .join('batches as b', 'b.id', 'i.batch_id')
    .where('i.id', item)
    .first('i.state', 'i.picture_id', 'b.held', 'b.id as batch')) as
    { state: string; picture_id: number | null; held: number; batch: number } | undefined;
  if (!row?.held) throw refused('share-may-not');
  if (row.state === 'waiting' || row.state === 'received') {
    await app
      .db('batch_items')
      .where({ id: item })
      .whereIn('state', ['waiting', 'received'])
      .update({ state: 'skipped' });
    app.changed(library, 'batches');
    return;
  }
  const mine = row.picture_id
    ? await app.db('pictures').where({ id: row.picture_id, batch_id: row.batch }).first('id')
    : undefined;
  if (mine) await intoBin(app, { library, member: null }, [mine.id]);
}

/**
 * Says yes to what a guest has added: it is in the share from then on, in the album it is of, or among its pictures. Or no: it goes to the
 * bin. `ids` for some of them; the others wait on.
 */
export async function sayOfAdditions(
  app: App,
  by: By,
  batch: number,
  { yes, ids }: { yes: boolean; ids?: readonly number[] | undefined },
): Promise<{ act: number | null }> {
  const { db } = app;
  const row = await db('batches').where({ id: batch, library_id: by.library }).whereNotNull('share_id').first();
  if (!row) throw notFound('batch');
  const theirs = (await db('pictures').where('batch_id', batch).orderBy('id').select('id')).map(({ id }) => id);
  const meant = ids ? theirs.filter((id) => ids.includes(id)) : theirs;
  if (!yes) return intoBin(app, by, meant);
  const share = await shareRow(app, by.library, row.share_id!);
  // Some of them: the others leave with a no, so that the batch as a whole can be let in.
  const others = theirs.filter((id) => !meant.includes(id));
  if (others.length) await intoBin(app, by, others);
  const album = await albumShared(app, share);
  if (album !== null && meant.length) await putIntoAlbum(app, by, album, { ids: [...meant] });
  return perform(app, by, 'guest yes', async ({ trx, library, hold, holdRows, words }) => {
    await hold('batches', [batch]);
    await trx('batches').where({ id: batch, library_id: library }).update({ held: false });
    words({ name: row.name, n: meant.length, to: share.title });
    if (album !== null) return;
    const [{ last }] = (await trx('share_pictures').where('share_id', share.id).max('position as last')) as unknown as [
      { last: number | null },
    ];
    for (const [c, some] of chunks(meant, 1000).entries()) {
      await holdRows(
        'share_pictures',
        some.map((id) => [share.id, id] as const),
      );
      await trx('share_pictures')
        .insert(
          some.map((picture_id, i) => ({
            library_id: library,
            share_id: share.id,
            picture_id,
            position: Number(last ?? -1) + 1 + c * 1000 + i,
          })),
        )
        .onConflict()
        .ignore();
    }
  });
}
