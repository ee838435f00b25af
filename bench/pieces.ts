/**
 * A family book of PICTURES (400) pictures of 12 megapixels, against reading and sizing each of them once with the same threads; a film of three
 * minutes at 720 lines; and the memory beside both.
 */
import { createHash } from 'node:crypto';
import { mkdir, readFile, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import sharp from 'sharp';
import { PLAIN_BOOK, PLAIN_SHOW } from '@gemmel/core';
import { derivedBase } from '../apps/server/src/context';
import { pieceFolder } from '../apps/server/src/piece/folder';
import { makePiece, pieceById } from '../apps/server/src/piece/pieces';
import { producePiece } from '../apps/server/src/piece/produce';
import { benchEngine, line } from './engine';
import { fill } from './synthetic';

const COUNT = Number(process.env['PICTURES'] ?? 400);

async function main(): Promise<void> {
  const engine = await benchEngine();
  const { app } = engine;
  const { db } = app;
  await fill(app, COUNT, true);
  const rows = await db('pictures').where('library_id', 1).orderBy('id').select('id');
  const [width, height] = [4000, 3000];
  // A picture with something in it, each a little different.
  const noise = await sharp({
    create: { width, height, channels: 3, background: '#888888', noise: { type: 'gaussian', mean: 128, sigma: 30 } },
  })
    .blur(3)
    .jpeg({ quality: 92 })
    .toBuffer();
  // What the screen is shown of each was made when it came in.
  const large = await sharp(noise).resize(1600, 1600, { fit: 'inside' }).jpeg({ quality: 92 }).toBuffer();
  const files: string[] = [];
  for (const [i, { id }] of rows.entries()) {
    const bytes = Buffer.concat([noise, Buffer.from(`picture ${i}`)]);
    const vault_path = `2026/2026-05-01 Event ${Math.floor(i / 20)}/IMG_${i}.jpg`;
    const file = path.join(app.paths.vault, 'home', vault_path);
    await mkdir(path.dirname(file), { recursive: true });
    await writeFile(file, bytes);
    files.push(file);
    const sha256 = createHash('sha256').update(bytes).digest();
    const derived = `${derivedBase(app, sha256.toString('hex'))}-large.jpg`;
    await mkdir(path.dirname(derived), { recursive: true });
    await writeFile(derived, large);
    const upright = i % 4 === 3;
    await db('pictures')
      .where('id', id)
      .update({
        sha256,
        bytes: bytes.length,
        vault_path,
        format: 'jpg',
        kind: 'photo',
        run_id: null,
        alike_id: null,
        likeness: null,
        width: upright ? height : width,
        height: upright ? width : height,
        view: null,
        recipe: null,
      });
  }
  const by = { library: 1, member: null };
  const make = async (name: string, settings: object, ids: number[]) => {
    const { id } = await makePiece(app, by, { name, source: { ids }, settings: settings as never });
    let most = 0;
    const watch = setInterval(() => (most = Math.max(most, process.memoryUsage.rss())), 100);
    const began = performance.now();
    await producePiece(app, { library: 1, about: id, signal: new AbortController().signal, report: () => undefined });
    const took = (performance.now() - began) / 1000;
    clearInterval(watch);
    const { made } = await pieceById(app, 1, id);
    if (!made || made.missing.length) throw new Error(`${name}: ${made?.missing.length} missing`);
    await rm(pieceFolder(app, id), { recursive: true, force: true });
    return { took, most, file: made.files[0]! };
  };
  const ids = rows.map(({ id }) => id);
  // The floor: each picture read and sized once, as many at a time as there are threads.
  const began = performance.now();
  const waiting = files[Symbol.iterator]();
  sharp.concurrency(1);
  await Promise.all(
    Array.from({ length: app.config.threads }, async () => {
      for (const file of waiting)
        await sharp(await readFile(file))
          .resize(1200, 1200, { fit: 'inside' })
          .jpeg({ quality: 90 })
          .toBuffer();
    }),
  );
  const floor = (performance.now() - began) / 1000;
  const book = await make('Book', { kind: 'book', ...PLAIN_BOOK, chapters: 'events' }, ids);
  line(
    `a book of ${book.file.pages} pages, ${Math.round(book.file.bytes / 1e6)} MB`,
    `${book.took.toFixed(1)} s against ${floor.toFixed(1)} s: ${(book.took / floor).toFixed(2)} x`,
  );
  line('memory of the whole process', `${Math.round(book.most / 1e6)} MB`);
  const film = await make(
    'Film',
    {
      kind: 'film',
      language: 'en',
      lines: 720,
      shape: 'wide',
      sound: true,
      show: { ...PLAIN_SHOW, cards: false, pairs: false },
    },
    ids.slice(0, 36),
  );
  line(`a film of ${film.file.seconds} s, ${Math.round(film.file.bytes / 1e6)} MB`, `${film.took.toFixed(1)} s`);
  line('memory of the whole process', `${Math.round(film.most / 1e6)} MB`);
  await engine.end();
}

void main().then(() => process.exit(0));
