import { openCrop, orientationAfter } from './open';
import { placeOut, turned } from './frame';
import type { Recipe } from './recipe';

/** Four pixels that tell each other apart, shown by an orientation of Exif as its standard says. */
function shown(orientation: number): string {
  // Where the first row and the first column of what is stored are seen (CIPA DC-008, 4.6.4).
  const rows: Record<number, number[]> = {
    1: [1, 2, 3, 4],
    2: [2, 1, 4, 3],
    3: [4, 3, 2, 1],
    4: [3, 4, 1, 2],
    5: [1, 3, 2, 4],
    6: [3, 1, 4, 2],
    7: [4, 2, 3, 1],
    8: [2, 4, 1, 3],
  };
  return rows[orientation]!.join('');
}

const pixels = (text: string) => ({
  width: 2,
  height: 2,
  data: Uint8Array.from([...text].flatMap((c) => [Number(c), Number(c), Number(c)])),
});
const textOf = ({ data }: { data: Uint8Array }) => [0, 3, 6, 9].map((i) => data[i]).join('');
const mirrored = (text: string) => `${text[1]}${text[0]}${text[3]}${text[2]}`;

describe('orientationAfter', () => {
  it('is what shows the stored pixels as the recipe does, for all of them', () => {
    for (let own = 1; own <= 8; own++)
      for (const turn of [undefined, 1, 2, 3] as const)
        for (const mirror of [undefined, true] as const) {
          const by = textOf(turned(pixels(shown(own)), turn ?? 0));
          const wanted = mirror ? mirrored(by) : by;
          const recipe = { ...(turn ? { turn } : {}), ...(mirror ? { mirror } : {}) };
          expect(shown(orientationAfter(own, recipe))).toBe(wanted);
        }
  });
});

describe('openCrop', () => {
  it('is where the corners of the frame stand in the picture as it was taken', () => {
    for (const turn of [undefined, 1, 2, 3] as const)
      for (const mirror of [undefined, true] as const) {
        const recipe: Recipe = {
          v: 1,
          ...(turn ? { turn } : {}),
          ...(mirror ? { mirror } : {}),
          crop: [0.1, 0.2, 0.7, 0.9],
        };
        const [x, y, w, h] = openCrop(recipe, 400, 300)!;
        const ends = [placeOut(recipe, 400, 300, [0, 0]), placeOut(recipe, 400, 300, [1, 1])];
        const left = Math.min(...ends.map(([u]) => u));
        const top = Math.min(...ends.map(([, v]) => v));
        expect([x, y]).toEqual([expect.closeTo(left, 6), expect.closeTo(top, 6)]);
        expect([x + w, y + h]).toEqual([
          expect.closeTo(Math.max(...ends.map(([u]) => u)), 6),
          expect.closeTo(Math.max(...ends.map(([, v]) => v)), 6),
        ]);
      }
  });

  it('is none without a cut, and none of what is no upright rectangle', () => {
    expect(openCrop({ v: 1 }, 400, 300)).toBeNull();
    expect(openCrop({ v: 1, level: 200, crop: [0, 0, 0.5, 1] }, 400, 300)).toBeNull();
  });
});
