import type { MessageDescriptor } from '@lingui/core';
import { msg } from '@lingui/core/macro';
import type { Numbering } from '@gemmel/core';

/** What numbering begins with. */
export const PLAIN: Numbering = { base: '', start: 1, digits: 3, day: 'none' };

const DAYS: [Numbering['day'], MessageDescriptor][] = [
  ['none', msg`Without the day`],
  ['before', msg`Day first`],
  ['after', msg`Day after the name`],
];
export { DAYS };

/** A whole number from what was typed, kept within bounds; null for anything else. */
export function wholeNumber(typed: string, least: number, most: number): number | null {
  const n = Number(typed);
  return /^\d+$/.test(typed.trim()) && n >= least && n <= most ? n : null;
}
