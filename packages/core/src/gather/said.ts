import type { Recipe } from '../touchup/recipe';
import { fold } from '../text/fold';

/** A face somebody marked elsewhere: box in fractions of the upright picture. */
export interface SaidFace {
  /** Empty when it is nobody of the household's, or none at all. */
  name: string;
  /** Set where no name was given but something else was said of it. */
  is?: 'passer-by' | 'not a face';
  /** Filed by recognition, which may think otherwise another day. */
  byMachine?: true;
  x: number;
  y: number;
  w: number;
  h: number;
}

/** A comment as it was written: by whom, when in UTC (`YYYY-MM-DDTHH:MM:SSZ`), and what. */
export interface SaidComment {
  author: string;
  at: string;
  text: string;
}

/** What people said about a picture, wherever it was written. Tags are paths from the widest word to the closest. */
export interface Said {
  title: string | null;
  caption: string | null;
  rating: number;
  favourite: boolean;
  /** A coloured mark, in the words it was given. */
  label: string | null;
  tags: string[][];
  lat: number | null;
  lon: number | null;
  faces: SaidFace[];
  comments?: SaidComment[];
  /** How it is shown instead of as it was taken. */
  recipe?: Recipe;
  /** The albums it belongs to, by name. */
  albums?: string[];
  /** For whom it is, where somebody said so. */
  audience?: SaidAudience;
}

/** For whom a picture is, from the narrowest to the widest. */
export const SAID_AUDIENCES = ['me', 'house', 'family', 'link'] as const;

/** For whom a picture was said to be, and by whom. */
export interface SaidAudience {
  audience: (typeof SAID_AUDIENCES)[number];
  by: string | null;
}

/** Two places that say different things: what stays, and what was said elsewhere. */
export interface Conflict {
  what: 'title' | 'caption' | 'stars' | 'mark' | 'place';
  kept: string;
  other: string;
}

export const NOTHING_SAID: Said = {
  title: null,
  caption: null,
  rating: 0,
  favourite: false,
  label: null,
  tags: [],
  lat: null,
  lon: null,
  faces: [],
};

/** Whether two marked faces are the same: each middle lies in the other's box. */
export function sameSpot(a: Omit<SaidFace, 'name'>, b: Omit<SaidFace, 'name'>): boolean {
  const inside = (p: typeof a, q: typeof a) => {
    const [x, y] = [p.x + p.w / 2, p.y + p.h / 2];
    return x >= q.x && x <= q.x + q.w && y >= q.y && y <= q.y + q.h;
  };
  return inside(a, b) && inside(b, a);
}

const degrees = (lat: number, lon: number) => `${lat.toFixed(4)}, ${lon.toFixed(4)}`;

/** Metres between two positions, flat enough for near ones. */
function metres(a: { lat: number; lon: number }, b: { lat: number; lon: number }): number {
  return Math.hypot((a.lat - b.lat) * 111_195, (a.lon - b.lon) * 111_195 * Math.cos((a.lat * Math.PI) / 180));
}

/**
 * Joins what two places say of one picture. The first has the last word where both speak; words, marked faces and hearts
 * of both are kept. Nothing is lost without being named: every difference is a {@link Conflict}.
 */
export function mergeSaid(first: Said, second: Said): { said: Said; conflicts: Conflict[] } {
  const conflicts: Conflict[] = [];
  const one = (what: Conflict['what'], a: string | null, b: string | null): string | null => {
    if (a && b && a.trim() !== b.trim()) conflicts.push({ what, kept: a, other: b });
    return a || b || null;
  };
  const stars = (n: number) => (n ? `${n}` : null);
  const rating = Number(one('stars', stars(first.rating), stars(second.rating)) ?? 0);
  const a = first.lat !== null && first.lon !== null ? { lat: first.lat, lon: first.lon } : null;
  const b = second.lat !== null && second.lon !== null ? { lat: second.lat, lon: second.lon } : null;
  if (a && b && metres(a, b) > 100)
    conflicts.push({ what: 'place', kept: degrees(a.lat, a.lon), other: degrees(b.lat, b.lon) });
  const spot = a ?? b;
  const key = (path: readonly string[]) => path.map(fold).join('\0');
  // A word that stands alone in one place and below others in the other says the same; in one place it may well stand twice.
  const alone = (path: readonly string[], there: readonly (readonly string[])[]) =>
    path.length === 1 && !insideOf(there).has(fold(path[0] ?? ''));
  const tags = first.tags.filter(
    (t) => t.length > 1 || alone(t, second.tags) || insideOf(first.tags).has(fold(t[0] ?? '')),
  );
  for (const path of second.tags)
    if (!tags.some((t) => key(t) === key(path)) && (path.length > 1 || alone(path, first.tags))) tags.push(path);
  const faces = [...first.faces];
  for (const face of second.faces) if (!faces.some((f) => sameSpot(f, face))) faces.push(face);
  const comments = [...(first.comments ?? [])];
  for (const comment of second.comments ?? [])
    if (!comments.some((c) => c.author === comment.author && c.text === comment.text)) comments.push(comment);
  const wideness = ({ audience }: SaidAudience) => SAID_AUDIENCES.indexOf(audience);
  // Where two places say for whom it is, the narrower holds.
  const [audience] = [first.audience, second.audience]
    .filter((one) => one !== undefined)
    .sort((one, other) => wideness(one) - wideness(other));
  const albums = [...new Set([...(first.albums ?? []), ...(second.albums ?? [])])];
  return {
    said: {
      ...(albums.length ? { albums } : {}),
      ...(audience ? { audience } : {}),
      ...(comments.length ? { comments } : {}),
      ...((first.recipe ?? second.recipe) ? { recipe: (first.recipe ?? second.recipe)! } : {}),
      title: one('title', first.title, second.title),
      caption: one('caption', first.caption, second.caption),
      rating,
      favourite: first.favourite || second.favourite,
      label: one('mark', first.label, second.label),
      tags,
      lat: spot?.lat ?? null,
      lon: spot?.lon ?? null,
      faces,
    },
    conflicts,
  };
}

/** Every word that stands in a path of several. */
const insideOf = (tags: readonly (readonly string[])[]): Set<string> =>
  new Set(tags.filter((t) => t.length > 1).flatMap((t) => t.map(fold)));

/** Drops words that stand alone where the same word also stands at the end of a longer path: they say the same. */
export function plainest(tags: readonly string[][]): string[][] {
  const inside = insideOf(tags);
  return tags.filter((t) => t.length > 1 || !inside.has(fold(t[0] ?? '')));
}
