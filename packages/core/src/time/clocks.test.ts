import { readFileSync } from 'node:fs';
import path from 'node:path';
import { findClockShifts, type ClockShot } from './clocks';

interface Truth {
  path: string;
  kind: string;
  recordedTime: string | null;
  clockErrorSeconds: number | null;
  people: { person: string; passerby?: boolean }[];
}
const DEVICES = ['ilses-phone', 'martens-phone', 'good-camera'];
const MINUTE = 60_000;

/** The household's pictures by what their files say of time and what is known of who is in them. */
function household(): (ClockShot & { error: number })[] {
  const { files } = JSON.parse(readFileSync(path.join(__dirname, '../../../../demo/truth.json'), 'utf8')) as {
    files: Truth[];
  };
  const names = [...new Set(files.flatMap((f) => f.people.map((p) => p.person)))];
  return files
    .filter((f) => DEVICES.includes(f.path.split('/')[0]!) && f.recordedTime && f.kind !== 'bad')
    .map((f, id) => ({
      id,
      at: Date.parse(`${f.recordedTime!.slice(0, 23).replace('Z', '')}Z`),
      device: DEVICES.indexOf(f.path.split('/')[0]!),
      people: f.people.filter((p) => !p.passerby).map((p) => names.indexOf(p.person)),
      error: f.clockErrorSeconds ?? 0,
    }));
}

describe('clocks', () => {
  test('the demo household’s camera: 62 minutes behind in 2026, and nothing claimed before', () => {
    const found = findClockShifts(household(), new Set([0, 1]));
    expect(found).toHaveLength(1);
    const [camera] = found;
    expect(Math.abs(camera!.shift - 3_720_000)).toBeLessThanOrEqual(MINUTE);
    expect(camera!.pairs).toBeGreaterThan(20);
    expect(new Date(camera!.from).getUTCFullYear()).toBe(2026);
    const wrong = household().filter((s) => s.device === 2 && s.error === -3720);
    const covered = wrong.filter((s) => s.at >= camera!.from && s.at <= camera!.to);
    console.log(
      `the demo's camera: ${camera!.pairs} pairs on ${camera!.occasions} occasions say ${camera!.shift / 1000} s (true 3720), ${covered.length} of ${wrong.length} pictures in the span`,
    );
    expect(covered.length / wrong.length).toBeGreaterThan(0.9);
    expect(camera!.kind).toBe('a wrong clock');
    expect(camera!.examples).toHaveLength(6);
  });

  test('once mended, it is right', () => {
    const mended = household().map((s) => ({ ...s, at: s.at - s.error * 1000 }));
    expect(findClockShifts(mended, new Set([0, 1]))).toEqual([]);
  });

  const made = (device: number, shift: number, days: number, people: number[][]): ClockShot[] =>
    Array.from({ length: days }, (_, d) =>
      people.map((who, i) => ({ at: d * 7 * 86_400_000 + i * 11 * MINUTE - shift, device, people: who })),
    ).flat();
  const PEOPLE = [[1, 2], [3], [1, 4], [2, 5, 6], [7], [3, 4, 8], [9, 1]];

  test('a span reaches as far as nothing speaks against it: to the occasions that say otherwise, else to the first and the last picture', () => {
    const week = 7 * 86_400_000;
    const phone = made(0, 0, 9, PEOPLE);
    // Right for three weeks, 50 minutes behind for four, and set again; alone for a week before and a week after it was wrong.
    const camera = made(1, 0, 9, PEOPLE).map((s) => {
      const w = Math.floor(s.at / week);
      return { ...s, at: s.at - (w >= 2 && w <= 6 ? 50 * MINUTE : 0), people: w === 2 || w === 6 ? [] : s.people };
    });
    const [span, ...others] = findClockShifts([...phone, ...camera], new Set([0]));
    expect(others).toEqual([]);
    expect([span!.shift, Math.floor(span!.from / week), Math.floor(span!.to / week)]).toEqual([50 * MINUTE, 2, 5]);
    // The picture alone in the second week is reached, and that of the sixth; those of the first and the seventh are not.
    expect([Math.floor(span!.reach.from / week), Math.floor(span!.reach.to / week)]).toEqual([1, 6]);
    expect(span!.reach.from).toBeLessThan(span!.from);
    expect(span!.reach.to).toBeGreaterThan(span!.to);
  });

  test('a clock that began again at a factory date is found by scenes, whatever the distance; scenes that come again are not', () => {
    const scene = (n: number): [number, number] => [
      Math.imul(n + 3, 0x9e3779b1) >>> 0,
      Math.imul(n + 7, 0x85ebca6b) >>> 0,
    ];
    const day = (device: number, from: number): ClockShot[] =>
      Array.from({ length: 6 }, (_, i) => ({ at: from + i * 13 * MINUTE, device, people: [], scene: scene(i) }));
    const shift = Date.UTC(2025, 5, 1, 10) - Date.UTC(2000, 0, 1);
    const phone = day(0, Date.UTC(2025, 5, 1, 10));
    const [found] = findClockShifts([...phone, ...day(1, Date.UTC(2000, 0, 1))], new Set([0]));
    expect([found!.shift, found!.pairs]).toEqual([shift, 6]);
    // The same living room every month: any of many shifts would do.
    const monthly = Array.from({ length: 6 }, (_, m) => day(0, Date.UTC(2025, m, 1, 10))).flat();
    expect(findClockShifts([...monthly, ...day(1, Date.UTC(2000, 0, 1))], new Set([0]))).toEqual([]);
  });

  test('one occasion is enough when its pairs agree to seconds, and not when they are minutes apart', () => {
    const people = [...PEOPLE, [2, 9]];
    const day = (device: number, shift: number, off: (i: number) => number): ClockShot[] =>
      people.map((who, i) => ({ at: i * (7 + (i % 5)) * MINUTE - shift + off(i), device, people: who }));
    const right = day(0, 0, () => 0);
    const [found] = findClockShifts([...right, ...day(1, 41 * MINUTE, (i) => 500 * (i % 3))], new Set([0]));
    expect(Math.abs(found!.shift - 41 * MINUTE)).toBeLessThan(2000);
    expect(found!.occasions).toBe(1);
    expect(found!.pairs).toBeGreaterThanOrEqual(6);
    const loose = day(1, 41 * MINUTE, (i) => ((i * 37) % 9) * MINUTE);
    expect(findClockShifts([...right, ...loose], new Set([0]))).toEqual([]);
  });

  test.each([
    [60 * MINUTE, 'an hour'],
    [-60 * MINUTE, 'an hour'],
    [9 * 60 * MINUTE, 'a time zone'],
    [5.5 * 60 * MINUTE, 'a time zone'],
    [23 * MINUTE, 'a wrong clock'],
  ] as const)('a shift of %d ms is called %s', (shift, kind) => {
    const found = findClockShifts([...made(0, 0, 3, PEOPLE), ...made(1, shift, 3, PEOPLE)], new Set([0]));
    expect(found).toMatchObject([{ device: 1, shift, kind, occasions: 3 }]);
  });

  test('no claim on thin evidence, on right clocks, or without anybody to compare with', () => {
    expect(
      findClockShifts(
        [...made(0, 0, 1, PEOPLE.slice(0, 3)), ...made(1, 60 * MINUTE, 1, PEOPLE.slice(0, 3))],
        new Set([0]),
      ),
    ).toEqual([]);
    expect(findClockShifts([...made(0, 0, 5, PEOPLE), ...made(1, MINUTE, 5, PEOPLE)], new Set([0]))).toEqual([]);
    expect(findClockShifts(made(1, 60 * MINUTE, 5, PEOPLE), new Set([0]))).toEqual([]);
    expect(findClockShifts([], new Set())).toEqual([]);
  });
});
