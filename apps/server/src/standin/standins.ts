import { t } from '@lingui/core/macro';
import { cp, mkdir, readdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import path from 'node:path';
import type { App } from '../context';
import { addPhone, renewPassword } from '../gather/sources';
import { walk } from '../intake/announce';
import { CannotStart } from '../cannotStart';

/** The made-up cards and phones that are not in the demo library yet. */
const later = (root: string) => path.join(root, 'demo/later');

async function pictures(root: string, name: string): Promise<string> {
  const folder = path.join(later(root), path.basename(name));
  if ((await stat(folder).catch(() => null))?.isDirectory()) return folder;
  const all = await readdir(later(root)).catch(() => []);
  throw new CannotStart(t`There is no stand-in called “${name}”. There is: ${all.join(', ')}.`);
}

/** A made-up card shows up as a folder, as if somebody had put it in. */
export async function insertCard(root: string, data: string, name: string): Promise<string> {
  const from = await pictures(root, name);
  const to = path.join(data, 'inbox', path.basename(name));
  await mkdir(path.dirname(to), { recursive: true });
  await cp(from, to, { recursive: true, preserveTimestamps: true });
  return to;
}

/** The made-up card is taken out again. */
export async function ejectCard(root: string, data: string, name: string): Promise<void> {
  await pictures(root, name);
  await rm(path.join(data, 'inbox', path.basename(name)), { recursive: true, force: true });
}

/** Where a made-up second disk shows up: beside the data folder, as another disk would be. */
const diskOf = (data: string, name: string): string => path.join(path.dirname(data), path.basename(name));
const pulledOf = (data: string, name: string): string =>
  path.join(path.dirname(data), `.${path.basename(name)}-pulled`);

/** A made-up second disk is plugged in: a folder shows up, with what it held. Answers where. */
export async function plugDisk(data: string, name: string): Promise<string> {
  const disk = diskOf(data, name);
  await rename(pulledOf(data, name), disk).catch(async (error: NodeJS.ErrnoException) => {
    if (error.code !== 'ENOENT') throw error;
    await mkdir(disk, { recursive: true });
  });
  return disk;
}

/** The made-up disk is pulled out: its folder is gone, and comes back with what it held. */
export async function pullDisk(data: string, name: string): Promise<void> {
  await rename(diskOf(data, name), pulledOf(data, name));
}

/** The made-up phone's own password, as its sync application would keep it. */
async function keyOf(app: App, library: number, name: string): Promise<{ slug: string; password: string }> {
  const note = path.join(app.config.data, 'standins.json');
  const kept = await readFile(note, 'utf8').then(
    (text) => JSON.parse(text) as Record<string, { slug: string; password: string }>,
    (): Record<string, { slug: string; password: string }> => ({}),
  );
  const there = await app
    .db('sources')
    .where({ library_id: library, kind: 'phone', slug: name })
    .whereNull('removed_at')
    .first('id');
  if (kept[name] && there) return kept[name];
  const { slug, password } = there ? await renewPassword(app, library, there.id) : await addPhone(app, library, name);
  await writeFile(note, JSON.stringify({ ...kept, [name]: { slug, password } }), { mode: 0o600 });
  return { slug, password };
}

/** A made-up phone delivers its pictures over WebDAV, through a client that knows nothing of Gemmel. */
export async function syncPhone(
  app: App,
  library: number,
  root: string,
  address: string,
  name: string,
  told: (done: number, total: number) => void = () => undefined,
): Promise<{ sent: number; there: number }> {
  const folder = await pictures(root, name);
  const { slug, password } = await keyOf(app, library, name);
  const { createClient } = await import('webdav');
  const phone = createClient(`${address}/dav/${slug}`, { username: slug, password });
  const files = await walk(folder);
  let sent = 0;
  for (const [i, file] of files.entries()) {
    const at = `/${file.path.split('/').slice(1).join('/')}`;
    await phone.createDirectory(path.posix.dirname(at), { recursive: true }).catch(async (error: unknown) => {
      if (!(await phone.exists(path.posix.dirname(at)))) throw error;
    });
    if (!(await phone.exists(at))) {
      await phone.putFileContents(at, await readFile(file.source!), { overwrite: true });
      sent++;
    }
    told(i + 1, files.length);
  }
  return { sent, there: files.length - sent };
}
