import { plural, t } from '@lingui/core/macro';
import { reason, reasonTitle, type BatchItem, type Saying } from '@gemmel/contract';
import { i18n } from '@lingui/core';
import { SingleBar } from 'cli-progress';
import { stat } from 'node:fs/promises';
import path from 'node:path';
import type { App } from './context';
import { openBatch, walk, type Announced } from './intake/announce';
import { listBatches, listItems, type Fate } from './intake/list';
import { answerOffer } from './intake/offers';
import { roomLeft } from './intake/space';
import { sniffFile } from './media/sniff';
import { CannotStart } from './cannotStart';
import { sayReason } from './words/speech';
import { hashFile } from './vault/vault';
import { knownWhole } from './vault/whole';

/** How a folder is to be taken in. */
export interface Importing {
  albumPerFolder: boolean;
  dryRun: boolean;
  json: boolean;
}

/** What came of it, or would come of it: printed with `--json`. */
export interface Report {
  dryRun: boolean;
  files: number;
  bytes: number;
  room: number;
  new: number;
  known: number;
  /** The same file again within what was to be taken in. */
  twice: number;
  beside: number;
  /** Files that were left out: why as a code with what it speaks of, and in English. */
  leftOut: (Saying & { path: string; reason: string })[];
  /** Files that are here already, or came before within the same, each with what it equals. */
  equals: Equal[];
  albums: string[];
  seconds: number;
}

/** A file that was not taken in because it equals another: a picture of the library, and where that is kept; or another file. */
export interface Equal {
  path: string;
  picture: number | null;
  keptAt: string | null;
  file?: string;
}

const leftOut = (file: string, why: Saying): Report['leftOut'][number] => ({
  path: file,
  ...why,
  reason: reasonTitle(why),
});

const EMPTY: Report = {
  dryRun: false,
  files: 0,
  bytes: 0,
  room: 0,
  new: 0,
  known: 0,
  twice: 0,
  beside: 0,
  leftOut: [],
  equals: [],
  albums: [],
  seconds: 0,
};

/** Where pictures are kept, below their library. */
async function keptAt(app: App, ids: readonly number[]): Promise<Map<number, string>> {
  const rows = await app.db('pictures').whereIn('id', ids).select('id', 'vault_path');
  return new Map(rows.map((row) => [row.id, row.vault_path]));
}

/** Everything that is to be taken in: the files below a folder, or one archive. */
async function found(from: string): Promise<Announced[]> {
  const info = await stat(from).catch(() => null);
  if (info?.isFile() && /\.zip$/i.test(from))
    return [{ path: path.basename(from), bytes: info.size, modified: info.mtimeMs, source: path.resolve(from) }];
  if (!info?.isDirectory()) throw new CannotStart(t`There is no folder ${from}.`);
  const files = await walk(from);
  if (files.length === 0) throw new CannotStart(t`There are no files in ${from} or below it.`);
  return files;
}

/** A progress bar on a terminal; lines now and then where there is none; nothing when a report is wanted. */
function progress(total: number, quiet: boolean): { at: (n: number) => void; stop: () => void } {
  if (quiet) return { at: () => undefined, stop: () => undefined };
  if (process.stdout.isTTY) {
    const bar = new SingleBar({
      format: `{bar} ${t`${'{value}'} of ${'{total}'} files`} · {percentage} % · ${t`${'{eta_formatted}'} left`}`,
      barCompleteChar: '=',
      barIncompleteChar: ' ',
      hideCursor: true,
      etaBuffer: 60,
    });
    bar.start(total, 0);
    return { at: (n) => bar.update(n), stop: () => bar.stop() };
  }
  let shown = -1;
  return {
    at: (n) => {
      if (n === shown || (n !== total && n % 25 !== 0)) return;
      shown = n;
      console.log(t`${i18n.number(n)} of ${i18n.number(total)} files`);
    },
    stop: () => undefined,
  };
}

/** Looks what taking a folder in would do, without doing it. */
export async function rehearse(app: App, library: number, from: string, how: Importing): Promise<Report> {
  const files = await found(from);
  const began = Date.now();
  const report: Report = {
    ...EMPTY,
    leftOut: [],
    equals: [],
    albums: [],
    dryRun: true,
    files: files.length,
    room: (await roomLeft(app)).left,
  };
  const seen = new Map<string, string>();
  const bar = progress(files.length, how.json);
  for (const [i, file] of files.entries()) {
    report.bytes += file.bytes;
    const sha = await hashFile(file.source!);
    const picture = await knownWhole(app, library, sha);
    const before = seen.get(sha.toString('hex'));
    if (picture !== null) {
      report.known++;
      report.equals.push({ path: file.path, picture, keptAt: (await keptAt(app, [picture])).get(picture) ?? null });
    } else if (before !== undefined) {
      report.twice++;
      report.equals.push({ path: file.path, picture: null, keptAt: null, file: before });
    } else if (file.bytes === 0) report.leftOut.push(leftOut(file.path, reason('empty')));
    else if (/\.(xmp|aae|thm|lrv|csv)$/i.test(file.path)) report.beside++;
    else if (await sniffFile(file.source!, file.path)) report.new++;
    else if (/\.zip$/i.test(file.path)) report.new++;
    else report.leftOut.push(leftOut(file.path, reason('not-a-picture')));
    if (before === undefined) seen.set(sha.toString('hex'), file.path);
    bar.at(i + 1);
  }
  bar.stop();
  return { ...report, seconds: (Date.now() - began) / 1000 };
}

/** The files of a batch with one fate, a thousand at a time. */
async function* pagesOf(app: App, library: number, batch: number, fate: Fate): AsyncGenerator<BatchItem[]> {
  for (let after: number | null = 0; after !== null;) {
    const page: Awaited<ReturnType<typeof listItems>> = await listItems(app, library, batch, fate, after, 1000);
    yield page.items;
    after = page.after;
  }
}

/** Takes a folder in, waits until all of it has ended, and says what came of it. */
export async function bringIn(app: App, library: number, from: string, how: Importing): Promise<Report> {
  const files = await found(from);
  const began = Date.now();
  const groups = new Map<string, Announced[]>();
  for (const file of files) {
    const key = how.albumPerFolder ? path.dirname(file.path) : path.basename(path.resolve(from));
    groups.set(key, [...(groups.get(key) ?? []), file]);
  }
  const mine = new Map<number, string>();
  for (const [key, some] of groups) {
    const name = path.basename(key === '.' ? path.basename(path.resolve(from), '.zip') : key);
    mine.set((await openBatch(app, library, name, some, { way: 'folder' })).id, name);
  }
  const bar = progress(files.length, how.json);
  for (;;) {
    const batches = await Promise.all([...mine.keys()].map(async (id) => (await listBatches(app, library, 1, id))[0]!));
    const left = batches.reduce((n, b) => n + b.counts.waiting + b.counts.received, 0);
    bar.at(Math.max(0, batches.reduce((n, b) => n + b.counts.total, 0) - left));
    if (left > 0) {
      await new Promise((resolve) => setTimeout(resolve, 500));
      continue;
    }
    bar.stop();
    const report: Report = { ...EMPTY, leftOut: [], equals: [], albums: [], room: (await roomLeft(app)).left };
    for (const batch of batches) {
      report.files += batch.counts.total;
      report.bytes += batch.bytes;
      report.new += batch.counts.stored;
      report.known += batch.counts.known;
      report.beside += batch.counts.beside;
      for await (const items of pagesOf(app, library, batch.id, 'out'))
        report.leftOut.push(...items.map((i) => leftOut(i.path, i.reason ?? reason('unexpected', { why: '' }))));
      for await (const items of pagesOf(app, library, batch.id, 'known')) {
        const kept = await keptAt(
          app,
          items.flatMap((i) => i.picture ?? []),
        );
        report.equals.push(
          ...items.map((i) => ({
            path: i.path,
            picture: i.picture,
            keptAt: i.picture === null ? null : (kept.get(i.picture) ?? null),
          })),
        );
      }
    }
    if (how.albumPerFolder)
      for (const [batch, name] of mine)
        if ((await answerOffer(app, { library, member: null }, batch, name)).album) report.albums.push(name);
    return { ...report, seconds: (Date.now() - began) / 1000 };
  }
}

/** "3.1 MB", "61 GB". */
export const sayMegabytes = (bytes: number): string =>
  bytes >= 1e9
    ? i18n.number(bytes / 1e9, { style: 'unit', unit: 'gigabyte', maximumFractionDigits: 1 })
    : i18n.number(bytes / 1e6, { style: 'unit', unit: 'megabyte', maximumFractionDigits: bytes < 1e7 ? 1 : 0 });

/** A report in plain words. */
export function sayReport(report: Report): string[] {
  const lines = report.leftOut.map((one) => t`Left out: ${one.path}: ${sayReason(i18n, one)}`);
  if (report.dryRun) {
    const found = [
      t`Nothing was brought in.`,
      plural(report.new, { one: '# file would be new.', other: '# files would be new.' }),
    ];
    if (report.known) found.push(plural(report.known, { one: '# is already here.', other: '# are already here.' }));
    if (report.twice) found.push(plural(report.twice, { one: '# is in it twice.', other: '# are in it twice.' }));
    if (report.beside)
      found.push(plural(report.beside, { one: '# goes with a picture.', other: '# go with a picture.' }));
    lines.push(
      found.join(' '),
      t`It needs at most ${sayMegabytes(report.bytes)}; ${sayMegabytes(report.room)} is free.`,
    );
  } else {
    const done = [plural(report.new, { one: '# new picture stored.', other: '# new pictures stored.' })];
    if (report.known) done.push(plural(report.known, { one: '# was already here.', other: '# were already here.' }));
    lines.push(done.join(' '));
    if (report.beside)
      lines.push(
        plural(report.beside, { one: '# file kept beside its picture.', other: '# files kept beside their pictures.' }),
      );
    for (const album of report.albums) lines.push(t`Made the album “${album}”.`);
  }
  return lines;
}
