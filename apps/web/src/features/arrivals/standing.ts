import { plural, t } from '@lingui/core/macro';
import type { Batch } from '@gemmel/contract';
import { sayBytes, sayLeft, sayNumber, sayShare } from '@/ui/say';
import type { Progress } from './courier';

/** How far a batch is: files that have ended over all of them. */
export function lineOf(batch: Pick<Batch, 'counts' | 'share'>): string {
  const { counts } = batch;
  const ended = counts.total - counts.waiting - counts.received;
  return t`${sayNumber(ended)} of ${sayNumber(counts.total)} · ${sayShare(batch.share)}`;
}

/** What became of a batch, in one line. */
export function resultOf({ counts }: Pick<Batch, 'counts'>): string {
  const out = counts.skipped + counts.aside + counts.failed;
  return (
    [
      counts.stored ? plural(counts.stored, { one: '# picture stored', other: '# pictures stored' }) : '',
      counts.known ? plural(counts.known, { one: '# already here', other: '# already here' }) : '',
      counts.mended ? plural(counts.mended, { one: '# original repaired', other: '# originals repaired' }) : '',
      out ? plural(out, { one: '# left out', other: '# left out' }) : '',
    ]
      .filter(Boolean)
      .join(' · ') || t`Empty`
  );
}

/** How a batch stands, in one quiet line: n of m, per cent, how fast, how long still; or what became of it. */
export function standing(batch: Batch, sending: Progress | undefined, full: boolean): string {
  if (batch.state === 'done') return resultOf(batch);
  const line = lineOf(batch);
  if (batch.state === 'stopped') return t`Paused at ${line}. Everything stored stays.`;
  if (full || sending?.state === 'full') return t`Disk full at ${line}. It continues by itself when there is space.`;
  if (sending?.state === 'lost') return t`Connection lost at ${line}. It continues by itself.`;
  const speed = sending?.state === 'sending' ? sending.bytesPerSecond : batch.bytesPerSecond;
  const left = [batch.secondsLeft, sending?.state === 'sending' ? sending.secondsLeft : null]
    .filter((s): s is number => s !== null)
    .reduce<number | null>((most, s) => Math.max(most ?? 0, s), null);
  return [line, speed ? `${sayBytes(speed)}/s` : '', left === null ? '' : t`${sayLeft(left)} left`]
    .filter(Boolean)
    .join(' · ');
}

/** Whether a batch waits for files that nobody sends: the page that sent them was closed. */
export const isOrphaned = (batch: Batch, sending: Progress | undefined): boolean =>
  batch.way === 'browser' &&
  batch.state === 'coming' &&
  batch.counts.waiting > 0 &&
  (!sending || sending.state === 'done');
