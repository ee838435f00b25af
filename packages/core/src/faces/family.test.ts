import { LONG, times } from '../long.testing';
import { dice } from '../time/household.testing';
import { makeFamily, type Family } from './family.testing';
import { gatherFaces, SURENESS, type FaceWorld } from './gather';

const FAMILIES = times(5, 60);
const percent = (part: number) => `${(100 * part).toFixed(1)} %`;
const families = Array.from({ length: FAMILIES }, (_, i) => makeFamily(101 + i));

/** The family with some faces named. */
const worldOf = (family: Family, said: ReadonlyMap<number, number> = new Map()): FaceWorld => ({
  faces: family.faces.map((face) => ({ ...face, said: said.has(face.id) ? { person: said.get(face.id)! } : null })),
  people: family.people,
  refused: [],
  apart: [],
  sureness: SURENESS,
});

/** Some faces of a person, good ones mostly. */
function some(family: Family, person: number, most: number, roll: () => number): number[] {
  return family.faces
    .filter((face) => family.trulyIs(face.id) === person && (family.clear(face.id) || roll() < 0.3))
    .map((face) => [roll(), face.id] as const)
    .sort((a, b) => a[0] - b[0])
    .slice(0, most)
    .map(([, id]) => id);
}

/** Pairs within groups that are one person, and pairs of clear faces of one person that are in one group. */
function pairsOf(family: Family): {
  right: number;
  made: number;
  found: number;
  all: number;
  odd: number;
  named: number;
} {
  const groups = new Map<number, number[]>();
  for (const { face, key } of gatherFaces(worldOf(family)).groups) {
    const list = groups.get(key);
    if (list) list.push(face);
    else groups.set(key, [face]);
  }
  const pairs = (n: number) => (n * (n - 1)) / 2;
  const sum = { right: 0, made: 0, found: 0, all: 0, odd: 0, named: 0 };
  const all = new Map<number, number>();
  const largest = [...groups.values()].sort((a, b) => b.length - a.length);
  largest.forEach((members, place) => {
    const count = (which: (face: number) => boolean) => {
      const people = new Map<number, number>();
      for (const face of members.filter(which))
        people.set(family.trulyIs(face), (people.get(family.trulyIs(face)) ?? 0) + 1);
      return people;
    };
    sum.made += pairs(members.length);
    const people = count(() => true);
    for (const [person, n] of people) if (person) sum.right += pairs(n);
    for (const [person, n] of count((face) => family.clear(face))) {
      if (!person) continue;
      sum.found += pairs(n);
      all.set(person, (all.get(person) ?? 0) + n);
    }
    if (place >= 10 || members.length < 2) return;
    const most = Math.max(...people.values());
    sum.named += most;
    sum.odd += members.length - most;
  });
  for (const n of all.values()) sum.all += pairs(n);
  return sum;
}

describe(`${FAMILIES} made-up families`, () => {
  test('before anybody is named, groups are one person each, look-alikes or not', () => {
    const all = families.map((family) => ({ ...pairsOf(family), traits: family.traits }));
    const precision = all.map((one) => one.right / one.made);
    const recall = all.map((one) => one.found / one.all);
    const mean = (list: number[]) => list.reduce((a, b) => a + b, 0) / list.length;
    const sum = (of: 'odd' | 'named') => all.reduce((n, one) => n + one[of], 0);
    const worst = precision.indexOf(Math.min(...precision));
    console.log(
      `groups of ${FAMILIES} families: precision ${percent(mean(precision))}, recall ${percent(mean(recall))}, ` +
        `${((100 * sum('odd')) / sum('named')).toFixed(1)} odd ones in 100 named; the worst ${percent(precision[worst]!)}: ${JSON.stringify(all[worst]!.traits)}`,
    );
    expect(mean(precision)).toBeGreaterThanOrEqual(0.95);
    expect(Math.min(...precision)).toBeGreaterThanOrEqual(0.85);
    expect(mean(recall)).toBeGreaterThanOrEqual(0.8);
    expect(sum('odd') / sum('named')).toBeLessThanOrEqual(0.05);
  });

  test('groups that are perhaps one person mostly are', () => {
    let [same, all] = [0, 0];
    for (const family of families) {
      const { groups, perhaps } = gatherFaces(worldOf(family));
      const most = (key: number) => {
        const votes = new Map<number, number>();
        for (const { face, key: k } of groups)
          if (k === key) votes.set(family.trulyIs(face), (votes.get(family.trulyIs(face)) ?? 0) + 1);
        return [...votes].sort((a, b) => b[1] - a[1])[0]![0];
      };
      for (const [a, b] of perhaps) {
        all++;
        if (most(a) > 0 && most(a) === most(b)) same++;
      }
    }
    console.log(`${all} pairs of groups are perhaps one person, ${percent(same / all)} are`);
    expect(all).toBeGreaterThan(FAMILIES / 2);
    expect(same / all).toBeGreaterThanOrEqual(0.6);
  });

  test('files nobody wrongly while a look-alike has no name yet, however many are named', () => {
    const kinds = new Map<string, { filed: number; right: number; under: number; underRight: number }>();
    for (const [f, family] of families.entries()) {
      const roll = dice(900 + f);
      for (const [pair, [a, b]] of family.alike.entries())
        for (const [me, other] of [
          [a, b],
          [b, a],
        ] as const)
          for (const most of LONG ? [8, 20, 40] : [[8, 20, 40][(f + pair + (me === a ? 0 : 1)) % 3]!])
            for (const others of LONG ? [false, true] : [(f + pair) % 2 === 0]) {
              const said = new Map(some(family, me, most, roll).map((face) => [face, me]));
              if (others)
                for (const { id } of family.people)
                  if (id !== me && id !== other)
                    for (const face of some(family, id, Math.ceil(15 * roll()), roll)) said.set(face, id);
              const kind = `${most} named, ${others ? 'others, too' : 'nobody else'}`;
              const sum = kinds.get(kind) ?? { filed: 0, right: 0, under: 0, underRight: 0 };
              for (const { face, person } of gatherFaces(worldOf(family, said)).filed) {
                const right = family.trulyIs(face) === person ? 1 : 0;
                sum.filed++;
                sum.right += right;
                if (person === me) sum.under++;
                if (person === me) sum.underRight += right;
              }
              kinds.set(kind, sum);
            }
    }
    const total = { filed: 0, right: 0, under: 0, underRight: 0 };
    for (const [kind, sum] of kinds) {
      console.log(
        `${kind}: ${sum.filed} filed, ${percent(sum.right / sum.filed)} right; under that name ${sum.under}, ${percent(sum.underRight / sum.under)} right`,
      );
      for (const key of Object.keys(total) as (keyof typeof total)[]) total[key] += sum[key];
    }
    expect(total.filed).toBeGreaterThan(20 * FAMILIES);
    expect(total.right / total.filed).toBeGreaterThanOrEqual(0.99);
    expect(total.underRight / total.under).toBeGreaterThanOrEqual(0.97);
  });

  test('naming one more person never makes the filing of others worse than asking', () => {
    let [filed, right] = [0, 0];
    for (const [f, family] of families.slice(0, times(4, 20)).entries()) {
      const roll = dice(300 + f);
      const said = new Map<number, number>();
      for (const { id } of [...family.people].sort(() => roll() - 0.5).slice(0, times(4, 9))) {
        for (const face of some(family, id, 3 + Math.floor(20 * roll()), roll)) said.set(face, id);
        for (const one of gatherFaces(worldOf(family, said)).filed) {
          filed++;
          if (family.trulyIs(one.face) === one.person) right++;
        }
      }
    }
    expect(right / filed).toBeGreaterThanOrEqual(0.99);
  });
});
