import type { ClockOffer } from '@gemmel/contract';
import { plural, t } from '@lingui/core/macro';
import { sayAmount, sayDay } from '@/ui/say';
import { saySpan } from '@/words/said';

/** "1 h 2 min", "47 min", "2 h", "40 s"; "12 days", "25 years, 152 days". */
export function sayShift(seconds: number): string {
  const all = Math.round(Math.abs(seconds));
  if (all < 60) return sayAmount([[all, 'second']]);
  const minutes = Math.round(all / 60);
  const days = Math.round(all / 86_400);
  const years = Math.floor(days / 365.25);
  if (years > 0)
    return sayAmount([
      [years, 'year'],
      [Math.round(days - 365.25 * years), 'day'],
    ]);
  if (days > 2) return sayAmount([[days, 'day']]);
  return sayAmount([
    [Math.floor(minutes / 60), 'hour'],
    [minutes % 60, 'minute'],
  ]);
}

/** What is wrong with a clock: "Good camera is 1 h 2 min slow". */
export const clockTitle = ({ device, shiftSeconds }: Pick<ClockOffer, 'device' | 'shiftSeconds'>): string =>
  shiftSeconds > 0 ? t`${device} is ${sayShift(shiftSeconds)} slow` : t`${device} is ${sayShift(shiftSeconds)} fast`;

/** What kind of mistake it looks like; empty when none is known. */
function sayKind(kind: ClockOffer['kind']): string {
  if (kind === 'an hour') return t`It looks like summer time.`;
  return kind === 'a time zone' ? t`It looks like another time zone.` : '';
}

/** Why Gemmel thinks so: "58 pairs of pictures on 6 occasions agree on +1 h 2 min, 21 February to 14 November 2026." */
export function clockEvidence(clock: ClockOffer): string {
  const shift = `${clock.shiftSeconds > 0 ? '+' : '−'}${sayShift(clock.shiftSeconds)}`;
  const when = saySpan(clock.from, clock.to);
  const pairs = plural(clock.pairs, { one: '# pair of pictures', other: '# pairs of pictures' });
  const agree = plural(clock.occasions, {
    one: `${pairs} on # occasion: ${shift}, ${when}.`,
    other: `${pairs} on # occasions: ${shift}, ${when}.`,
  });
  return [agree, sayKind(clock.kind)].filter(Boolean).join(' ');
}

/** What else may be wrong: "Also the 34 pictures before, from 3 March 2026: nothing shows the clock was right then." */
export const clockEarlier = ({ pictures, from }: NonNullable<ClockOffer['earlier']>): string =>
  plural(pictures, {
    one: `Also the picture before, from ${sayDay(from)}: nothing shows the clock was right then.`,
    other: `Also the # pictures before, from ${sayDay(from)}: nothing shows the clock was right then.`,
  });

/** "Also the 12 pictures after, up to 14 December 2026: nothing shows the clock was set since." */
export const clockLater = ({ pictures, to }: NonNullable<ClockOffer['later']>): string =>
  plural(pictures, {
    one: `Also the picture after, up to ${sayDay(to)}: nothing shows the clock was set since.`,
    other: `Also the # pictures after, up to ${sayDay(to)}: nothing shows the clock was set since.`,
  });
