import { chunks } from '../context';
import type { Db } from './open';

/** Columns of one row that are to be set. */
export interface Setting {
  id: number;
  set: Readonly<Record<string, string | number | boolean | Buffer | null>>;
}

const ROWS = 500;

/**
 * Sets columns of many rows of a library, each its own, in few statements: rows that are set alike together, others by joining
 * a list of values. All must set the same columns. Answers nothing; rows that are not of the library stay as they are.
 */
export async function setMany(db: Db, library: number, table: string, rows: readonly Setting[]): Promise<void> {
  const [first] = rows;
  if (!first) return;
  const columns = Object.keys(first.set);
  if (columns.length === 0) return;
  const alike = new Map<string, { set: Setting['set']; ids: number[] }>();
  for (const { id, set } of rows) {
    const key = JSON.stringify(columns.map((column) => set[column]));
    const group = alike.get(key);
    if (group) group.ids.push(id);
    else alike.set(key, { set, ids: [id] });
  }
  const each: Setting[] = [];
  for (const { set, ids } of alike.values())
    if (ids.length > 8 || rows.length <= 8)
      for (const some of chunks(ids, 1000))
        await db(table).where('library_id', library).whereIn('id', some).update(set);
    else each.push(...ids.map((id) => ({ id, set })));
  for (const some of chunks(each, ROWS)) {
    const names = ['id', ...columns];
    const values = some
      .map((_, i) => `SELECT ${names.map((name) => (i ? '?' : `? AS \`${name}\``)).join(', ')}`)
      .join(' UNION ALL ');
    await db.raw(
      `UPDATE ?? AS t JOIN (${values}) AS v ON v.id = t.id SET ${columns.map((c) => `t.\`${c}\` = v.\`${c}\``).join(', ')} WHERE t.library_id = ?`,
      [table, ...some.flatMap(({ id, set }) => [id, ...columns.map((column) => set[column] ?? null)]), library],
    );
  }
}
