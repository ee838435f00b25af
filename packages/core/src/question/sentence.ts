import { isNoticed, THINGS, type Observed } from '../observe/kinds';
import { counted, fill, type Pair, type SpanKind, type Words } from '../words/words';
import { cameraWords } from './cameraWords';
import type { Condition, Question, Span, Where } from './question';

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
  mark(id: number): string;
  member(id: number): string;
}

/** A condition in words: what leads to the value, and the value shown on the chip. */
export interface Phrase {
  lead: string;
  value: string;
}

const phraseOf = ([lead, value]: Pair, values: Readonly<Record<string, string | number>> = {}): Phrase => ({
  lead,
  value: fill(value, values),
});

/** Joins words as people do: "a", "a and b", "a, b and c". */
export function list(items: readonly string[], last: string): string {
  if (items.length < 2) return items[0] ?? '';
  return `${items.slice(0, -1).join(', ')} ${last} ${items[items.length - 1]}`;
}

const lastDay = (year: number, month: number) => new Date(Date.UTC(year, month, 0)).getUTCDate();

/** A day in words: "16 May 2026". */
export function sayDay(day: string, words: Words): string {
  const [y, m, d] = day.slice(0, 10).split('-').map(Number) as [number, number, number];
  return fill(words.date.day, { d, month: words.months[m - 1]!, y });
}

/** What days from one to another are: one day, a month, a year, or several of them. */
function spanKind(from: string, to: string): SpanKind {
  const [y1, m1, d1] = from.split('-').map(Number) as [number, number, number];
  const [y2, m2, d2] = to.split('-').map(Number) as [number, number, number];
  if (from === to) return 'day';
  if (d1 !== 1 || d2 !== lastDay(y2, m2)) return 'days';
  if (m1 === 1 && m2 === 12) return y1 === y2 ? 'year' : 'years';
  return y1 === y2 && m1 === m2 ? 'month' : 'months';
}

/** Days from one to another in the shortest true words: "2026", "May 2026", "April to September 2026", "4 to 9 May 2026". */
export function saySpan(from: string, to: string, words: Words): string {
  const [y1, m1, d1] = from.split('-').map(Number) as [number, number, number];
  const [y2, m2, d2] = to.split('-').map(Number) as [number, number, number];
  const { date, months } = words;
  const [first, last] = [months[m1 - 1]!, months[m2 - 1]!];
  switch (spanKind(from, to)) {
    case 'day':
      return sayDay(from, words);
    case 'year':
      return `${y1}`;
    case 'years':
      return fill(date.years, { from: y1, to: y2 });
    case 'month':
      return fill(date.month, { month: first, y: y1 });
    case 'months':
      return y1 === y2
        ? fill(date.monthsOfYear, { m1: first, m2: last, y: y1 })
        : fill(date.months, { m1: first, y1, m2: last, y2 });
    case 'days':
      if (y1 === y2 && m1 === m2) return fill(date.daysOfMonth, { d1, d2, month: first, y: y1 });
      return y1 === y2
        ? fill(date.daysOfYear, { d1, m1: first, d2, m2: last, y: y1 })
        : fill(date.days, { from: sayDay(from, words), to: sayDay(to, words) });
  }
}

function taken(span: Span, words: Words): Phrase {
  const { taken: said, months, date } = words;
  if ('lastDays' in span) return { lead: said.last.lead, value: counted(said.last.value, span.lastDays) };
  if ('month' in span)
    return phraseOf(span.day ? said.anyDay : said.anyMonth, { d: span.day ?? 0, month: months[span.month - 1]! });
  if ('only' in span) {
    const [year, month] = span.only.split('-');
    const value = month ? fill(date.month, { month: months[Number(month) - 1]!, y: Number(year) }) : `${year}`;
    return { lead: said.only, value };
  }
  if (span.from && span.to)
    return { lead: said[spanKind(span.from, span.to)], value: saySpan(span.from, span.to, words) };
  return span.from
    ? { lead: said.since, value: sayDay(span.from, words) }
    : { lead: said.until, value: sayDay(span.to ?? '', words) };
}

/** A distance as a question says it: "350 m", "2.4 km", "18 km". */
function sayFar(km: number, tag: string): string {
  const unit = (n: number, what: string, digits: number) =>
    new Intl.NumberFormat(tag, { style: 'unit', unit: what, maximumFractionDigits: digits }).format(n);
  return km < 1 ? unit(Math.round(km * 1000), 'meter', 0) : unit(km, 'kilometer', km < 10 ? 1 : 0);
}

/** Names of countries by language: making them takes a while, and every event of a library asks. */
const regions = new Map<string, Intl.DisplayNames>();

/** A country by its two letters, as a language calls it; the letters themselves when it is unknown. */
export function countryName(country: string, tag: string): string {
  try {
    const names = regions.get(tag) ?? new Intl.DisplayNames([tag], { type: 'region' });
    regions.set(tag, names);
    return names.of(country) ?? country;
  } catch {
    return country;
  }
}

function where(asked: Where, names: Names, words: Words): Phrase {
  const { where: said } = words;
  if ('own' in asked) return { lead: said.own, value: names.ownPlace(asked.own) };
  if ('box' in asked) return phraseOf(said.box);
  if ('circle' in asked) return phraseOf(said.circle, { far: sayFar(asked.circle.km, words.tag) });
  return asked.place === undefined && asked.region !== undefined
    ? { lead: said.around, value: asked.region }
    : { lead: said.near, value: asked.place ?? countryName(asked.country, words.tag) };
}

function rating({ min, max }: { min?: number | undefined; max?: number | undefined }, words: Words): Phrase {
  const { rated } = words;
  const said = (text: string, values: Record<string, number> = {}) => ({
    lead: rated.lead,
    value: fill(text, values),
  });
  if (min !== undefined && min === max) return min === 0 ? said(rated.none) : said(rated.exactly, { n: min });
  if (max === undefined || max === 5) return min === 5 ? said('5') : said(rated.from, { n: min ?? 0 });
  if (min) return said(rated.between, { min, max });
  return max === 0 ? said(rated.none) : said(rated.upTo, { n: max });
}

/** What the machine noticed, in words: one of its own kinds, or a thing it saw. */
function sayObserved(observed: Observed, words: Words): Phrase {
  return isNoticed(observed)
    ? phraseOf(words.noticed[observed])
    : { lead: words.seen, value: THINGS[observed][words.language] };
}

/** A size in millions of pixels. */
function size({ min, max }: { min?: number | undefined; max?: number | undefined }, words: Words): Phrase {
  const { lead, from, upTo, between } = words.size;
  const number = (n: number) => new Intl.NumberFormat(words.tag, { maximumFractionDigits: 6 }).format(n);
  if (max === undefined) return { lead, value: fill(from, { n: number(min ?? 0) }) };
  if (min === undefined) return { lead, value: fill(upTo, { n: number(max) }) };
  return { lead, value: fill(between, { min: number(min), max: number(max) }) };
}

/** A condition in words, in two parts. */
export function phrase(condition: Condition, names: Names, words: Words): Phrase {
  if ('who' in condition) {
    const { people, mode } = condition.who;
    const value = list(
      people.map((id) => names.person(id)),
      mode === 'any' || mode === 'among' ? words.or : words.and,
    );
    return { lead: words.with[mode], value };
  }
  if ('faces' in condition) return { lead: words.faces.lead, value: counted(words.faces.value, condition.faces.min) };
  if ('tag' in condition) return { lead: words.tagged, value: names.tag(condition.tag) };
  if ('taken' in condition) return taken(condition.taken, words);
  if ('where' in condition) return where(condition.where, names, words);
  if ('folder' in condition) {
    const { only, id } = condition.folder;
    return { lead: only ? words.folder.only : words.folder.all, value: names.folder(id) };
  }
  if ('event' in condition) return { lead: words.event, value: names.event(condition.event) };
  if ('album' in condition) return { lead: words.album, value: names.album(condition.album) };
  if ('batch' in condition) return { lead: words.batch, value: names.batch(condition.batch) };
  if ('device' in condition) return { lead: words.device, value: names.device(condition.device) };
  if ('added' in condition) {
    const { lastDays } = condition.added;
    return lastDays === 1
      ? phraseOf(words.added.today)
      : { lead: words.added.last.lead, value: counted(words.added.last.value, lastDays) };
  }
  if ('kind' in condition) return phraseOf(words.kind[condition.kind]);
  if ('rating' in condition) return rating(condition.rating, words);
  if ('favourite' in condition) return phraseOf(condition.favourite ? words.heart.with : words.heart.without);
  if ('mark' in condition) return { lead: words.marked, value: names.mark(condition.mark) };
  if ('observed' in condition) return sayObserved(condition.observed, words);
  if ('camera' in condition) return { lead: words.camera, value: cameraWords(condition.camera) };
  if ('lens' in condition) return { lead: words.lens, value: condition.lens };
  if ('format' in condition) return { lead: words.format, value: condition.format.toUpperCase() };
  if ('shape' in condition) return phraseOf(words.shape[condition.shape]);
  if ('size' in condition) return size(condition.size, words);
  if ('near' in condition)
    return {
      lead: words.near.lead,
      value: fill(words.near.value, {
        n: condition.near.minutes,
        day: sayDay(condition.near.at, words),
        time: condition.near.at.slice(11, 16),
      }),
    };
  if ('like' in condition) return phraseOf(words.like);
  if ('saidBy' in condition) return { lead: words.saidBy, value: names.member(condition.saidBy) };
  if ('changed' in condition) {
    const { lastDays } = condition.changed;
    return lastDays === 1
      ? phraseOf(words.changed.today)
      : { lead: words.changed.last.lead, value: counted(words.changed.last.value, lastDays) };
  }
  if ('text' in condition) return phraseOf(words.text, { text: condition.text });
  if ('inNoAlbum' in condition) return phraseOf(words.inNoAlbum);
  return phraseOf('has' in condition ? words.has[condition.has] : words.lacks[condition.lacks]);
}

function say(question: Question, names: Names, words: Words, inner: boolean): string {
  if ('all' in question) {
    if (question.all.length === 0) return words.everyPicture;
    const text = question.all.map((part) => say(part, names, words, true)).join(inner ? ` ${words.and} ` : ', ');
    return inner && question.all.length > 1 ? `(${text})` : text;
  }
  if ('any' in question) {
    if (question.any.length === 0) return words.noPicture;
    const text = list(
      question.any.map((part) => say(part, names, words, true)),
      words.or,
    );
    return question.any.length > 1 ? (inner ? `(${text})` : `${words.either} ${text}`) : text;
  }
  if ('not' in question) return `${words.not} ${say(question.not, names, words, true)}`;
  const { lead, value } = phrase(question, names, words);
  return `${lead} ${value}`;
}

/** A question as one readable sentence, without a full stop: "with Tove, tagged kites, taken from April to September 2026". */
export function toSentence(question: Question, names: Names, words: Words): string {
  return say(question, names, words, false);
}
