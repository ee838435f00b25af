import path from 'node:path';
import type { App } from '../context';
import { withExiftool } from '../media/exiftool';
import { notFound } from '../problem';
import { libraryFolder } from '../vault/vault';

/** Longest value that is told, in characters. */
const LONGEST = 400;
/** Groups that speak of the tool and of where the file lies here, not of the picture. */
const ASIDE = new Set(['ExifTool', 'System', 'SourceFile']);

const say = (value: unknown): string =>
  (typeof value === 'object' && value !== null ? JSON.stringify(value) : String(value)).slice(0, LONGEST);

/** Everything the original file says of itself, in the groups of its standards, read from the file now. */
export async function metadataOf(app: App, library: number, id: number) {
  const row = await app
    .db('pictures as p')
    .join('libraries as l', 'l.id', 'p.library_id')
    .where({ 'p.id': id, 'p.library_id': library })
    .first('p.vault_path', 'l.slug');
  if (!row) throw notFound('picture');
  const file = path.join(libraryFolder(app, row.slug as string), row.vault_path as string);
  const raw = (await withExiftool((helper) => helper.readRaw(file, { readArgs: ['-G1', '-struct'] }))) as Record<
    string,
    unknown
  >;
  const groups = new Map<string, { name: string; value: string }[]>();
  for (const [key, value] of Object.entries(raw)) {
    const [group, name] = key.includes(':') ? (key.split(':') as [string, string]) : ['', key];
    if (!group || ASIDE.has(group) || /^\(Binary data/.test(String(value))) continue;
    groups.set(group, [...(groups.get(group) ?? []), { name, value: say(value) }]);
  }
  return { groups: [...groups].map(([name, lines]) => ({ name, lines })) };
}
