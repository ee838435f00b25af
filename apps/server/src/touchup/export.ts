import { copyFile, mkdir, rename, stat, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { createHash } from 'node:crypto';
import { derivedBase, type App } from '../context';
import type { PicturesRow } from '../db/tables';
import { withExiftool } from '../media/exiftool';
import { saidOf, toXmp } from '../vault/sidecar';
import { notFound } from '../problem';
import { discard } from '../vault/vault';
import { originalOf } from './original';
import { fullView } from './views';

/**
 * A picture at full size as it is shown: a new file with what its camera wrote and what people said of it. Regions of faces are left
 * out, since they speak of the frame as it was taken. One that is not touched up is its original.
 */
export async function withWords(app: App, picture: PicturesRow): Promise<string> {
  const original = await originalOf(app, picture.library_id, picture.id);
  if (!original) throw notFound('picture');
  const full = await fullView(app, picture);
  if (!full) return original.file;
  const said = (await saidOf(app.db, picture.library_id, [picture.id])).get(picture.id)!;
  const words = toXmp({
    ...said,
    faces: said.faces.filter((face) => face.name).map((face) => ({ ...face, x: 0, y: 0, w: 1, h: 1 })),
  });
  const key = createHash('sha256').update(words).digest('hex').slice(0, 16);
  const file = `${derivedBase(app, picture.view!.toString('hex'))}-full-${key}.jpg`;
  if (await stat(file).catch(() => null)) return file;
  await mkdir(path.dirname(file), { recursive: true });
  const part = `${file}.${process.pid}.${Math.random().toString(36).slice(2)}.jpg`;
  try {
    await writeFile(`${part}.xmp`, words);
    await copyFile(full, part);
    await withExiftool((tool) =>
      tool.write(part, {}, [
        '-tagsFromFile',
        original.file,
        '-EXIF:all',
        '-GPS:all',
        '-tagsFromFile',
        `${part}.xmp`,
        '-XMP:all',
        '-Orientation#=1',
        '-XMP-mwg-rs:all=',
        '-XMP-gemmel:all=',
        '-ThumbnailImage=',
        '-overwrite_original',
        '-m',
      ]),
    );
    await rename(part, file);
  } finally {
    await discard(`${part}.xmp`);
    await discard(part);
  }
  return file;
}
