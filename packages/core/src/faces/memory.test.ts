import fc from 'fast-check';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import wabt from 'wabt';
import { chooseExemplars, EXEMPLARS, type NamedFace } from './exemplars';
import { pairOf, remember, type ToldFace } from './memory';
import { SCAN_CODE } from './scanCode';
import { unit } from './vector';

/** A unit vector in the plane of the first two of sixteen axes, at an angle in degrees. */
const at = (degrees: number): Float32Array => {
  const v = new Float32Array(16);
  v[0] = Math.cos((degrees * Math.PI) / 180);
  v[1] = Math.sin((degrees * Math.PI) / 180);
  return v;
};

describe('exemplars', () => {
  const face = (degrees: number, more: Partial<NamedFace> = {}): NamedFace => ({
    vector: at(degrees),
    quality: 0.8,
    day: 20_000,
    ...more,
  });
  test('few faces all stand for their person; of many, the best and those farthest apart in looks', () => {
    expect(chooseExemplars([face(0), face(1), face(2)])).toEqual([0, 1, 2]);
    const many = [...Array.from({ length: 20 }, (_, i) => face(i / 10)), face(60, { quality: 1 }), face(120)];
    const chosen = chooseExemplars(many, 3);
    expect(chosen).toContain(20);
    expect(chosen).toContain(21);
  });
  test('faces of other years are chosen though they look alike', () => {
    const many = [...Array.from({ length: 20 }, (_, i) => face(i)), face(5.5, { day: 20_000 - 12 * 365 })];
    expect(chooseExemplars(many, 3)).toContain(20);
  });
  test('a blurred face does not push out a clear one', () => {
    const many = [face(0, { quality: 1 }), face(40), face(45, { quality: 0.02 }), face(2), face(3)];
    expect(chooseExemplars(many, 2)).toEqual([0, 1]);
  });
  test('of equally good faces the same are chosen whatever the order', () => {
    // Two of the same quality begin the choice; which of them did once hung on which came first.
    const faces = [3289, 1358, 2804].map((t) => face(t / 10, { quality: 0.3 + (t % 97) / 200 }));
    const chosen = chooseExemplars(faces, 2).map((i) => faces[i]!);
    const back = [...faces].reverse();
    expect(new Set(chooseExemplars(back, 2).map((i) => back[i]!))).toEqual(new Set(chosen));
  });
  test('never more than asked for, none twice, the same whatever the order', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.integer({ min: 0, max: 3599 }), { minLength: 1, maxLength: 60 }),
        fc.integer({ min: 1, max: 30 }),
        (tenths, most) => {
          const faces = tenths.map((t) => face(t / 10, { quality: 0.3 + (t % 97) / 200 }));
          const chosen = chooseExemplars(faces, most);
          expect(chosen).toHaveLength(Math.min(most, faces.length));
          expect(new Set(chosen).size).toBe(chosen.length);
          const back = chooseExemplars([...faces].reverse(), most).map((i) => tenths[faces.length - 1 - i]!);
          expect(new Set(back)).toEqual(new Set(chosen.map((i) => tenths[i]!)));
        },
      ),
      { numRuns: 80 },
    );
  });
});

describe('what named faces say', () => {
  let state = 4;
  const random = () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32 - 0.5;
  const told = (id: number, person: number, degrees: number, picture = id): ToldFace => ({
    id,
    person,
    picture,
    vector: unit(at(degrees).map((x) => x + 0.02 * random())),
    height: 90,
    quality: 0.8,
    at: (20_000 + (picture % 5)) * 1440,
    event: picture % 2,
    clothes: null,
  });
  const years = (person: number, from: number, step: number, first: number) =>
    Array.from({ length: 8 }, (_, i) => told(first + i, person, from + step * i));

  test('people whose faces lie among each other’s are look-alikes; others are not', () => {
    const { alike } = remember([...years(1, 0, 6, 1), ...years(2, 3, 6, 20), ...years(3, 150, 6, 40)], []);
    expect([...alike]).toEqual([pairOf(1, 2)]);
  });
  test('of people known by one or two faces only very near ones are', () => {
    expect(remember([told(1, 1, 0), told(2, 2, 20)], []).alike.has(pairOf(1, 2))).toBe(true);
    expect(remember([told(1, 1, 0), told(2, 2, 80)], []).alike.size).toBe(0);
  });
  test('who is with whom, in which event and on which day is counted by pictures; a face without a description counts', () => {
    const bare = { ...told(9, 2, 0, 1), vector: new Float32Array(0) };
    const memory = remember([told(1, 1, 0, 1), bare, told(3, 1, 5, 3), told(4, 1, 9, 2)], []);
    expect(memory.seen.get(1)).toBe(3);
    expect(memory.together.get(pairOf(2, 1))).toBe(1);
    expect(memory.events.get(1)!.people.get(1)!.size).toBe(2);
    expect(memory.all).toBe(3);
    expect(memory.exemplars.every((e) => e.person === 1)).toBe(true);
    expect(memory.days.get(20_001)!.map((f) => f.id)).toEqual([1, 9]);
  });
  test('nobody is remembered by more faces than compare quickly', () => {
    const many = Array.from({ length: 80 }, (_, i) => told(i + 1, 1, i));
    expect(remember(many, []).exemplars).toHaveLength(EXEMPLARS);
  });
});

test('the assembled code is that of scan.wat', async () => {
  const { parseWat } = await wabt();
  const source = readFileSync(path.join(__dirname, 'scan.wat'), 'utf8');
  const { buffer } = parseWat('scan.wat', source, { simd: true }).toBinary({});
  expect(Buffer.from(buffer).toString('base64')).toBe(SCAN_CODE);
});
