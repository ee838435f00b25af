import { packSpots } from '@gemmel/core';
import type { Pin, PinsAnswer, PinsAsk } from './pins';

/** A worker that answers on a page: what it is told, and what it says to that. */
const said: PinsAnswer[] = [];
const scope = { postMessage: (message: PinsAnswer) => said.push(message), onmessage: (_: { data: PinsAsk }) => {} };
Object.assign(globalThis, { self: scope });
const ask = (message: PinsAsk): PinsAnswer[] => {
  said.length = 0;
  scope.onmessage({ data: message });
  return [...said];
};
const spot = (id: number, lat: number, lon: number) => ({ id, lat, lon });
const WORLD: [number, number, number, number] = [-180, -85, 180, 85];
const view = (zoom: number, box = WORLD): Pin[] => {
  const [answer] = ask({ view: { box, zoom } });
  return answer && 'pins' in answer ? answer.pins : [];
};

describe('pins of a map', () => {
  beforeAll(() => import('./pins'));

  test('before there are positions, nothing is shown and nothing breaks', () => {
    expect(ask({ view: { box: WORLD, zoom: 3 } })).toEqual([]);
    expect(ask({ leaves: { cluster: 1, seq: 1 } })).toEqual([]);
  });

  test('a library without positions has no box', () => {
    expect(ask({ load: packSpots([]) })).toEqual([{ loaded: { box: null, count: 0 } }]);
    expect(view(3)).toEqual([]);
  });

  // From the oldest to the newest, as the server tells them.
  const spots = [
    ...Array.from({ length: 40 }, (_, i) => spot(i + 1, 57.64 + (i % 5) / 1000, 18.29 + (i % 7) / 1000)),
    spot(900, -33.92, 18.42),
    spot(41, 57.64, 18.29),
  ];

  test('far away, pictures of one town are one pin, the newest of them on top; near by, they part', () => {
    const [loaded] = ask({ load: packSpots(spots) });
    const { box, count } = (loaded as Extract<PinsAnswer, { loaded: object }>).loaded;
    expect(count).toBe(42);
    for (const [i, side] of [18.29, -33.92, 18.42, 57.644].entries()) expect(box![i]).toBeCloseTo(side, 4);
    const far = view(3);
    expect(far.map(({ n, id }) => [n, id]).sort()).toEqual([
      [1, 900],
      [41, 41],
    ]);
    expect(far.find(({ n }) => n === 1)!.cluster).toBeNull();
    const near = view(17, [18.2, 57.6, 18.4, 57.7]);
    expect(near.length).toBeGreaterThan(10);
    expect(near.reduce((sum, { n }) => sum + n, 0)).toBe(41);
    // Half a step of zoom is shown as the whole step below.
    expect(view(3.9)).toEqual(view(3));
  });

  test('at every zoom every picture is in exactly one pin', () => {
    for (let zoom = 0; zoom <= 18; zoom++) {
      const pins = view(zoom);
      expect(pins.reduce((sum, { n }) => sum + n, 0)).toBe(spots.length);
      const all = pins.flatMap((pin) => {
        if (pin.cluster === null) return [pin.id];
        const [answer] = ask({ leaves: { cluster: pin.cluster, seq: zoom } });
        const { seq, ids } = (answer as Extract<PinsAnswer, { leaves: object }>).leaves;
        expect([seq, ids.length, ids[0]]).toEqual([zoom, pin.n, pin.id]);
        return ids;
      });
      expect(all.sort((a, b) => a - b)).toEqual(spots.map(({ id }) => id).sort((a, b) => a - b));
    }
  });

  test('opened, a pin tells its pictures from the newest on, the box they lie in, and where they part', () => {
    const pin = view(3).find(({ n }) => n === 41)!;
    const [answer] = ask({ leaves: { cluster: pin.cluster!, seq: 5 } });
    const { ids, box, zoom } = (answer as Extract<PinsAnswer, { leaves: object }>).leaves;
    expect(ids).toEqual([41, ...Array.from({ length: 40 }, (_, i) => 40 - i)]);
    for (const [i, side] of [18.29, 57.64, 18.296, 57.644].entries()) expect(box[i]).toBeCloseTo(side, 4);
    expect(zoom).toBeGreaterThan(3);
    expect(view(zoom, [18.2, 57.6, 18.4, 57.7]).length).toBeGreaterThan(1);
  });

  test('new positions take the place of the old ones', () => {
    ask({ load: packSpots([spot(5, 1, 2)]) });
    expect(view(3)).toMatchObject([{ id: 5, n: 1, cluster: null }]);
  });
});
