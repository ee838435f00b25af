import { reason, type Batch, type BatchItem, type SaidConflict } from '@gemmel/contract';
import { leftBinned } from '../bin/met';
import type { App } from '../context';
import { sayingIn } from '../problem';
import { batchFolders } from './offers';

interface Row {
  id: number;
  name: string;
  named: Batch['named'];
  state: Batch['state'];
  offer: Batch['offer'];
  created_at: string;
  way: Batch['way'];
  share_id: number | null;
  share_title: string | null;
  held: number;
}

interface Counted {
  batch_id: number;
  state: 'waiting' | 'received' | 'stored' | 'known' | 'skipped' | 'aside' | 'failed' | 'opened';
  beside: number;
  n: number;
  bytes: number;
  mended: number;
}

const rate = ({ bytes, seconds }: { bytes: number; seconds: number }) =>
  Math.round(Number(bytes) / Math.max(1, Number(seconds)));

/** The latest batches with their counts, what was left out and why, and how long the rest will take. */
export async function listBatches(app: App, library: number, most = 30, only?: number): Promise<Batch[]> {
  const { db } = app;
  // An album that was removed again opens the offer once more.
  const rows = (await db('batches as b')
    .leftJoin('shares as s', 's.id', 'b.share_id')
    .where('b.library_id', library)
    .modify((q) => (only === undefined ? q : q.where('b.id', only)))
    .orderBy('b.id', 'desc')
    .limit(most)
    .select(
      'b.id',
      'b.name',
      'b.named',
      'b.state',
      'b.created_at',
      'b.way',
      'b.share_id',
      'b.held',
      's.title as share_title',
      db.raw(
        "IF(b.offer = 'made' AND NOT EXISTS (SELECT 1 FROM albums a WHERE a.batch_id = b.id AND a.removed_at IS NULL), 'open', b.offer) AS offer",
      ),
    )) as Row[];
  const ids = rows.map((row) => row.id);
  if (ids.length === 0) return [];
  const counts = (await db('batch_items')
    .whereIn('batch_id', ids)
    .groupBy('batch_id', 'state', 'beside')
    .select(
      'batch_id',
      'state',
      db.raw("(role <> 'main') AS beside, COUNT(*) AS n, SUM(bytes) AS bytes, SUM(mended) AS mended"),
    )) as Counted[];
  const albums = await db('albums')
    .where('library_id', library)
    .whereIn('batch_id', ids)
    .whereNull('removed_at')
    .orderBy('id')
    .select('id', 'name', 'batch_id');
  // How fast it goes: what was finished within the last half minute.
  const [recent] = (await db.raw(
    `SELECT batch_id, COUNT(*) AS n, SUM(bytes) AS bytes, TIMESTAMPDIFF(MICROSECOND, MIN(finished_at), UTC_TIMESTAMP(3)) / 1e6 AS seconds FROM batch_items
     WHERE batch_id IN (${ids.map(() => '?').join(',')}) AND finished_at > UTC_TIMESTAMP(3) - INTERVAL 30 SECOND GROUP BY batch_id`,
    ids,
  )) as [{ batch_id: number; n: number; bytes: number; seconds: number }[]];
  const result: Batch[] = [];
  for (const row of rows) {
    const count: Batch['counts'] = {
      total: 0,
      waiting: 0,
      received: 0,
      stored: 0,
      known: 0,
      mended: 0,
      skipped: 0,
      aside: 0,
      failed: 0,
      beside: 0,
    };
    let bytes = 0;
    let bytesDone = 0;
    for (const c of counts.filter((one) => one.batch_id === row.id)) {
      const n = Number(c.n);
      // A file that is kept beside its picture, and an opened archive, are no pictures of their own.
      const beside = c.state === 'opened' || (Number(c.beside) && (c.state === 'stored' || c.state === 'known'));
      if (beside) count.beside += n;
      else count[c.state as Exclude<typeof c.state, 'opened'>] += n;
      count.total += n;
      count.mended += Number(c.mended);
      bytes += Number(c.bytes);
      if (c.state !== 'waiting' && c.state !== 'received') bytesDone += Number(c.bytes);
    }
    const left = count.waiting + count.received;
    const pace = recent.find((r) => r.batch_id === row.id);
    const leftOut = (await db('batch_items')
      .where('batch_id', row.id)
      .whereIn('state', ['skipped', 'aside', 'failed', 'known'])
      .whereRaw("(role = 'main' OR state <> 'known')")
      .orderByRaw("FIELD(state, 'failed', 'aside', 'skipped', 'known')")
      .limit(50)
      .select('id', 'path', 'state', 'reason')) as (Omit<Batch['leftOut'][number], 'reason'> & {
      reason: string | null;
    })[];
    const folders = row.state === 'done' && row.offer === 'open' ? await batchFolders(app, library, row.id) : [];
    const [{ conflicts }] = (await db('said_conflicts')
      .where({ batch_id: row.id, settled: false })
      .count('* as conflicts')) as [{ conflicts: number }];
    const [{ binned }] = (await leftBinned(db, library, row.id).count('* as binned')) as unknown as [
      { binned: number },
    ];
    // Without advice all pictures are gone through from the best one down until four of the batch are met.
    const [covers] = (await db.raw(
      `SELECT p.shown AS sha256 FROM pictures p FORCE INDEX (best_of_batch)
       WHERE p.library_id = ? AND p.batch_id = ? ORDER BY p.rating DESC LIMIT 4`,
      [library, row.id],
    )) as [{ sha256: Buffer }[]];
    result.push({
      id: row.id,
      name: row.name,
      named: row.named,
      state: row.state,
      counts: count,
      share: count.total ? (count.total - left) / count.total : 1,
      secondsLeft:
        row.state === 'coming' && left && pace && Number(pace.n) >= 3
          ? Math.ceil((left * Number(pace.seconds)) / Number(pace.n))
          : null,
      bytes,
      bytesDone,
      bytesPerSecond: row.state === 'coming' && pace && Number(pace.n) >= 2 ? rate(pace) : null,
      way: row.way,
      guest:
        row.share_id === null ? null : { share: row.share_id, title: row.share_title ?? '', held: Boolean(row.held) },
      folders: folders.length > 1 ? folders.slice(0, 60) : [],
      conflicts: Number(conflicts),
      binned: Number(binned),
      createdAt: `${row.created_at.replace(' ', 'T')}Z`,
      offer: row.offer,
      albums: albums.filter((album) => album.batch_id === row.id).map(({ id, name }) => ({ id, name })),
      leftOut: leftOut.map((one) => ({ ...one, reason: sayingIn(one.reason) ?? reason('unexpected', { why: '' }) })),
      covers: covers.map((c) => c.sha256.toString('hex')),
    });
  }
  return result;
}

/** Which of a batch's files are asked for. */
export type Fate = 'all' | 'stored' | 'known' | 'out' | 'coming' | 'beside';

/** Every file of a batch with its fate, a page at a time, in the order it was announced. */
export async function listItems(
  app: App,
  library: number,
  batch: number,
  fate: Fate,
  after = 0,
  limit = 200,
): Promise<{ items: BatchItem[]; after: number | null }> {
  const query = app
    .db('batch_items as i')
    .leftJoin('pictures as p', 'p.id', 'i.picture_id')
    .where({ 'i.batch_id': batch, 'i.library_id': library })
    .where('i.id', '>', after)
    .orderBy('i.id')
    .limit(limit + 1)
    .select(
      'i.id',
      'i.path',
      'i.bytes',
      'i.state',
      'i.role',
      'i.reason',
      'p.id as picture_id',
      'p.shown as sha256',
      'p.alike_id',
    );
  if (fate === 'out') query.whereIn('i.state', ['skipped', 'aside', 'failed']);
  else if (fate === 'coming') query.whereIn('i.state', ['waiting', 'received']);
  else if (fate === 'beside')
    query.where((q) =>
      q.where('i.state', 'opened').orWhere((w) => w.whereNot('i.role', 'main').whereIn('i.state', ['stored', 'known'])),
    );
  else if (fate !== 'all') query.where({ 'i.state': fate, 'i.role': 'main' });
  const rows = (await query) as {
    id: number;
    path: string;
    bytes: number;
    state: BatchItem['state'];
    role: BatchItem['role'];
    reason: string | null;
    picture_id: number | null;
    sha256: Buffer | null;
    alike_id: number | null;
  }[];
  const page = rows.slice(0, limit);
  return {
    items: page.map((row) => ({
      id: row.id,
      path: row.path,
      bytes: Number(row.bytes),
      state: row.state,
      role: row.role,
      reason: sayingIn(row.reason),
      picture: row.picture_id,
      sha: row.sha256?.toString('hex') ?? null,
      alike: row.role === 'main' && row.state === 'stored' && row.alike_id !== null,
    })),
    after: rows.length > limit ? page[page.length - 1]!.id : null,
  };
}

/** What was said differently elsewhere about pictures of a batch, and is not settled yet. */
export async function listConflicts(app: App, library: number, batch: number): Promise<SaidConflict[]> {
  const rows = (await app
    .db('said_conflicts as c')
    .join('pictures as p', 'p.id', 'c.picture_id')
    .where({ 'c.library_id': library, 'c.batch_id': batch, 'c.settled': false })
    .orderBy('c.id')
    .limit(500)
    .select('c.id', 'c.picture_id as picture', 'c.path', 'c.what', 'c.kept', 'c.other', 'p.sha256')) as (Omit<
    SaidConflict,
    'sha'
  > & { sha256: Buffer })[];
  return rows.map(({ sha256, ...row }) => ({ ...row, sha: sha256.toString('hex') }));
}
