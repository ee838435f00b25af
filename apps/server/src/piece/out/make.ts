import type { PieceSettings } from '@gemmel/contract';
import { safeFolderName } from '@gemmel/core';
import { makeZip } from 'client-zip';
import { stringify } from 'csv-stringify/sync';
import { createReadStream, createWriteStream } from 'node:fs';
import { mkdir, rename, stat, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { manifestOf, shelvesOf } from '../../album/manifest';
import { fileName, type Made, type Making } from '../maker';
import { makeCopies, putWhole, sizeOf, type Copy } from './copies';

type OutMaking = Making<Extract<PieceSettings, { kind: 'out' }>>;

/** The albums that hold any of these pictures, each as JSON and as a table, with those pictures alone. */
async function albumsOf({ app, library, of, parts }: OutMaking, copies: readonly Copy[]): Promise<Copy[]> {
  const { db } = app;
  const ids = new Set(of.pictures.map(({ id }) => id));
  const fileById = new Map(copies.flatMap((copy) => (copy.picture === null ? [] : [[copy.picture, copy.to] as const])));
  const shas = new Map(
    (
      await db('pictures')
        .where('library_id', library)
        .whereIn('id', [...ids])
        .select('id', 'sha256')
    ).map(({ id, sha256 }) => [sha256.toString('hex'), id]),
  );
  const rows = await db('albums')
    .where('library_id', library)
    .whereNull('removed_at')
    .whereIn(
      'id',
      db('album_pictures')
        .whereIn('picture_id', [...ids])
        .select('album_id'),
    )
    .orderBy('id');
  const shelves = await shelvesOf(app, library);
  const out: Copy[] = [];
  for (const row of rows) {
    const whole = await manifestOf(app, library, row, shelves);
    const items = whole.items.flatMap((item) => {
      if (!('picture' in item)) return [item];
      const file = fileById.get(shas.get(item.picture) ?? 0);
      return file ? [{ ...item, file }] : [];
    });
    const mine = (list: readonly string[]) => list.filter((sha) => shas.has(sha));
    const manifest = {
      ...whole,
      items,
      putIn: mine(whole.putIn),
      keptOut: mine(whole.keptOut),
      cover: whole.cover && shas.has(whole.cover) ? whole.cover : null,
    };
    const base = `${safeFolderName(row.name) || 'Album'} (${row.id})`;
    const table = items.map((item) =>
      'picture' in item ? [item.file, '', ''] : ['', item.heading ?? '', item.note ?? ''],
    );
    for (const [ending, text] of [
      ['json', JSON.stringify(manifest, null, 1)],
      ['csv', stringify([['file', 'heading', 'note'], ...table])],
    ] as const) {
      const file = path.join(parts, `album-${row.id}.${ending}`);
      await writeFile(file, text);
      out.push({ file, to: `albums/${base}.${ending}`, picture: null });
    }
  }
  return out;
}

/** Writes copies into one ZIP: pictures as they are, since they hardly get smaller. */
async function zipped(
  to: string,
  copies: readonly Copy[],
  { signal, report }: OutMaking,
  from: number,
): Promise<number> {
  const entries = async function* () {
    for (const [i, copy] of copies.entries()) {
      signal.throwIfAborted();
      const { size, mtime } = await stat(copy.file);
      yield {
        name: copy.to,
        size,
        lastModified: mtime,
        input: Readable.toWeb(createReadStream(copy.file)) as ReadableStream<Uint8Array>,
      };
      report(from + i + 1, from + copies.length);
    }
  };
  const half = `${to}.part`;
  await pipeline(Readable.fromWeb(makeZip(entries()) as never), createWriteStream(half));
  await rename(half, to);
  return (await stat(to)).size;
}

/** Gives copies out: as a ZIP, or into a folder of this machine. What is there already of the same size is left as it is. */
export async function makeOut(making: OutMaking): Promise<Made> {
  const { name, settings, of, to, signal, report } = making;
  const { copies, missing } = await makeCopies(making);
  const pictures = of.pictures.length;
  const all = [...copies, ...(settings.albums ? await albumsOf(making, copies) : [])];
  if (settings.folder === null) {
    const file = `${fileName(name)}.zip`;
    const bytes = await zipped(path.join(to, file), all, making, pictures);
    return { files: [{ name: file, bytes, pages: null, seconds: null }], missing };
  }
  const root = path.join(settings.folder, fileName(name));
  await mkdir(root, { recursive: true });
  for (const [i, copy] of all.entries()) {
    signal.throwIfAborted();
    const target = path.join(root, copy.to);
    const there = await stat(target).catch(() => null);
    if (there?.size !== (await sizeOf(copy))) await putWhole(copy.file, target);
    report(pictures + i + 1, pictures + all.length);
  }
  return { files: [], missing };
}
