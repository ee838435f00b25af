import { findClockShifts } from './clocks';
import { findEvents } from './events';
import { times } from '../long.testing';
import { makeHousehold } from './household.testing';

const HOUSEHOLDS = times(80, 200);
const HOUR = 3_600_000;

describe(`${HOUSEHOLDS} made-up households`, () => {
  test('events: their boundaries are found', () => {
    const sorts = new Map<string, { right: number; made: number; should: number }>();
    for (let seed = 1; seed <= HOUSEHOLDS; seed++) {
      const { shots, sort } = makeHousehold(seed);
      const found = findEvents(shots);
      const sum = sorts.get(sort) ?? { right: 0, made: 0, should: 0 };
      for (let i = 1; i < shots.length; i++) {
        const [real, split] = [shots[i]!.event !== shots[i - 1]!.event, found[i] !== found[i - 1]];
        sum.made += Number(split);
        sum.should += Number(real);
        sum.right += Number(real && split);
      }
      sorts.set(sort, sum);
    }
    let [right, made, should] = [0, 0, 0];
    for (const [sort, s] of sorts) {
      console.log(
        `${sort}: boundary F1 ${((2 * s.right) / (s.made + s.should)).toFixed(3)} (found ${s.made}, true ${s.should})`,
      );
      expect((2 * s.right) / (s.made + s.should)).toBeGreaterThanOrEqual(0.9);
      right += s.right;
      made += s.made;
      should += s.should;
    }
    const f1 = (2 * right) / (made + should);
    console.log(`events of ${HOUSEHOLDS} households: boundary F1 ${f1.toFixed(3)}`);
    expect(f1).toBeGreaterThanOrEqual(0.95);
  });

  test('clocks: a wrong one is found within a minute, none is invented on right ones', () => {
    const WRONG = [62 * 60_000, -HOUR, HOUR, 9 * HOUR, -47 * 60_000, 11 * 60_000, 5.5 * HOUR];
    let found = 0;
    let missed = 0;
    let alarms = 0;
    let worst = 0;
    for (let seed = 1; seed <= HOUSEHOLDS; seed++) {
      const wrong = seed % 2 ? WRONG[seed % WRONG.length]! : 0;
      const { shots, shifts, sort } = makeHousehold(seed, wrong);
      const claims = findClockShifts(shots, new Set([0, 1]));
      for (const claim of claims) {
        const error = Math.abs(claim.shift - shifts[claim.device]!);
        if (error > 60_000) {
          alarms++;
          if (process.env['SHOW_WRONG']) console.log(sort, wrong / 60_000, { ...claim, shift: claim.shift / 60_000 });
        } else {
          found++;
          worst = Math.max(worst, error);
        }
      }
      if (wrong)
        for (const device of shifts.keys()) if (shifts[device] && !claims.some((c) => c.device === device)) missed++;
    }
    console.log(
      `clocks of ${HOUSEHOLDS} households: ${found} spans found, worst error ${(worst / 1000).toFixed(0)} s, ${missed} missed, ${alarms} false alarms`,
    );
    expect(alarms).toBe(0);
    expect(missed).toBeLessThan(15);
    expect(worst).toBeLessThanOrEqual(60_000);
  });
});
