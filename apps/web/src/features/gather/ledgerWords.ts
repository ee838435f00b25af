import type { LedgerEntry } from '@gemmel/contract';
import { count, sayLongDay, sayNumber } from '@/ui/say';

/** What came in from a device and how much of it is proven to be whole. */
export function storedLine(entry: LedgerEntry): string {
  if (entry.cameIn === 0) return 'Nothing has come in from it yet';
  const proven =
    entry.proven === entry.stored
      ? 'all stored and read back whole'
      : `${sayNumber(entry.proven)} of them read back whole so far`;
  return `${count(entry.cameIn, 'picture')} · ${proven}`;
}

/** Up to which day a device may be cleared, and what holds it back. */
export function clearLine(entry: LedgerEntry): { text: string; settled: boolean } {
  if (entry.clearUntil) return { text: `May be cleared up to ${sayLongDay(entry.clearUntil)}`, settled: true };
  if (entry.cameIn === 0) return { text: 'Nothing may be cleared yet', settled: false };
  if (entry.proven === entry.stored && entry.notHere === 0 && entry.gaps.length === 0)
    return { text: 'Its pictures do not say when they were made, so no day can be named', settled: false };
  return { text: 'Do not clear it yet', settled: false };
}

/** What is not here, in words; null when nothing is known to be missing. */
export function missingLine(entry: LedgerEntry): string | null {
  if (entry.notHere)
    return `${count(entry.notHere, 'file')} on it ${entry.notHere === 1 ? 'is' : 'are'} not here${entry.missingSince ? `, the first from ${sayLongDay(entry.missingSince)}` : ''}`;
  return null;
}

/** A gap in a device's numbers: "IMG_2041 to IMG_2043 never arrived". */
export const gapLine = (gap: LedgerEntry['gaps'][number]): string =>
  gap.missing === 1 ? `${gap.from} never arrived` : `${gap.from} to ${gap.to} never arrived`;
