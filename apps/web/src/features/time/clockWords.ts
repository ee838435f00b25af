import type { ClockOffer } from '@gemmel/contract';
import { sayDay, saySpan } from '@gemmel/core';
import { count, sayNumber } from '@/ui/say';

/** "1 h 02 min", "47 min", "2 h", "40 s"; "12 days", "25 years and 152 days". */
export function sayShift(seconds: number): string {
  const all = Math.round(Math.abs(seconds));
  if (all < 60) return `${all} s`;
  const minutes = Math.round(all / 60);
  const days = Math.round(all / 86_400);
  const years = Math.floor(days / 365.25);
  if (years > 0)
    return [count(years, 'year'), count(Math.round(days - 365.25 * years), 'day')]
      .filter((part) => !/^0 /.test(part))
      .join(' and ');
  if (days > 2) return count(days, 'day');
  const hours = Math.floor(minutes / 60);
  const rest = minutes % 60;
  if (hours === 0) return `${rest} min`;
  return rest === 0 ? `${hours} h` : `${hours} h ${String(rest).padStart(2, '0')} min`;
}

/** What is wrong with a clock: "The good camera is 1 h 02 min behind". */
export const clockTitle = (clock: Pick<ClockOffer, 'device' | 'shiftSeconds'>): string =>
  `${clock.device} is ${sayShift(clock.shiftSeconds)} ${clock.shiftSeconds > 0 ? 'behind' : 'ahead'}`;

const KIND: Record<ClockOffer['kind'], string> = {
  'an hour': ' That is summer time.',
  'a time zone': ' That is another time zone.',
  'a wrong clock': '',
};

/** Why Gemmel thinks so: "58 pairs of pictures on 6 occasions agree on +1 h 02 min, 21 February to 14 November 2026." */
export const clockEvidence = (clock: ClockOffer): string =>
  `${count(clock.pairs, 'pair')} of pictures on ${count(clock.occasions, 'occasion')} agree on ${clock.shiftSeconds > 0 ? '+' : '−'}${sayShift(clock.shiftSeconds)}, ${saySpan(clock.from, clock.to)}.${KIND[clock.kind]}`;

/** What else may be wrong: "Also the 34 pictures before, from 3 March 2026: nothing shows that the clock was right then." */
export const clockEarlier = ({ pictures, from }: NonNullable<ClockOffer['earlier']>): string =>
  `Also the ${pictures === 1 ? 'picture' : `${sayNumber(pictures)} pictures`} before, from ${sayDay(from)}: nothing shows that the clock was right then.`;

/** "Also the 12 pictures after, up to 14 December 2026: nothing shows that the clock was set since." */
export const clockLater = ({ pictures, to }: NonNullable<ClockOffer['later']>): string =>
  `Also the ${pictures === 1 ? 'picture' : `${sayNumber(pictures)} pictures`} after, up to ${sayDay(to)}: nothing shows that the clock was set since.`;
