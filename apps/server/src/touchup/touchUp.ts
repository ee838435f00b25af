import { isAsTaken, plainRecipe, type Recipe } from '@gemmel/core';
import type { Answer, Api } from '@gemmel/contract';
import { perform, type By } from '../act/perform';
import type { App } from '../context';
import { setMany } from '../db/setMany';
import { notFound } from '../problem';
import { lookColumns, recipeIn, wholeSize } from './key';
import { takenSha } from './original';

/** Parts of a recipe that are copied from one picture to another: its light and colours, or all of it. */
const COLOURS = ['light', 'colour', 'grey', 'detail', 'by', 'tones'] as const;

/** A picture's own recipe with the light and colours of another one. */
export function withColoursOf(own: Recipe | null, from: Recipe): Recipe {
  const kept = Object.fromEntries(
    Object.entries(own ?? { v: 1 }).filter(([part]) => !(COLOURS as readonly string[]).includes(part)),
  );
  const given = Object.fromEntries(
    Object.entries(from).filter(([part]) => (COLOURS as readonly string[]).includes(part)),
  );
  return { ...kept, ...given, v: 1 } as Recipe;
}

/**
 * Shows pictures by a recipe, or as they were taken with null; with `colours`, only its light and colours are taken and each keeps its
 * own frame. The originals stay. What each looked like before is kept, as far back as the library wants it.
 */
export const touchUp = (
  app: App,
  by: By,
  ids: readonly number[],
  recipe: Recipe | null,
  colours = false,
): Promise<{ act: number | null }> =>
  perform(app, by, 'touch up', async ({ trx, library, member, hold, words, then }) => {
    const wanted = [...new Set(ids)];
    await hold('pictures', wanted);
    const rows = await trx('pictures')
      .where({ library_id: library, kind: 'photo' })
      .whereIn('id', wanted)
      .orderBy('id')
      .select('id', 'sha256', 'of_sha', 'width', 'height', 'whole_width', 'whole_height', 'recipe');
    if (rows.length < wanted.length) throw notFound('pictures');
    const changes = rows.map((row) => {
      const own = recipeIn(row.recipe);
      return { row, set: lookColumns(row, recipe && colours ? withColoursOf(own, recipe) : recipe) };
    });
    const changed = changes.filter(({ row, set }) => row.recipe !== set.recipe);
    await setMany(
      trx,
      library,
      'pictures',
      changed.map(({ row, set }) => ({ id: row.id, set })),
    );
    if (changed.length)
      await trx('picture_looks').insert(
        changed.map(({ row, set }) => ({
          library_id: library,
          picture_id: row.id,
          member_id: member,
          recipe: set.recipe,
        })),
      );
    const { looks_kept: kept } = (await trx('libraries').where('id', library).first('looks_kept'))!;
    if (kept !== null)
      for (const { row } of changed) {
        const old = await trx('picture_looks')
          .where('picture_id', row.id)
          .orderBy('id', 'desc')
          .offset(kept)
          .limit(1000)
          .select('id');
        await trx('picture_looks')
          .whereIn(
            'id',
            old.map((one) => one.id),
          )
          .delete();
      }
    words({
      what: recipe && !isAsTaken(recipe) ? Object.keys(plainRecipe(recipe)).filter((part) => part !== 'v') : [],
    });
    then('views');
  });

/** How a picture is shown and was before, and what there is to work with: its size and its faces as it was taken. */
export async function lookOf({ db }: App, library: number, id: number): Promise<Answer<Api['look']>> {
  const row = await db('pictures').where({ id, library_id: library, kind: 'photo' }).first();
  if (!row) throw notFound('picture');
  const [width, height] = wholeSize(row);
  const faces = await db('faces').where('picture_id', id).whereNot('state', 'not a face').select('x', 'y', 'w', 'h');
  const looks = await db('picture_looks as l')
    .leftJoin('members as m', 'm.id', 'l.member_id')
    .where('l.picture_id', id)
    .orderBy('l.id', 'desc')
    .limit(100)
    .select('l.id', 'l.recipe', 'l.at', 'm.name as by');
  const last = await db('picture_looks')
    .where('library_id', library)
    .whereNotNull('recipe')
    .orderBy('id', 'desc')
    .first('recipe');
  return {
    recipe: recipeIn(row.recipe),
    sha: takenSha(row).toString('hex'),
    width,
    height,
    faces: faces.map(({ x, y, w, h }) => [x, y, x + w, y + h] as [number, number, number, number]),
    looks: looks.map((look) => ({
      id: look.id,
      recipe: recipeIn(look.recipe),
      at: `${look.at.replace(' ', 'T')}Z`,
      by: look.by as string | null,
    })),
    last: last ? recipeIn(last.recipe) : null,
  };
}

/** Sets how many of a picture's earlier looks are kept; null: all of them. */
export const setLooksKept = (app: App, by: By, kept: number | null): Promise<{ act: number | null }> =>
  perform(app, by, 'looks kept', async ({ trx, library, hold, words }) => {
    await hold('libraries', [library]);
    await trx('libraries').where('id', library).update({ looks_kept: kept });
    words(kept === null ? {} : { n: kept });
  });
