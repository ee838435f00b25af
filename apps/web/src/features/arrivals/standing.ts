import type { Batch } from '@gemmel/contract';
import { count, sayBytes, sayLeft, sayNumber } from '@/ui/say';
import type { Progress } from './courier';

/** How far a batch is: files that have ended over all of them. */
export function lineOf(batch: Pick<Batch, 'counts' | 'share'>): string {
  const { counts } = batch;
  const ended = counts.total - counts.waiting - counts.received;
  return `${sayNumber(ended)} of ${sayNumber(counts.total)} · ${Math.floor(batch.share * 100)} %`;
}

/** What became of a batch, in one line. */
export function resultOf({ counts }: Pick<Batch, 'counts'>): string {
  const out = counts.skipped + counts.aside + counts.failed;
  return (
    [
      counts.stored ? `${count(counts.stored, 'picture')} stored` : '',
      counts.known ? `${sayNumber(counts.known)} here already` : '',
      counts.mended ? `${count(counts.mended, 'original')} repaired` : '',
      out ? `${sayNumber(out)} left out` : '',
    ]
      .filter(Boolean)
      .join(' · ') || 'Nothing in it'
  );
}

/** How a batch stands, in one quiet line: n of m, per cent, how fast, how long still; or what became of it. */
export function standing(batch: Batch, sending: Progress | undefined, full: boolean): string {
  if (batch.state === 'done') return resultOf(batch);
  const line = lineOf(batch);
  if (batch.state === 'stopped') return `Paused at ${line}. What is stored stays.`;
  if (full || sending?.state === 'full') return `The disk is full at ${line}. It goes on by itself when there is room.`;
  if (sending?.state === 'lost') return `The line broke at ${line}. It goes on by itself.`;
  const speed = sending?.state === 'sending' ? sending.bytesPerSecond : batch.bytesPerSecond;
  const left = [batch.secondsLeft, sending?.state === 'sending' ? sending.secondsLeft : null]
    .filter((s): s is number => s !== null)
    .reduce<number | null>((most, s) => Math.max(most ?? 0, s), null);
  return [line, speed ? `${sayBytes(speed)}/s` : '', left === null ? '' : `${sayLeft(left)} left`]
    .filter(Boolean)
    .join(' · ');
}

/** Whether a batch waits for files that nobody sends: the page that sent them was closed. */
export const isOrphaned = (batch: Batch, sending: Progress | undefined): boolean =>
  batch.way === 'browser' &&
  batch.state === 'coming' &&
  batch.counts.waiting > 0 &&
  (!sending || sending.state === 'done');
