import type { Db } from '../db/open';

/** A column of a table, as the database has it. */
export interface Column {
  name: string;
  binary: boolean;
  /** What it holds when nothing is given and it may not be empty; undefined where the database knows. */
  empty: '' | 0 | Buffer | undefined;
}

/** A table as the database has it: the columns that are given and not worked out, and those that tell a row. */
export interface Shape {
  columns: readonly Column[];
  key: readonly string[];
}

interface Found {
  name: string;
  type: string;
  nullable: 'YES' | 'NO';
  preset: string | null;
  extra: string;
  worked: string | null;
}

const isBinary = (type: string): boolean => /blob|binary/.test(type);

function emptyOf({ type, nullable, preset, extra }: Found): Column['empty'] {
  if (nullable === 'YES' || preset !== null || /auto_increment/.test(extra)) return undefined;
  if (isBinary(type)) return Buffer.alloc(0);
  return /char|text/.test(type) ? '' : 0;
}

/** What a table looks like now. */
export async function shapeOf(db: Db, table: string): Promise<Shape> {
  const [columns] = (await db.raw(
    `SELECT COLUMN_NAME AS name, DATA_TYPE AS type, IS_NULLABLE AS nullable, COLUMN_DEFAULT AS preset, EXTRA AS extra, GENERATION_EXPRESSION AS worked
     FROM information_schema.COLUMNS WHERE TABLE_SCHEMA = DATABASE() AND TABLE_NAME = ? ORDER BY ORDINAL_POSITION`,
    [table],
  )) as [Found[]];
  const [key] = (await db.raw(
    `SELECT COLUMN_NAME AS name FROM information_schema.KEY_COLUMN_USAGE
     WHERE TABLE_SCHEMA = DATABASE() AND TABLE_NAME = ? AND CONSTRAINT_NAME = 'PRIMARY' ORDER BY ORDINAL_POSITION`,
    [table],
  )) as [{ name: string }[]];
  return {
    columns: columns
      .filter((one) => !one.worked)
      .map((one) => ({ name: one.name, binary: isBinary(one.type), empty: emptyOf(one) })),
    key: key.map(({ name }) => name),
  };
}
