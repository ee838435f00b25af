import fc from 'fast-check';
import { calibrate, certainty, UNCALIBRATED } from './calibrate';
import { gatherFaces, SURENESS, type FaceWorld, type LibraryFace } from './gather';
import { unit } from './vector';

const LENGTH = 16;
let state = 5;
const random = () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32 - 0.5;
const mid = Array.from({ length: 6 }, () => unit(Float32Array.from({ length: LENGTH }, random)));

/** A face of one of six made-up people, with a little noise. */
function face(id: number, of: number, picture: number, more: Partial<LibraryFace> = {}): LibraryFace {
  const v = unit(Float32Array.from(mid[of]!, (x) => x + 0.12 * random()));
  return {
    id,
    picture,
    height: 90,
    quality: 0.8,
    a: v,
    b: v,
    at: null,
    event: null,
    clothes: null,
    said: null,
    ...more,
  };
}
const world = (faces: LibraryFace[], more: Partial<FaceWorld> = {}): FaceWorld => ({
  faces,
  people: [],
  refused: [],
  apart: [],
  sureness: SURENESS,
  ...more,
});

/** A few dozen faces with whatever people may have said about them, nobody twice in a picture by hand. */
const drawn = fc
  .array(
    fc.record({
      of: fc.integer({ min: 0, max: 5 }),
      picture: fc.integer({ min: 1, max: 12 }),
      said: fc.constantFrom('name', 'passer-by', null, null, null),
    }),
    { minLength: 1, maxLength: 40 },
  )
  .map((list) => {
    const there = new Set<string>();
    return list.map(({ of, picture, said }, i) => {
      const key = `${of}|${picture}`;
      if (said !== 'name') return face(i + 1, of, picture, { said });
      const named = there.has(key) ? null : { person: of + 1 };
      there.add(key);
      return face(i + 1, of, picture, { said: named });
    });
  });
const pairs = (most: number) =>
  fc.array(fc.tuple(fc.integer({ min: 1, max: 40 }), fc.integer({ min: 1, max: most })), { maxLength: 10 });

describe('gathering faces', () => {
  test('what people said stands, whatever they said: no face has two places, nobody is in a picture twice', () => {
    fc.assert(
      fc.property(drawn, pairs(6), pairs(40), (faces, refused, apart) => {
        const { filed, offers, groups, passed } = gatherFaces(world(faces, { refused, apart }));
        const open = new Set(faces.filter((f) => f.said === null).map((f) => f.id));
        const places = [...filed.map((f) => f.face), ...groups.map((g) => g.face), ...passed];
        expect(new Set(places).size).toBe(places.length);
        for (const id of [...places, ...offers.map((o) => o.face)]) expect(open.has(id)).toBe(true);
        const seen = new Set(
          faces.flatMap((f) => (f.said && f.said !== 'passer-by' ? [`${f.picture}|${f.said.person}`] : [])),
        );
        for (const { face: id, person } of filed) {
          const key = `${faces[id - 1]!.picture}|${person}`;
          expect(seen.has(key)).toBe(false);
          seen.add(key);
        }
        for (const [id, person] of refused)
          expect(offers.find((o) => o.face === id)?.offers.some((o) => o.person === person) ?? false).toBe(false);
        const keyOf = new Map(groups.map((g) => [g.face, g.key]));
        for (const a of groups)
          for (const b of groups)
            if (a.face < b.face && faces[a.face - 1]!.picture === faces[b.face - 1]!.picture)
              expect(a.key).not.toBe(b.key);
        for (const [a, b] of apart)
          if (a !== b && keyOf.has(a) && keyOf.has(b)) expect(keyOf.get(a)).not.toBe(keyOf.get(b));
        for (const { face: id, key } of groups) {
          expect(key).toBeLessThanOrEqual(id);
          expect(keyOf.get(key)).toBe(key);
        }
      }),
      { numRuns: 120 },
    );
  });

  test('the order in which faces are told does not matter, and saying something and taking it back changes nothing', () => {
    fc.assert(
      fc.property(drawn, fc.integer({ min: 0, max: 39 }), (faces, at) => {
        const once = gatherFaces(world(faces));
        expect(gatherFaces(world([...faces].reverse()))).toEqual(once);
        const other = faces.map((f, i) => (i === at % faces.length ? { ...f, said: { person: 9 } } : f));
        gatherFaces(world(other));
        expect(gatherFaces(world(faces.map((f) => ({ ...f }))))).toEqual(once);
      }),
      { numRuns: 60 },
    );
    expect(gatherFaces(world([]))).toMatchObject({ filed: [], offers: [], groups: [], passed: [] });
  });

  test('a stricter keeper never has more filed; a larger margin is asked of look-alikes', () => {
    const faces = Array.from({ length: 60 }, (_, i) =>
      face(i + 1, i % 6, 1 + i, i < 30 ? { said: { person: (i % 6) + 1 } } : {}),
    );
    const filed = (file: number) =>
      gatherFaces(world(faces, { sureness: { ask: 0.3, file } })).filed.map((f) => f.face);
    const loose = filed(0.6);
    const strict = filed(0.99);
    expect(loose.length).toBeGreaterThan(20);
    for (const id of strict) expect(loose).toContain(id);
    // Two who share a face: nothing is filed between them, however certain.
    const sisters = faces.map((f) =>
      f.said && f.said !== 'passer-by' && f.said.person === 2 ? { ...f, a: faces[0]!.a, b: faces[0]!.b } : f,
    );
    const result = gatherFaces(world(sisters, { sureness: { ask: 0.1, file: 0.5 } }));
    expect(result.alike).toContainEqual([1, 2]);
    expect(result.filed.some((f) => f.person === 1 || f.person === 2)).toBe(false);
  });

  test('faces too small or too poor are never filed and stay out of groups, but can be offered', () => {
    const known = [0, 1, 2].map((i) => face(i + 1, 0, i + 1, { said: { person: 1 } }));
    const poor = face(10, 0, 20, { height: 14, quality: 0.05 });
    const { filed, offers, groups } = gatherFaces(world([...known, poor]));
    expect([filed, groups]).toEqual([[], []]);
    expect(offers.map((o) => o.face)).toEqual([10]);
  });

  test('who was left as a passer-by is not asked about again', () => {
    const faces = [face(1, 0, 1, { said: 'passer-by' }), face(2, 0, 2), face(3, 1, 3)];
    const { passed, groups } = gatherFaces(world(faces));
    expect(passed).toEqual([2]);
    expect(groups.map((g) => g.face)).toEqual([3]);
  });

  test('a no teaches something about faces like it', () => {
    const named = Array.from({ length: 8 }, (_, i) => face(i + 1, i % 2, i + 1, { said: { person: (i % 2) + 1 } }));
    const twin = face(20, 0, 20);
    const like = { ...twin, id: 21, picture: 21 };
    const before = gatherFaces(world([...named, twin, like])).offers.find((o) => o.face === 21)!;
    const after = gatherFaces(world([...named, twin, like], { refused: [[20, 1]] })).offers.find((o) => o.face === 21)!;
    expect(before.offers[0]!.person).toBe(1);
    const odds = (p: number) => Math.log(p / (1 - p));
    expect(odds(after.offers.find((o) => o.person === 1)!.certainty)).toBeLessThan(
      odds(before.offers[0]!.certainty) - 3,
    );
  });

  test('clothes, the event, a minute before and who stands beside are evidence that can be read back', () => {
    const red = Uint8Array.from({ length: 29 }, (_, i) => (i === 0 ? 255 : 0));
    const blue = Uint8Array.from({ length: 29 }, (_, i) => (i === 8 ? 255 : 0));
    const at = 20_000 * 1440 + 600;
    const day = (id: number, of: number, minutes: number, clothes: Uint8Array) =>
      face(id, of, id, { said: { person: of + 1 }, at: at + minutes, event: 1, clothes });
    const named = [day(1, 0, 0, red), day(2, 0, 5, red), day(3, 1, 7, blue), day(4, 1, 9, blue)];
    const beside = face(5, 2, 6, { said: { person: 3 }, at: at + 15, event: 1 });
    const together = [7, 8, 9].flatMap((picture) => [
      face(picture * 10, 0, picture, { said: { person: 1 } }),
      face(picture * 10 + 1, 2, picture, { said: { person: 3 } }),
    ]);
    const others = Array.from({ length: 20 }, (_, i) => face(200 + i, 3, 200 + i, { said: { person: 4 } }));
    const asked = face(6, 0, 6, { at: at + 15, event: 1, clothes: red });
    const { offers } = gatherFaces(world([...named, beside, ...together, ...others, asked]));
    const evidence = offers.find((o) => o.face === 6)!.offers[0]!.evidence;
    expect(evidence).toMatchObject({ minutes: 10, beside: 3 });
    expect(evidence.clothes).toBeCloseTo(1);
    expect(evidence.event).toBeGreaterThan(0);
  });

  test('nobody is seen before they were born', () => {
    const known = [0, 1, 2].map((i) => face(i + 1, 0, i + 1, { said: { person: 1 }, at: 20_000 * 1440 }));
    const people = [{ id: 1, born: 10_000 }];
    const old = face(9, 0, 9, { at: 9_000 * 1440 });
    expect(gatherFaces(world([...known, old], { people })).offers).toEqual([]);
  });
});

describe('certainty', () => {
  test('without answers scores are log odds; a household that is often wrong makes it less sure', () => {
    expect(calibrate([])).toEqual(UNCALIBRATED);
    const answers = Array.from({ length: 80 }, (_, i) => ({ score: 3 + (i % 5) / 4, right: i % 2 === 0 }));
    const learnt = calibrate(answers);
    expect(certainty(learnt, 3.5)).toBeLessThan(0.7);
    expect(certainty(learnt, 3.5)).toBeGreaterThan(0.45);
    expect(certainty(UNCALIBRATED, 3.5)).toBeGreaterThan(0.95);
  });
  test('more score is never less certain', () => {
    fc.assert(
      fc.property(
        fc.array(fc.record({ score: fc.double({ min: -20, max: 20, noNaN: true }), right: fc.boolean() }), {
          maxLength: 60,
        }),
        fc.double({ min: -20, max: 20, noNaN: true }),
        fc.double({ min: 0, max: 10, noNaN: true }),
        (answers, score, more) => {
          const learnt = calibrate(answers);
          expect(Number.isFinite(learnt.shift)).toBe(true);
          expect(certainty(learnt, score + more)).toBeGreaterThanOrEqual(certainty(learnt, score));
        },
      ),
    );
  });
});
