import fc from 'fast-check';
import type { GroupFace } from './appearance';
import { groupFaces } from './group';
import { unit } from './vector';

const LENGTH = 32;
let state = 7;
const random = () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32 - 0.5;
const middles = Array.from({ length: 6 }, () => unit(Float32Array.from({ length: LENGTH }, random)));
const RED = Uint8Array.from({ length: 29 }, (_, i) => (i === 0 ? 255 : 0));
const BLUE = Uint8Array.from({ length: 29 }, (_, i) => (i === 8 ? 255 : 0));

/** A face of one of six made-up people, a picture of its own. */
function face(id: number, of: number, more: Partial<GroupFace> = {}, noise = 0.25): GroupFace {
  return {
    id,
    vector: unit(Float32Array.from(middles[of]!, (x) => x + noise * random())),
    picture: id,
    quality: 0.8,
    leads: true,
    at: null,
    event: null,
    clothes: null,
    person: null,
    never: new Set(),
    ...more,
  };
}

describe('likely people', () => {
  // Each test draws the same faces, whatever others drew before it.
  beforeEach(() => (state = 11));

  test('two faces of one picture are never one person, however alike; the order they came in does not matter', () => {
    const faces = [face(1, 0, { picture: 9 }), face(2, 0, { picture: 9 }), face(3, 0), face(4, 1)];
    const { group } = groupFaces(faces);
    expect(group[0]).not.toBe(group[1]);
    expect([...group.slice(0, 3)]).not.toContain(group[3]);
    fc.assert(
      fc.property(
        fc.array(fc.record({ of: fc.nat(5), picture: fc.integer({ min: 1, max: 9 }) }), { maxLength: 24 }),
        (drawn) => {
          const some = drawn.map(({ of, picture }, i) => face(i + 1, of, { picture, event: picture % 3 }));
          const turned = [...some].reverse();
          const [once, again] = [groupFaces(some).group, groupFaces(turned).group];
          some.forEach((a, i) =>
            some.forEach((b, j) => {
              if (i !== j && a.picture === b.picture) expect(once[i]).not.toBe(once[j]);
              const [x, y] = [turned.indexOf(a), turned.indexOf(b)];
              expect(again[x] === again[y]).toBe(once[i] === once[j]);
            }),
          );
        },
      ),
      { numRuns: 60 },
    );
  });

  test('two that were said to be different people are apart', () => {
    const faces = [face(1, 0), face(2, 0), face(3, 0)];
    expect(new Set(groupFaces(faces).group).size).toBe(1);
    expect(
      new Set(
        groupFaces(faces, [
          [1, 2],
          [2, 3],
          [3, 1],
        ]).group,
      ).size,
    ).toBe(3);
  });

  test('on one occasion, clothes worn in turns are two people’s, however alike the faces', () => {
    const faces = [0, 1, 2, 3, 4, 5].map((i) =>
      face(i + 1, 0, { event: 1, at: 20_000 * 1440 + 600 + 5 * i, clothes: i % 2 ? RED : BLUE }, 0.55),
    );
    const plain = groupFaces(faces.map((one) => ({ ...one, clothes: null })));
    expect(new Set(plain.group).size).toBe(1);
    const { group } = groupFaces(faces);
    expect(group[0]).toBe(group[2]);
    expect(group[1]).toBe(group[3]);
    expect(group[0]).not.toBe(group[1]);
  });

  test('a name gathers those like it, never who is beside it, or who was said not to be it', () => {
    const named = [face(1, 0, { person: 5 }), face(2, 0, { person: 5 })];
    const like = face(3, 0);
    const no = face(4, 0, { never: new Set([5]) });
    const { group, person, near } = groupFaces([...named, like, face(5, 1)]);
    expect(person[group[2]!]).toBe(5);
    expect(near[2]).toBeGreaterThan(0.85);
    expect(person[group[3]!]).toBeNull();
    // Somebody who cannot be them, and as near to the face: it waits.
    const doubtful = groupFaces([...named, like, no]);
    expect([2, 3].map((i) => doubtful.person[doubtful.group[i]!])).toEqual([null, null]);
    // Two names are two people, however alike.
    const two = groupFaces([...named, face(6, 0, { person: 6 }), like]);
    expect(two.group[2]).not.toBe(two.group[0]);
  });

  test('poor faces follow whom they are clearly nearest to, and lead nobody', () => {
    const poor = face(9, 0, { leads: false });
    const alone = groupFaces([poor, face(8, 0, { leads: false })]);
    expect(alone.group[0]).not.toBe(alone.group[1]);
    const { group } = groupFaces([face(1, 0), face(2, 0), face(3, 1), face(4, 1), poor]);
    expect(group[4]).toBe(group[0]);
    const between = { ...poor, vector: unit(Float32Array.from(middles[0]!, (x, i) => x + middles[1]![i]!)) };
    const unsure = groupFaces([face(1, 0), face(2, 0), face(3, 1), face(4, 1), between]);
    expect([unsure.group[0], unsure.group[2]]).not.toContain(unsure.group[4]);
  });
});
