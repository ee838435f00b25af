import type { Question } from '../question/question';
import { sayDay } from '../question/sentence';
import { capital, type Words } from '../words/words';

/** A year, a month or a day that a part of a question asks for, with the way up from it. */
export interface Level {
  name: string;
  /** The years and months above it, the widest first. */
  up: { name: string; part: Question }[];
  /** Asks for all of it, and for what is dated no closer than it; null for a day. */
  below: Question | null;
  only: Question | null;
  /** Whether it asks for the latter. */
  isOnly: boolean;
}

const lastOf = (year: number, month: number) => new Date(Date.UTC(year, month, 0)).getUTCDate();
const span = (from: string, to: string): Question => ({ taken: { from, to } });
const wholeYear = (year: string) => span(`${year}-01-01`, `${year}-12-31`);
const wholeMonth = (month: string) =>
  span(`${month}-01`, `${month}-${lastOf(Number(month.slice(0, 4)), Number(month.slice(5, 7)))}`);

/** Reads a part of a question as one year, month or day; null when it is none of these. */
export function levelOf(part: Question, words: Words): Level | null {
  if (!('taken' in part)) return null;
  const { taken } = part;
  if ('only' in taken) return taken.only.length === 4 ? ofYear(taken.only, true) : ofMonth(taken.only, true, words);
  if (!('from' in taken) || !taken.from || !taken.to) return null;
  const { from, to } = taken;
  const [year, month] = [from.slice(0, 4), from.slice(0, 7)];
  if (from === to)
    return {
      name: sayDay(from, words),
      up: [
        { name: year, part: wholeYear(year) },
        { name: monthOf(month, words), part: wholeMonth(month) },
      ],
      below: null,
      only: null,
      isOnly: false,
    };
  const same = (whole: Question) => JSON.stringify(whole) === JSON.stringify(span(from, to));
  if (same(wholeYear(year))) return ofYear(year, false);
  return same(wholeMonth(month)) ? ofMonth(month, false, words) : null;
}

const ofYear = (year: string, isOnly: boolean): Level => ({
  name: year,
  up: [],
  below: wholeYear(year),
  only: { taken: { only: year } },
  isOnly,
});

/** The name of `2026-05`, as it stands alone. */
const monthOf = (month: string, words: Words) => capital(words.months[Number(month.slice(5)) - 1]!);

const ofMonth = (month: string, isOnly: boolean, words: Words): Level => ({
  name: monthOf(month, words),
  up: [{ name: month.slice(0, 4), part: wholeYear(month.slice(0, 4)) }],
  below: wholeMonth(month),
  only: { taken: { only: month } },
  isOnly,
});
