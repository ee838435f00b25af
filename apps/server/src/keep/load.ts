import type { Tables } from 'knex/types/tables';
import type { Row, Value } from '../act/kept';
import type { Db } from '../db/open';
import type { BookHead } from './book';
import { NoBook, readBook } from './read';
import { shapeOf, type Shape } from './shape';
import { saidOfTable } from './tables';

/** How rows of a book become rows of a database: numbers as they are, or others. Null leaves a row out. */
export type Renumber = (table: keyof Tables, row: Readonly<Record<string, Value>>) => Promise<Row | null> | Row | null;

const AT_ONCE = 300;

/** A value as the database takes it: a column of JSON is told as what it holds. */
const asGiven = (value: Value): Value =>
  typeof value === 'object' && value !== null && !Buffer.isBuffer(value) ? JSON.stringify(value) : value;

/** Rows of one table that are put in together. */
class Waiting {
  private rows: Row[] = [];
  private shapes = new Map<string, Shape>();

  constructor(private readonly trx: Db) {}

  /** Puts a row in, soon: what a later Gemmel does not have is left out, and what the machine makes again is empty until it does. */
  async add(table: string, row: Row): Promise<void> {
    this.rows.push(row);
    if (this.rows.length >= AT_ONCE) await this.flush(table);
  }

  async flush(table: string): Promise<void> {
    if (this.rows.length === 0) return;
    let shape = this.shapes.get(table);
    if (!shape) this.shapes.set(table, (shape = await shapeOf(this.trx, table)));
    const rows = this.rows.map((row) => {
      const full: Record<string, Value> = {};
      for (const { name, empty } of shape.columns)
        if (name in row) full[name] = asGiven(row[name]!);
        else if (empty !== undefined) full[name] = empty;
      return full;
    });
    this.rows = [];
    await this.trx(table).insert(rows as never);
  }
}

/**
 * Puts a library's book into a database whose tables are those it was written with, in one transaction. Accounts come without their
 * passwords; one whose address somebody has already stays as it is.
 */
export async function loadBook(trx: Db, file: string, renumber: Renumber = (_, row) => row): Promise<BookHead> {
  let head: BookHead | null = null;
  let table: string | null = null;
  const waiting = new Waiting(trx);
  // Rows speak of others that come later.
  await trx.raw('SET SESSION foreign_key_checks = 0');
  try {
    for await (const part of readBook(file)) {
      if ('head' in part) head = part.head;
      else if ('table' in part) {
        if (table) await waiting.flush(table);
        table = part.table;
        if (table !== 'accounts' && !saidOfTable(table)) throw new NoBook(table);
      } else if (table) {
        const row = await renumber(table as keyof Tables, part.row);
        if (!row) continue;
        if (table === 'accounts')
          await trx('accounts')
            .insert({ ...row, password_hash: '' } as never)
            .onConflict()
            .ignore();
        else await waiting.add(table, row);
      }
    }
    if (table) await waiting.flush(table);
  } finally {
    await trx.raw('SET SESSION foreign_key_checks = 1');
  }
  return head!;
}
