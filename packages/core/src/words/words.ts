import type { Noticed } from '../observe/kinds';
import type { Shape, Thing } from '../question/question';
import type { Language } from './languages';

/** Words before a value, and a value: the two parts of a condition as it is shown. */
export type Pair = readonly [lead: string, value: string];
/** How something is said of one and of several; `{n}` is how many. */
export type Counted = readonly [one: string, other: string];
/** How exact days of a span are, for the words that lead to them. */
export type SpanKind = 'day' | 'month' | 'year' | 'days' | 'months' | 'years';

/**
 * What core needs of a language: pure data. `{name}` in a text is where something is put in. Everything that is shown by these
 * words is understood when it is typed (see `readWhen` and `parse`); patterns of typing are matched against folded text.
 */
export interface Words {
  language: Language;
  /** BCP 47 tag for the names of countries. */
  tag: string;
  /** January first, as they stand in the middle of a sentence. */
  months: readonly string[];
  /** Further beginnings and short forms of months that people type, by month, folded. */
  monthsTyped: readonly (readonly string[])[];
  /** Spring, summer, autumn and winter as they stand before a year. */
  seasons: readonly [spring: string, summer: string, autumn: string, winter: string];
  /** Further forms people type, folded: `fall`. */
  seasonsTyped: readonly (readonly string[])[];
  /** What is said of the season it is now: "this spring". */
  thisSeason: readonly [spring: string, summer: string, autumn: string, winter: string];
  and: string;
  or: string;
  not: string;
  either: string;
  /** `{d} {month} {y}` and its like. */
  date: {
    day: string;
    month: string;
    season: string;
    decade: string;
    about: string;
    /** Years, months, days of one month, days of one year, and days, from one to another. */
    years: string;
    monthsOfYear: string;
    months: string;
    daysOfMonth: string;
    daysOfYear: string;
    days: string;
  };
  /** Patterns of typing, sources of regular expressions over folded text. */
  typed: {
    /** Before a time that is not exact: `about`. */
    about: string;
    /** May stand before a date: `the`, `in`. */
    before: string;
    /** Between two ends of a span: `to`. */
    to: string;
    /** Behind the number of a day: `st`, a dot. */
    dayEnd: string;
    /** A decade, with its first three figures in the first group. */
    decade: string;
    /** The last days: how many in the first group, or none for one. */
    lastDays: string;
    /** Before a month of any year. */
    anyYear: string;
    /** Between parts; "or" between parts of which one will do; before what is left out. */
    and: string;
    or: string;
    not: string;
    /** Small words that may stand before a name and are no words to look for. */
    filler: string;
    /** Behind a number of stars. */
    stars: string;
    /** Times as seen from today. */
    relative: Record<'yesterday' | 'week' | 'month' | 'thisMonth' | 'thisYear' | 'lastYear', string>;
  };
  everyPicture: string;
  noPicture: string;
  with: Record<'all' | 'any' | 'among' | 'only', string>;
  faces: { lead: string; value: Counted };
  tagged: string;
  taken: Record<SpanKind, string> & {
    since: string;
    until: string;
    /** "any May", with what leads to it, and a day of any year. */
    anyMonth: Pair;
    anyDay: Pair;
    /** "dated only 2019" */
    only: string;
    last: { lead: string; value: Counted };
  };
  where: {
    own: string;
    near: string;
    around: string;
    box: Pair;
    circle: Pair;
  };
  folder: { all: string; only: string };
  event: string;
  album: string;
  batch: string;
  device: string;
  added: { today: Pair; last: { lead: string; value: Counted } };
  kind: { photo: Pair; video: Pair };
  rated: { lead: string; none: string; exactly: string; from: string; upTo: string; between: string };
  heart: { with: Pair; without: Pair };
  marked: string;
  /** What the machine noticed, and what leads to a thing it saw. */
  noticed: Record<Noticed, Pair>;
  seen: string;
  camera: string;
  lens: string;
  format: string;
  shape: Record<Shape, Pair>;
  size: { lead: string; from: string; upTo: string; between: string };
  near: { lead: string; value: string };
  like: Pair;
  saidBy: string;
  changed: { today: Pair; last: { lead: string; value: Counted } };
  text: Pair;
  inNoAlbum: Pair;
  has: Record<Thing, Pair>;
  lacks: Record<Thing, Pair>;
  /** Why a face may be somebody. */
  why: {
    like: Counted;
    from: string;
    span: string;
    sameMinute: string;
    after: Counted;
    before: Counted;
    clothes: string;
    beside: string;
    there: string;
    otherAge: string;
    faint: string;
    rival: string;
  };
  /** Ages of the smallest. */
  age: { months: Counted; weeks: Counted };
  /** Names an event could have. */
  eventName: {
    circle: string;
    people: string;
    /** A place, a holiday or a tag, and who was there. */
    company: string;
    holidayAt: string;
    tagAt: string;
    week: string;
    days: string;
    season: string;
  };
  /** Folders on disk. */
  folders: { undated: string; loose: string; season: string; decade: string };
}

/** Puts values where a text names them. */
export const fill = (text: string, values: Readonly<Record<string, string | number>>): string =>
  text.replace(/\{(\w+)\}/g, (whole, name: string) => String(values[name] ?? whole));

/** How something is said of so many. English, German and Swedish know one and several. */
export const counted = ([one, other]: Counted, n: number): string => fill(n === 1 ? one : other, { n });

/** Text as it is typed after another: its first letter made large. */
export const capital = (text: string): string => text.replace(/^\p{Ll}/u, (first) => first.toUpperCase());
