import { watch } from 'chokidar';
import { stat } from 'node:fs/promises';
import path from 'node:path';
import type { App } from '../context';
import type { Announced } from '../intake/announce';
import { deliver, inTurn } from './ongoing';
import { meetSource } from './sources';

/** Files that another program is still writing go by such names. */
export const HALF = /(^|\/)(\.|~)|\.(part|partial|tmp|temp|crdownload|filepart|download|!ut)$|~$/i;

/** How long a file must not grow before it counts as settled, in ms. */
const SETTLED = 1500;

/**
 * Takes whatever settles in the watched folders, until stopped. A folder directly in a watched one stands for a device;
 * loose files belong to the watched folder itself. What was taken once is not taken again; nothing is removed from there.
 */
export function watchFolders(app: App, library: number): { stop: () => Promise<void> } {
  const waiting = new Map<string, Set<string>>();
  let timer: ReturnType<typeof setTimeout> | null = null;
  let working: Promise<void> = Promise.resolve();
  const flush = () => {
    timer = null;
    const now = new Map(waiting);
    waiting.clear();
    working = working.then(async () => {
      for (const [key, files] of now)
        await takeSettled(app, library, key, [...files]).catch((error: unknown) =>
          console.error('watched folder:', error instanceof Error ? error.message : error),
        );
    });
  };
  const watcher = watch(app.config.watched, {
    awaitWriteFinish: { stabilityThreshold: SETTLED, pollInterval: 250 },
    ignorePermissionErrors: true,
    followSymlinks: false,
    ignored: (file) => app.config.watched.every((root) => root !== file) && HALF.test(path.basename(file)),
  });
  const note = (file: string) => {
    const root = app.config.watched.find((folder) => file.startsWith(folder + path.sep));
    if (!root) return;
    const [first, ...rest] = path.relative(root, file).split(path.sep);
    const key = `${root}\n${rest.length ? first : ''}`;
    waiting.set(key, (waiting.get(key) ?? new Set()).add(file));
    if (timer) clearTimeout(timer);
    timer = setTimeout(flush, 700);
  };
  watcher
    .on('add', note)
    .on('change', note)
    .on('error', () => undefined);
  return {
    stop: async () => {
      if (timer) clearTimeout(timer);
      await watcher.close();
      await working;
    },
  };
}

async function takeSettled(app: App, library: number, key: string, files: readonly string[]): Promise<void> {
  const { db } = app;
  const [root, sub] = key.split('\n') as [string, string];
  const folder = sub ? path.join(root, sub) : root;
  const name = path.basename(folder);
  const source = await meetSource(app, library, { kind: 'folder', slug: sub || name, name, path: folder });
  await inTurn(source.id, async () => {
    const fresh: (Announced & { relative: string })[] = [];
    for (const file of [...files].sort()) {
      const info = await stat(file).catch(() => null);
      if (!info?.isFile()) continue;
      const relative = path.relative(folder, file);
      if (relative.length > 700) continue;
      const modified = Math.round(info.mtimeMs);
      const seen = await db('source_files').where({ source_id: source.id, path: relative }).first('bytes', 'modified');
      if (seen && Number(seen.bytes) === info.size && Number(seen.modified) === modified) continue;
      fresh.push({ path: path.join(name, relative), bytes: info.size, modified, source: file, relative });
    }
    if (fresh.length === 0) return;
    const { items, begin } = await deliver(app, library, source, 'watched', fresh);
    for (const [i, file] of fresh.entries())
      await db('source_files')
        .insert({
          library_id: library,
          source_id: source.id,
          path: file.relative,
          bytes: file.bytes,
          modified: file.modified!,
          item_id: items[i]!,
        })
        .onConflict(['source_id', 'path'])
        .merge(['bytes', 'modified', 'item_id']);
    await begin();
  });
}
