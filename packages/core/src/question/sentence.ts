import type { Condition, Question, Span, Thing, Where } from './question';

/** Finds the names of what a question speaks of by id. Unknown ids should give a plain stand-in such as "someone". */
export interface Names {
  person(id: number): string;
  tag(id: number): string;
  event(id: number): string;
  album(id: number): string;
  batch(id: number): string;
  device(id: number): string;
  folder(id: number): string;
  ownPlace(id: number): string;
}

/** A condition in words: what leads to the value, and the value shown on the chip. */
export interface Phrase {
  lead: string;
  value: string;
}

const MONTHS = [
  'January',
  'February',
  'March',
  'April',
  'May',
  'June',
  'July',
  'August',
  'September',
  'October',
  'November',
  'December',
] as const;

/** The English name of a month, 1 to 12. */
export const monthName = (month: number): string => MONTHS[month - 1] ?? '';

/** Joins words as people do: "a", "a and b", "a, b and c". */
export function list(words: readonly string[], last = 'and'): string {
  if (words.length < 2) return words[0] ?? '';
  return `${words.slice(0, -1).join(', ')} ${last} ${words[words.length - 1]}`;
}

const lastDay = (year: number, month: number) => new Date(Date.UTC(year, month, 0)).getUTCDate();

/** A day in words: "16 May 2026". */
export function sayDay(day: string): string {
  return `${Number(day.slice(8, 10))} ${monthName(Number(day.slice(5, 7)))} ${day.slice(0, 4)}`;
}

/** Days from one to another in the shortest true words: "2026", "May 2026", "April to September 2026", "4 to 9 May 2026". */
export function saySpan(from: string, to: string): string {
  const [y1, m1, d1] = from.split('-').map(Number) as [number, number, number];
  const [y2, m2, d2] = to.split('-').map(Number) as [number, number, number];
  if (from === to) return sayDay(from);
  if (d1 === 1 && d2 === lastDay(y2, m2)) {
    if (m1 === 1 && m2 === 12) return y1 === y2 ? `${y1}` : `${y1} to ${y2}`;
    if (y1 === y2) return m1 === m2 ? `${monthName(m1)} ${y1}` : `${monthName(m1)} to ${monthName(m2)} ${y1}`;
    return `${monthName(m1)} ${y1} to ${monthName(m2)} ${y2}`;
  }
  if (y1 === y2 && m1 === m2) return `${d1} to ${d2} ${monthName(m1)} ${y1}`;
  if (y1 === y2) return `${d1} ${monthName(m1)} to ${d2} ${monthName(m2)} ${y1}`;
  return `${sayDay(from)} to ${sayDay(to)}`;
}

function taken(span: Span): Phrase {
  if ('lastDays' in span)
    return { lead: 'taken in', value: span.lastDays === 1 ? 'the last day' : `the last ${span.lastDays} days` };
  if ('month' in span)
    return {
      lead: span.day ? 'taken on' : 'taken in',
      value: `${span.day ? `${span.day} ` : 'any '}${monthName(span.month)}`,
    };
  if ('only' in span) {
    const [year, month] = span.only.split('-');
    return { lead: 'of which only is known', value: month ? `${monthName(Number(month))} ${year}` : `${year}` };
  }
  if (span.from && span.to) {
    const value = saySpan(span.from, span.to);
    return { lead: span.from === span.to ? 'taken on' : 'taken in', value };
  }
  return span.from
    ? { lead: 'taken since', value: sayDay(span.from) }
    : { lead: 'taken up to', value: sayDay(span.to ?? '') };
}

function where(asked: Where, names: Names): Phrase {
  if ('own' in asked) return { lead: 'at', value: names.ownPlace(asked.own) };
  if ('box' in asked) return { lead: 'on', value: 'a part of the map' };
  if ('circle' in asked) {
    const { km } = asked.circle;
    const far = km < 1 ? `${Math.round(km * 1000)} m` : `${km < 10 ? Math.round(km * 10) / 10 : Math.round(km)} km`;
    return { lead: 'within', value: `${far} of a spot on the map` };
  }
  const country = new Intl.DisplayNames(['en'], { type: 'region' }).of(asked.country) ?? asked.country;
  return asked.place === undefined && asked.region !== undefined
    ? { lead: 'around', value: asked.region }
    : { lead: 'near', value: asked.place ?? country };
}

function rating({ min, max }: { min?: number | undefined; max?: number | undefined }): Phrase {
  if (min !== undefined && min === max) return { lead: 'rated', value: min === 0 ? 'not at all' : `exactly ${min}` };
  if (max === undefined || max === 5) return { lead: 'rated', value: min === 5 ? '5' : `${min ?? 0} or better` };
  return { lead: 'rated', value: min ? `${min} to ${max}` : `${max} or less` };
}

const HAS: Record<Thing, [string, string]> = {
  place: ['a place', 'without a place'],
  date: ['a date', 'without a date'],
  day: ['a day that is known', 'without a day that is known'],
  caption: ['a caption', 'without a caption'],
  names: ['a name for every face', 'with faces nobody has named'],
  tags: ['tags', 'without tags'],
  event: ['an event', 'without an event'],
  double: ['an earlier near double', 'without an earlier near double'],
};

/** A condition in words, in two parts. */
export function phrase(condition: Condition, names: Names): Phrase {
  if ('who' in condition) {
    const { people, mode } = condition.who;
    const value = list(
      people.map((id) => names.person(id)),
      mode === 'any' || mode === 'among' ? 'or' : 'and',
    );
    return { lead: { all: 'with', any: 'with', among: 'with nobody but', only: 'with only' }[mode], value };
  }
  if ('faces' in condition)
    return { lead: 'with at least', value: condition.faces.min === 1 ? 'one face' : `${condition.faces.min} faces` };
  if ('tag' in condition) return { lead: 'tagged', value: names.tag(condition.tag) };
  if ('taken' in condition) return taken(condition.taken);
  if ('where' in condition) return where(condition.where, names);
  if ('folder' in condition)
    return {
      lead: condition.folder.only ? 'that came right in the folder' : 'that came in the folder',
      value: names.folder(condition.folder.id),
    };
  if ('event' in condition) return { lead: 'from', value: names.event(condition.event) };
  if ('album' in condition) return { lead: 'in the album', value: names.album(condition.album) };
  if ('batch' in condition) return { lead: 'that came in with', value: names.batch(condition.batch) };
  if ('device' in condition) return { lead: 'taken with', value: names.device(condition.device) };
  if ('added' in condition) {
    const { lastDays } = condition.added;
    return { lead: 'that came in', value: lastDays === 1 ? 'today' : `in the last ${lastDays} days` };
  }
  if ('kind' in condition) return { lead: 'that are', value: condition.kind === 'photo' ? 'photographs' : 'clips' };
  if ('rating' in condition) return rating(condition.rating);
  if ('favourite' in condition)
    return condition.favourite ? { lead: 'with', value: 'a heart' } : { lead: 'without', value: 'a heart' };
  if ('text' in condition) return { lead: 'that say', value: `“${condition.text}”` };
  if ('inNoAlbum' in condition) return { lead: 'in', value: 'no album' };
  if ('has' in condition) return { lead: 'with', value: HAS[condition.has][0] };
  const [lead, ...rest] = HAS[condition.lacks][1].split(' ');
  return { lead: lead ?? '', value: rest.join(' ') };
}

function say(question: Question, names: Names, inner: boolean): string {
  if ('all' in question) {
    if (question.all.length === 0) return 'every picture';
    const text = question.all.map((part) => say(part, names, true)).join(inner ? ' and ' : ', ');
    return inner && question.all.length > 1 ? `(${text})` : text;
  }
  if ('any' in question) {
    if (question.any.length === 0) return 'no picture';
    const text = list(
      question.any.map((part) => say(part, names, true)),
      'or',
    );
    return question.any.length > 1 ? (inner ? `(${text})` : `either ${text}`) : text;
  }
  if ('not' in question) return `not ${say(question.not, names, true)}`;
  const { lead, value } = phrase(question, names);
  return `${lead} ${value}`;
}

/** A question as one readable sentence, without a full stop: "with Tove, tagged kites, taken in April to September 2026". */
export function toSentence(question: Question, names: Names): string {
  return say(question, names, false);
}
