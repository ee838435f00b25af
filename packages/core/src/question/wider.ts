import { monthSpan } from './typed';
import type { Question, Span } from './question';

/** What is known of the trees a question speaks of, for making one of its parts wider. */
export interface Around {
  /** The tag above a tag. */
  tagAbove: (id: number) => number | null;
  folderAbove: (id: number) => number | null;
  /** The region a place lies in. */
  regionOf: (country: string, place: string) => string | null;
}

function widerSpan(span: Span): Span | null {
  if ('lastDays' in span)
    return span.lastDays < 7
      ? { lastDays: 7 }
      : span.lastDays < 31
        ? { lastDays: 31 }
        : span.lastDays < 365
          ? { lastDays: 365 }
          : null;
  if ('month' in span) return span.day === undefined ? null : { month: span.month };
  if ('only' in span) {
    const [year, month] = span.only.split('-').map(Number) as [number, number?];
    return month === undefined ? monthSpan(year, 1, year, 12) : monthSpan(year, month, year, month);
  }
  const { from, to } = span;
  if (!from || !to) return null;
  const [y1, m1] = from.split('-').map(Number) as [number, number];
  const [y2, m2] = to.split('-').map(Number) as [number, number];
  const months = monthSpan(y1, m1, y2, m2);
  if (JSON.stringify(months) !== JSON.stringify(span)) return months;
  const years = monthSpan(y1, 1, y2, 12);
  return JSON.stringify(years) === JSON.stringify(span) ? null : years;
}

/**
 * The next wider thing a part of a question could ask: of a day its month, of a month its year, of a place its region and country,
 * of a tag the one above it, of stars one less, of a circle twice as far; null where there is none.
 */
export function widerOf(part: Question, around: Around): Question | null {
  if ('not' in part) {
    const inner = widerOf(part.not, around);
    return inner && { not: inner };
  }
  if ('taken' in part) {
    const taken = widerSpan(part.taken);
    return taken && { taken };
  }
  if ('added' in part) {
    const added = widerSpan(part.added);
    return added && 'lastDays' in added ? { added } : null;
  }
  if ('tag' in part) {
    const tag = around.tagAbove(part.tag);
    return tag === null ? null : { tag };
  }
  if ('folder' in part) {
    if (part.folder.only) return { folder: { id: part.folder.id } };
    const id = around.folderAbove(part.folder.id);
    return id === null ? null : { folder: { id } };
  }
  if ('rating' in part) {
    const { min, max } = part.rating;
    if (max !== undefined && max < 5)
      return min === undefined ? { rating: { max: max + 1 } } : { rating: { min, max: max + 1 } };
    return min !== undefined && min > 1 ? { rating: { min: min - 1 } } : null;
  }
  if ('near' in part)
    return part.near.minutes < 5000 ? { near: { ...part.near, minutes: part.near.minutes * 2 } } : null;
  if ('where' in part) {
    const { where } = part;
    if ('circle' in where)
      return where.circle.km <= 10_000 ? { where: { circle: { ...where.circle, km: where.circle.km * 2 } } } : null;
    if (!('country' in where)) return null;
    const region = where.place === undefined ? null : around.regionOf(where.country, where.place);
    if (where.place !== undefined && region !== null) return { where: { country: where.country, region } };
    return where.place !== undefined || where.region !== undefined ? { where: { country: where.country } } : null;
  }
  if ('who' in part && part.who.people.length > 1) {
    const { mode, people } = part.who;
    const wider = { only: 'all', among: 'any', all: 'any', any: null }[mode] as 'all' | 'any' | null;
    return wider && { who: { people, mode: wider } };
  }
  return 'who' in part && part.who.mode === 'only' ? { who: { ...part.who, mode: 'all' } } : null;
}
