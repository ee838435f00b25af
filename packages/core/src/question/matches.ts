import { distanceKm } from '../time/events';
import { fold } from '../text/fold';
import type { Condition, Question, Span, Thing, Where } from './question';

/** What a question can ask of one picture. Ids are those of the library; lists hold no id twice. */
export interface PictureFacts {
  kind: 'photo' | 'video';
  /** The wall-clock day, or null when nobody knows. */
  day: string | null;
  /** When no more is known than a span of days: how wide it is, its first and its last day. `day` is its middle. */
  span: { exact: 'day' | 'month' | 'season' | 'year' | 'decade'; from: string; to: string } | null;
  rating: number;
  favourite: boolean;
  /** The named people in it. */
  people: readonly number[];
  /** Faces that count: named and waiting ones, not passers-by. */
  faces: number;
  /** Faces that wait for a name. */
  unnamed: number;
  tags: readonly number[];
  event: number | null;
  albums: readonly number[];
  batch: number | null;
  device: number | null;
  /** The day it came in. */
  added: string;
  /** An earlier picture nearly shows the same. */
  hasDouble: boolean;
  country: string | null;
  region: string | null;
  place: string | null;
  position: { lat: number; lon: number } | null;
  /** The household's own place it lies in. */
  ownPlace: number | null;
  /** The folder it came in. */
  folder: number | null;
  caption: string | null;
  /** See {@link searchable}. */
  words: string;
}

/** What lies outside the picture: today's day, and the trees of tags and of folders as child -> parent. */
export interface World {
  today: string;
  tagParent: ReadonlyMap<number, number | null>;
  folderParent: ReadonlyMap<number, number | null>;
}

/** The day `n` days before `day`, both `YYYY-MM-DD`. */
export function daysBefore(day: string, n: number): string {
  return new Date(Date.parse(`${day}T00:00:00Z`) - n * 86_400_000).toISOString().slice(0, 10);
}

/** A tag or folder and all below it. A loop in the tree, which the store forbids, would still end. */
export function allBelow(top: number, parents: ReadonlyMap<number, number | null>): number[] {
  const children = new Map<number, number[]>();
  for (const [child, parent] of parents)
    if (parent !== null) {
      const list = children.get(parent);
      if (list) list.push(child);
      else children.set(parent, [child]);
    }
  const found = new Set([top]);
  for (const id of found) for (const child of children.get(id) ?? []) found.add(child);
  return [...found].sort((a, b) => a - b);
}

/** Whether a picture was taken in days; one that only knows a span of days lies in them when all of its span does. */
function within({ day, span }: PictureFacts, from: string | undefined, to: string | undefined): boolean {
  if (day === null) return false;
  const inside = (a: string, b: string) => (from === undefined || a >= from) && (to === undefined || b <= to);
  return inside(day, day) && (!span || inside(span.from, span.to));
}

function inSpan(picture: PictureFacts, asked: Span, today: string): boolean {
  const { day, span } = picture;
  if (day === null) return false;
  const exact = span?.exact ?? 'day';
  if ('lastDays' in asked) return within(picture, daysBefore(today, asked.lastDays - 1), today);
  if ('month' in asked) {
    if (Number(day.slice(5, 7)) !== asked.month) return false;
    return asked.day === undefined
      ? exact === 'day' || exact === 'month'
      : exact === 'day' && Number(day.slice(8, 10)) === asked.day;
  }
  if ('only' in asked)
    return (
      day.startsWith(asked.only) && (asked.only.length > 4 ? exact === 'month' : exact !== 'day' && exact !== 'month')
    );
  return within(picture, asked.from, asked.to);
}

/** How far a degree of latitude reaches, in kilometres; a little less than it is, so that nothing is left out. */
const KM_OF_DEGREE = 111;

/** Degrees of latitude in which everything within some kilometres lies. */
export const latitudesWithin = (lat: number, km: number): [number, number] => [
  lat - km / KM_OF_DEGREE,
  lat + km / KM_OF_DEGREE,
];

function isWhere(picture: PictureFacts, where: Where): boolean {
  const at = picture.position;
  if ('own' in where) return picture.ownPlace === where.own;
  if ('box' in where) {
    const [west, south, east, north] = where.box;
    if (!at || at.lat < south || at.lat > north) return false;
    return west <= east ? at.lon >= west && at.lon <= east : at.lon >= west || at.lon <= east;
  }
  if ('circle' in where)
    return at !== null && distanceKm(where.circle.lat, where.circle.lon, at.lat, at.lon) <= where.circle.km;
  return (
    picture.country === where.country &&
    (where.region === undefined || picture.region === where.region) &&
    (where.place === undefined || picture.place === where.place)
  );
}

function has(picture: PictureFacts, thing: Thing): boolean {
  switch (thing) {
    case 'place':
      return picture.position !== null;
    case 'date':
      return picture.day !== null;
    case 'day':
      return picture.day !== null && (picture.span === null || picture.span.exact === 'day');
    case 'caption':
      return picture.caption !== null && picture.caption !== '';
    case 'names':
      return picture.unnamed === 0;
    case 'tags':
      return picture.tags.length > 0;
    case 'event':
      return picture.event !== null;
    case 'double':
      return picture.hasDouble;
  }
}

function holds(condition: Condition, picture: PictureFacts, world: World): boolean {
  if ('who' in condition) {
    const { people, mode } = condition.who;
    const nobodyElse = () => picture.unnamed === 0 && picture.people.every((id) => people.includes(id));
    if (mode === 'any' || mode === 'among')
      return people.some((id) => picture.people.includes(id)) && (mode === 'any' || nobodyElse());
    return people.every((id) => picture.people.includes(id)) && (mode === 'all' || nobodyElse());
  }
  if ('faces' in condition) return picture.faces >= condition.faces.min;
  if ('tag' in condition) return allBelow(condition.tag, world.tagParent).some((id) => picture.tags.includes(id));
  if ('folder' in condition)
    return (
      picture.folder !== null &&
      (condition.folder.only
        ? picture.folder === condition.folder.id
        : allBelow(condition.folder.id, world.folderParent).includes(picture.folder))
    );
  if ('taken' in condition) return inSpan(picture, condition.taken, world.today);
  if ('where' in condition) return isWhere(picture, condition.where);
  if ('event' in condition) return picture.event === condition.event;
  if ('album' in condition) return picture.albums.includes(condition.album);
  if ('batch' in condition) return picture.batch === condition.batch;
  if ('device' in condition) return picture.device === condition.device;
  if ('added' in condition) return picture.added > daysBefore(world.today, condition.added.lastDays);
  if ('kind' in condition) return picture.kind === condition.kind;
  if ('rating' in condition)
    return picture.rating >= (condition.rating.min ?? 0) && picture.rating <= (condition.rating.max ?? 5);
  if ('favourite' in condition) return picture.favourite === condition.favourite;
  if ('text' in condition) return picture.words.includes(fold(condition.text));
  if ('inNoAlbum' in condition) return picture.albums.length === 0;
  if ('has' in condition) return has(picture, condition.has);
  return !has(picture, condition.lacks);
}

/** Whether a picture answers a question. The SQL made by the server must give the same answer, always. */
export function matches(question: Question, picture: PictureFacts, world: World): boolean {
  if ('all' in question) return question.all.every((part) => matches(part, picture, world));
  if ('any' in question) return question.any.some((part) => matches(part, picture, world));
  if ('not' in question) return !matches(question.not, picture, world);
  return holds(question, picture, world);
}
