/** Finding events, naming places and panning the map in a library of 100 000 pictures, each against its bare floor. */
import type { Page } from '@playwright/test';
import { serve } from '@hono/node-server';
import { around } from 'geokdbush';
import KDBush from 'kdbush';
import { makeKeeper } from '../apps/server/src/account/accounts';
import { makeHttp } from '../apps/server/src/http/app';
import { gazetteer } from '../apps/server/src/media/gazetteer';
import { placeAt } from '../apps/server/src/media/places';
import { positionsOf } from '../apps/server/src/place/places';
import { findEvents, type Shot } from '../packages/core/src';
import { benchBrowser, benchEngine, line, quantile, SIZES } from './engine';
import { fill, steady } from './synthetic';

const N = Number(process.env['PICTURES'] ?? 100_000);
const PORT = 4892;
const ACCOUNT = { library: 'Home library', name: 'Keeper', email: 'keeper@bench.example', password: 'a-long-password' };
const random = steady(11);

const timed = <T>(act: () => T): [number, T] => {
  const began = performance.now();
  const result = act();
  return [performance.now() - began, result];
};

// Twenty years of bursts: a floor of one logarithm a gap, which any way of finding pauses has to take.
const shots: Shot[] = [];
for (let at = Date.UTC(2006, 0, 1); shots.length < N;) {
  const [lat, lon] = [40 + random() * 20, random() * 20];
  for (let burst = 5 + random() * 60; burst > 0 && shots.length < N; burst--) {
    at += random() * 240_000;
    shots.push(random() < 0.6 ? { at, lat, lon } : { at });
  }
  at += (0.2 + random() * 6) * 86_400_000;
}
findEvents(shots.slice(0, 5000));
const [events, spans] = timed(() => findEvents(shots));
const [floor] = timed(() => {
  const logs = new Float64Array(shots.length);
  for (let i = 1; i < shots.length; i++) logs[i] = Math.log(Math.max(30_000, shots[i]!.at - shots[i - 1]!.at));
  return logs;
});
line(
  `events in ${N} pictures (${spans[spans.length - 1]! + 1} found)`,
  `${(events / 1000).toFixed(2)} s, ${(events / floor).toFixed(0)} x a bare pass`,
);

const towns = gazetteer();
const points = Array.from({ length: 50_000 }, () => {
  const town = Math.floor(random() * towns.length);
  return { lat: towns.lat[town]! + random() - 0.5, lon: towns.lon[town]! + random() - 0.5 };
});
placeAt(0, 0);
const index = new KDBush(towns.length);
towns.lon.forEach((lon, town) => void index.add(lon, towns.lat[town]!));
index.finish();
const [naming] = timed(() => points.map((p) => placeAt(p.lat, p.lon)));
const [bare] = timed(() => points.map((p) => around(index, p.lon, p.lat, 12, 50)));
line(
  `naming ${points.length} positions`,
  `${Math.round((1000 * points.length) / naming)} a second, ${(naming / bare).toFixed(2)} x the bare index`,
);

/** Drags the map to and fro and notes how long each frame took. */
async function pan(page: Page): Promise<number[]> {
  await page.locator('[data-map=ready]').waitFor({ timeout: 60_000 });
  await page.waitForTimeout(2500);
  const box = (await page.getByTestId('map').boundingBox())!;
  await page.evaluate(() => {
    const took: number[] = [];
    let last = performance.now();
    const step = (now: number) => {
      took.push(now - last);
      last = now;
      requestAnimationFrame(step);
    };
    requestAnimationFrame(step);
    (window as unknown as { took: number[] }).took = took;
  });
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  for (let i = 0; i < 6; i++) {
    await page.mouse.move(x, y);
    await page.mouse.down();
    await page.mouse.move(x + (i % 2 ? -140 : 140), y + (i % 3) * 30, { steps: 25 });
    await page.mouse.up();
    await page.waitForTimeout(250);
  }
  return page.evaluate(() => (window as unknown as { took: number[] }).took.slice(5));
}

const engine = await benchEngine(PORT);
const { app } = engine;
await makeKeeper(app, ACCOUNT);
await fill(app, N);
await app.db.raw('UPDATE pictures SET lat = 36 + RAND(id) * 30, lon = -9 + RAND(id + 1) * 40');
const ask = async <T>(act: () => Promise<T>): Promise<number> => {
  const took: number[] = [];
  for (let i = 0; i < 5; i++) {
    const began = performance.now();
    await act();
    took.push(performance.now() - began);
  }
  return quantile(took, 0.5);
};
const columns = await ask(() => positionsOf(app, 1, { all: [] }));
const select = await ask(() =>
  app.db.raw('SELECT id, lat, lon FROM pictures WHERE library_id = 1 AND lat IS NOT NULL ORDER BY taken_local, id'),
);
line(`positions of ${N} pictures`, `${columns.toFixed(0)} ms, ${(columns / select).toFixed(2)} x the bare SELECT`);

const server = serve({ fetch: makeHttp(app).fetch, port: PORT, hostname: '127.0.0.1' });
const browser = await benchBrowser(true);
try {
  for (const [size, viewport] of SIZES) {
    const context = await browser.newContext({ viewport, baseURL: `http://127.0.0.1:${PORT}` });
    await context.request.post('/api/sign-in', { data: { email: ACCOUNT.email, password: ACCOUNT.password } });
    const page = await context.newPage();
    await page.route('**/api/positions', (route) => route.fulfill({ json: { ids: [], lats: [], lons: [] } }));
    await page.goto('/browse/map');
    const empty = await pan(page);
    await page.unroute('**/api/positions');
    await page.goto('/browse/map');
    await page.locator('.map-pin').first().waitFor({ timeout: 60_000 });
    const full = await pan(page);
    const [a, b] = [quantile(empty, 0.95), quantile(full, 0.95)];
    line(
      `${size}: 95th percentile frame panning the map with ${N} pictures`,
      `${b.toFixed(1)} ms, ${(b / a).toFixed(2)} x the map without pictures (${a.toFixed(1)} ms)`,
    );
    await context.close();
  }
} finally {
  await browser.close();
  server.close();
  await engine.end();
}
process.exit(0);
