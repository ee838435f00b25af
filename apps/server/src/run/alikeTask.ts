import {
  chooseShot,
  findDoubles,
  findRuns,
  halvesOf,
  MIRROR_BITS,
  mirroredHash,
  MOMENT,
  NEAR_BITS,
  type ShotFacts,
} from '@gemmel/core';
import type { DbAddress } from '../db/mariadb';
import type { Db } from '../db/open';
import { connectionTo } from '../db/threads';
import { chunks } from '../lists';
import { factsOf, runShots, SHOT_COLUMNS, type ShotRow } from './shots';

/** What of a picture is to change: the one it is a double of, its run, and whether it is shown for it. */
export interface Regrouped {
  id: number;
  set: { alike_id?: number | null; run_id?: number | null; run_first?: boolean };
}

/** Stands for the time of a picture that has none, so that it, too, can be said to have been looked at. */
export const NO_TIME = '1000-01-01 00:00:00.000';
/** Pictures that came or whose time changed, up to which only what is near them is looked at; from more on, everything. */
const FEW = 200;

/** A picture half as large again, or more, is another size; one a fifth sharper is another sharpness. */
const sizeOf = ({ width, height }: ShotRow) => Math.round(2 * Math.log2(Math.max(1, width * height)));
const sharpOf = ({ sharpness }: ShotRow) => Math.round(5 * Math.log(Math.max(1e-6, sharpness ?? 0)));

/** Which of two doubles is the fuller: the larger, the one that still knows its camera, the sharper, the earlier. */
const fuller = (a: ShotRow, b: ShotRow): number =>
  sizeOf(b) - sizeOf(a) ||
  Number(b.camera !== null) - Number(a.camera !== null) ||
  sharpOf(b) - sharpOf(a) ||
  (a.taken_local ?? '9').localeCompare(b.taken_local ?? '9') ||
  a.id - b.id;

const rowsOf = (db: Db, library: number) =>
  db('pictures')
    .where('library_id', library)
    .whereNotNull('likeness')
    // Front and back of a print belong together and to nothing else.
    .where((q) => void q.whereNull('pair_id').orWhere('pair_id', 0))
    .select(
      ...SHOT_COLUMNS,
      db.raw(
        'CAST(likeness AS CHAR) AS likeness, COALESCE(whole_width, width) AS width, COALESCE(whole_height, height) AS height',
      ),
    );

/** Pictures that came, came back, or whose time is no longer the one they were grouped by. */
const dirtyOf = (db: Db, library: number) =>
  db('pictures').where('library_id', library).whereRaw('NOT (grouped_at <=> COALESCE(taken_local, ?))', [NO_TIME]);

/** Bands of a hash as the database keeps them: see migration 0020. */
const bandsOf = ({ high, low }: { high: number; low: number }): number[] => {
  const value = (BigInt(high) << 32n) | BigInt(low);
  return [0, 10, 19, 28, 37, 46, 55].map((from) => Number((value >> BigInt(from)) & (from ? 511n : 1023n)));
};

/** The numbers of pictures whose hash is near one, or near its mirror image: by bands, without looking at all. */
async function nearOf(db: Db, library: number, row: ShotRow): Promise<number[]> {
  const straight = halvesOf(row.likeness);
  const found: number[] = [];
  for (const [hash, bits] of [
    [straight, NEAR_BITS],
    [mirroredHash(straight), MIRROR_BITS],
  ] as const) {
    const value = String((BigInt(hash.high) << 32n) | BigInt(hash.low));
    const bands = bandsOf(hash);
    const [rows] = (await db.raw(
      bands
        .map(
          (_, i) =>
            `(SELECT id FROM pictures WHERE library_id = ? AND band${i} = ? AND BIT_COUNT(likeness ^ CAST(? AS UNSIGNED)) <= ${bits} LIMIT 300)`,
        )
        .join(' UNION '),
      bands.flatMap((band) => [library, band, value]),
    )) as [{ id: number }[]];
    found.push(...rows.map(({ id }) => id));
  }
  return found;
}

/** Runs are no longer than this on either side of a shot, in ms: what lies in it is looked at with it. */
const AROUND = 90_000 + MOMENT;

/** The numbers of pictures taken around some moments. */
async function aroundOf(db: Db, library: number, times: readonly string[]): Promise<number[]> {
  const spans: [number, number][] = [];
  for (const at of times.map((time) => Date.parse(`${time.replace(' ', 'T')}Z`)).sort((a, b) => a - b)) {
    const last = spans[spans.length - 1];
    if (last && at - AROUND <= last[1]) last[1] = at + AROUND;
    else spans.push([at - AROUND, at + AROUND]);
  }
  const text = (ms: number) => new Date(ms).toISOString().slice(0, 23).replace('T', ' ');
  const found: number[] = [];
  for (const [from, to] of spans)
    found.push(
      ...(
        await db('pictures')
          .where('library_id', library)
          .whereBetween('taken_local', [text(from), text(to)])
          .limit(2000)
          .select('id')
      ).map((row) => row.id),
    );
  return found;
}

/** Everything that may change by some pictures: what is near them by hash or time, and what those are grouped with. */
async function touchedBy(db: Db, library: number, dirty: readonly number[]): Promise<ShotRow[]> {
  const rows = new Map<number, ShotRow>();
  const add = async (ids: Iterable<number>) => {
    const missing = [...new Set(ids)].filter((id) => !rows.has(id));
    for (const some of chunks(missing, 1000))
      for (const row of (await rowsOf(db, library).whereIn('id', some)) as unknown as ShotRow[]) rows.set(row.id, row);
  };
  await add(dirty);
  const first = [...rows.values()];
  const near: number[] = [];
  for (const row of first) near.push(...(await nearOf(db, library, row)));
  const times = first.map((row) => row.taken_local).filter((time) => time !== null);
  await add([...near, ...(await aroundOf(db, library, times))]);
  // What they are grouped with: kept ones, their other doubles, and the rest of their runs.
  const kept = new Set([...rows.values()].map((row) => row.alike_id ?? row.id));
  const runs = new Set([...rows.values()].map((row) => row.run_id).filter((id) => id !== null));
  await add(kept);
  for (const some of chunks([...kept], 1000))
    await add(
      (await db('pictures').where('library_id', library).whereIn('alike_id', some).select('id')).map((row) => row.id),
    );
  for (const some of chunks([...runs], 1000))
    await add(
      (await db('pictures').where('library_id', library).whereIn('run_id', some).select('id')).map((r) => r.id),
    );
  return [...rows.values()];
}

/** Pairs that somebody said are no doubles. */
async function deniedPairs(db: Db, library: number): Promise<Set<string>> {
  const rows = await db('doubles_apart').where('library_id', library).select('picture_id', 'other_id');
  return new Set(rows.map(({ picture_id: a, other_id: b }) => (a < b ? `${a} ${b}` : `${b} ${a}`)));
}

/** The double each picture is of another, by number; photographs and clips apart. */
function doublesIn(rows: readonly ShotRow[], facts: ReadonlyMap<number, ShotFacts>, denied: ReadonlySet<string>) {
  const of = new Map<number, number>();
  for (const kind of ['photo', 'video']) {
    const sorted = rows.filter((row) => row.kind === kind).sort(fuller);
    const kept = findDoubles(
      sorted.map((row) => facts.get(row.id)!),
      denied,
    );
    sorted.forEach((row, i) => {
      if (kept[i]! >= 0) of.set(row.id, sorted[kept[i]!]!.id);
    });
  }
  return of;
}

/** A number for each run that stays the same while most of its shots do: of those they had, the one most of them had. */
function numbersFor(runs: readonly (readonly ShotRow[])[]): number[] {
  const used = new Set<number>();
  return runs.map((run) => {
    const had = new Map<number, number>();
    for (const { run_id } of run) if (run_id !== null) had.set(run_id, (had.get(run_id) ?? 0) + 1);
    const [number] = [
      ...[...had].sort((a, b) => b[1] - a[1] || a[0] - b[0]).map(([id]) => id),
      ...run.map((row) => row.id),
    ]
      // A number is that of a shot of the run, so that no two runs ever have the same.
      .filter((id) => !used.has(id) && run.some((row) => row.id === id));
    used.add(number!);
    return number!;
  });
}

/**
 * Groups pictures anew: doubles, which point at the fullest, and runs, each with the shot that is shown for it. Only what came in or
 * whose time has changed is looked at, with what is near it; from a few hundred on, the whole library at once. Runs in a thread of
 * its own. @returns what is to change, and up to where each picture was looked at.
 */
export async function alikeTask({ library, address }: { library: number; address: DbAddress }): Promise<{
  changes: Regrouped[];
  looked: { id: number; at: string }[];
}> {
  const db = connectionTo(address);
  const dirty = await dirtyOf(db, library)
    .limit(FEW + 1)
    .select('id', 'taken_local');
  if (dirty.length === 0) return { changes: [], looked: [] };
  const all = dirty.length > FEW;
  const rows = all
    ? ((await rowsOf(db, library)) as unknown as ShotRow[])
    : await touchedBy(
        db,
        library,
        dirty.map((row) => row.id),
      );
  const looked = (all ? rows : dirty).map((row) => ({ id: row.id, at: row.taken_local ?? NO_TIME }));
  // What has no hash, as a clip that could not be shown, has nothing to be held against.
  if (all)
    for (const row of await dirtyOf(db, library)
      .where((q) => void q.whereNull('likeness').orWhere('pair_id', '>', 0))
      .select('id', 'taken_local'))
      looked.push({ id: row.id, at: row.taken_local ?? NO_TIME });
  const facts = await factsOf(db, library, rows, all);
  const doubles = doublesIn(rows, facts, await deniedPairs(db, library));
  const photos = rows.filter((row) => row.kind === 'photo');
  const skip = new Set(photos.flatMap((row, i) => (doubles.has(row.id) ? [i] : [])));
  const runs = findRuns(
    photos.map((row) => facts.get(row.id)!),
    skip,
  ).map((run) => run.map((i) => photos[i]!));
  const numbers = numbersFor(runs);
  const changes = new Map<number, Regrouped['set']>();
  const set = (id: number, more: Regrouped['set']) => changes.set(id, { ...changes.get(id), ...more });
  for (const row of rows) {
    const to = doubles.get(row.id) ?? null;
    if (to !== row.alike_id) set(row.id, { alike_id: to });
  }
  const inRun = new Set<number>();
  for (const [n, some] of chunks(
    runs.map((run, i) => ({ run, number: numbers[i]! })),
    500,
  ).entries()) {
    void n;
    const chosen = await runShots(
      db,
      some.map(({ run }) => run),
    );
    some.forEach(({ run, number }, i) => {
      const { best } = chooseShot(chosen[i]!.shots);
      run.forEach((row, k) => {
        inRun.add(row.id);
        if (row.run_id !== number) set(row.id, { run_id: number });
        if (Boolean(row.run_first) !== (k === best)) set(row.id, { run_first: k === best });
      });
    });
  }
  for (const row of rows)
    if (!inRun.has(row.id) && row.run_id !== null) set(row.id, { run_id: null, run_first: false });
  return { changes: [...changes].map(([id, to]) => ({ id, set: to })), looked };
}
