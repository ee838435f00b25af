import { placeIn, type Corners, type Recipe } from '@gemmel/core';
import type { Answer, Api } from '@gemmel/contract';
import { perform, type By } from '../act/perform';
import type { App } from '../context';
import { chunks } from '../lists';
import { notFound, refused } from '../problem';
import { lookColumns, recipeIn, wholeSize } from '../touchup/key';
import { makeLook, makingLooks } from '../touchup/looks';
import { withColoursOf } from '../touchup/touchUp';

/** Which of some prints a point of a scan lies on; the first when it lies on none. */
function printAt(prints: readonly Recipe[], size: readonly [number, number], point: readonly [number, number]): number {
  const at = prints.findIndex((recipe) => {
    const [u, v] = placeIn(recipe, ...size, point);
    return u >= 0 && v >= 0 && u <= 1 && v <= 1;
  });
  return Math.max(0, at);
}

/** Whether a print lies upside down or on its side on the glass. */
const liesOver = ({ corners }: Recipe): boolean =>
  corners !== undefined &&
  !(
    corners[0] < corners[4] &&
    corners[1] < corners[5] &&
    corners[2] > corners[0] &&
    corners[2] - corners[0] > Math.abs(corners[3] - corners[1]) * 0.5
  );

/**
 * Takes a scan apart in one act: the picture itself shows its first print from here on, and each further one becomes a picture of its
 * own, a look at the same original with what was said of the whole; faces go with the print they are on. The original stays.
 */
export const takeApart = (
  app: App,
  by: By,
  id: number,
  corners: readonly Corners[],
): Promise<Answer<Api['takeApart']>> =>
  makingLooks(app, by, () =>
    perform(app, by, 'take apart', async (act) => {
      const { trx, library, member, hold, words, then } = act;
      await hold('pictures', [id]);
      const scan = await trx('pictures')
        .where({ id, library_id: library, kind: 'photo' })
        .whereNull('of_sha')
        .forUpdate()
        .first();
      if (!scan) throw notFound('picture');
      const size = wholeSize(scan);
      const own = recipeIn(scan.recipe);
      // Somebody else was first, or it was said in two tabs.
      if (own?.corners) throw refused('apart-already');
      const recipes = corners.map((one): Recipe => {
        const print: Recipe = { v: 1, corners: [...one] as Recipe['corners'] };
        return own ? withColoursOf(print, own) : print;
      });
      const looks: number[] = [];
      for (const [i, recipe] of recipes.slice(1).entries())
        looks.push(await makeLook(app, act, scan, recipe, { called: `print ${i + 2}` }));
      const first = lookColumns(scan, recipes[0]!);
      await trx('pictures').where('id', id).update(first);
      await trx('picture_looks').insert({
        library_id: library,
        picture_id: id,
        member_id: member,
        recipe: first.recipe,
      });
      const faces = await trx('faces').where('picture_id', id).select('id', 'x', 'y', 'w', 'h');
      const to = new Map<number, number[]>();
      for (const { id: face, x, y, w, h } of faces) {
        const at = printAt(recipes, size, [x + w / 2, y + h / 2]);
        if (at > 0) to.set(looks[at - 1]!, [...(to.get(looks[at - 1]!) ?? []), face]);
      }
      await hold('faces', [...to.values()].flat());
      for (const [look, some] of to)
        for (const few of chunks(some, 500)) await trx('faces').whereIn('id', few).update({ picture_id: look });
      // What was found while they lay upside down, and nobody has named, is looked for once more in what is shown.
      const lying = await trx('faces')
        .whereIn('picture_id', [id, ...looks])
        .where({ state: 'waiting', drawn: false })
        .select('id', 'picture_id');
      const doubtful = lying.filter(({ picture_id }) => liesOver(recipes[[id, ...looks].indexOf(picture_id)]!));
      await hold(
        'faces',
        doubtful.map((face) => face.id),
      );
      for (const few of chunks(doubtful, 500))
        await trx('faces')
          .whereIn(
            'id',
            few.map((face) => face.id),
          )
          .delete();
      await trx('pictures')
        .whereIn('id', [id, ...looks])
        .update({ faces_sought: false });
      then('seek');
      words({ n: recipes.length });
      then('views');
      then('faces', 250);
      then('events', 500);
      // How many are in a picture, and who has their eyes shut, goes by its own faces.
      then('observe', 1000);
      return { looks };
    }),
  );
