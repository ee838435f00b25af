import { findDoubles, findRuns, halvesOf } from './groups';
import { bitsApart, MIRROR_BITS, mirroredHash, type ShotFacts } from './pairs';
import { mirror, type Pixels } from '../faces/geometry';
import { perceptualHash, toGrey } from './likeness';

/** A generator of numbers that can be told again (mulberry32). */
function chances(seed: number) {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32;
  };
}

type Hash = Pick<ShotFacts, 'high' | 'low'>;

const START = Date.UTC(2026, 4, 16, 9);
const fact = (id: number, more: Partial<ShotFacts> = {}): ShotFacts => ({
  id,
  high: 0,
  low: 0,
  width: 4000,
  height: 3000,
  format: 'jpg',
  stem: `IMG_${2000 + id}`,
  device: 1,
  at: START,
  lat: null,
  lon: null,
  colour: [0.5, 0.4, 0.3],
  people: [],
  ...more,
});

/** A household's shots with what they really are: runs by one device and by two, and everything in between. */
function household(seed: number) {
  const random = chances(seed);
  const between = (least: number, most: number) => least + random() * (most - least);
  const hash = (): Hash => ({ high: Math.floor(random() * 2 ** 32), low: Math.floor(random() * 2 ** 32) });
  const flip = ({ high, low }: Hash, bits: number): Hash => {
    const which = new Set<number>();
    while (which.size < bits) which.add(Math.floor(random() * 64));
    for (const bit of which) {
      if (bit < 32) low = (low ^ (1 << bit)) >>> 0;
      else high = (high ^ (1 << (bit - 32))) >>> 0;
    }
    return { high, low };
  };
  const shots: ShotFacts[] = [];
  const truth: number[] = [];
  const copies: (number | null)[] = [];
  let at = START;
  let moment = 0;
  const family = Array.from({ length: 4 + Math.floor(random() * 10) }, (_, i) => (random() < 0.6 ? i + 1 : -(i + 1)));
  const add = (more: Partial<ShotFacts>, of: number, copy: number | null = null) => {
    shots.push(fact(shots.length + 1, more));
    truth.push(of);
    copies.push(copy);
  };
  const pace = between(15, 400);
  while (shots.length < 220) {
    at += 1000 * between(0.3, 2) * pace;
    moment++;
    const scene = hash();
    const people = family.filter(() => random() < 0.4);
    const seen = () => people.filter(() => random() < 0.93);
    const lat = 57 + random() / 10;
    const burst = random();
    const many = burst < 0.45 ? 1 : 2 + Math.floor(random() * 5);
    const step = between(0.4, 4);
    for (let k = 0; k < many; k++)
      add({ ...flip(scene, Math.floor(random() * 7)), at: at + 1000 * step * k, people: seen(), lat, lon: 18 }, moment);
    if (random() < 0.25 && people.length)
      // Another device, another place to stand: further away by hash, the same people.
      add(
        {
          ...flip(scene, Math.floor(between(4, 22))),
          device: 2,
          at: at + 1000 * between(-5, 7),
          people: seen(),
          lat,
          lon: 18,
        },
        moment,
      );
    if (random() < 0.3) {
      // Somebody takes something else seconds later.
      moment++;
      add(
        {
          ...hash(),
          at: at + 1000 * (step * many + between(2, 12)),
          people: family.filter(() => random() < 0.3),
          lat,
          lon: 18,
        },
        moment,
      );
    }
    if (random() < 0.12) {
      const original = shots.length - 1;
      const from = shots[original]!;
      const kind = random();
      const small = { width: 1600, height: 1200, people: from.people };
      if (kind < 0.5)
        add(
          { ...flip(from, Math.floor(random() * 4)), ...small, at: null, device: null, stem: 'message-7' },
          -1,
          original,
        );
      else if (kind < 0.8)
        add(
          { ...flip(from, Math.floor(random() * 4)), ...small, at: from.at, device: from.device, stem: from.stem },
          -1,
          original,
        );
      else
        add(
          { ...flip(mirroredHash(from), Math.floor(random() * 3)), ...small, at: null, device: null, stem: 'scan' },
          -1,
          original,
        );
    }
  }
  return { shots, truth, copies };
}

describe('runs and doubles over households of many kinds', () => {
  test('runs: at least 98 in 100 pairs right, 95 in 100 found; doubles the same', () => {
    let [right, found, all, copiesRight, copiesFound, copiesAll] = [0, 0, 0, 0, 0, 0];
    let worst = 1;
    for (let seed = 1; seed <= 40; seed++) {
      const { shots, truth, copies } = household(seed);
      const order = shots.map((_, i) => i).sort((a, b) => shots[b]!.width - shots[a]!.width || a - b);
      const kept = findDoubles(order.map((i) => shots[i]!));
      const skip = new Set<number>();
      order.forEach((i, n) => {
        if (kept[n]! < 0) return;
        skip.add(i);
        copiesFound++;
        // Which of several shots of one moment it is a copy of, nobody could say.
        const of = copies[i];
        if (of != null && (order[kept[n]!] === of || truth[order[kept[n]!]!] === truth[of])) copiesRight++;
      });
      copiesAll += copies.filter((copy) => copy !== null).length;
      const run = new Map<number, number>();
      findRuns(shots, skip).forEach((one, n) => one.forEach((i) => run.set(i, n)));
      let [mine, here] = [0, 0];
      shots.forEach((_, i) => {
        for (let j = i + 1; j < shots.length; j++) {
          if (copies[i] !== null || copies[j] !== null) continue;
          const same = truth[i] === truth[j];
          const together = run.has(i) && run.get(i) === run.get(j);
          if (same) here++;
          if (together) found++;
          if (same && together) mine++;
        }
      });
      right += mine;
      all += here;
      worst = Math.min(worst, mine / here);
    }
    const share = (a: number, b: number) => `${((100 * a) / b).toFixed(1)} %`;
    console.log(
      `40 households, ${all} pairs: precision ${share(right, found)}, recall ${share(right, all)}, the worst household ${share(worst, 1)}; ${copiesAll} copies: precision ${share(copiesRight, copiesFound)}, recall ${share(copiesRight, copiesAll)}`,
    );
    expect(right / found).toBeGreaterThanOrEqual(0.98);
    expect(right / all).toBeGreaterThanOrEqual(0.95);
    expect(copiesRight / copiesFound).toBeGreaterThanOrEqual(0.98);
    expect(copiesRight / copiesAll).toBeGreaterThanOrEqual(0.95);
  });
});

describe('doubles', () => {
  test('two shots of one second by one camera are two, one saved smaller is the same', () => {
    const shots = [fact(1), fact(2, { at: START + 300 }), fact(3, { width: 1600, height: 1200, stem: 'IMG_2001' })];
    expect([...findDoubles(shots)]).toEqual([-1, -1, 0]);
  });
  test('a clock read in another zone is the same clock, another day is not', () => {
    const hour = 3_600_000;
    expect([...findDoubles([fact(1), fact(2, { at: START + 2 * hour, stem: 'x' })])]).toEqual([-1, 0]);
    expect([...findDoubles([fact(1), fact(2, { at: START + 26 * hour, stem: 'x' })])]).toEqual([-1, -1]);
  });
  test('what somebody said is no double is none, and other colours or shapes are none', () => {
    const copy = { at: null, device: null, stem: 'message' };
    expect([...findDoubles([fact(1), fact(2, copy)], new Set(['1 2']))]).toEqual([-1, -1]);
    expect([...findDoubles([fact(1), fact(2, { ...copy, colour: [0.1, 0.4, 0.8] })])]).toEqual([-1, -1]);
    expect([...findDoubles([fact(1), fact(2, { ...copy, height: 4000 })])]).toEqual([-1, -1]);
    expect([...findDoubles([fact(1), fact(2, { ...copy, colour: [0.4, 0.4, 0.4] })])]).toEqual([-1, 0]);
  });
  test('no mark points at a marked picture', () => {
    const { shots } = household(7);
    const kept = findDoubles(shots);
    expect([...kept].every((to) => to < 0 || kept[to] === -1)).toBe(true);
  });
  test('a mirrored picture mostly has nearly the mirrored hash', () => {
    const random = chances(3);
    let near = 0;
    for (let n = 0; n < 20; n++) {
      const waves = Array.from({ length: 6 }, () => [random() * 9, random() * 9, random() * 6, random() * 30] as const);
      const data = new Uint8Array(96 * 64 * 3);
      for (let y = 0; y < 64; y++)
        for (let x = 0; x < 96; x++) {
          let v = 128;
          for (const [fx, fy, phase, amplitude] of waves)
            v += amplitude * Math.sin((fx * x) / 96 + (fy * y) / 64 + phase);
          data.fill(Math.max(0, Math.min(255, v)), 3 * (y * 96 + x), 3 * (y * 96 + x) + 3);
        }
      const image = { width: 96, height: 64, data };
      const hash = (of: Pixels) => halvesOf(String(perceptualHash(toGrey(of.data, of.width, of.height))));
      if (bitsApart(mirroredHash(hash(image)), hash(mirror(image))) <= MIRROR_BITS) near++;
    }
    expect(near).toBeGreaterThanOrEqual(16);
  });
});
