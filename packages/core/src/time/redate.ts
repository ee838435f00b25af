import { readStamp, shiftLocal, takenFromFileName, takenFromFolders, type TakenSource } from './taken';
import { middleOf, readWhen, type When } from './when';
import { localAt } from './zone';

/** A picture's time with all that is known about it. `span` is set when no more is known than some days. */
export interface Dated {
  local: string | null;
  offset: number | null;
  span: When | null;
  source: TakenSource | null;
  certainty: number | null;
}

/** What dating works from: the time so far, the name and the folders it came with, its file's own time in UTC milliseconds. */
export interface Datable extends Dated {
  name: string;
  path: string;
  modified: number | null;
}

/**
 * How dates are mended: by words or a moment, by an amount of seconds, by a zone (`keep` says whether the clock on the
 * wall or the instant was right), in their order from a moment on with a step in seconds, from what their file says, or
 * away with the date.
 */
export type Redating =
  | { set: string }
  | { shift: number }
  | { zone: number; keep: 'clock' | 'instant' }
  | { order: { from: string; step: number } }
  | { from: 'file name' | 'folder name' | 'file' }
  | { none: true };

const byHand = (local: string, offset: number | null, span: When | null = null): Dated => ({
  local,
  offset,
  span,
  source: 'hand',
  certainty: 1,
});

/**
 * Reads a date as people write it, with or without a clock time: "16 May 2026 14:07", "about 1960", "2026-05-16T14:07".
 * A day without a time, or a span of days, is dated to its middle. Null when it is no date.
 */
export function readDate(text: string, thisYear: number): { local: string; span: When | null } | null {
  const stamp = readStamp(text);
  if (stamp && /\d\d:\d\d/.test(text)) return { local: stamp.local, span: null };
  const timed = text.trim().match(/^(.*?)[,\s]+(?:at |um |kl\.? )?(\d{1,2})[:.](\d\d)(?:[:.](\d\d))?$/);
  const when = readWhen(timed ? timed[1]! : text, thisYear);
  if (!when) return null;
  if (timed) {
    if (when.exact !== 'day' || when.about) return null;
    const clock = readStamp(`${when.from}T${timed[2]!.padStart(2, '0')}:${timed[3]}:${timed[4] ?? '00'}`);
    return clock && { local: clock.local, span: null };
  }
  return { local: middleOf(when), span: when };
}

/**
 * The times pictures have after mending, in their order; null where the way says nothing, and the picture stays as it is.
 * @param thisYear for years of two digits. @param homeOffset minutes east of Greenwich of a file's time, at an instant.
 */
export function redate(
  pictures: readonly Datable[],
  how: Redating,
  thisYear: number,
  homeOffset: (at: number) => number,
): (Dated | null)[] {
  if ('set' in how) {
    const read = readDate(how.set, thisYear);
    return pictures.map((p) => read && byHand(read.local, read.span ? null : p.offset, read.span));
  }
  if ('none' in how)
    return pictures.map(() => ({ local: null, offset: null, span: null, source: null, certainty: null }));
  if ('shift' in how)
    return pictures.map((p) => (p.local && !p.span ? byHand(shiftLocal(p.local, how.shift), p.offset) : null));
  if ('zone' in how)
    return pictures.map((p) => {
      if (!p.local || p.span) return null;
      // Without an offset of its own there is no instant to keep: the clock on the wall is all that is known.
      const turn = how.keep === 'instant' && p.offset !== null ? how.zone - p.offset : 0;
      return byHand(shiftLocal(p.local, turn * 60), how.zone);
    });
  if ('order' in how) {
    const first = readDate(how.order.from, thisYear);
    return pictures.map((p, i) => first && byHand(shiftLocal(first.local, i * how.order.step), p.offset));
  }
  return pictures.map((p) => {
    if (how.from === 'file') {
      if (p.modified === null) return null;
      const offset = homeOffset(p.modified);
      return { local: localAt(p.modified, offset), offset, span: null, source: 'file', certainty: 0.5 };
    }
    const read = how.from === 'file name' ? takenFromFileName(p.name) : takenFromFolders(p.path);
    return read && { ...read, span: read.span ?? null, certainty: Math.max(0.6, read.certainty) };
  });
}
