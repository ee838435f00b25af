import { NOTHING_SAID, plainest, type Said, type SaidFace } from '@gemmel/core';

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
  /^(created|edited|processed) (with|by|using) \S+( [\d.]+)?$/i,
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

/** Tags as paths: hierarchical subjects, keyword trees of the Metadata Working Group, and plain words. */
function tagsOf(raw: Raw): string[][] {
  const paths = listOf(raw['HierarchicalSubject'] ?? raw['TagsList'] ?? raw['LastKeywordXMP']).map((word) =>
    word
      .split(/[|/]/)
      .map((part) => part.trim().slice(0, 80))
      .filter(Boolean),
  );
  const tree = (raw['KeywordInfo'] as { Hierarchy?: Keyword[] } | undefined)?.Hierarchy;
  if (Array.isArray(tree)) paths.push(...branches(tree, []));
  // Where a program knew no trees, it wrote them into plain words with bars between.
  const plain = [...listOf(raw['Subject']), ...listOf(raw['Keywords'])].map((word) =>
    word
      .split('|')
      .map((part) => part.trim().slice(0, 80))
      .filter(Boolean),
  );
  const seen = new Set<string>();
  return plainest([...paths, ...plain])
    .filter((path) => path.length > 0 && !(path.length > 1 && PEOPLE.has(path[0]!.toLowerCase())))
    .filter((path) => {
      const key = path.join('|').toLowerCase();
      return seen.has(key) ? false : seen.add(key);
    })
    .slice(0, 60);
}

/** Marked faces as they were written, with the size of the picture they were marked on. */
export interface Marked {
  faces: SaidFace[];
  width: number | null;
  height: number | null;
}

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
  for (const { Name, Type, Area } of list.slice(0, 200)) {
    const name = typeof Name === 'string' || typeof Name === 'number' ? String(Name).trim().slice(0, 160) : '';
    if (!name || (Type && Type !== 'Face') || !Area || (Area.Unit && Area.Unit !== 'normalized')) continue;
    const [x, y, w, h] = [Number(Area.X), Number(Area.Y), Number(Area.W ?? Area.D), Number(Area.H ?? Area.D)];
    if (![x, y, w, h].every(Number.isFinite) || w <= 0 || h <= 0 || w > 1 || h > 1) continue;
    faces.push({ name, x: x - w / 2, y: y - h / 2, w, h });
  }
  const size = info?.AppliedToDimensions;
  return { faces, width: Number(size?.W) || null, height: Number(size?.H) || null };
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

/** Everything people said in one place: a file's own metadata, or a sidecar. */
export function saidOf(raw: Raw): Said {
  const lat = number(raw, 'GPSLatitude');
  const lon = number(raw, 'GPSLongitude');
  const placed =
    lat !== null && lon !== null && Math.abs(lat) <= 90 && Math.abs(lon) <= 180 && !(lat === 0 && lon === 0);
  return {
    ...NOTHING_SAID,
    title: text(raw, 'Title', 'ObjectName')?.slice(0, 200) ?? null,
    caption: lines(raw, 'Description', 'ImageDescription', 'Caption-Abstract')?.slice(0, 4000) ?? null,
    rating: Math.max(0, Math.min(5, Math.round(number(raw, 'Rating') ?? 0))),
    favourite: /^(true|1)$/i.test(String(raw['Favourite'] ?? '')),
    label: text(raw, 'Label')?.slice(0, 60) ?? null,
    tags: tagsOf(raw),
    lat: placed ? lat : null,
    lon: placed ? lon : null,
    faces: markedOf(raw).faces,
  };
}
