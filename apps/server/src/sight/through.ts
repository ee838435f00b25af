import type { App } from '../context';
import type { Db } from '../db/open';
import type { Sight } from './sight';
import { BY_NAME, BY_PICTURE, OPEN } from './tables';

interface Statement {
  sql: string;
  bindings?: readonly unknown[];
}

/** The client behind an open database, as far as it is needed to narrow what is read through it. */
interface Client {
  _query(connection: unknown, statement: Statement): Promise<unknown>;
  _stream(connection: unknown, statement: Statement, stream: unknown, options: unknown): Promise<unknown>;
  sight?: string;
}
const clientOf = (db: Db): Client => db.client as Client;

/** Where a statement begins to read: behind settings for it alone, and behind parts of it that are named first. */
const READS = /^\s*(?:SET\s+STATEMENT\s[^;]*?\sFOR\s+)?\(*\s*(?:WITH|SELECT)\b/i;
const BEGINS = /^(\s*(?:SET\s+STATEMENT\s[^;]*?\sFOR\s+)?)(WITH\s+(?!RECURSIVE\b))?/i;
/** Advice about an index is about the table itself, and is no use once it has been narrowed. */
const ADVICE = /\b(?:IGNORE|FORCE|USE)\s+INDEX\s+(?:FOR\s+[A-Z ]+\s+)?\([^)]*\)/gi;
/** Tables that a statement reads from. */
const FROM = /\b(?:FROM|JOIN)\s+\(*`?([a-z_]+)`?/gi;

/** What may stand where a table stands and is none: a part that is read first, and rows that a statement brings along itself. */
const NO_TABLE: ReadonlySet<string> = new Set(['select', 'json_table']);

/**
 * Tables of names that are joined to rows hanging on pictures, marked by whoever wrote the statement: those rows are narrowed, and with
 * them what is named. To narrow the names as well would ask of every picture once more. Good for statements where every row of the
 * table goes through such a join.
 */
const ALONG = /\bJOIN\s+`?([a-z_]+)`?\s+AS\s+`?[a-z_]+`?\s+\/\* along \*\//gi;

/** The tables a statement speaks of among some, with those that theirs speak of; in their order. */
function neededBy(sql: string, bodies: readonly (readonly [string, string])[]): (readonly [string, string])[] {
  const speaks = (text: string, table: string) => new RegExp(`\\b${table}\\b`).test(text);
  const needed = new Set<string>();
  let texts = [sql];
  while (texts.length) {
    const more = bodies.filter(([table]) => !needed.has(table) && texts.some((text) => speaks(text, table)));
    more.forEach(([table]) => needed.add(table));
    texts = more.map(([, body]) => body);
  }
  return bodies.filter(([table]) => needed.has(table));
}

/** A statement that reads a table nobody has said may be read through a view. */
export class NotThrough extends Error {
  constructor(table: string) {
    super(`"${table}" is not read through anybody’s view`);
  }
}

/**
 * A statement as somebody reads it who does not see all: every table that hangs on pictures is named anew, before the statement, as the
 * part of it that hangs on pictures they see (a common table expression hides the table of its name). What only writes is as it was.
 * @throws NotThrough for a relative's statement on a table that is neither narrowed nor open.
 */
export function narrowed(statement: Statement, sight: Sight): Statement {
  // What it does must be seen at its head.
  if (/^\s*(\/\*|--|#)/.test(statement.sql)) throw new NotThrough('a comment');
  if (!READS.test(statement.sql)) return statement;
  const along = new Set([...statement.sql.matchAll(ALONG)].map(([, table]) => table!.toLowerCase()));
  const bodies = [
    ['pictures', `SELECT * FROM pictures p WHERE p.library_id = ? AND (${sight.sql})`] as const,
    ...Object.entries(BY_PICTURE),
    ...(sight.names ? Object.entries(BY_NAME).filter(([table]) => !along.has(table)) : []),
  ];
  if (sight.names) {
    const own = new Set([...statement.sql.matchAll(/\b([a-z_]+)\s+AS\s+\(/gi)].map(([, name]) => name));
    for (const [, table] of statement.sql.matchAll(FROM)) {
      const name = table!.toLowerCase();
      const known =
        along.has(name) ||
        NO_TABLE.has(name) ||
        OPEN.has(name) ||
        own.has(name) ||
        bodies.some(([body]) => body === name);
      if (!known) throw new NotThrough(name);
    }
  }
  const needed = neededBy(statement.sql, bodies);
  if (needed.length === 0) return statement;
  const [begin, before, more] = BEGINS.exec(statement.sql)!;
  const parts = needed.map(([table, body]) => `${table} AS (${body})`).join(', ');
  const rest = statement.sql.slice(begin.length).replace(ADVICE, '');
  const seen = needed[0]![0] === 'pictures' ? [sight.library, ...sight.values] : [];
  return {
    ...statement,
    sql: `${before}WITH ${parts}${more ? ', ' : ' '}${rest}`,
    bindings: [...seen, ...(statement.bindings ?? [])],
  };
}

/**
 * The database as somebody sees it. All that is asked of it directly is narrowed to their view; a transaction is whole, so that what
 * somebody does is written by what is there and not by what they see: whoever changes pictures asks first whether they are seen.
 */
function seenThrough(db: Db, sight: Sight): Db {
  const seen = db.withUserParams({});
  const client = clientOf(seen);
  const whole = clientOf(db);
  client.sight = sight.key;
  client._query = (connection, statement) =>
    Promise.resolve().then(() => whole._query(connection, Object.assign(statement, narrowed(statement, sight))));
  client._stream = (connection, statement, stream, options) =>
    whole._stream(connection, Object.assign(statement, narrowed(statement, sight)), stream, options);
  return seen;
}

/** The application as somebody sees it: the same but for the pictures it knows. */
export const appThrough = (app: App, sight: Sight | null): App =>
  sight ? { ...app, db: seenThrough(app.db, sight), whole: app } : app;

/** What keeps apart answers that are kept for different eyes; empty for all of a library. */
export const seenBy = (db: Db): string => clientOf(db).sight ?? '';
