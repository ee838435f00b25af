import { copyFile, mkdir, rename, stat } from 'node:fs/promises';
import path from 'node:path';
import type { App } from '../context';
import { withExiftool } from '../media/metadata';
import { libraryFolder } from '../vault/vault';
import type { GuestRow } from './shares';

/**
 * A full-size copy for guests: the original's pixels untouched, but without what a file says on the side (places,
 * names, serial numbers). How it is turned and its colour profile stay. Made once, kept among the derived files.
 */
export async function guestCopy(app: App, picture: GuestRow): Promise<string> {
  const sha = picture.sha256.toString('hex');
  const file = path.join(app.paths.derived, sha.slice(0, 2), `${sha}-guest.${picture.format}`);
  if (await stat(file).catch(() => null)) return file;
  await mkdir(path.dirname(file), { recursive: true });
  const part = path.join(
    path.dirname(file),
    `${sha}-guest-${process.pid}-${Math.random().toString(36).slice(2)}.${picture.format}`,
  );
  await copyFile(path.join(libraryFolder(app, picture.slug), picture.vault_path), part);
  await withExiftool((tool) => tool.deleteAllTags(part, { retain: ['Orientation', 'ICC_Profile', 'Rotation'] }));
  await rename(part, file);
  return file;
}
