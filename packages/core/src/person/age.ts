import { counted, type Words } from '../words/words';

/**
 * How old somebody was on a day, in words: "8", and for the smallest "7 months" or "3 weeks". Both days as `2026-05-16`;
 * null before the birth and when either is unknown.
 */
export function sayAge(born: string | null, day: string | null, words: Words): string | null {
  if (!born || !day || day < born) return null;
  const [y1, m1, d1] = born.split('-').map(Number) as [number, number, number];
  const [y2, m2, d2] = day.split('-').map(Number) as [number, number, number];
  const months = 12 * (y2 - y1) + (m2 - m1) - (d2 < d1 ? 1 : 0);
  if (months >= 24) return String(Math.floor(months / 12));
  if (months >= 2) return counted(words.age.months, months);
  const weeks = Math.floor((Date.parse(`${day}T00:00Z`) - Date.parse(`${born}T00:00Z`)) / (7 * 86_400_000));
  return counted(words.age.weeks, weeks);
}
