import type { Tables } from 'knex/types/tables';
import type { Db } from '../src/db/open';
import { SAID, saidOfTable } from '../src/keep/tables';

/** What a column that is a number of a row speaks of, where its name does not say it. */
const SPOKEN: Readonly<Record<string, keyof Tables | null>> = {
  account_id: null,
  picture_id: 'pictures',
  cover_id: 'pictures',
  pair_id: null,
  clock_id: null,
  face_id: 'faces',
  portrait_face_id: 'faces',
  person_id: 'people',
  member_id: 'members',
  audience_by: 'members',
  added_by: 'members',
  made_by: 'members',
  created_by: 'members',
  brought_by: 'members',
  event_id: 'events',
  batch_id: 'batches',
  source_id: 'sources',
  device_id: 'devices',
  circle_id: 'circles',
  tag_id: 'tags',
  mark_id: 'marks',
  own_place_id: 'own_places',
  folder_id: 'folders',
  shelf_id: 'shelves',
  album_id: 'albums',
  share_id: 'shares',
  act_id: 'acts',
  undoes_id: null,
  undone_by: null,
  file_id: null,
};

interface Column {
  name: string;
  type: string;
  whole: string;
  most: number | null;
  worked: string | null;
  extra: string;
}

/** A value of a column that is told from every other. */
function valueOf({ name, type, whole, most }: Column, table: string): string | number | Buffer {
  if (type === 'enum') return /'([^']+)'/.exec(whole)![1]!;
  if (/text|char/.test(type))
    return whole.startsWith('json') ? '{}' : `${table} ${name}`.slice(0, Math.min(most ?? 40, 40));
  if (type === 'date') return '2026-05-17';
  if (/datetime|timestamp/.test(type)) return '2026-05-17 10:11:12.345';
  if (/blob|binary/.test(type))
    return type === 'binary'
      ? Buffer.alloc(most!, table.length)
      : Buffer.from(`${table} ${name}`).subarray(0, most ?? 32);
  return type === 'double' || type === 'float' ? 0.5 : 1;
}

const LITERAL: Readonly<Record<string, string | null>> = {
  question: '{"v":1,"question":{"all":[]}}',
  view: '{"v":1,"question":{"all":[]}}',
  source: '{"question":{"all":[]}}',
  best: null,
  payload: '{}',
  settings: '{}',
  edits: '{"kept":[],"out":[],"also":[],"words":{},"cover":null}',
  may: '{}',
  words: '{}',
  recipe: null,
  prints: '[]',
  email: 'aunt@house.example',
  slug: 'camera-card',
};

/**
 * Puts a row into every table of a library that is told in its book and holds none, with something in each of its columns; it knows nothing of any one table, so
 * that one which comes later is filled, too. Answers with the tables it filled.
 */
export async function fillTables(db: Db, library: number): Promise<string[]> {
  const filled: string[] = [];
  const first = async (table: keyof Tables, nth = 0) =>
    (
      (await db(table as string)
        .where('library_id', library)
        .orderBy('id')
        .offset(nth)
        .first('id')) as { id: number } | undefined
    )?.id ?? null;
  for (const table of SAID) {
    if (
      table === 'libraries' ||
      (await db(table as string)
        .where('library_id', library)
        .first('library_id'))
    )
      continue;
    const { ids = [] } = saidOfTable(table)!;
    const [columns] = (await db.raw(
      `SELECT COLUMN_NAME AS name, DATA_TYPE AS type, COLUMN_TYPE AS \`whole\`, CHARACTER_MAXIMUM_LENGTH AS most, GENERATION_EXPRESSION AS worked, EXTRA AS extra
       FROM information_schema.COLUMNS WHERE TABLE_SCHEMA = DATABASE() AND TABLE_NAME = ?`,
      [table],
    )) as [Column[]];
    const row: Record<string, unknown> = {};
    for (const column of columns) {
      const { name } = column;
      if (column.worked || /auto_increment/.test(column.extra)) continue;
      if (name === 'library_id') row[name] = library;
      else if (name === 'parent_id') row[name] = null;
      else if (name === 'other_id') row[name] = await first(table === 'face_apart' ? 'faces' : 'pictures', 1);
      else if (ids.includes(name) && table === 'binned_files' && name === 'picture_id')
        row[name] = await first('binned');
      else if (ids.includes(name)) row[name] = SPOKEN[name] ? await first(SPOKEN[name]) : null;
      else if (name === 'audience') row[name] = 'house';
      else if (name in LITERAL && /text|char/.test(column.type)) row[name] = LITERAL[name];
      else row[name] = valueOf(column, table);
    }
    await db(table as string).insert(row);
    filled.push(table);
  }
  return filled;
}
