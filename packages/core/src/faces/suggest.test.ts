import fc from 'fast-check';
import { gatherFaces, type LibraryFace } from './gather';
import { suggest, SUGGEST_DEFAULTS, type Exemplar } from './suggest';
import { dot, unit, type Vector } from './vector';

/** A unit vector in the plane of the first two axes, at an angle in degrees: its cosine with angle 0 is plain to see. */
const at = (degrees: number, length = 4): Vector => {
  const v = new Float32Array(length);
  v[0] = Math.cos((degrees * Math.PI) / 180);
  v[1] = Math.sin((degrees * Math.PI) / 180);
  return v;
};
const exemplars = (...of: [person: number, degrees: number][]): Exemplar[] =>
  of.map(([person, degrees]) => ({ person, vector: at(degrees) }));
const nobody = new Set<number>();

describe('what a face may be', () => {
  test('is filed when it is near, well ahead of the next, large enough, and more than one face says so', () => {
    const known = exemplars([1, 10], [1, 20], [2, 120]);
    expect(suggest(at(0), known, nobody, 80)).toMatchObject({ act: 'file' });
    expect(suggest(at(0), known, nobody, 80).candidates[0]).toMatchObject({ person: 1, support: 2 });
  });

  test('is only asked about when it is small, when one face alone says so, or when a look-alike is close behind', () => {
    const known = exemplars([1, 10], [1, 20], [2, 120]);
    expect(suggest(at(0), known, nobody, SUGGEST_DEFAULTS.fileFrom - 1).act).toBe('ask');
    expect(suggest(at(0), exemplars([1, 10], [2, 120]), nobody, 80).act).toBe('ask');
    const sisters = suggest(at(0), exemplars([1, 10], [1, 20], [2, -15], [2, -20]), nobody, 80);
    expect(sisters.act).toBe('ask');
    expect(sisters.margin).toBeLessThan(SUGGEST_DEFAULTS.margin);
    expect(sisters.candidates.map((c) => c.person)).toEqual([1, 2]);
  });

  test('is nobody known when nobody is near, or when the near ones are ruled out', () => {
    expect(suggest(at(0), exemplars([1, 80], [2, 100]), nobody, 80).act).toBe('none');
    expect(suggest(at(0), [], nobody, 80)).toEqual({ act: 'none', candidates: [], margin: 0 });
    expect(suggest(at(0), exemplars([1, 10], [1, 12]), new Set([1]), 80).act).toBe('none');
  });

  test('one person at very different ages is known by the nearest faces, not by their mean', () => {
    // Three faces of a child far away do not pull three of the grown person down.
    const known = exemplars([1, 5], [1, 8], [1, 12], [1, 95], [1, 100], [1, 110], [2, 60]);
    expect(suggest(at(0), known, nobody, 80)).toMatchObject({
      act: 'file',
      candidates: [{ person: 1 }, { person: 2 }],
    });
  });

  test('thresholds are the keeper’s to move: a stricter one never files more', () => {
    const angle = fc.integer({ min: -90, max: 90 });
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 1, max: 3 }), angle), { minLength: 1, maxLength: 12 }),
        fc.double({ min: 0.3, max: 0.9, noNaN: true }),
        fc.double({ min: 0, max: 0.1, noNaN: true }),
        (of, file, more) => {
          const known = exemplars(...of);
          const loose = suggest(at(0), known, nobody, 80, { file });
          const strict = suggest(at(0), known, nobody, 80, { file: file + more });
          if (strict.act === 'file') expect(loose.act).toBe('file');
          expect(strict.candidates).toEqual(loose.candidates);
          for (let i = 1; i < strict.candidates.length; i++)
            expect(strict.candidates[i - 1]!.score).toBeGreaterThanOrEqual(strict.candidates[i]!.score);
          expect(strict.candidates.length).toBeLessThanOrEqual(5);
        },
      ),
    );
  });
});

describe('gathering made-up faces', () => {
  const length = 12;
  let state = 5;
  const random = () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32 - 0.5;
  const mid = Array.from({ length: 6 }, () => unit(Float32Array.from({ length }, random)));
  /** A face of one of six made-up people, with a little noise. */
  const face = (id: number, of: number, picture: number, more: Partial<LibraryFace> = {}): LibraryFace => {
    const v = unit(Float32Array.from(mid[of]!, (x) => x + 0.12 * random()));
    return { id, picture, height: 90, quality: 0.8, a: v, b: v, person: null, byHand: false, ...more };
  };

  test('gives each face at most one place, and keeps what people said', () => {
    const people = fc.array(
      fc.record({ of: fc.integer({ min: 0, max: 5 }), picture: fc.integer({ min: 1, max: 12 }), hand: fc.boolean() }),
      { minLength: 1, maxLength: 40 },
    );
    fc.assert(
      fc.property(people, (drawn) => {
        const inPicture = new Set<string>();
        const faces = drawn.map(({ of, picture, hand }, i) => {
          const key = `${of}|${picture}`;
          const named = hand && !inPicture.has(key);
          if (named) inPicture.add(key);
          return face(i + 1, of, picture, named ? { person: of + 1, byHand: true } : {});
        });
        const { filed, likely, groups } = gatherFaces(faces, new Set());
        const byHand = new Set(faces.filter((f) => f.byHand).map((f) => f.id));
        const places = [...filed, ...groups].map((x) => x.face);
        expect(new Set(places).size).toBe(places.length);
        for (const id of [...places, ...likely.map((l) => l.face)]) expect(byHand.has(id)).toBe(false);
        const seen = new Set(faces.filter((f) => f.byHand).map((f) => `${f.picture}|${f.person}`));
        for (const { face: id, person } of filed) {
          const key = `${faces[id - 1]!.picture}|${person}`;
          expect(seen.has(key)).toBe(false);
          seen.add(key);
        }
        for (const { face: id, key } of groups) {
          expect(key).toBeLessThanOrEqual(id);
          expect(groups.some((g) => g.face === key && g.key === key)).toBe(true);
        }
      }),
      { numRuns: 150 },
    );
  });

  test('the same faces give the same answer', () => {
    const faces = Array.from({ length: 30 }, (_, i) =>
      face(i + 1, i % 6, 1 + Math.floor(i / 2), i < 12 ? { person: (i % 6) + 1, byHand: true } : {}),
    );
    expect(gatherFaces(faces, new Set())).toEqual(
      gatherFaces(
        faces.map((f) => ({ ...f })),
        new Set(),
      ),
    );
    expect(gatherFaces([], new Set())).toEqual({ filed: [], likely: [], groups: [] });
  });

  test('faces too small or too poor stay out of groups but can still be offered', () => {
    const known = [0, 1, 2].map((i) => face(i + 1, 0, i + 1, { person: 1, byHand: true }));
    const poor = face(10, 0, 20, { height: 14, quality: 0.05 });
    const { filed, likely, groups } = gatherFaces([...known, poor], new Set());
    expect(filed).toEqual([]);
    expect(groups).toEqual([]);
    expect(likely.map((l) => l.face)).toEqual([10]);
    expect(dot(poor.a, poor.a)).toBeCloseTo(1);
  });
});
