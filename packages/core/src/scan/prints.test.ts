import { LONG, seeded } from '../long.testing';
import { quadSize, straightened } from '../touchup/quad';
import { drawScan, sharedBy, type Wanted } from './drawn.testing';
import { findPrints, readFrom } from './prints';

/** How many prints of some drawn scans are found where they are, how many are missed, and how many are found where none is. */
function tried(wanted: Wanted, seeds: number, from = 1) {
  const figure = { found: 0, missed: 0, besides: 0, worst: 1 };
  for (let seed = from; seed < from + seeds; seed++) {
    const { image, prints } = drawScan(seed, wanted, LONG ? 1200 : 760);
    const left = [...findPrints(image)];
    for (const print of prints) {
      const near = left.map(({ corners }) => sharedBy(print, corners));
      const best = near.length ? near.indexOf(Math.max(...near)) : -1;
      const shared = best < 0 ? 0 : near[best]!;
      figure.worst = Math.min(figure.worst, shared);
      if (shared < 0.95) figure.missed++;
      else {
        figure.found++;
        left.splice(best, 1);
      }
    }
    figure.besides += left.length;
  }
  return figure;
}

describe('findPrints', () => {
  // The short form tries each glass and each border, the long one all of them together.
  const ALL = [
    ['light', 'none'],
    ['dark', 'white'],
    ['light', 'deckle'],
    ['light', 'white'],
    ['dark', 'none'],
    ['dark', 'deckle'],
  ] as const;
  it.each(LONG ? ALL : ALL.slice(0, 3))(
    'on %s glass, border %s: 95 of 100 prints and more, each where it lies',
    (glass, border) => {
      const figure = tried({ glass, border }, LONG ? 60 : 1, 300);
      const all = figure.found + figure.missed;
      process.stdout.write(
        `prints on ${glass} glass, border ${border}: ${figure.found} of ${all} found, ${figure.besides} besides\n`,
      );
      expect(figure.found / all).toBeGreaterThanOrEqual(0.95);
      expect(figure.besides).toBeLessThanOrEqual(all / 50);
    },
  );

  it('finds one print alone, and prints that lie straight', () => {
    expect(tried({ prints: 1 }, LONG ? 20 : 1, 900)).toMatchObject({ missed: 0, besides: 0 });
    // White borders that touch are hard: of those drawn anew one scan in twenty may be taken apart in another way.
    const { missed, besides } = tried({ tilt: 0, prints: 4, border: 'white' }, LONG ? 20 : 1, 960);
    expect(Math.max(missed, besides)).toBeLessThanOrEqual(LONG ? 4 : 0);
  });

  it('tells them in the order in which they are read', () => {
    const { image } = drawScan(7, { prints: 4, tilt: 2, border: 'white' }, 760);
    const middles = findPrints(image).map(({ corners }) => [
      (corners[0] + corners[4]) / 2,
      (corners[1] + corners[5]) / 2,
    ]);
    expect(middles).toHaveLength(4);
    expect(middles[0]![0]).toBeLessThan(middles[1]![0]!);
    expect(middles[1]![1]).toBeLessThan(middles[2]![1]!);
    expect(middles[2]![0]).toBeLessThan(middles[3]![0]!);
  });

  it('finds none on bare glass, in one even colour, and in a picture that fills its frame', () => {
    const random = seeded(5);
    const [width, height] = [600, 800];
    const even = new Uint8Array(3 * width * height).fill(244);
    expect(findPrints({ width, height, data: even })).toEqual([]);
    const bare = even.map((v) => v - Math.floor(random() * 6));
    expect(findPrints({ width, height, data: bare })).toEqual([]);
    const scene = even.map(
      (_, i) => 120 + 100 * Math.sin(i / 3 / width / 40) * Math.cos((i % (3 * width)) / 90) + random() * 20,
    );
    expect(findPrints({ width, height, data: scene })).toEqual([]);
    expect(findPrints({ width: 1, height: 1, data: new Uint8Array(3) })).toEqual([]);
  });
});

describe('readFrom', () => {
  it('begins a print at another corner: the picture is turned, and keeps its shape', () => {
    const corners = [0.1, 0.2, 0.5, 0.2, 0.5, 0.9, 0.1, 0.9] as const;
    expect(readFrom(corners, 0)).toEqual([...corners]);
    expect(readFrom(corners, 2)).toEqual([0.5, 0.9, 0.1, 0.9, 0.1, 0.2, 0.5, 0.2]);
    expect(readFrom(corners, -1)).toEqual(readFrom(corners, 3));
    const [width, height] = quadSize(100, 100, corners);
    expect(quadSize(100, 100, readFrom(corners, 1))).toEqual([height, width]);
  });

  it('turned by half, what stood at the bottom right stands at the top left', () => {
    const image = { width: 40, height: 40, data: new Uint8Array(3 * 40 * 40) };
    for (let y = 24; y < 40; y++)
      for (let x = 24; x < 40; x++) image.data.fill(200, 3 * (y * 40 + x), 3 * (y * 40 + x) + 3);
    const turned = straightened(image, readFrom([0.25, 0.25, 0.95, 0.25, 0.95, 0.95, 0.25, 0.95], 2));
    expect(turned.data[3 * (turned.width * 2 + 2)]).toBeGreaterThan(150);
    expect(turned.data[3 * (turned.width * (turned.height - 2) + turned.width - 2)]).toBeLessThan(50);
  });
});
