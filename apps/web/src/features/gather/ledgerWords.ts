import type { LedgerEntry } from '@gemmel/contract';
import { plural, t } from '@lingui/core/macro';
import { sayLongDay } from '@/ui/say';

/** What came in from a device and how much of it is proven to be whole. */
export function storedLine(entry: LedgerEntry): string {
  if (entry.cameIn === 0) return t`Nothing has come in from it yet`;
  const proven =
    entry.proven === entry.stored
      ? t`all stored and checked`
      : plural(entry.proven, { one: '# checked so far', other: '# checked so far' });
  return [plural(entry.cameIn, { one: '# picture', other: '# pictures' }), proven, copiedLine(entry)]
    .filter(Boolean)
    .join(' · ');
}

/** How much of it is in two places; nothing while there is no second one. */
function copiedLine({ copied, stored }: LedgerEntry): string {
  if (copied === null) return '';
  return copied >= stored
    ? t`all in two places`
    : plural(copied, { 0: 'none in two places yet', one: '# in two places', other: '# in two places' });
}

/** Whether everything from a device is in two places, the second copy read back: what the joined rings stand for. */
export const inTwoPlaces = ({ copied, stored }: LedgerEntry): boolean =>
  stored > 0 && copied !== null && copied >= stored;

/** Up to which day a device may be cleared, and what holds it back. */
export function clearLine(entry: LedgerEntry): { text: string; settled: boolean } {
  if (entry.clearUntil) return { text: t`Safe to clear up to ${sayLongDay(entry.clearUntil)}`, settled: true };
  if (entry.cameIn === 0) return { text: t`Nothing to clear yet`, settled: false };
  if (entry.proven === entry.stored && entry.notHere === 0 && entry.gaps.length === 0)
    return { text: t`Its pictures don’t say when they were taken, so there is no safe date`, settled: false };
  return { text: t`Don’t clear it yet`, settled: false };
}

/** What is not here, in words; null when nothing is known to be missing. */
export function missingLine({ notHere, missingSince }: LedgerEntry): string | null {
  if (!notHere) return null;
  const files = plural(notHere, { one: '# file on it isn’t here', other: '# files on it aren’t here' });
  return missingSince ? t`${files}, the first from ${sayLongDay(missingSince)}` : files;
}

/** A gap in a device's numbers: "IMG_2041 to IMG_2043 never arrived". */
export const gapLine = ({ from, to, missing }: LedgerEntry['gaps'][number]): string =>
  missing === 1 ? t`${from} never arrived` : t`${from} to ${to} never arrived`;
