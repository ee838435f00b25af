import { readFileSync } from 'node:fs';
import path from 'node:path';
import fc from 'fast-check';
import { distanceKm } from '../time/events';
import { circleRing } from './circle';
import { packSpots, unpackSpots } from './columns';
import { isHidden, ownPlaceAt, type OwnPlace } from './own';
import { betweenPlaces, onTrack, type TrackPoint } from './track';

const MINUTE = 60_000;

describe('a track', () => {
  const track: TrackPoint[] = [
    { at: 0, lat: 59, lon: 18 },
    { at: 10 * MINUTE, lat: 59.1, lon: 18.2 },
    { at: 100 * MINUTE, lat: 60, lon: 19 },
  ];
  it('is followed between its points in proportion to the time', () => {
    expect(onTrack(track, 5 * MINUTE, 10 * MINUTE)).toEqual({
      lat: expect.closeTo(59.05, 9),
      lon: expect.closeTo(18.1, 9),
      away: 5 * MINUTE,
    });
  });
  it('says nothing where it has a hole, and only the near point at its edge', () => {
    expect(onTrack(track, 50 * MINUTE, 10 * MINUTE)).toBeNull();
    expect(onTrack(track, 12 * MINUTE, 10 * MINUTE)).toEqual({ lat: 59.1, lon: 18.2, away: 2 * MINUTE });
    expect(onTrack(track, -MINUTE, 2 * MINUTE)).toMatchObject({ lat: 59, away: MINUTE });
    expect(onTrack([], 0, MINUTE)).toBeNull();
  });
  it('goes the short way round at the 180th meridian', () => {
    const across = [
      { at: 0, lat: 0, lon: 179 },
      { at: 10, lat: 0, lon: -179 },
    ];
    expect(Math.abs(onTrack(across, 5, 10)!.lon)).toBeCloseTo(180, 9);
  });
  it('never leads further than its tolerance in time, nor outside its box', () => {
    fc.assert(
      fc.property(
        fc.array(fc.record({ at: fc.integer({ min: 0, max: 1000 }), lat: fc.integer({ min: 0, max: 50 }) }), {
          minLength: 1,
        }),
        fc.integer({ min: -100, max: 1100 }),
        (points, at) => {
          const track = points.map((p) => ({ ...p, lon: p.lat })).sort((a, b) => a.at - b.at);
          const nearest = Math.min(...track.map((p) => Math.abs(p.at - at)));
          const spot = onTrack(track, at, 50);
          if (nearest > 50) return spot === null;
          const lats = track.map((p) => p.lat);
          return spot!.away === nearest && spot!.lat >= Math.min(...lats) && spot!.lat <= Math.max(...lats);
        },
      ),
    );
  });
});

describe('pictures between places', () => {
  const at = (minutes: number, lat: number | null) => ({ at: minutes * MINUTE, lat, lon: lat === null ? null : 18 });
  it('are offered the place of both neighbours', () => {
    const shots = [at(0, 59), at(20, null), at(30, null), at(60, 59.005), at(70, null)].map((p, i) => ({
      ...p,
      id: i + 1,
    }));
    expect(betweenPlaces(shots)).toEqual([
      { ids: [2, 3], lat: expect.closeTo(59.0025, 6), lon: 18, before: 1, after: 4 },
    ]);
  });
  it('are left alone when the neighbours are apart, or too long ago', () => {
    const apart = [at(0, 59), at(20, null), at(60, 60)].map((p, i) => ({ ...p, id: i }));
    const ago = [at(0, 59), at(400, null), at(410, 59)].map((p, i) => ({ ...p, id: i }));
    expect(betweenPlaces(apart)).toEqual([]);
    expect(betweenPlaces(ago)).toEqual([]);
  });
});

describe('places of the household’s own', () => {
  const place = (id: number, metres: number, hidden = false, lat = 59): OwnPlace => ({
    id,
    name: `${id}`,
    lat,
    lon: 18,
    metres,
    hidden,
  });
  it('are the smallest circle around a spot', () => {
    expect(ownPlaceAt([place(1, 900), place(2, 300), place(3, 200, false, 59.1)], 59.001, 18)?.id).toBe(2);
    expect(ownPlaceAt([place(1, 100)], 59.001, 18)).toBeNull();
  });
  it('hide whatever lies in a hidden one, an open one inside it or not', () => {
    expect(isHidden([place(1, 900, true), place(2, 300)], 59.001, 18)).toBe(true);
    expect(isHidden([place(2, 300)], 59.001, 18)).toBe(false);
  });
  it('reach exactly as far as their circle', () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 0.02, noNaN: true }), (d) => {
        const inside = distanceKm(59, 18, 59 + d, 18) * 1000 <= 1000;
        return (ownPlaceAt([place(1, 1000)], 59 + d, 18) !== null) === inside;
      }),
    );
  });
});

describe('a circle', () => {
  it('is everywhere as far from its middle as it says, and closed', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -80, max: 80, noNaN: true }),
        fc.double({ min: -170, max: 170, noNaN: true }),
        fc.double({ min: 0.05, max: 200, noNaN: true }),
        (lat, lon, km) => {
          const ring = circleRing(lat, lon, km, 16);
          expect(ring[0]).toEqual(ring[16]);
          for (const [x, y] of ring) expect(distanceKm(lat, lon, y, x)).toBeCloseTo(km, 4);
        },
      ),
    );
  });
});

describe('the demo’s track', () => {
  it('leads every picture of that day to within 150 m of where it was taken', () => {
    const demo = path.join(__dirname, '../../../../demo');
    const gpx = readFileSync(path.join(demo, 'tracks/2026-07-12-gotland.gpx'), 'utf8');
    const track = [...gpx.matchAll(/<trkpt lat="([^"]+)" lon="([^"]+)">.*?<time>([^<]+)/g)].map(
      ([, lat, lon, time]): TrackPoint => ({ at: Date.parse(time!), lat: Number(lat), lon: Number(lon) }),
    );
    const { files } = JSON.parse(readFileSync(path.join(demo, 'truth.json'), 'utf8')) as {
      files: { trueLocal?: string; place?: { lat: number; lon: number } }[];
    };
    const away = files
      .filter((f) => f.place && f.trueLocal?.startsWith('2026-07-12'))
      .flatMap((f) => {
        const spot = onTrack(track, Date.parse(f.trueLocal!), 10 * MINUTE);
        return spot ? [1000 * distanceKm(spot.lat, spot.lon, f.place!.lat, f.place!.lon)] : [];
      })
      .sort((a, b) => a - b);
    console.log(`the demo's track places ${away.length} pictures, half within ${away[away.length >> 1]!.toFixed(0)} m`);
    expect(away.length).toBeGreaterThanOrEqual(10);
    expect(away[away.length - 1]).toBeLessThan(150);
  });
});

describe('positions in columns', () => {
  it('come back as they were, to about a metre', () => {
    const spot = fc.record({
      id: fc.integer({ min: 1, max: 1e6 }),
      lat: fc.double({ min: -90, max: 90, noNaN: true }),
      lon: fc.double({ min: -180, max: 180, noNaN: true }),
    });
    fc.assert(
      fc.property(fc.array(spot), (spots) => {
        const back = [...unpackSpots(packSpots(spots))];
        expect(back.map((s) => s.id)).toEqual(spots.map((s) => s.id));
        back.forEach((s, i) => {
          expect(s.lat).toBeCloseTo(spots[i]!.lat, 4);
          expect(s.lon).toBeCloseTo(spots[i]!.lon, 4);
        });
      }),
    );
  });
});
