import type { PieceSettings } from '@gemmel/contract';
import { folderOf, namesBy, RAW_EXTENSIONS, safeFolderName, withEnding, type Nameable } from '@gemmel/core';
import { createHash } from 'node:crypto';
import { mkdir, rename, stat, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { chunks } from '../../context';
import { cleanClip, cleanFormat, cleanPhoto } from '../../media/clean';
import { withExiftool } from '../../media/exiftool';
import { originalOf, type Original } from '../../touchup/original';
import { saidOf, toXmp, type Said } from '../../vault/sidecar';
import { discard } from '../../vault/vault';
import type { Given } from '../giving';
import { writeImage } from '../image';
import type { Making } from '../maker';
import type { PiecePicture } from '../pictures';

type OutMaking = Making<Extract<PieceSettings, { kind: 'out' }>>;

/** A copy that is to be given out, and which picture it is of; null for what lies beside. */
export interface Copy extends Given {
  picture: number | null;
}

/** A name a copy could be given, and the folder it lies in. */
interface Planned {
  picture: PiecePicture;
  format: string;
  to: string;
}

/** Where each copy goes: names by the pattern, in each folder once. */
async function planned({ app, library, of, settings }: OutMaking): Promise<Planned[]> {
  const { db } = app;
  const known = new Map<
    number,
    {
      event: string | null;
      start: string | null;
      device: string | null;
      place: string | null;
      came: string;
      taken: string | null;
    }
  >();
  for (const ids of chunks(
    of.pictures.map(({ id }) => id),
    2000,
  ))
    for (const row of (await db('pictures as p')
      .leftJoin('events as e', 'e.id', 'p.event_id')
      .leftJoin('devices as d', 'd.id', 'p.device_id')
      .leftJoin('own_places as o', 'o.id', 'p.own_place_id')
      .where('p.library_id', library)
      .whereIn('p.id', ids)
      .select(
        'p.id',
        'p.name',
        'p.taken_local',
        'p.day',
        'e.title',
        'e.start_day',
        'd.name as device',
        db.raw('COALESCE(o.name, p.place) AS place'),
      )) as {
      id: number;
      name: string;
      taken_local: string | null;
      day: string | null;
      title: string | null;
      start_day: string | null;
      device: string | null;
      place: string | null;
    }[])
      known.set(row.id, {
        event: row.title,
        start: row.start_day,
        device: row.device,
        place: row.place,
        came: row.name,
        taken: row.taken_local ?? row.day,
      });
  const folders = new Map<string, { picture: PiecePicture; format: string; nameable: Nameable }[]>();
  for (const picture of of.pictures) {
    const row = known.get(picture.id);
    if (!row) continue;
    const event = row.start && [row.start, row.event].filter(Boolean).join(' ');
    const folder = safeFolderName(folderOf({ day: picture.day, event }, settings.folders));
    const format = formatOf(picture, settings);
    const list = folders.get(folder) ?? [];
    folders.set(folder, list);
    list.push({
      picture,
      format,
      nameable: {
        name: withEnding(picture.name, format),
        came: row.came,
        taken: row.taken,
        event: row.event,
        place: row.place,
        device: row.device,
      },
    });
  }
  return [...folders].flatMap(([folder, list]) => {
    const names = namesBy(
      settings.names,
      list.map(({ nameable }) => nameable),
    );
    return list.map(({ picture, format }, i) => ({
      picture,
      format,
      to: folder ? `${folder}/${names[i]!}` : names[i]!,
    }));
  });
}

/** What a copy is written as: clips as they are, negatives without what they say as pictures everybody can open. */
function formatOf({ kind, format }: PiecePicture, settings: OutMaking['settings']): string {
  if (kind === 'video') return format;
  if (settings.format !== 'original') return settings.format;
  return settings.says === 'all' ? format : cleanFormat(format, RAW_EXTENSIONS.has(format));
}

/** What cameras wrote that belongs to a picture that was written anew. */
const WROTE = ['-EXIF:all', '-GPS:all', '-Orientation#=1', '-ThumbnailImage=', '-PreviewImage='];

/** Writes into a copy what it is to say: what the camera wrote, what people said. */
async function tell(file: string, said: Said, original: Original | null): Promise<void> {
  const words = `${file}.xmp`;
  await writeFile(words, toXmp({ ...said, faces: [] }));
  try {
    await withExiftool((tool) =>
      tool.write(file, {}, [
        ...(original ? ['-tagsFromFile', original.file, ...WROTE] : []),
        ...['-tagsFromFile', words, '-XMP:all', '-XMP-gemmel:all=', '-XMP-mwg-rs:all='],
        ...['-overwrite_original', '-m'],
      ]),
    );
  } finally {
    await discard(words);
  }
}

/** Makes one copy, or finds it made by a making that was cut; originals that go out as they are, are not copied first. */
async function copyOf(making: OutMaking, { picture, format }: Planned, said: Said): Promise<string> {
  const { app, library, settings, parts } = making;
  const original = await originalOf(app, library, picture.id);
  if (!original) throw new Error('gone');
  const asItIs = settings.format === 'original' || picture.kind === 'video';
  if (asItIs && settings.says === 'all') {
    await stat(original.file);
    return original.file;
  }
  const { long, quality, says } = settings;
  const words = toXmp(said);
  const key = JSON.stringify([
    picture.id,
    picture.sha,
    original.sha256.toString('hex'),
    format,
    asItIs ? null : [long, quality],
    says,
    says === 'none' ? null : words,
  ]);
  const file = path.join(parts, `${createHash('sha256').update(key).digest('hex').slice(0, 32)}.${format}`);
  if (await stat(file).catch(() => null)) return file;
  const half = path.join(parts, `half-${path.basename(file)}`);
  await discard(half);
  if (!asItIs) {
    const most = long ?? Math.max(picture.width, picture.height);
    await writeImage(
      app,
      library,
      picture.id,
      { part: null, width: most, height: most, format: settings.format as 'jpg', quality },
      half,
    );
  } else if (picture.kind === 'video') await cleanClip(original.file, half, original.format, null);
  else await cleanPhoto(original.file, half, original.format, RAW_EXTENSIONS.has(original.format));
  if (says !== 'none') await tell(half, said, says === 'all' ? original : null);
  await rename(half, file);
  return file;
}

/** What came of making copies: where each is, and the names of those that could not be made. */
export interface Copies {
  copies: Copy[];
  missing: string[];
}

/** Makes all copies of a piece, several at once. */
export async function makeCopies(making: OutMaking): Promise<Copies> {
  const { app, library, of, settings, parts, signal, report } = making;
  await mkdir(parts, { recursive: true });
  const plan = await planned(making);
  const copies: (Copy | null)[] = plan.map(() => null);
  const missing: string[] = [];
  let done = 0;
  for (const some of chunks([...plan.entries()], 200)) {
    const said = await saidOf(
      app.db,
      library,
      some.map(([, { picture }]) => picture.id),
    );
    const waiting = some[Symbol.iterator]();
    const work = async () => {
      for (const [i, one] of waiting) {
        signal.throwIfAborted();
        try {
          copies[i] = {
            file: await copyOf(making, one, said.get(one.picture.id)!),
            to: one.to,
            picture: one.picture.id,
          };
        } catch (error) {
          if ((error as NodeJS.ErrnoException).code === 'ENOSPC') throw error;
          signal.throwIfAborted();
          missing.push(one.picture.name);
        }
        report(++done, of.pictures.length * 2);
      }
    };
    await Promise.all(Array.from({ length: app.config.threads }, work));
    if (!settings.sidecars) continue;
    for (const [i, { picture }] of some) {
      const copy = copies[i];
      if (!copy) continue;
      const file = path.join(parts, `${picture.id}.xmp`);
      await writeFile(file, toXmp(said.get(picture.id)!));
      copies.push({ file, to: `${copy.to}.xmp`, picture: null });
    }
  }
  return { copies: copies.filter((one) => one !== null), missing };
}
