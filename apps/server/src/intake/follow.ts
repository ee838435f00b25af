import { reason } from '@gemmel/contract';
import type { Numbering } from '@gemmel/core';
import { parse } from 'csv-parse/sync';
import { mkdir, readdir, readFile, rename, stat } from 'node:fs/promises';
import path from 'node:path';
import { makePlainAlbum } from '../album/albums';
import { putIntoAlbum } from '../album/fill';
import type { App } from '../context';
import { sayOfAdditions } from '../share/additions';
import { defineJob, type Job } from '../jobs/kind';
import { discard } from '../vault/vault';
import { albumsFromManifests, albumsFromSidecars } from './albumsSaid';
import { finishItem, type Item } from './items';
import { numberPictures } from './number';

const listFolder = (app: App) => path.join(app.paths.incoming, 'lists');
/** A list of albums is no larger than this. */
const LONGEST_LIST = 30_000_000;
const FILE = /^(file|path|picture|photo|image|filename|file name|name)$/i;
const ALBUM = /^(albums?|album name|collection|set)$/i;

interface Line {
  file: string;
  album: string;
}

/** Reads a list of albums: a CSV whose heading names a column of files and one of albums (several apart by `;` or `|`). */
export function readAlbumList(text: string): Line[] | null {
  try {
    const [heading = [], ...rows] = parse(text, {
      bom: true,
      delimiter: [',', ';', '\t'],
      relaxColumnCount: true,
      skipEmptyLines: true,
      trim: true,
    }) as string[][];
    const [file, album] = [heading.findIndex((h) => FILE.test(h)), heading.findIndex((h) => ALBUM.test(h))];
    if (file < 0 || album < 0) return null;
    return rows.flatMap((row) =>
      (row[album] ?? '')
        .split(/[|;]/)
        .map((name) => ({ file: (row[file] ?? '').replace(/\\/g, '/'), album: name.trim().slice(0, 160) }))
        .filter((line) => line.file && line.album),
    );
  } catch {
    return null;
  }
}

/** Keeps a list of albums that came with a batch until its pictures are in; false when the file is none. */
export async function keepAlbumList(app: App, library: number, item: Item, file: string): Promise<boolean> {
  if (!/\.csv$/i.test(item.path) || (await stat(file)).size > LONGEST_LIST) return false;
  const lines = readAlbumList(await readFile(file, 'utf8'));
  if (!lines?.length) return false;
  await mkdir(listFolder(app), { recursive: true });
  await rename(file, path.join(listFolder(app), `${item.batch_id}-${item.id}.csv`));
  await finishItem(app, library, item, 'opened', { reason: reason('list-read') });
  return true;
}

/** Makes or fills the albums that lists of a batch name. Files are found by the end of their path. */
async function albumsFromLists(app: App, library: number, batch: number): Promise<void> {
  const names = (await readdir(listFolder(app)).catch(() => [])).filter(
    (name) => name.startsWith(`${batch}-`) && name.endsWith('.csv'),
  );
  if (names.length === 0) return;
  const { db } = app;
  const items = (await db('batch_items')
    .where({ batch_id: batch, library_id: library })
    .whereNotNull('picture_id')
    .orderBy('id')
    .select('path', 'picture_id')) as { path: string; picture_id: number }[];
  for (const name of names) {
    const list = path.join(listFolder(app), name);
    const albums = new Map<string, number[]>();
    for (const { file, album } of readAlbumList(await readFile(list, 'utf8')) ?? []) {
      const wanted = file.replace(/^\.?\//, '').toLowerCase();
      const found = items.find((i) => `/${i.path.toLowerCase()}`.endsWith(`/${wanted}`));
      if (found) albums.set(album, [...(albums.get(album) ?? []), found.picture_id]);
    }
    for (const [album, ids] of albums) {
      const there = await db('albums')
        .where({ library_id: library, kind: 'plain', name: album })
        .whereNull('removed_at')
        .first('id');
      if (there) await putIntoAlbum(app, { library, member: null }, there.id, { ids: [...new Set(ids)] });
      else await makePlainAlbum(app, { library, member: null }, album, [...new Set(ids)]);
    }
    await discard(list);
  }
}

/** Finds which device a way in belongs to: the one most of what it delivered was taken with. */
async function linkSource(app: App, library: number, batch: number): Promise<void> {
  await app.db.raw(
    `UPDATE sources s JOIN batches b ON b.source_id = s.id AND b.id = ? AND b.library_id = ?
     SET s.device_id = COALESCE((SELECT p.device_id FROM pictures p JOIN batch_items i ON i.picture_id = p.id JOIN batches c ON c.id = i.batch_id
       WHERE c.source_id = b.source_id AND p.device_id IS NOT NULL GROUP BY p.device_id ORDER BY COUNT(*) DESC LIMIT 1), s.device_id)`,
    [batch, library],
  );
  app.changed(library, 'sources');
}

/** What guests add to a share that shows it at once is let in by the machine. */
async function letIn(app: App, library: number, batch: number): Promise<void> {
  const row = await app.db('batches').where({ id: batch, held: false }).whereNotNull('share_id').first('id');
  if (row) await sayOfAdditions(app, { library, member: null }, batch, { yes: true });
}

/** What follows when all of a batch is in: its files get their numbers, and the albums its lists name are made. */
export async function follow(app: App, { library, about: batch }: Job): Promise<void> {
  await albumsFromManifests(app, library, batch);
  await albumsFromLists(app, library, batch);
  await albumsFromSidecars(app, library, batch);
  await linkSource(app, library, batch);
  await letIn(app, library, batch);
  const row = (await app.db('batches').where({ id: batch, library_id: library }).first()) as
    | {
        number_base: string | null;
        number_start: number;
        number_digits: number;
        number_day: Numbering['day'];
      }
    | undefined;
  if (!row?.number_base) return;
  const { number_base: base, number_start: start, number_digits: digits, number_day: day } = row;
  const ids = (await app.db('pictures').where({ batch_id: batch, library_id: library }).select('id')).map((p) => p.id);
  if (ids.length) await numberPictures(app, { library, member: null }, ids, { base, start, digits, day });
}

declare module '../jobs/kind' {
  interface JobPayloads {
    follow: null;
  }
}

/** Numbering files and making the albums of a list. */
export const followJob = defineJob({
  kind: 'follow',
  answers: true,
  priority: 2,
  run: follow,
});
