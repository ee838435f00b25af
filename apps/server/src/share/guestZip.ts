import { withEnding } from '@gemmel/core';
import { makeZip, predictLength } from 'client-zip';
import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { freeNames } from '../picture/zip';
import type { GuestCopy } from './guestCopy';
import type { GuestPictureRow } from './guestView';

/** What a ZIP for guests is made of. */
export interface ZipPlan {
  pictures: readonly GuestPictureRow[];
  copyOf: (picture: GuestPictureRow) => Promise<GuestCopy>;
  /** The list of what could not be given: what it is called, and what it says first. */
  missing: { name: string; why: string };
  /** The day all files bear: when pictures were taken is told by the share alone. */
  day: Date;
}

interface Entry {
  name: string;
  lastModified: Date;
  size: number;
  /** The file it is read from; null for the list. */
  file: string | null;
  text: string;
}

/** The earliest first; what has no date comes last, by name. */
const byTime = (a: GuestPictureRow, b: GuestPictureRow): number =>
  (a.taken_local ?? '~').localeCompare(b.taken_local ?? '~') || a.name.localeCompare(b.name) || a.id - b.id;

/** What tells a ZIP apart from any other: the same pictures in the same looks under the same names are the same bytes. */
export function tagOf({ pictures, missing, day }: ZipPlan, save: string): string {
  const of = pictures.map(({ id, name, shown }) => [id, name, shown.toString('hex')]);
  const hash = createHash('sha256').update(JSON.stringify([save, missing, day.getTime(), of]));
  return `"zip-${hash.digest('base64url').slice(0, 32)}"`;
}

/** The files of a ZIP, one after another: names stand in the order of time; what cannot be given is named at its end. */
async function* entriesOf({ pictures, copyOf, missing, day }: ZipPlan): AsyncGenerator<Entry> {
  const free = freeNames();
  const gone: string[] = [];
  const digits = String(pictures.length).length;
  for (const [i, p] of [...pictures].sort(byTime).entries()) {
    const copy = await copyOf(p).catch((error: unknown) => {
      console.error('a copy for guests:', error instanceof Error ? error.message : error);
      return null;
    });
    const info = copy && (await stat(copy.file).catch(() => null));
    if (!copy || !info) {
      gone.push(p.name);
      continue;
    }
    const name = free(`${String(i + 1).padStart(digits, '0')} ${withEnding(p.name, copy.format)}`);
    yield { name, lastModified: day, size: info.size, file: copy.file, text: '' };
  }
  if (!gone.length) return;
  const text = `${missing.why}\r\n\r\n${gone.join('\r\n')}\r\n`;
  yield { name: free(missing.name), lastModified: day, size: Buffer.byteLength(text), file: null, text };
}

const filled = ({ name, lastModified, size, file, text }: Entry) => ({
  name,
  lastModified,
  size,
  input: file === null ? text : (Readable.toWeb(createReadStream(file)) as ReadableStream<Uint8Array>),
});

/** The whole ZIP, each copy made when its turn comes. */
export function wholeZip(plan: ZipPlan): ReadableStream<Uint8Array> {
  return makeZip(
    (async function* () {
      for await (const entry of entriesOf(plan)) yield filled(entry);
    })(),
  );
}

/** A ZIP that is ready in every copy, so that it is known how long it is and any part of it can be had. */
export async function readyZip(plan: ZipPlan): Promise<{
  length: number;
  from: (start: number, end: number) => ReadableStream<Uint8Array>;
}> {
  const entries: Entry[] = [];
  for await (const entry of entriesOf(plan)) entries.push(entry);
  return {
    length: Number(predictLength(entries.map(({ name, size }) => ({ name, size })))),
    // What was sent before is read once more: the end of a ZIP speaks of all of it.
    from: (start, end) => makeZip(entries.map(filled)).pipeThrough(part(start, end)),
  };
}

/** Lets through the bytes from one place to another, both of them included. */
function part(start: number, end: number): TransformStream<Uint8Array, Uint8Array> {
  let at = 0;
  return new TransformStream({
    transform(chunk, controller) {
      const from = Math.max(0, start - at);
      const to = Math.min(chunk.length, end + 1 - at);
      at += chunk.length;
      if (to > from) controller.enqueue(chunk.subarray(from, to));
      if (at > end) controller.terminate();
    },
  });
}
