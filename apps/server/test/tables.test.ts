import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { openHouse, type House } from './house';

/** The types of `src/db/rows`, as names of columns with whether they may be empty and what they hold. */
function declared(): Record<string, Record<string, string>> {
  const folder = path.join(__dirname, '../src/db/rows');
  const text = readdirSync(folder)
    .map((name) => readFileSync(path.join(folder, name), 'utf8'))
    .join('\n');
  const rows = Object.fromEntries(
    [...text.matchAll(/export interface (\w+) \{\n([\s\S]*?)\n\}/g)].map(([, name, body]) => [
      name,
      Object.fromEntries([...body!.matchAll(/^ {2}(\w+): ([^;]+);/gm)].map(([, column, type]) => [column, type!])),
    ]),
  );
  return Object.fromEntries(
    [...text.matchAll(/^ {4}(\w+): Table<(\w+)>;/gm)].map(([, table, row]) => [table, rows[row!]!]),
  );
}

/** What a column of the database is in these types. */
function typeOf(column: string): string {
  if (column === 'tinyint(1)') return 'Flag';
  if (column.startsWith('enum')) return column.match(/'[^']*'/g)!.join(' | ');
  if (/^(tiny|small|big)?int|^float|^double/.test(column)) return 'number';
  return /binary|blob/.test(column) ? 'Buffer' : 'string';
}

describe('the tables', () => {
  let house: House;
  beforeAll(async () => void (house = await openHouse()));
  afterAll(() => house?.stop());

  test('their types say what the database holds, column by column', async () => {
    const columns = (await house.app
      .db('information_schema.columns')
      .whereRaw("table_schema = DATABASE() AND table_name NOT LIKE 'knex%'")
      .orderBy(['table_name', 'ordinal_position'])
      .select('table_name as of', 'column_name as name', 'column_type as type', 'is_nullable as nullable')) as {
      of: string;
      name: string;
      type: string;
      nullable: 'YES' | 'NO';
    }[];
    const there: Record<string, Record<string, string>> = {};
    for (const { of, name, type, nullable } of columns)
      (there[of] ??= {})[name] = `${typeOf(type)}${nullable === 'YES' ? ' | null' : ''}`;
    // Said more narrowly than the database can.
    there['pictures']!['taken_exact'] = "When['exact'] | null";
    there['pictures']!['likeness'] = 'number | string | null';
    // Worked out of two columns of which one is never empty.
    there['pictures']!['shown'] = 'Buffer';
    there['libraries']!['language'] = 'Language';
    there['accounts']!['language'] = 'Language | null';
    expect(declared()).toEqual(there);
  });
});
