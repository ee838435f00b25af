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

const SEASONS = ['winter', 'spring', 'summer', 'autumn'] as const;
/** The season of a month in the north, and the year it begins in: January belongs to the winter of the year before. */
function seasonOf(day: string): { name: (typeof SEASONS)[number]; year: number } {
  const [year, month] = day.split('-').map(Number) as [number, number];
  return { name: SEASONS[Math.floor((month % 12) / 3)]!, year: month <= 2 ? year - 1 : year };
}

/** When pictures are from, in a few words: "this spring", "spring 2024", "2024", "2019 to 2026". Empty without dates. */
export function sayWhen(from: string | null, to: string | null, today: string): string {
  if (!from || !to) return '';
  const [a, b, now] = [seasonOf(from), seasonOf(to), seasonOf(today)];
  if (a.name === b.name && a.year === b.year)
    return a.name === now.name && a.year === now.year ? `this ${a.name}` : `${a.name} ${a.year}`;
  const [first, last] = [from.slice(0, 4), to.slice(0, 4)];
  return first === last ? first : `${first} to ${last}`;
}

/** Why a face may be somebody, in words, what weighs most first; at most `most` reasons and the warning about a look-alike. */
export function sayReasons(r: Reasons, today: string, most = 3): string {
  const said: string[] = [];
  const when = sayWhen(r.from, r.to, today);
  if (r.support > 0) {
    const n = r.support === 1 ? 'one named picture' : `${r.support} named pictures`;
    said.push(`like ${n}${when ? ` from ${when}` : ''}`);
  }
  if (r.minutes !== null) {
    const n = Math.round(Math.abs(r.minutes));
    said.push(
      n === 0
        ? 'in the same minute as a named one'
        : `${n === 1 ? 'a minute' : `${n} minutes`} ${r.minutes > 0 ? 'after' : 'before'} a named one`,
    );
  }
  if (r.sameClothes) said.push('in the same clothes that day');
  if (r.beside) said.push(`${r.beside} is beside them`);
  if (r.there) said.push('often named in pictures of this event');
  if (r.otherAge) said.push('all named pictures are from another age');
  const text = said.slice(0, most).join('; ') || 'a faint likeness';
  const whole = text[0]!.toUpperCase() + text.slice(1);
  return r.rival ? `${whole}. Look twice: easily taken for ${r.rival}` : whole;
}
