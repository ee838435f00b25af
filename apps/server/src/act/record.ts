import { promisify } from 'node:util';
import { deflate, inflate } from 'node:zlib';
import type { Knex } from 'knex';
import { chunks } from '../lists';
import { keyOfNumber } from '@gemmel/core';
import type { Db } from '../db/open';
import type { Group, Kept, Row, Table, Value } from './kept';
import { columnsOf, TABLES } from './tables';

/** What an act did to one row: the columns it changed, or the whole row where it came or went. */
export interface Change {
  table: Table;
  key: readonly (string | number)[];
  before: Row | null;
  after: Row | null;
}

/** What tells a row of a table that links two others. */
export type Key = readonly (string | number)[];

const nameOf = (key: readonly Value[]): string => key.join('|');
const keyOf = (kept: Kept, row: Row) => kept.key.map((column) => row[column] as string | number);

/** Whether two values of a column are the same. */
export const equal = (a: Value | undefined, b: Value | undefined): boolean =>
  a === b || (Buffer.isBuffer(a) && Buffer.isBuffer(b) && a.equals(b));

const differs = (group: Group, a: Row, b: Row): boolean => group.columns.some((c) => !equal(a[c], b[c]));

const only = (row: Row, columns: readonly string[]): Row =>
  Object.fromEntries(columns.map((column) => [column, row[column] ?? null]));

/**
 * Watches rows while an act changes them: they are locked and read when they are held, read again at the end, and what is
 * different is what the act did, however it was written.
 */
export class Watch {
  private readonly rows = new Map<Table, Map<string, Row | null>>();
  private readonly held = new Map<Table, Set<Value>>();
  private readonly exact = new Map<Table, Map<string, Key>>();

  constructor(
    private readonly db: Db,
    private readonly library: number,
  ) {}

  /**
   * Holds rows before they are changed or deleted: by their number, and those that link others by the column they are looked
   * up by ({@link Kept.by}), which then holds rows that come as well. Answers with the rows as they are now.
   */
  async hold(table: Table, values: Iterable<string | number | null>): Promise<Row[]> {
    const kept = TABLES[table];
    const held = this.held.get(table) ?? new Set();
    this.held.set(table, held);
    const wanted = [...new Set(values)].filter((value) => value !== null);
    const rows = this.rows.get(table) ?? new Map<string, Row | null>();
    this.rows.set(table, rows);
    const now = await this.read(kept, table, wanted);
    for (const row of now) {
      const name = nameOf(keyOf(kept, row));
      if (!held.has(row[kept.by]!)) rows.set(name, row);
    }
    wanted.forEach((value) => held.add(value));
    return now;
  }

  /**
   * Holds the very rows of a table that links two others, and those that come under the same keys: what else hangs on either is neither
   * read nor locked. Answers with the rows as they are now.
   */
  async holdRows(table: Table, keys: readonly Key[]): Promise<Row[]> {
    const kept = TABLES[table];
    const exact = this.exact.get(table) ?? new Map<string, Key>();
    this.exact.set(table, exact);
    const rows = this.rows.get(table) ?? new Map<string, Row | null>();
    this.rows.set(table, rows);
    const fresh = keys.filter((key) => !exact.has(nameOf(key)));
    const now = await this.readRows(kept, table, keys);
    const there = new Map(now.map((row) => [nameOf(keyOf(kept, row)), row]));
    for (const key of fresh) {
      exact.set(nameOf(key), key);
      const row = there.get(nameOf(key));
      if (row && !rows.has(nameOf(key))) rows.set(nameOf(key), row);
    }
    return now;
  }

  /** Notes a row with a number of its own that the act has made. */
  made(table: Table, id: number): void {
    const rows = this.rows.get(table) ?? new Map<string, Row | null>();
    this.rows.set(table, rows);
    rows.set(String(id), null);
    const held = this.held.get(table) ?? new Set();
    this.held.set(table, held);
    held.add(id);
  }

  /** Notes a row as gone that never stood there: a picture that was made counts as one that left the bin, and undone goes into it. */
  left(table: Table, id: number): void {
    const rows = this.rows.get(table) ?? new Map<string, Row | null>();
    this.rows.set(table, rows);
    rows.set(String(id), { id });
    const held = this.held.get(table) ?? new Set();
    this.held.set(table, held);
    held.add(id);
  }

  /** A held row as it was when it was held. */
  row(table: Table, key: readonly Value[]): Row | null {
    return this.rows.get(table)?.get(nameOf(key)) ?? null;
  }

  /** What is different now. */
  async changes(): Promise<Change[]> {
    const changes: Change[] = [];
    for (const [table, rows] of this.rows) {
      const kept = TABLES[table];
      const now = new Map<string, Row>();
      for (const row of await this.read(kept, table, [...(this.held.get(table) ?? [])]))
        now.set(nameOf(keyOf(kept, row)), row);
      for (const row of await this.readRows(kept, table, [...(this.exact.get(table)?.values() ?? [])]))
        now.set(nameOf(keyOf(kept, row)), row);
      const links = kept.key.length > 1;
      for (const [name, before] of rows) {
        const after = now.get(name);
        now.delete(name);
        if (before && after) {
          const groups = kept.groups.filter((group) => differs(group, before, after));
          if (groups.length === 0) continue;
          const columns = groups.flatMap((group) => [...group.columns, ...(group.along ?? [])]);
          if (kept.picture && !columns.includes(kept.picture)) columns.push(kept.picture);
          changes.push({
            table,
            key: keyOf(kept, after),
            before: only(before, columns),
            after: only(after, columns),
          });
        } else if (before) changes.push({ table, key: keyOf(kept, before), before, after: null });
        else if (after) changes.push({ table, key: keyOf(kept, after), before: null, after });
      }
      if (links)
        for (const after of now.values()) changes.push({ table, key: keyOf(kept, after), before: null, after });
    }
    return changes;
  }

  private async read(kept: Kept, table: Table, values: readonly Value[]): Promise<Row[]> {
    const rows: Row[] = [];
    for (const some of chunks(values, 1000))
      rows.push(...(await this.select(kept, table).whereIn(kept.by, some as (string | number)[])));
    return rows;
  }

  private async readRows(kept: Kept, table: Table, keys: readonly Key[]): Promise<Row[]> {
    const [first, second] = kept.key as [string, string];
    const groups = new Map<string | number, (string | number)[]>();
    for (const [a, b] of keys) {
      const list = groups.get(a!);
      if (list) list.push(b!);
      else groups.set(a!, [b!]);
    }
    const rows: Row[] = [];
    for (const [value, others] of groups)
      for (const some of chunks(others, 1000))
        rows.push(...(await this.select(kept, table).where(first, value).whereIn(second, some)));
    return rows;
  }

  private select(kept: Kept, table: Table) {
    return this.db(table as string)
      .where(kept.library ?? 'library_id', this.library)
      .orderBy(kept.key.map((column) => ({ column })))
      .forUpdate()
      .select(
        columnsOf(kept).map((column) =>
          kept.json?.includes(column) ? this.db.raw('CAST(?? AS CHAR) AS ??', [column, column]) : column,
        ),
      ) as Knex.QueryBuilder<Row, Row[]>;
  }
}

/** The groups of columns that a change of a row is about. */
export const groupsOf = ({ table, before, after }: Change): Group[] =>
  before && after ? TABLES[table].groups.filter((g) => g.columns[0]! in after && differs(g, before, after)) : [];

/** The picture a change is about. */
export function pictureOf({ table, key, before, after }: Change): number | null {
  const { picture } = TABLES[table];
  if (table === 'pictures') return Number(key[0]);
  return picture === undefined ? null : Number((after ?? before)![picture]);
}

const squeeze = promisify(deflate);
const unsqueeze = promisify(inflate);

/** Packs changes small for keeping. */
export const pack = (changes: readonly Change[]): Promise<Buffer> =>
  squeeze(
    JSON.stringify(changes, (_, value: unknown) => {
      const buffer = value as { type?: string; data?: number[] } | null;
      return buffer && typeof buffer === 'object' && buffer.type === 'Buffer'
        ? { base64: Buffer.from(buffer.data!).toString('base64') }
        : value;
    }),
    { level: 3 },
  );

/** A row of an album as acts kept it when places in it still were numbers. */
export const withKey = <R extends Row | null>(row: R): R =>
  row && 'album_id' in row && typeof row['position'] === 'number'
    ? { ...row, position: keyOfNumber(row['position']) }
    : row;

/** Changes as they were packed. */
export const unpack = async (packed: Buffer): Promise<Change[]> =>
  (await parse(packed)).map((change) =>
    change.table === 'album_pictures'
      ? { ...change, before: withKey(change.before), after: withKey(change.after) }
      : change,
  );

const parse = async (packed: Buffer): Promise<Change[]> =>
  JSON.parse((await unsqueeze(packed)).toString(), (_, value: unknown) => {
    const packedBuffer = value as { base64?: string } | null;
    return packedBuffer && typeof packedBuffer === 'object' && typeof packedBuffer.base64 === 'string'
      ? Buffer.from(packedBuffer.base64, 'base64')
      : value;
  }) as Change[];
