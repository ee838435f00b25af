import type { App } from '../context';
import { withExiftool } from '../media/exiftool';
import { notFound } from '../problem';
import { originalOf } from '../touchup/original';

/** Longest value that is told, in characters. */
const LONGEST = 400;
/** Groups that speak of the tool and of where the file lies here, not of the picture. */
const ASIDE = new Set(['ExifTool', 'System', 'SourceFile']);

const say = (value: unknown): string =>
  (typeof value === 'object' && value !== null ? JSON.stringify(value) : String(value)).slice(0, LONGEST);

/** Everything the original file says of itself, in the groups of its standards, read from the file now. */
export async function metadataOf(app: App, library: number, id: number) {
  const original = await originalOf(app, library, id);
  if (!original) throw notFound('picture');
  const { file } = original;
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
