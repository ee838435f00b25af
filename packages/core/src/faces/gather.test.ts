import { gatherFaces } from './gather';
import { readHousehold } from './household.testing';

const { truth, faces, people, named } = readHousehold();
const personOf = (name: string | null) => (name === null ? 0 : people.indexOf(name) + 1);

/** Pairwise precision and recall of a grouping against the truth. */
function pairs(labels: readonly number[], real: readonly (string | null)[]) {
  let together = 0;
  let right = 0;
  let should = 0;
  for (let i = 0; i < labels.length; i++)
    for (let j = 0; j < i; j++) {
      const same = real[i] !== null && real[i] === real[j];
      if (same) should++;
      if (labels[i] === labels[j]) {
        together++;
        if (same) right++;
      }
    }
  return { precision: right / together, recall: right / should };
}

describe('recognition on the demo household', () => {
  test('what its people said is found again among the faces', () => {
    expect(named).toBeGreaterThan(230);
  });

  test('files by itself only what is right, and offers nearly all the rest', () => {
    const result = gatherFaces(faces, new Set());
    const filedRight = result.filed.filter((f) => f.person === personOf(truth[f.face - 1]!.person));
    const precision = filedRight.length / result.filed.length;
    const known = new Set(faces.filter((f) => f.byHand).map((f) => f.person));
    const open = faces.filter((f) => !f.byHand && known.has(personOf(truth[f.id - 1]!.person)));
    const offered = new Set([
      ...filedRight.map((f) => f.face),
      ...result.likely
        .filter((l) => l.candidates.slice(0, 2).some((c) => c.person === personOf(truth[l.face - 1]!.person)))
        .map((l) => l.face),
    ]);
    const recall = open.filter((f) => offered.has(f.id)).length / open.length;
    const askedFirst =
      result.likely.filter((l) => l.candidates[0]?.person === personOf(truth[l.face - 1]!.person)).length /
      result.likely.length;
    console.log(
      `filed by itself: ${result.filed.length} of ${open.length}, precision ${(100 * precision).toFixed(1)} %; ` +
        `filed or offered: recall ${(100 * recall).toFixed(1)} %; first offer right: ${(100 * askedFirst).toFixed(1)} % of ${result.likely.length}`,
    );
    if (process.env['SHOW_WRONG'])
      console.log(
        result.filed
          .filter((f) => !filedRight.includes(f))
          .map(
            (f) =>
              `${truth[f.face - 1]!.file} ${truth[f.face - 1]!.person} -> ${people[f.person - 1]} ${f.score.toFixed(2)} h${truth[f.face - 1]!.height} q${truth[f.face - 1]!.quality}`,
          )
          .join('\n'),
      );
    expect(precision).toBeGreaterThanOrEqual(0.99);
    expect(recall).toBeGreaterThanOrEqual(0.9);
  });

  test('nobody is put twice into one picture', () => {
    const result = gatherFaces(faces, new Set());
    const seen = new Set<string>();
    for (const { face, person } of [
      ...result.filed,
      ...faces.filter((f) => f.byHand).map((f) => ({ face: f.id, person: f.person! })),
    ]) {
      const key = `${faces[face - 1]!.picture}|${person}`;
      expect(seen.has(key)).toBe(false);
      seen.add(key);
    }
  });

  test('a no is remembered', () => {
    const first = gatherFaces(faces, new Set()).filed[0]!;
    const again = gatherFaces(faces, new Set([`${first.face}|${first.person}`]));
    expect(again.filed.some((f) => f.face === first.face && f.person === first.person)).toBe(false);
    expect(
      again.likely.find((l) => l.face === first.face)?.candidates.some((c) => c.person === first.person) ?? false,
    ).toBe(false);
  });

  test('before anybody is named, groups are mostly one person each', () => {
    const nameless = faces.map((f) => ({ ...f, person: null, byHand: false }));
    const { groups } = gatherFaces(nameless, new Set());
    const { precision, recall } = pairs(
      groups.map((g) => g.key),
      groups.map((g) => truth[g.face - 1]!.asAged ?? truth[g.face - 1]!.person),
    );
    const sizes = new Map<number, number>();
    groups.forEach((g) => sizes.set(g.key, (sizes.get(g.key) ?? 0) + 1));
    const large = [...sizes.values()].filter((n) => n >= 3).length;
    console.log(
      `first grouping: pairwise precision ${(100 * precision).toFixed(1)} %, recall ${(100 * recall).toFixed(1)} %, ${large} groups of three or more`,
    );
    expect(precision).toBeGreaterThanOrEqual(0.9);
    expect(recall).toBeGreaterThanOrEqual(0.5);
  });
});
