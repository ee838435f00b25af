import { reason } from '@gemmel/contract';
import { LONGEST_HALF } from '@gemmel/core';
import { stat } from 'node:fs/promises';
import path from 'node:path';
import type { App } from '../context';
import { probe } from '../media/clips';
import { readSidecar } from '../media/metadata';
import { sniffFile } from '../media/sniff';
import { discard, libraryFolder, place } from '../vault/vault';
import { noteAlbums } from './albumsSaid';
import { alreadyHere } from './known';
import { finishItem, pathTaken, type Item } from './items';
import { notePlaced, takeBack } from './placed';
import { sayMore } from './words';

/** What becomes of a file that belongs to another: it waits, it is kept beside its picture, or it stands for itself. */
export type Joined = 'waits' | 'alone' | 'done';

/** Decides about a file that belongs to another one of its batch, once that one has ended. */
export async function joinMain(
  app: App,
  library: number,
  item: Item,
  file: string,
  fetched: () => Promise<Buffer>,
): Promise<Joined> {
  const main = await app.db('batch_items').where('id', item.main_id).first('id', 'state', 'path', 'picture_id');
  if (main && (main.state === 'waiting' || main.state === 'received')) return 'waits';
  const word = item.role === 'notes' || item.role === 'said';
  // Its picture may have been binned in the meantime.
  const there = main?.picture_id && (await app.db('pictures').where('id', main.picture_id).first('id'));
  if (!main?.picture_id || !there) {
    if (!word) return alone(app, item);
    await fetched();
    await discard(file);
    const name = main?.path.split('/').pop() ?? item.path;
    await finishItem(app, library, item, 'skipped', { reason: reason('main-left-out', { name }) });
    return 'done';
  }
  const sha256 = await fetched();
  const { db } = app;
  const same = await db('picture_files')
    .where({ library_id: library, sha256, picture_id: main.picture_id })
    .first('id');
  const own = await db('pictures').where({ library_id: library, sha256 }).first('id');
  if (same || own) {
    await alreadyHere(app, library, item, file, own?.id ?? main.picture_id);
    return 'done';
  }
  let seconds: number | null = null;
  if (item.role === 'clip') {
    const found = await probe(file).catch(() => null);
    if (!found || found.seconds > LONGEST_HALF) return alone(app, item);
    seconds = found.seconds;
  } else if (!word && !(await sniffFile(file, item.path))) return alone(app, item);
  if (item.role === 'said' && main.state === 'known') {
    const { said, marked, taken } = await readSidecar(file);
    await sayMore(app, library, item, main.picture_id, said, [marked], taken);
    await noteAlbums(app.db, library, item, main.picture_id, said.albums);
  }
  await keepBeside(app, library, item, file, sha256, main.picture_id, seconds);
  await finishItem(app, library, item, 'stored', { picture_id: main.picture_id });
  return 'done';
}

async function alone(app: App, item: Item): Promise<Joined> {
  item.role = 'main';
  item.main_id = null;
  await app.db('batch_items').where('id', item.id).update({ role: 'main', main_id: null });
  return 'alone';
}

/** Keeps a file beside a picture, byte for byte, in the picture's folder. Safe to repeat. */
async function keepBeside(
  app: App,
  library: number,
  item: Item,
  file: string,
  sha256: Buffer,
  picture: number,
  seconds: number | null,
): Promise<void> {
  const { db } = app;
  const main = (await db('pictures').where({ id: picture, library_id: library }).first('vault_path'))!;
  const came = item.path.split('/').pop() ?? 'file';
  // `IMG_2041.jpg.xmp` is what Gemmel itself writes; what came with the picture is kept under a name of its own.
  const name = item.role === 'said' ? came.replace(/\.xmp$/i, '.brought.xmp') : came;
  const root = libraryFolder(app, item.slug);
  const { size } = await stat(file);
  await takeBack(app, library, item, file);
  const folder = path.dirname(main.vault_path);
  const vault_path = await place(root, file, folder, name, pathTaken(db, library), notePlaced(app, item));
  try {
    await db('picture_files').insert({
      library_id: library,
      picture_id: picture,
      role: item.role,
      sha256,
      name: [...came.replace(/\p{Cc}/gu, '')].slice(0, 255).join(''),
      vault_path,
      format: (came.split('.').pop() ?? '').toLowerCase().slice(0, 12),
      bytes: size,
      seconds,
    });
  } catch (error) {
    // Its twin may have been first at the same moment: ours is given back.
    await takeBack(app, library, item, file);
    throw error;
  }
  await discard(file);
}
