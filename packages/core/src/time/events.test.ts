import fc from 'fast-check';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { distanceKm, findEvents, usualPlace, type Shot } from './events';

interface Truth {
  path: string;
  kind: string;
  event: string | null;
  recordedTime: string | null;
  trueLocal: string | null;
  gpsInFile: boolean;
  duplicateOf: string | null;
  place: { lat: number; lon: number } | null;
}
const at = (time: string) => Date.parse(`${time}Z`);
const HOUR = 3_600_000;

describe('events', () => {
  test('the demo household’s spans are found from what its files say', () => {
    const files = (
      JSON.parse(readFileSync(path.join(__dirname, '../../../../demo/truth.json'), 'utf8')) as { files: Truth[] }
    ).files;
    const shots = files
      .filter((f) => /^(ilses|martens|good|grans)/.test(f.path) && f.kind !== 'bad')
      .map((f) => ({
        event: f.event,
        time: (f.recordedTime ?? f.trueLocal!).slice(0, 23),
        place: f.gpsInFile ? f.place : null,
      }))
      .sort((a, b) => a.time.localeCompare(b.time));
    const found = findEvents(
      shots.map((s): Shot => ({ at: at(s.time), lat: s.place?.lat ?? null, lon: s.place?.lon ?? null })),
    );
    let right = 0;
    let made = 0;
    let should = 0;
    for (let i = 1; i < shots.length; i++) {
      // Pictures outside any event are everyday ones: where two such stand side by side there is no truth to compare with.
      if (shots[i]!.event === null && shots[i - 1]!.event === null) continue;
      const real = shots[i]!.event !== shots[i - 1]!.event;
      const split = found[i] !== found[i - 1];
      if (process.env['SHOW_WRONG'] && real !== split) console.log(real ? 'missed' : 'extra', shots[i - 1], shots[i]);
      made += Number(split);
      should += Number(real);
      right += Number(split && real);
    }
    const f1 = (2 * right) / (made + should);
    console.log(`event boundaries: ${made} found, ${should} true, F1 ${f1.toFixed(3)}`);
    expect(f1).toBeGreaterThanOrEqual(0.9);
  });

  test('a family that shoots seldom keeps an afternoon together, one that shoots densely parts two visits', () => {
    const seldom = [0, 60, 130, 190, 260].map((m): Shot => ({ at: m * 60_000 }));
    expect([...findEvents(seldom)]).toEqual([0, 0, 0, 0, 0]);
    const dense = [...Array(20).keys()].map((i): Shot => ({ at: i * 60_000 }));
    const later = [...Array(20).keys()].map((i): Shot => ({ at: 4 * HOUR + i * 60_000 }));
    const found = findEvents([...dense, ...later]);
    expect(found[19]).toBe(0);
    expect(found[20]).toBe(1);
  });

  test('what counts as a long pause goes by how densely pictures are taken around it', () => {
    const pause = 2.75 * HOUR;
    const afternoon = (minutes: number) => {
      const before = [...Array(12).keys()].map((i): Shot => ({ at: i * minutes * 60_000 }));
      const start = before[11]!.at + pause;
      return [...before, ...[...Array(12).keys()].map((i): Shot => ({ at: start + i * minutes * 60_000 }))];
    };
    // A picture every five minutes: nearly three hours without one are a break. One every half hour: they are not.
    expect(findEvents(afternoon(5))[23]).toBe(1);
    expect(findEvents(afternoon(30))[23]).toBe(0);
  });

  test('nights away from home do not break a journey, a jump in place ends an event', () => {
    const home = [...Array(8).keys()].map((day): Shot => ({ at: day * 7 * 24 * HOUR, lat: 59.85, lon: 17.64 }));
    const start = 60 * 24 * HOUR;
    const journey = [0, 1, 2].flatMap((day) =>
      [10, 11, 12].map((h): Shot => ({ at: start + (day * 24 + h) * HOUR, lat: 57.6, lon: 18.3 })),
    );
    const found = findEvents([...home, ...journey]);
    expect(new Set([...found].slice(8)).size).toBe(1);
    const jump = findEvents([
      { at: 0, lat: 59.85, lon: 17.64 },
      { at: HOUR / 2, lat: 59.85, lon: 17.64 },
      { at: 2 * HOUR, lat: 57.6, lon: 18.3 },
    ]);
    expect([...jump]).toEqual([0, 0, 1]);
  });

  test('numbers never fall and rise by one at most; every long pause ends an event', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 72 * 60 }), { maxLength: 60 }), (pauses) => {
        let time = 0;
        const shots = pauses.map((minutes): Shot => ({ at: (time += minutes * 60_000) }));
        const found = findEvents(shots);
        for (let i = 1; i < found.length; i++) {
          const step = found[i]! - found[i - 1]!;
          expect(step === 0 || step === 1).toBe(true);
          if (pauses[i]! >= 40 * 60) expect(step).toBe(1);
          if (pauses[i]! < 60) expect(step).toBe(0);
        }
      }),
    );
  });

  test('distance and the usual place', () => {
    expect(distanceKm(59.8586, 17.6389, 59.3293, 18.0686)).toBeCloseTo(63.7, 0);
    expect(usualPlace([{ at: 0 }])).toBeNull();
    expect(
      usualPlace(
        [0, 1, 2].map((d) => ({ at: d * 24 * HOUR, lat: 59.85, lon: 17.64 })).concat({ at: 0, lat: 0, lon: 0 }),
      )?.lat,
    ).toBeCloseTo(59.85);
  });
});
