import type { Question } from '../question/question';
import type { InRun } from './stacks';
import { eachRow, type JustifyOptions } from './justify';

/** A run of pictures of one day; those that know no more than a month, a season or a year say so in words. */
export type DayRun = readonly [day: string | null, count: number, said?: string | undefined];

/** A run of pictures of the same people, place or folder, as a question, null for those that belong to none; and how many. */
export type GroupRun = readonly [of: Question | null, count: number];

/** The answer to a question in columns, as it crosses the wire: ids as differences, shapes as width / height x 100. */
export interface Columns {
  ids: readonly number[];
  shapes: readonly number[];
  days: readonly DayRun[];
  events: readonly (readonly [number, number])[];
  /** Where pictures are asked for under people, places or folders. */
  groups?: readonly GroupRun[] | undefined;
  /** Which of them are shots of runs. */
  runs?: readonly InRun[] | undefined;
}

/** The same, unpacked: one entry a picture, newest first. */
export interface Strip {
  ids: Int32Array;
  ratios: Float32Array;
  days: readonly DayRun[];
  events: readonly (readonly [number, number])[];
  groups?: readonly GroupRun[] | undefined;
  runs?: readonly InRun[] | undefined;
  /** Headings and notes of an album, in order: how many pictures stand before each, and its number. */
  chapters?: readonly (readonly [at: number, chapter: number])[] | undefined;
}

/** Unpacks the columns of an answer. */
export function unpack(columns: Columns): Strip {
  const ids = new Int32Array(columns.ids.length);
  const ratios = new Float32Array(columns.shapes);
  let id = 0;
  for (let i = 0; i < ids.length; i++) {
    ids[i] = id += columns.ids[i]!;
    ratios[i]! /= 100;
  }
  return {
    ids,
    ratios,
    days: columns.days,
    events: columns.events,
    groups: columns.groups,
    runs: columns.runs,
  };
}

/** What pictures stand under: events in their months, days in their months, months alone, or nothing. */
export type UnderTime = 'event' | 'day' | 'month' | 'none';

/** A strip as it stands under so much of time. */
export function stripUnder(strip: Strip, under: UnderTime): Strip {
  if (under === 'event') return strip;
  if (under === 'day') return { ...strip, events: [] };
  if (under === 'none') return { ...strip, days: [], events: [] };
  const months: [string | null, number, string?][] = [];
  for (const [day, count, said] of strip.days) {
    const last = months[months.length - 1];
    if (last && last[0]?.slice(0, 7) === day?.slice(0, 7) && last[2] === said) last[1] += count;
    else months.push(said === undefined ? [day, count] : [day, count, said]);
  }
  return { ...strip, days: months, events: [] };
}

/** A strip of pictures without days and events, for lists in their own order, perhaps with chapters. */
export function plainStrip(ids: readonly number[], ratios: ArrayLike<number>, chapters?: Strip['chapters']): Strip {
  return { ids: Int32Array.from(ids), ratios: Float32Array.from(ratios), days: [], events: [], chapters };
}

interface At {
  /** Distance from the top of the page and height, in CSS pixels. */
  top: number;
  height: number;
  /** The pictures it is about: from, up to but not including to. */
  from: number;
  to: number;
}

/** What stands in the grid, from top to bottom. `day` is the newest one and `until` the oldest of an event. */
export type Block =
  | (At & { kind: 'month'; month: string | null; said: string | null; events: number })
  | (At & { kind: 'event'; event: number; day: string | null; until: string | null })
  | (At & { kind: 'day'; day: string | null; said: string | null })
  | (At & { kind: 'group'; of: Question | null })
  | (At & { kind: 'chapter'; chapter: number })
  | (At & { kind: 'row' });

/** Heights of the headings, in CSS pixels, and how rows are made. */
export interface TimelineOptions extends JustifyOptions {
  month: number;
  /** One height for all events, or each event's own: its words may need more lines. */
  event: number | ((event: number) => number);
  day: number;
  /** Whether months stand alone, without what lies in them. */
  onlyMonths?: boolean;
  /** How high the heading of people, a place or a folder is: its name may need more lines. */
  group?: (of: Question | null) => number;
  /** How high a heading or a note of an album is. */
  chapter?: (chapter: number) => number;
  /** Room below the last row of an event. */
  after: number;
}

/** A page of pictures, laid out as a whole. */
export interface Timeline {
  blocks: readonly Block[];
  height: number;
}

interface Part {
  event: number;
  from: number;
  to: number;
  days: { day: string | null; said: string | null; from: number; to: number }[];
}

/** Cuts the strip into events, and where there is none into days; each part knows its days. */
function partsOf(strip: Strip): Part[] {
  const parts: Part[] = [];
  let i = 0;
  let e = 0;
  let eventEnd = strip.events[0]?.[1] ?? strip.ids.length;
  for (const [day, count, said = null] of strip.days) {
    const dayEnd = i + count;
    while (i < dayEnd) {
      while (i >= eventEnd && e + 1 < strip.events.length) eventEnd += strip.events[++e]![1];
      const event = strip.events[e]?.[0] ?? 0;
      const to = Math.min(dayEnd, Math.max(eventEnd, i + 1));
      const last = parts[parts.length - 1];
      if (last && event > 0 && last.event === event) {
        last.to = to;
        last.days.push({ day, said, from: i, to });
      } else parts.push({ event, from: i, to, days: [{ day, said, from: i, to }] });
      i = to;
    }
  }
  return parts;
}

/** Lays out all pictures under months, events and days, under groups or under chapters. A strip without any is one run of rows. */
export function layoutTimeline(strip: Strip, options: TimelineOptions): Timeline {
  const blocks: Block[] = [];
  let top = 0;
  const row = (from: number, to: number, height: number) => {
    blocks.push({ kind: 'row', top, height, from, to });
    top += height + options.gap;
  };
  const rows = (from: number, to: number) => eachRow(strip.ratios, from, to, options, row);
  if (strip.groups?.length) {
    let from = 0;
    for (const [of, count] of strip.groups) {
      const height = options.group?.(of) ?? options.month;
      blocks.push({ kind: 'group', of, top, height, from, to: from + count });
      top += height;
      rows(from, (from += count));
      top += options.after;
    }
    return { blocks, height: top };
  }
  if (strip.days.length === 0) {
    let from = 0;
    const chapters = strip.chapters ?? [];
    chapters.forEach(([at, chapter], i) => {
      rows(from, at);
      if (at > from) top += options.after;
      from = at;
      const height = options.chapter?.(chapter) ?? options.month;
      const to = chapters[i + 1]?.[0] ?? strip.ids.length;
      blocks.push({ kind: 'chapter', chapter, top, height, from, to });
      top += height;
    });
    rows(from, strip.ids.length);
    return { blocks, height: top };
  }
  let month: (Block & { kind: 'month' }) | null = null;
  for (const part of partsOf(strip)) {
    const { day, said } = part.days[0]!;
    const name = day?.slice(0, 7) ?? null;
    if (!month || month.month !== name || month.said !== said) {
      month = { kind: 'month', month: name, said, top, height: options.month, from: part.from, to: part.to, events: 0 };
      blocks.push(month);
      top += options.month;
    }
    month.to = part.to;
    if (part.event) month.events++;
    if (options.onlyMonths) {
      rows(part.from, part.to);
      top += options.after;
      continue;
    }
    const eventHeight = typeof options.event === 'number' ? options.event : options.event(part.event);
    blocks.push({
      kind: 'event',
      event: part.event,
      day,
      until: part.days[part.days.length - 1]!.day,
      top,
      height: eventHeight,
      from: part.from,
      to: part.to,
    });
    top += eventHeight;
    for (const one of part.days) {
      if (part.days.length > 1) {
        blocks.push({
          kind: 'day',
          day: one.day,
          said: one.said,
          top,
          height: options.day,
          from: one.from,
          to: one.to,
        });
        top += options.day;
      }
      rows(one.from, one.to);
    }
    top += options.after;
  }
  return { blocks, height: top };
}

/** The index of the first block that reaches below `y`; the number of blocks when none does. */
export function firstBelow(blocks: readonly Block[], y: number): number {
  let low = 0;
  let high = blocks.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    const block = blocks[middle]!;
    if (block.top + block.height > y) high = middle;
    else low = middle + 1;
  }
  return low;
}

/** The row that shows the picture at an index of the strip; -1 when there is none. */
export function rowOf(blocks: readonly Block[], index: number): number {
  let low = 0;
  let high = blocks.length - 1;
  let found = -1;
  // Blocks begin in the order of their pictures; the last one to begin at or before `index` that is a row holds it.
  while (low <= high) {
    const middle = (low + high) >> 1;
    if (blocks[middle]!.from <= index) {
      found = middle;
      low = middle + 1;
    } else high = middle - 1;
  }
  while (found >= 0 && blocks[found]!.kind !== 'row') found--;
  return found >= 0 && index < blocks[found]!.to ? found : -1;
}

/** Months of a timeline with where they begin and how many pictures they hold, for the ribbon. */
export function monthsOf(timeline: Timeline): { month: string | null; top: number; pictures: number }[] {
  const months: { month: string | null; top: number; pictures: number }[] = [];
  for (const b of timeline.blocks)
    if (b.kind === 'month') months.push({ month: b.month, top: b.top, pictures: b.to - b.from });
  return months;
}
