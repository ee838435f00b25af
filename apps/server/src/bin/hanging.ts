import { promisify } from 'node:util';
import { deflate, inflate } from 'node:zlib';
import { chunks } from '../lists';
import type { Db } from '../db/open';
import type { Row, Value } from '../act/kept';

/** A table whose rows hang on pictures, and the columns by which they do. */
interface Hanging {
  table: string;
  by: readonly string[];
  /** Whether those columns are numbers of faces. */
  faces?: true;
}

/**
 * Every table whose rows hang on a picture and go into the bin with it, in the order in which they are put back. What the machine
 * makes anew by itself (offers for faces, the list of sidecars to write) is not among them.
 */
export const HANGING: readonly Hanging[] = [
  { table: 'picture_files', by: ['picture_id'] },
  { table: 'faces', by: ['picture_id'] },
  { table: 'face_refusals', by: ['face_id'], faces: true },
  { table: 'face_apart', by: ['face_id', 'other_id'], faces: true },
  { table: 'picture_tags', by: ['picture_id'] },
  { table: 'picture_words', by: ['picture_id'] },
  { table: 'picture_observations', by: ['picture_id'] },
  { table: 'observation_denied', by: ['picture_id'] },
  { table: 'album_pictures', by: ['picture_id'] },
  { table: 'album_hand', by: ['picture_id'] },
  { table: 'share_pictures', by: ['picture_id'] },
  { table: 'pile_pictures', by: ['picture_id'] },
  { table: 'comments', by: ['picture_id'] },
  { table: 'hearts', by: ['picture_id'] },
  { table: 'guest_hearts', by: ['picture_id'] },
  { table: 'picture_looks', by: ['picture_id'] },
  { table: 'said_conflicts', by: ['picture_id'] },
  { table: 'doubles_apart', by: ['picture_id', 'other_id'] },
  { table: 'clock_examples', by: ['picture_id', 'other_id'] },
  { table: 'glasses', by: ['picture_id'] },
  { table: 'act_pictures', by: ['picture_id'] },
];

/** Tables whose rows go with a picture and are made again by themselves when it comes back. */
export const MADE_AGAIN = ['sidecars'] as const;

/** What a face is told by: never packed with the rest, since it goes when recognition is switched off. */
export const DESCRIBES = ['vector_a', 'vector_b', 'clothes'] as const;

/** A picture as it was when it went into the bin: its row, what hung on it by table, and the events it was the cover of. */
export interface Packed {
  picture: Row;
  along: Readonly<Record<string, readonly Row[]>>;
  covers: readonly number[];
}

/** What describes faces, by their number. */
export type Described = Readonly<Record<number, Row>>;

const squeeze = promisify(deflate);
const unsqueeze = promisify(inflate);

/** Packs rows small; bytes go as base64. */
export const pack = (what: Packed | Described): Promise<Buffer> =>
  squeeze(
    JSON.stringify(what, (_, value: unknown) => {
      const buffer = value as { type?: string; data?: number[] } | null;
      return buffer && typeof buffer === 'object' && buffer.type === 'Buffer'
        ? { base64: Buffer.from(buffer.data!).toString('base64') }
        : value;
    }),
    { level: 3 },
  );

/** Rows as they were packed. */
export const unpack = async <T extends Packed | Described>(packed: Buffer): Promise<T> =>
  JSON.parse((await unsqueeze(packed)).toString(), (_, value: unknown) => {
    const bytes = value as { base64?: string } | null;
    return bytes && typeof bytes === 'object' && typeof bytes.base64 === 'string'
      ? Buffer.from(bytes.base64, 'base64')
      : value;
  }) as T;

/** Rows of a table by any of some columns, locked, as they are now and not as this transaction first saw them. */
async function rowsBy(trx: Db, table: string, by: readonly string[], ids: readonly number[]): Promise<Row[]> {
  const rows: Row[] = [];
  const seen = new Set<Row[string]>();
  for (const column of by)
    for (const some of chunks(ids, 1000))
      for (const row of (await trx(table).whereIn(column, some).forUpdate().select('*')) as Row[]) {
        // A row that links two of them is found by both.
        const key = by.length > 1 ? JSON.stringify(row) : null;
        if (key !== null && seen.has(key)) continue;
        if (key !== null) seen.add(key);
        rows.push(row);
      }
  return rows;
}

/** Takes all that hangs on some pictures off them, and answers with it, by picture. The pictures must be locked. */
export async function takeOff(trx: Db, pictures: readonly number[]): Promise<Map<number, Record<string, Row[]>>> {
  const along = new Map(pictures.map((id) => [id, {} as Record<string, Row[]>]));
  const pictureOfFace = new Map<number, number>();
  for (const { table, by, faces } of HANGING)
    for (const row of await rowsBy(trx, table, by, faces ? [...pictureOfFace.keys()] : pictures)) {
      if (table === 'faces') pictureOfFace.set(Number(row['id']), Number(row['picture_id']));
      const owner = by
        .map((column) => (faces ? pictureOfFace.get(Number(row[column])) : Number(row[column])))
        .find((id) => id !== undefined && along.has(id))!;
      (along.get(owner)![table] ??= []).push(row);
    }
  const faces = [...pictureOfFace.keys()];
  for (const { table, by, faces: ofFaces } of [...HANGING].reverse())
    for (const column of by)
      for (const some of chunks(ofFaces ? faces : pictures, 1000)) await trx(table).whereIn(column, some).delete();
  for (const table of MADE_AGAIN)
    for (const some of chunks(pictures, 1000)) await trx(table).whereIn('picture_id', some).delete();
  return along;
}

const columns = new Map<string, readonly string[]>();

/** The columns of a table that are given and not worked out. */
async function givenColumns(trx: Db, table: string): Promise<readonly string[]> {
  const known = columns.get(table);
  if (known) return known;
  const [rows] = (await trx.raw(
    `SELECT COLUMN_NAME AS name FROM information_schema.COLUMNS
     WHERE TABLE_SCHEMA = DATABASE() AND TABLE_NAME = ? AND COALESCE(GENERATION_EXPRESSION, '') = ''`,
    [table],
  )) as [{ name: string }[]];
  columns.set(
    table,
    rows.map((row) => row.name),
  );
  return columns.get(table)!;
}

/**
 * Puts rows into a table as far as they fit: one whose number or name somebody else has by now, or that speaks of something that has
 * gone, is left out. Columns the table no longer has are forgotten.
 */
export async function putIn(trx: Db, table: string, rows: readonly Row[]): Promise<void> {
  const given = await givenColumns(trx, table);
  for (const some of chunks(rows, 200))
    await trx(table)
      .insert(
        some.map((row) =>
          Object.fromEntries(given.filter((name) => name in row).map((name) => [name, row[name]!] as [string, Value])),
        ),
      )
      .onConflict()
      .ignore();
}
