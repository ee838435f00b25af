import type { Tables } from 'knex/types/tables';
import type { Row, Value } from '../act/kept';
import { pack, unpack, type Packed } from '../bin/hanging';
import type { Renumber } from './load';
import { saidOfTable } from './tables';

/** Keys of questions, of what shows, pieces and shares are of, and of what was said of a book’s pages, under which there are numbers of rows. */
const SPEAKS: ReadonlySet<string> = new Set([
  'album',
  'also',
  'batch',
  'cover',
  'device',
  'event',
  'id',
  'ids',
  'like',
  'mark',
  'music',
  'out',
  'own',
  'people',
  'person',
  'pictures',
  'place',
  'saidBy',
  'share',
  'show',
  'tag',
]);

/** Words of a book’s page go by what they are about: a picture, or the event or album’s chapter a chapter is made of. */
const ABOUT = /^(picture:|(?:title|words):(?:event|album)-)([1-9]\d*)$/;

/** JSON that speaks of rows by number, with each number moved on. */
export function moveAsked(value: unknown, by: number, speaks = false): unknown {
  if (typeof value === 'number') return speaks && Number.isInteger(value) && value > 0 ? value + by : value;
  if (Array.isArray(value)) return value.map((one) => moveAsked(one, by, speaks));
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(
    Object.entries(value).map(([key, one]) => [
      key.replace(ABOUT, (_, about: string, id: string) => `${about}${Number(id) + by}`),
      moveAsked(one, by, SPEAKS.has(key)),
    ]),
  );
}

const moved = (value: Value | undefined, by: number): Value =>
  typeof value === 'number' && value > 0 ? value + by : (value ?? null);

/** A row with its own number and those of others moved on. */
function moveRow(
  table: string,
  row: Readonly<Record<string, Value>>,
  by: number,
  library: number,
): Record<string, Value> {
  const keeping = saidOfTable(table);
  const result: Record<string, Value> = { ...row };
  if (typeof row['id'] === 'number') result['id'] = row['id'] + by;
  if ('library_id' in row) result['library_id'] = library;
  for (const column of keeping?.ids ?? []) if (column in row) result[column] = moved(row[column], by);
  for (const column of keeping?.asked ?? [])
    if (row[column] !== null && row[column] !== undefined)
      result[column] = JSON.stringify(
        moveAsked(typeof row[column] === 'string' ? JSON.parse(row[column]) : row[column], by),
      );
  return result;
}

/** Who opens a library that comes from elsewhere, and as what it is known here. */
export interface Opener {
  account: number;
  email: string;
  name: string;
}

/**
 * Gives a library that comes from elsewhere numbers of its own: every number is moved on by one and the same amount, beyond all that are in
 * use here. Its members are names from then on, but for whoever opens it, who is its keeper; what was done elsewhere cannot be taken back here
 * and is left out.
 */
export function elsewhere(library: number, by: number, slug: string, name: string, opener: Opener): Renumber {
  let account: number | null = null;
  return async (table: keyof Tables, row): Promise<Row | null> => {
    if (table === 'accounts') {
      if (String(row['email']).toLowerCase() === opener.email) account = Number(row['id']);
      return null;
    }
    if (table === 'acts' || table === 'act_pictures' || table === 'sources') return null;
    if (table === 'libraries') return { ...row, id: library, slug, name, address: null };
    const result = moveRow(table, row, by, library);
    if (table === 'members') {
      const own = account !== null && row['account_id'] === account;
      result['account_id'] = own ? opener.account : null;
      if (own) result['part'] = 'keeper';
      else result['left_at'] = row['left_at'] ?? new Date().toISOString().slice(0, 23).replace('T', ' ');
    }
    if (table === 'batches') result['source_id'] = null;
    if (table === 'binned' && Buffer.isBuffer(row['kept'])) {
      const packed = await unpack<Packed>(row['kept']);
      result['kept'] = await pack({
        picture: moveRow('pictures', packed.picture, by, library),
        along: Object.fromEntries(
          Object.entries(packed.along).map(([hung, rows]) => [
            hung,
            rows.map((one) => moveRow(hung, one, by, library)),
          ]),
        ),
        covers: packed.covers.map((id) => id + by),
      });
    }
    return result;
  };
}
