import type { FaceAnswer } from '@gemmel/contract';
import { boxOut, sameSpot } from '@gemmel/core';
import { perform, type By } from '../act/perform';
import { derivedBase, type App } from '../context';
import { notFound, refused } from '../problem';
import { isTurned, recipeIn, wholeSize } from '../touchup/key';
import { viewReady } from '../touchup/views';
import { takenSha } from '../touchup/original';
import { fileFaces, type Answered } from './answers';
import type { DescribedFace } from './describe';

/** Marks a face that was missed; described where it can be, so that it helps to recognise others. */
export async function drawFace(
  app: App,
  by: By,
  picture: number,
  box: readonly [number, number, number, number],
  is: Exclude<FaceAnswer['is'], string> | null,
): Promise<Answered & { act: number | null }> {
  const { db } = app;
  const { library } = by;
  const row = await db('pictures')
    .where({ id: picture, library_id: library })
    .first('sha256', 'of_sha', 'view', 'height', 'whole_height', 'width', 'whole_width', 'recipe');
  if (!row) throw notFound('picture');
  const recipe = recipeIn(row.recipe);
  // It was drawn on what is shown; faces are kept where they are in the picture as it was taken.
  const [x, y, wide, tall] = recipe ? boxOut(recipe, ...wholeSize(row), box) : box;
  const [w, h] = [Math.min(wide, 1 - x), Math.min(tall, 1 - y)];
  const marked = await db('faces')
    .where('picture_id', picture)
    .whereNot('state', 'not a face')
    .select('x', 'y', 'w', 'h');
  if (marked.some((face) => sameSpot(face, { x, y, w, h }))) throw refused('face-marked');
  const { recognise } = (await db('libraries').where('id', library).first('recognise'))!;
  // Upside down it could not be described.
  const turned = isTurned(recipe) ? row.view : null;
  if (turned && recognise) await viewReady(app, library, turned);
  const described = recognise
    ? ((await app.pool.run(
        {
          file: `${derivedBase(app, (turned ?? takenSha(row)).toString('hex'))}-large.jpg`,
          box: turned ? [...box] : [x, y, w, h],
          models: app.config.models,
        },
        { name: 'describe' },
      )) as DescribedFace | null)
    : null;
  const bytes = (v: Float32Array | undefined) =>
    v ? Buffer.from(v.buffer, v.byteOffset, v.byteLength) : Buffer.alloc(0);
  return perform(app, by, 'draw face', async (act) => {
    const [id] = (await act.trx('faces').insert({
      library_id: library,
      picture_id: picture,
      x,
      y,
      w,
      h,
      height_px: Math.min(65_000, Math.round(h * (row.whole_height ?? row.height))),
      quality: described?.quality ?? 0,
      eyes: described?.eyes ?? null,
      sharp: described?.sharp ?? null,
      turn: described?.turn ?? null,
      vector_a: bytes(described?.a),
      vector_b: bytes(described?.b),
      clothes: described?.clothes ? Buffer.from(described.clothes) : null,
      drawn: true,
    })) as [number];
    act.made('faces', id);
    return is === null ? { said: '' } : fileFaces(act, { faces: [id], odd: [], is });
  });
}
