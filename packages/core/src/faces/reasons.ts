import { capital, counted, fill, type Words } from '../words/words';
import type { Evidence } from './recognise';

/** Evidence as it is kept, with names instead of numbers. Days as `2026-05-16`. */
export interface Reasons {
  /** How many named faces are near, from when to when. */
  support: number;
  from: string | null;
  to: string | null;
  /** First name of whoever is beside them in the picture and speaks for it. */
  beside: string | null;
  /** Minutes from a picture in which they are named, negative when this one is earlier. */
  minutes: number | null;
  sameClothes: boolean;
  /** They are in many of the named pictures of that event. */
  there: boolean;
  /** All named pictures are from another age. */
  otherAge: boolean;
  /** Whom they are easily taken for. */
  rival: string | null;
}

/** Which parts of the evidence are worth a word. */
export const worthAWord = (e: Evidence): { beside: boolean; clothes: boolean; there: boolean; otherAge: boolean } => ({
  beside: e.beside !== null && e.company > 0.4,
  clothes: e.clothes > 0.15,
  there: e.event > 0.25,
  otherAge: e.age > 0.35,
});

/** The season of a month in the north (0 is spring), and the year it begins in: January belongs to the winter of the year before. */
function seasonIn(day: string): { season: number; year: number } {
  const [year, month] = day.split('-').map(Number) as [number, number];
  return { season: Math.floor(((month + 9) % 12) / 3), year: month <= 2 ? year - 1 : year };
}

/** When pictures are from, in a few words: "this spring", "spring 2024", "2024", "2019 to 2026". Empty without dates. */
export function sayFrom(from: string | null, to: string | null, today: string, words: Words): string {
  if (!from || !to) return '';
  const [a, b, now] = [seasonIn(from), seasonIn(to), seasonIn(today)];
  if (a.season === b.season && a.year === b.year)
    return a.season === now.season && a.year === now.year
      ? words.thisSeason[a.season]!
      : fill(words.date.season, { season: words.seasons[a.season]!, y: a.year });
  const [first, last] = [from.slice(0, 4), to.slice(0, 4)];
  return first === last ? first : fill(words.why.span, { from: first, to: last });
}

/** Why a face may be somebody, in words, what weighs most first; at most `most` reasons and the warning about a look-alike. */
export function sayReasons(r: Reasons, today: string, words: Words, most = 3): string {
  const { why } = words;
  const said: string[] = [];
  const when = sayFrom(r.from, r.to, today, words);
  if (r.support > 0) {
    const like = counted(why.like, r.support);
    said.push(when ? fill(why.from, { like, when }) : like);
  }
  if (r.minutes !== null) {
    const n = Math.round(Math.abs(r.minutes));
    said.push(n === 0 ? why.sameMinute : counted(r.minutes > 0 ? why.after : why.before, n));
  }
  if (r.sameClothes) said.push(why.clothes);
  if (r.beside) said.push(fill(why.beside, { name: r.beside }));
  if (r.there) said.push(why.there);
  if (r.otherAge) said.push(why.otherAge);
  const whole = capital(said.slice(0, most).join('; ') || why.faint);
  return r.rival ? fill(why.rival, { why: whole, name: r.rival }) : whole;
}
