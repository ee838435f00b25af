import { fold } from '../text/fold';
import type { Condition, Question, Span, Thing } from './question';

/** What a question can ask of one picture. Ids are those of the library; lists hold no id twice. */
export interface PictureFacts {
  kind: 'photo' | 'video';
  /** The wall-clock day, or null when nobody knows. */
  day: string | null;
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
  place: string | null;
  hasPosition: boolean;
  caption: string | null;
  /** See {@link searchable}. */
  words: string;
}

/** What lies outside the picture: today's day and the tag tree as child -> parent. */
export interface World {
  today: string;
  tagParent: ReadonlyMap<number, number | null>;
}

/** The day `n` days before `day`, both `YYYY-MM-DD`. */
export function daysBefore(day: string, n: number): string {
  return new Date(Date.parse(`${day}T00:00:00Z`) - n * 86_400_000).toISOString().slice(0, 10);
}

/** The tag and all tags below it. A loop in the tree, which the store forbids, would still end. */
export function tagsBelow(tag: number, tagParent: World['tagParent']): number[] {
  const found = new Set([tag]);
  for (let grew = true; grew;) {
    grew = false;
    for (const [child, parent] of tagParent)
      if (parent !== null && found.has(parent) && !found.has(child)) {
        found.add(child);
        grew = true;
      }
  }
  return [...found].sort((a, b) => a - b);
}

function inSpan(day: string | null, span: Span, today: string): boolean {
  if (day === null) return false;
  if ('lastDays' in span) return day > daysBefore(today, span.lastDays) && day <= today;
  if ('month' in span)
    return Number(day.slice(5, 7)) === span.month && (span.day === undefined || Number(day.slice(8, 10)) === span.day);
  return (span.from === undefined || day >= span.from) && (span.to === undefined || day <= span.to);
}

function has(picture: PictureFacts, thing: Thing): boolean {
  switch (thing) {
    case 'place':
      return picture.hasPosition;
    case 'date':
      return picture.day !== null;
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
    if (mode === 'any') return people.some((id) => picture.people.includes(id));
    if (!people.every((id) => picture.people.includes(id))) return false;
    return mode === 'all' || (picture.unnamed === 0 && picture.people.every((id) => people.includes(id)));
  }
  if ('faces' in condition) return picture.faces >= condition.faces.min;
  if ('tag' in condition) return tagsBelow(condition.tag, world.tagParent).some((id) => picture.tags.includes(id));
  if ('taken' in condition) return inSpan(picture.day, condition.taken, world.today);
  if ('where' in condition)
    return (
      picture.country === condition.where.country &&
      (condition.where.place === undefined || picture.place === condition.where.place)
    );
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
