import { boxOut, sameSpot, type Recipe } from '@gemmel/core';
import path from 'node:path';
import { derivedBase, type App } from '../context';
import type { PicturesRow } from '../db/tables';
import { ask } from '../jobs/jobs';
import { defineJob, type Job } from '../jobs/kind';
import { pictureInside } from '../media/raw';
import { sniffFile } from '../media/sniff';
import { isTurned, recipeIn, wholeSize } from '../touchup/key';
import { originalOf } from '../touchup/original';
import { viewReady } from '../touchup/views';
import { discard } from '../vault/vault';
import type { PreparedFace } from './describe';

type Row = Pick<PicturesRow, 'id' | 'recipe' | 'view' | 'width' | 'height' | 'whole_width' | 'whole_height'>;

const bytes = (v: Float32Array) => Buffer.from(v.buffer, v.byteOffset, v.byteLength);

/** What is kept of a found face beside its place. */
const described = (f: PreparedFace) => ({
  quality: f.quality,
  eyes: f.eyes,
  sharp: f.sharp,
  turn: f.turn,
  vector_a: bytes(f.a),
  vector_b: bytes(f.b),
  clothes: f.clothes && Buffer.from(f.clothes),
});

/**
 * Looks for faces in every picture that still waits for it, one after another: after recognition was switched on again, and
 * in what came in while it was off. Goes on where it was after a crash, and stops when it is switched off.
 */
export async function seekLibrary(app: App, { library }: Job): Promise<void> {
  const { db } = app;
  let told = Date.now();
  for (;;) {
    const { recognise } = (await db('libraries').where('id', library).first('recognise'))!;
    if (!recognise) return;
    const rows = await db('pictures')
      .where({ library_id: library, faces_sought: false })
      .orderBy('id', 'desc')
      .limit(app.config.threads)
      .select('id', 'recipe', 'view', 'width', 'height', 'whole_width', 'whole_height');
    if (rows.length === 0) break;
    await Promise.all(rows.map((row) => seekIn(app, library, row)));
    if (Date.now() - told > 1500) {
      told = Date.now();
      app.worked(library, 'people');
    }
  }
  await ask(db, library, 'faces');
  app.worked(library, 'people', 'pictures', 'library');
}

/** A face that was found in what is shown, as it lies in the picture as it was taken. */
function asTaken(row: Row, recipe: Recipe, face: PreparedFace): PreparedFace {
  const [x, y, w, h] = boxOut(recipe, ...wholeSize(row), [face.x, face.y, face.w, face.h]);
  return { ...face, x, y, w, h, heightPx: Math.min(65_000, Math.round(face.h * row.height)) };
}

async function seekIn(app: App, library: number, row: Row): Promise<void> {
  const { db } = app;
  const recipe = recipeIn(row.recipe);
  const turned = isTurned(recipe) && row.view;
  if (turned) await viewReady(app, library, turned);
  const file = turned
    ? `${derivedBase(app, turned.toString('hex'))}-large.jpg`
    : ((await originalOf(app, library, row.id))?.file ?? '');
  const kind = await sniffFile(file).catch(() => null);
  const inside = kind?.raw ? await pictureInside(file, path.join(app.paths.incoming, `seek-${row.id}`)) : null;
  try {
    const seen = kind
      ? ((await app.pool.run({ file, kind, models: app.config.models, inside }, { name: 'seek' })) as
          PreparedFace[] | null)
      : null;
    // Faces are kept where they are in the picture as it was taken.
    const found = turned ? seen?.map((face) => asTaken(row, recipe, face)) : seen;
    await db.transaction(async (trx) => {
      // Recognition may have been switched off while this picture was looked at: then nothing is kept.
      const { recognise } = (await trx('libraries').where('id', library).forUpdate().first('recognise'))!;
      if (!recognise) return;
      const there = (await trx('faces as f')
        .leftJoin('people as n', 'n.id', 'f.person_id')
        .where('f.picture_id', row.id)
        .select('f.id', 'f.x', 'f.y', 'f.w', 'f.h', 'n.recognised', trx.raw('LENGTH(f.vector_a) AS described'))) as {
        id: number;
        x: number;
        y: number;
        w: number;
        h: number;
        recognised: number | null;
        described: number;
      }[];
      for (const face of found ?? []) {
        const known = there.find((spot) => sameSpot(spot, face));
        if (!known)
          await trx('faces').insert({
            library_id: library,
            picture_id: row.id,
            x: face.x,
            y: face.y,
            w: face.w,
            h: face.h,
            height_px: face.heightPx,
            ...described(face),
          });
        else if (!known.described && known.recognised !== 0)
          await trx('faces')
            .where('id', known.id)
            .update({ height_px: face.heightPx, ...described(face) });
      }
      await trx('pictures').where('id', row.id).update({ faces_sought: true });
    });
  } finally {
    if (inside) await discard(inside.file);
  }
}

declare module '../jobs/kind' {
  interface JobPayloads {
    seek: null;
  }
}

/** Looking for faces in pictures that are here already. */
export const seekJob = defineJob({
  kind: 'seek',
  answers: true,
  priority: 7,
  run: seekLibrary,
});
