import { isMedia } from '@gemmel/core';
import { watch, type FSWatcher } from 'chokidar';
import { readdir, stat } from 'node:fs/promises';
import path from 'node:path';
import type { App } from '../context';
import { ask } from '../jobs/jobs';
import { meetSource } from './sources';

/** Whether a name ends like that of a picture or clip. */
export const looksLikePicture = (name: string): boolean => isMedia(name.split('.').pop()?.toLowerCase() ?? '');

/** Whether a folder is a camera's card or holds pictures near its top: at most this many names are looked at. */
async function holdsPictures(folder: string, most = 400): Promise<boolean> {
  const waiting = [folder];
  let seen = 0;
  while (waiting.length && seen < most) {
    const entries = await readdir(waiting.shift()!, { withFileTypes: true }).catch(() => []);
    for (const entry of entries) {
      if (entry.name.startsWith('.') || ++seen > most) continue;
      if (entry.isDirectory()) {
        if (entry.name.toUpperCase() === 'DCIM') return true;
        waiting.push(path.join(entry.parentPath, entry.name));
      } else if (entry.isFile() && looksLikePicture(entry.name)) return true;
    }
  }
  return false;
}

/** Folders without pictures are not looked through again for so long, in ms: a disk should be let sleep. */
const LET_BE = 60_000;
const without = new Map<string, number>();

/** Whether nothing has changed in a folder for a while: one that is just being filled is looked at again at once. */
const isOld = async (folder: string) => Date.now() - ((await stat(folder).catch(() => null))?.mtimeMs ?? 0) > LET_BE;

/** Looks which cards and phones are there now; new ones are listed, those that went are marked as gone. */
export async function lookForCards(app: App, library: number): Promise<void> {
  const { db } = app;
  const roots = new Set(app.config.roots.map((root) => path.resolve(root)));
  const known = await db('sources').where({ library_id: library, kind: 'card' });
  const there = new Map<string, string>();
  for (const root of roots)
    for (const entry of await readdir(root, { withFileTypes: true }).catch(() => [])) {
      const folder = path.join(root, entry.name);
      if (entry.name.startsWith('.') || !entry.isDirectory() || roots.has(folder)) continue;
      // One that is there already was looked at when it came.
      if (known.some((source) => source.present && source.path === folder)) there.set(entry.name, folder);
      else if ((without.get(folder) ?? 0) > Date.now()) continue;
      else if (await holdsPictures(folder)) there.set(entry.name, folder);
      else if (await isOld(folder)) without.set(folder, Date.now() + LET_BE);
    }
  for (const source of known)
    if (source.present && !there.has(source.slug)) {
      await db('sources').where('id', source.id).update({ present: false, put_off: false });
      app.changed(library, 'sources');
    }
  for (const [slug, folder] of there) {
    if (known.some((source) => source.slug === slug.slice(0, 80) && source.present && source.path === folder)) continue;
    if (!(await stat(folder).catch(() => null))) continue;
    const source = await meetSource(app, library, { kind: 'card', slug, name: slug, path: folder });
    await db('sources').where('id', source.id).update({ present: true, put_off: false, removed_at: null });
    await ask(db, library, 'list', source.id);
    app.changed(library, 'sources');
  }
}

async function lookForAll(app: App): Promise<void> {
  for (const { id } of await app.db('libraries').whereNull('removed_at').orderBy('id').select('id'))
    await lookForCards(app, id);
}

/** How often the roots are looked at besides: a card mounted over an empty folder makes no noise. */
const EVERY = 5000;

/** Watches the roots for cards and phones that show up or go, for every library there is, until stopped. */
export function watchCards(app: App): { stop: () => Promise<void> } {
  let looking: Promise<void> | null = null;
  let again = false;
  const look = () => {
    if (looking) {
      again = true;
      return;
    }
    looking = lookForAll(app)
      .catch((error: unknown) => console.error('cards:', error instanceof Error ? error.message : error))
      .finally(() => {
        looking = null;
        if (again) {
          again = false;
          look();
        }
      });
  };
  const watcher: FSWatcher = watch(app.config.roots, { depth: 0, ignoreInitial: true, ignorePermissionErrors: true });
  watcher
    .on('addDir', look)
    .on('unlinkDir', look)
    .on('error', () => undefined);
  const timer = setInterval(look, EVERY);
  look();
  return {
    stop: async () => {
      clearInterval(timer);
      await watcher.close();
      await looking;
    },
  };
}
