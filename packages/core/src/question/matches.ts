import { distanceKm } from '../time/events';
import { askedWords } from '../text/search';
import type { PictureFacts, World } from './facts';
import { isFoundBy, saysItself } from './hear';
import { allBelow } from './tree';
import type { Condition, Question, Shape, Span, Thing, Where } from './question';

/** The day `n` days before `day`, both `YYYY-MM-DD`. */
export function daysBefore(day: string, n: number): string {
  return new Date(Date.parse(`${day}T00:00:00Z`) - n * 86_400_000).toISOString().slice(0, 10);
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
    case 'title':
      return picture.title !== null && picture.title !== '';
    case 'caption':
      return picture.caption !== null && picture.caption !== '';
    case 'comment':
      return picture.comments > 0;
    case 'mark':
      return picture.mark !== null;
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

/** Whether a picture has so many pixels, in millions, borders included. */
export function isOfSize(
  { width, height }: { width: number; height: number },
  { min, max }: { min?: number | undefined; max?: number | undefined },
): boolean {
  const pixels = width * height;
  return (
    (min === undefined || pixels >= Math.round(min * 1e6)) && (max === undefined || pixels <= Math.round(max * 1e6))
  );
}

/** The sides of a shape, as whole numbers that are compared alike everywhere. */
export function shapeOf({ width, height }: { width: number; height: number }): Shape {
  const [long, short] = width > height ? [width, height] : [height, width];
  if (long * 10 > short * 22) return 'panorama';
  if (long * 100 <= short * 103) return 'square';
  return width > height ? 'landscape' : 'portrait';
}

/** From when to when something is near a moment, in whole seconds. */
export function around(at: string, minutes: number): [from: string, to: string] {
  const moment = Date.parse(`${at}Z`);
  const say = (ms: number) => new Date(ms).toISOString().slice(0, 19);
  return [say(moment - minutes * 60_000), say(moment + minutes * 60_000)];
}

function isNear({ moment }: PictureFacts, at: string, minutes: number): boolean {
  const [from, to] = around(at, minutes);
  return moment !== null && moment >= from && moment <= to;
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
  if ('mark' in condition) return picture.mark === condition.mark;
  if ('observed' in condition) return picture.observed.includes(condition.observed);
  if ('camera' in condition) return picture.camera === condition.camera;
  if ('lens' in condition) return picture.lens === condition.lens;
  if ('format' in condition) return picture.format === condition.format;
  if ('shape' in condition) return shapeOf(picture) === condition.shape;
  if ('size' in condition) return isOfSize(picture, condition.size);
  if ('near' in condition) return isNear(picture, condition.near.at, condition.near.minutes);
  if ('like' in condition) return world.alike?.get(condition.like)?.has(picture.id) ?? picture.id === condition.like;
  if ('saidBy' in condition) return picture.saidBy.includes(condition.saidBy);
  if ('changed' in condition)
    return picture.changed !== null && picture.changed > daysBefore(world.today, condition.changed.lastDays);
  if ('text' in condition) {
    const heard = world.heard?.get(condition.text);
    return heard
      ? isFoundBy(heard, picture)
      : saysItself({ asked: askedWords(condition.text), instead: null }, picture.words);
  }
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
