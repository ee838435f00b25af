import {
  NOTHING_SAID,
  plainest,
  Recipe,
  SAID_AUDIENCES,
  type Said,
  type SaidAudience,
  type SaidComment,
  type SaidFace,
} from '@gemmel/core';
import { XMLParser } from 'fast-xml-parser';

/** What exiftool reads from a file, by tag name. */
export type Raw = Record<string, unknown>;

export const text = (raw: Raw, ...names: string[]): string | null => {
  for (const name of names) {
    const value = raw[name];
    if ((typeof value === 'string' || typeof value === 'number') && String(value).trim())
      return String(value)
        .replace(/\p{Cc}+/gu, ' ')
        .trim();
  }
  return null;
};

/** A text of several lines: its breaks and tabs stay, other control characters do not. */
const lines = (raw: Raw, ...names: string[]): string | null => {
  for (const name of names) {
    const value = raw[name];
    if (typeof value !== 'string' && typeof value !== 'number') continue;
    const said = String(value)
      .replace(/\r\n?|\u2028|\u2029/g, '\n')
      .replace(/[^\P{Cc}\n\t]+/gu, ' ')
      .trim();
    if (said && !NOBODY_SAID.some((words) => words.test(said))) return said;
  }
  return null;
};

/** What cameras and programs write where a caption belongs, and nobody ever said. */
const NOBODY_SAID = [
  // "Created with Paint 3.1", and never "Created with love".
  /^([Cc]reated|[Ee]dited|[Pp]rocessed|[Ee]xported|[Gg]enerated) (with|using) (the |The )?[A-Z0-9][\w.+-]*( [A-Z0-9][\w.+-]*){0,3}$/,
  /^(created|edited|processed) by \S+( [\d.]+)$/i,
  /^[A-Z ]*DIGITAL CAMERA$|^SONY DSC$|^SAMSUNG CAMERA PICTURES$|^Exif.JPEG.PICTURE$/,
  /^(default|untitled)$/i,
];

export const number = (raw: Raw, name: string): number | null => {
  const value = Number(raw[name]);
  return raw[name] !== undefined && raw[name] !== '' && Number.isFinite(value) ? value : null;
};

export const listOf = (value: unknown): string[] =>
  (Array.isArray(value) ? value : value === undefined ? [] : [value])
    .map((v) =>
      String(v)
        .replace(/\p{Cc}+/gu, ' ')
        .trim(),
    )
    .filter((v) => v && v.length <= 400);

/** What the characters of code page 1252 are that differ from Latin 1, from 0x80. */
const CP1252 =
  '\u20ac\u0081\u201a\u0192\u201e\u2026\u2020\u2021\u02c6\u2030\u0160\u2039\u0152\u008d\u017d\u008f\u0090\u2018\u2019\u201c\u201d\u2022\u2013\u2014\u02dc\u2122\u0161\u203a\u0153\u009d\u017e\u0178';

/** Text of IPTC that was written as UTF-8 without saying so and was read as Latin. */
export function asWritten(read: string): string {
  const bytes: number[] = [];
  for (const char of read) {
    const code = char.codePointAt(0)!;
    const at = code > 0xff ? CP1252.indexOf(char) : -1;
    if (code > 0xff && at < 0) return read;
    bytes.push(code > 0xff ? 0x80 + at : code);
  }
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(Uint8Array.from(bytes));
  } catch {
    return read;
  }
}

/** What one field of IPTC holds. */
const ofIptc = (raw: Raw, name: string): string[] => listOf(raw[name]).map(asWritten);

/** Whether it is one of Gemmel's own sidecars. */
const isOwn = (raw: Raw): boolean => raw['Favourite'] !== undefined;

/** Words that some programs put at the head of a tree that holds nothing but people. */
const PEOPLE = new Set(['people', 'person', 'persons', 'faces']);

interface Keyword {
  Keyword?: string;
  Children?: Keyword[];
}

function* branches(words: readonly Keyword[], above: string[], depth = 0): Generator<string[]> {
  for (const word of words) {
    const name = String(word.Keyword ?? '').trim();
    if (!name || depth > 8) continue;
    const path = [...above, name];
    if (Array.isArray(word.Children) && word.Children.length) yield* branches(word.Children, path, depth + 1);
    else yield path;
  }
}

/** The longest word that is kept, in characters. */
const LONGEST = 250;

const path = (words: readonly string[]): string[] => words.map((word) => word.trim().slice(0, LONGEST)).filter(Boolean);

/** Fields in which others write a tag with all that is above it in one text, and what stands between. */
const TREES: readonly (readonly [string, string])[] = [
  ['HierarchicalSubject', '|'],
  ['CatalogSets', '|'],
  ['TagsList', '/'],
  ['LastKeywordXMP', '/'],
  ['LastKeywordIPTC', '/'],
];

interface Category {
  '#'?: string;
  '@Assigned'?: string;
  Category?: Category[];
}

const categories = new XMLParser({
  ignoreAttributes: false,
  attributeNamePrefix: '@',
  textNodeName: '#',
  parseTagValue: false,
  isArray: (name) => name === 'Category',
});

/** Tags as nested elements, of which those that are meant say so: `<Category Assigned="1">outdoors</Category>`. */
function* meant(list: readonly Category[] | undefined, above: string[] = []): Generator<string[]> {
  for (const one of above.length < 9 ? (list ?? []) : []) {
    const here = [...above, String(one['#'] ?? '')];
    if (one['@Assigned'] === '1') yield path(here);
    yield* meant(one.Category, here);
  }
}

function nested(xml: unknown): string[][] {
  if (typeof xml !== 'string' || xml.length > 100_000) return [];
  try {
    return [...meant((categories.parse(xml) as { Categories?: Category }).Categories?.Category)];
  } catch {
    return [];
  }
}

/** Tags as paths: keyword trees of the Metadata Working Group, other fields that hold trees, and plain words. */
function tagsOf(raw: Raw): string[][] {
  const paths = TREES.flatMap(([field, between]) => listOf(raw[field]).map((word) => path(word.split(between))));
  const tree = (raw['KeywordInfo'] as { Hierarchy?: Keyword[] } | undefined)?.Hierarchy;
  if (Array.isArray(tree)) paths.push(...[...branches(tree, [])].map(path));
  paths.push(...nested(raw['Categories']));
  // Where a program knew no trees, it wrote them into plain words with bars between. Gemmel's own words hold what they
  // hold: each is a tag, and its path is among the trees.
  const words = [...listOf(raw['Subject']), ...ofIptc(raw, 'Keywords')];
  if (raw['Favourite'] !== undefined)
    return words.map((word) => paths.find((one) => one.at(-1) === word) ?? path([word]));
  const more = listOf(raw['XPKeywords']).flatMap((list) => list.split(';'));
  const plain = [...words.map((word) => path(word.split('|'))), ...more.map((word) => path([word]))];
  const seen = new Set<string>();
  return plainest([...paths, ...plain])
    .filter((one) => one.length > 0 && !(one.length > 1 && PEOPLE.has(one[0]!.toLowerCase())))
    .filter((one) => {
      const key = one.join('\0').toLowerCase();
      return seen.has(key) ? false : seen.add(key);
    })
    .slice(0, 60);
}

/** Marked faces as they were written, with the size of the picture they were marked on. */
export interface Marked {
  faces: SaidFace[];
  width: number | null;
  height: number | null;
  /** Marked on the picture as it is shown, whatever way it is stored; of others it is not known. */
  shown: boolean;
}

/** Where Gemmel's sidecars say of faces that they are nobody's, or none. */
const NO_NAME = { PassersBy: 'passer-by', NoFaces: 'not a face' } as const;

/** Longest comment that is read, and how many. */
const COMMENT = { longest: 4000, most: 200 } as const;

/** Comments as Gemmel's sidecars write them: when, by whom and what, each as a JSON list. What is none of them is passed over. */
export function commentsIn(raw: Raw): SaidComment[] {
  const value = raw['Remarks'];
  const list: unknown[] = Array.isArray(value) ? value : value === undefined ? [] : [value];
  return list.slice(0, COMMENT.most).flatMap((one) => {
    try {
      const [at, author, text] = (typeof one === 'string' ? JSON.parse(one) : one) as unknown[];
      if (typeof at !== 'string' || typeof author !== 'string' || typeof text !== 'string' || !text.trim()) return [];
      if (!/^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\dZ$/.test(at)) return [];
      return [{ at, author: author.slice(0, 160), text: text.slice(0, COMMENT.longest) }];
    } catch {
      return [];
    }
  });
}

/** A box as Gemmel's sidecars write it in words: its middle and its size in fractions, as the regions have them. */
export const spotText = ({ x, y, w, h }: { x: number; y: number; w: number; h: number }): string =>
  [x + w / 2, y + h / 2, w, h].map((v) => v.toFixed(6)).join(' ');

interface Region {
  Name?: unknown;
  Type?: string;
  Area?: { X?: number; Y?: number; W?: number; H?: number; D?: number; Unit?: string };
}

/** Face regions of the Metadata Working Group's guidelines 2.0: middle and size in fractions. */
export function markedOf(raw: Raw): Marked {
  const info = raw['RegionInfo'] as
    { AppliedToDimensions?: { W?: number; H?: number }; RegionList?: Region[] } | undefined;
  const list = Array.isArray(info?.RegionList) ? info.RegionList : [];
  const faces: SaidFace[] = [];
  const machine = new Set(listOf(raw['ByMachine']));
  for (const { Name, Type, Area } of list.slice(0, 200)) {
    const name = typeof Name === 'string' || typeof Name === 'number' ? String(Name).trim().slice(0, 160) : '';
    if (!name || (Type && Type !== 'Face') || !Area || (Area.Unit && Area.Unit !== 'normalized')) continue;
    const [x, y, w, h] = [Number(Area.X), Number(Area.Y), Number(Area.W ?? Area.D), Number(Area.H ?? Area.D)];
    if (![x, y, w, h].every(Number.isFinite) || w <= 0 || h <= 0 || w > 1 || h > 1) continue;
    const byMachine = machine.has(spotText({ x: x - w / 2, y: y - h / 2, w, h }));
    faces.push({ name, x: x - w / 2, y: y - h / 2, w, h, ...(byMachine && { byMachine }) });
  }
  for (const [field, is] of Object.entries(NO_NAME))
    for (const said of listOf(raw[field]).slice(0, 200)) {
      const [x, y, w, h] = said.split(' ').map(Number) as [number, number, number, number];
      if (![x, y, w, h].every(Number.isFinite) || w <= 0 || h <= 0 || w > 1 || h > 1) continue;
      faces.push({ name: '', is, x: x - w / 2, y: y - h / 2, w, h });
    }
  const size = info?.AppliedToDimensions;
  return { faces, width: Number(size?.W) || null, height: Number(size?.H) || null, shown: isOwn(raw) };
}

/** Turns a box of the stored picture the way an EXIF orientation shows it. */
export function turnBox<B extends { x: number; y: number; w: number; h: number }>(box: B, orientation: number): B {
  const { x, y, w, h } = box;
  const [right, below] = [1 - x - w, 1 - y - h];
  const turned: Record<number, [number, number, number, number]> = {
    2: [right, y, w, h],
    3: [right, below, w, h],
    4: [x, below, w, h],
    5: [y, x, h, w],
    6: [below, x, h, w],
    7: [below, right, h, w],
    8: [y, right, h, w],
  };
  const [tx, ty, tw, th] = turned[orientation] ?? [x, y, w, h];
  return { ...box, x: tx, y: ty, w: tw, h: th };
}

/** How one of Gemmel's own sidecars says the picture is shown; null where it says nothing that can be read. */
function recipeIn(raw: Raw): Recipe | null {
  if (!isOwn(raw) || typeof raw['Recipe'] !== 'string') return null;
  try {
    return Recipe.parse(JSON.parse(raw['Recipe']));
  } catch {
    return null;
  }
}

/** How many albums of one picture are read. */
const ALBUMS = 200;

/** The albums one of Gemmel's own sidecars says a picture belongs to. */
const albumsIn = (raw: Raw): string[] =>
  isOwn(raw)
    ? listOf(raw['StandsIn'])
        .slice(0, ALBUMS)
        .map((name) => name.slice(0, 160))
    : [];

/** For whom one of Gemmel's own sidecars says a picture is. */
function audienceIn(raw: Raw): SaidAudience | null {
  const audience = isOwn(raw) ? SAID_AUDIENCES.find((one) => one === raw['ForWhom']) : undefined;
  return audience ? { audience, by: text(raw, 'ForWhomSaid')?.slice(0, 160) ?? null } : null;
}

/** Everything people said in one place: a file's own metadata, or a sidecar. */
export function saidOf(raw: Raw): Said {
  const recipe = recipeIn(raw);
  const albums = albumsIn(raw);
  const audience = audienceIn(raw);
  const lat = number(raw, 'GPSLatitude');
  const lon = number(raw, 'GPSLongitude');
  const placed =
    lat !== null && lon !== null && Math.abs(lat) <= 90 && Math.abs(lon) <= 180 && !(lat === 0 && lon === 0);
  return {
    ...NOTHING_SAID,
    title: (text(raw, 'Title') ?? ofIptc(raw, 'ObjectName')[0] ?? text(raw, 'XPTitle'))?.slice(0, 200) ?? null,
    caption:
      (
        lines(raw, 'Description', 'ImageDescription') ??
        lines({ of: asWritten(String(raw['Caption-Abstract'] ?? '')) }, 'of') ??
        lines(raw, 'XPComment')
      )?.slice(0, 4000) ?? null,
    rating: Math.max(0, Math.min(5, Math.round(number(raw, 'Rating') ?? 0))),
    favourite: /^(true|1)$/i.test(String(raw['Favourite'] ?? '')),
    label: text(raw, 'Label')?.slice(0, 60) ?? null,
    tags: tagsOf(raw),
    lat: placed ? lat : null,
    lon: placed ? lon : null,
    faces: markedOf(raw).faces,
    comments: commentsIn(raw),
    ...(recipe ? { recipe } : {}),
    ...(albums.length ? { albums } : {}),
    ...(audience ? { audience } : {}),
  };
}
