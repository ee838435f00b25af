import { reason, type Saying } from '@gemmel/contract';
import { pairFiles } from '@gemmel/core';
import { createWriteStream } from 'node:fs';
import { stat, unlink } from 'node:fs/promises';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { createHash } from 'node:crypto';
import yauzl from 'yauzl';
import type { App } from '../context';
import { ask } from '../jobs/jobs';
import { Failed } from '../problem';
import { discard } from '../vault/vault';
import { finishItem, incomingFile, type Item } from './items';
import { isFull, needRoom } from './space';

/** More files than this, or more bytes out than this for each byte in, and an archive is a trap. */
const MOST_FILES = 100_000;
const MOST_GROWTH = 120;
/** Small archives may hold very plain pictures: up to this size growth does not matter. */
const SMALL = 50_000_000;

interface Entry {
  item: number;
  entry: yauzl.Entry;
  name: string;
}

/** An entry's name in words; a hostile one must not close the whole archive, so that names are judged one by one. */
const nameOf = (entry: yauzl.Entry): string =>
  yauzl.getFileNameLowLevel(entry.generalPurposeBitFlag, entry.fileNameRaw, entry.extraFields, false);

function openZip(file: string): Promise<yauzl.ZipFile> {
  return new Promise((resolve, reject) =>
    yauzl.open(file, { lazyEntries: true, autoClose: false, decodeStrings: false }, (error, zip) =>
      error ? reject(error) : resolve(zip),
    ),
  );
}

function entriesOf(zip: yauzl.ZipFile): Promise<yauzl.Entry[]> {
  return new Promise((resolve, reject) => {
    const all: yauzl.Entry[] = [];
    zip.on('entry', (entry: yauzl.Entry) => {
      if (!nameOf(entry).endsWith('/')) all.push(entry);
      if (all.length > MOST_FILES) reject(new Failed(reason('archive-too-many')));
      else zip.readEntry();
    });
    zip.on('end', () => resolve(all));
    zip.on('error', reject);
    zip.readEntry();
  });
}

/** Whether a name inside an archive stays below it; drive letters, roots and `..` do not. */
const inside = (name: string) => !/^([/\\]|[A-Za-z]:)/.test(name) && !name.split(/[/\\]/).includes('..');

/**
 * Opens an archive: each file in it becomes an item of the same batch and comes in by itself. Archives inside it are not
 * opened. Safe to repeat: files that were already taken out are not taken out again.
 */
export async function openArchive(app: App, library: number, item: Item, file: string): Promise<void> {
  const { db } = app;
  let zip: yauzl.ZipFile;
  let entries: yauzl.Entry[];
  try {
    zip = await openZip(file);
    entries = await entriesOf(zip);
  } catch (error) {
    await discard(file);
    return finishItem(app, library, item, 'skipped', {
      reason: error instanceof Failed ? error.saying : reason('archive-damaged'),
    });
  }
  try {
    const stem = item.path.replace(/\.zip$/i, '');
    const wanted = entries.filter((e) => !/(^|\/)(\.(?!\.?\/)|__MACOSX\/)/.test(nameOf(e)));
    const size = wanted.reduce((sum, e) => sum + e.uncompressedSize, 0);
    const { size: packed } = await stat(file);
    if (size > SMALL && size > packed * MOST_GROWTH) {
      await discard(file);
      return await finishItem(app, library, item, 'skipped', {
        reason: reason('archive-bomb'),
      });
    }
    await needRoom(app, size);
    const rows = wanted.map((entry) => ({
      entry,
      name: nameOf(entry),
      path: `${stem}/${nameOf(entry).replace(/\\/g, '/')}`.slice(0, 3900),
    }));
    const pairs = pairFiles(rows.map((r) => r.path));
    const there = new Map(
      (
        await db('batch_items')
          .where('batch_id', item.batch_id)
          .where('path', 'like', `${stem.replace(/[%_\\]/g, '\\$&')}/%`)
          .select('id', 'path', 'state')
      ).map((row) => [row.path, row]),
    );
    const made: Entry[] = [];
    const ids: number[] = [];
    for (const { entry, name, path } of rows) {
      const old = there.get(path);
      if (old) {
        ids.push(old.id);
        if (old.state === 'waiting') made.push({ item: old.id, entry, name });
        continue;
      }
      const [id] = await db('batch_items').insert({
        library_id: library,
        batch_id: item.batch_id,
        path,
        bytes: entry.uncompressedSize,
        modified: entry.getLastModDate().getTime() || null,
        state: 'waiting',
      });
      ids.push(id!);
      made.push({ item: id!, entry, name });
    }
    for (const [i, pair] of pairs.entries())
      if (pair.main !== null)
        await db('batch_items').where('id', ids[i]).update({ role: pair.role, main_id: ids[pair.main] });
    for (const one of made) await takeOut(app, library, item, zip, one);
    await ask(app.db, library, 'intake', ids);
  } finally {
    zip.close();
  }
  await discard(file);
  await finishItem(app, library, item, 'opened', { reason: reason('archive-opened') });
}

async function takeOut(
  app: App,
  library: number,
  archive: Item,
  zip: yauzl.ZipFile,
  { item, entry, name }: Entry,
): Promise<void> {
  const about = { id: item, batch_id: archive.batch_id };
  const refuse = (why: Saying) => finishItem(app, library, about, 'skipped', { reason: why });
  if (!inside(name)) return refuse(reason('archive-leads-out'));
  if (entry.isEncrypted()) return refuse(reason('archive-locked'));
  if (/\.(zip|7z|rar|tar|gz)$/i.test(name)) return refuse(reason('archive-inside'));
  const target = incomingFile(app, item);
  const hash = createHash('sha256');
  let bytes = 0;
  const counted = new Transform({
    transform(chunk: Buffer, _, next) {
      bytes += chunk.length;
      hash.update(chunk);
      if (bytes > entry.uncompressedSize) next(new Error('longer than it says'));
      else next(null, chunk);
    },
  });
  try {
    const stream = await new Promise<NodeJS.ReadableStream>((resolve, reject) =>
      zip.openReadStream(entry, (error, s) => (error ? reject(error) : resolve(s))),
    );
    await pipeline(stream, counted, createWriteStream(target, { flush: true }));
  } catch (error) {
    await unlink(target).catch(() => undefined);
    if (isFull(error)) throw error;
    return refuse(reason('archive-file-damaged'));
  }
  await app
    .db('batch_items')
    .where({ id: item, state: 'waiting' })
    .update({ state: 'received', sha256: hash.digest(), bytes });
}
