import { copyFileSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { accessible, ask, choose, DEMO, emptyHands, expect, gemmel, grid, test, idsOf } from './house';
import type { Page } from '@playwright/test';
import { oneTile } from './streetMap';

interface Picture {
  id: number;
  name: string;
  taken: string | null;
  takenSpan: { exact: string } | null;
  where: { country: string; place: string | null } | null;
  position: { lat: number; lon: number } | null;
  folder: { id: number; name: string } | null;
}

const pictureOf = (page: Page, id: number) => ask<Picture>(page, `/api/pictures/${id}`);
const countOf = async (page: Page, question: object) =>
  (await ask<{ count: number }>(page, '/api/count', { question })).count;
/** The map with its first pins; the machine that tests draws it by itself, which takes a while. */
async function map(page: Page) {
  await page.locator('[data-map=ready]').waitFor({ timeout: 60_000 });
  await expect(page.locator('.map-pin').first()).toBeVisible({ timeout: 30_000 });
  return (await page.getByTestId('map').boundingBox())!;
}

test('dates mended: a remembered summer for two from the pile, with before and after, and a shift, each with an undo @long', async ({
  inside: page,
  wide,
}) => {
  await emptyHands(page);
  await page.goto('/browse');
  await choose(page, wide, [2, 3]);
  const pile = async () => (await ask<{ ids: number[] }>(page, '/api/pile')).ids;
  await expect.poll(async () => (await pile()).length).toBe(2);
  const ids = await pile();
  if (!wide) await page.getByRole('link', { name: /Pile/ }).click();
  await page.getByRole('button', { name: 'Date', exact: true }).click();
  await page.getByLabel(/^In your own words/).fill('summer 1988');
  const preview = page.getByRole('region', { name: 'Before and after' });
  await expect(preview.getByText('summer 1988')).toHaveCount(2);
  await accessible(page);
  await page.getByRole('button', { name: 'Correct 2 dates' }).click();
  await expect(page.getByText(/^2 dates corrected/)).toBeVisible();
  expect((await pictureOf(page, ids[0]!)).takenSpan?.exact).toBe('season');
  expect(await countOf(page, { taken: { from: '1988-06-01', to: '1988-08-31' } })).toBe(2);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(async () => (await pictureOf(page, ids[0]!)).takenSpan).toBeNull();

  const before = (await pictureOf(page, ids[0]!)).taken!;
  await page.getByRole('button', { name: 'Date', exact: true }).click();
  await page.getByRole('button', { name: 'Shift' }).click();
  await page.getByLabel(/^By how much/).fill('2 h 30 min');
  await page.getByRole('button', { name: 'Earlier' }).click();
  await expect(page.getByRole('button', { name: 'Correct 2 dates' })).toBeEnabled();
  await page.getByRole('button', { name: 'Correct 2 dates' }).click();
  const then = () => pictureOf(page, ids[0]!).then((p) => Date.parse(`${p.taken}Z`));
  await expect.poll(then).toBe(Date.parse(`${before}Z`) - 9_000_000);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(then).toBe(Date.parse(`${before}Z`));
  await page.getByRole('button', { name: 'Date', exact: true }).click();
  await page.getByLabel(/^In your own words/).fill('kite day');
  await expect(page.getByRole('alert').getByText(/isn’t a date/)).toBeVisible();
  await page.keyboard.press('Escape');
  await emptyHands(page);
});

test('a place is given by searching its name, copied to another, taken away, each with an undo @long', async ({
  inside: page,
  wide,
}) => {
  const [first] = (await idsOf(page, { lacks: 'place' })).slice(wide ? 4 : 0);
  await page.goto(`/picture/${first}`);
  await page.getByRole('button', { name: 'No place yet. Give it one?' }).click();
  await page.getByLabel('Find a place by name').fill('visby');
  const found = page.getByRole('option', { name: /^Visby/ });
  await expect(found).toBeVisible();
  await accessible(page);
  await found.click();
  await page.getByRole('button', { name: 'Put it at Visby' }).click();
  await expect(page.getByText('1 picture put at Visby')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Visby, Sweden', exact: true })).toBeVisible();
  expect((await pictureOf(page, first!)).position!.lat).toBeCloseTo(57.64, 1);

  await page.getByRole('button', { name: 'Visby, Sweden', exact: true }).click();
  await page.getByRole('button', { name: 'Copy this place' }).click();
  // Without loading anything anew, since a copied place is held as long as the page lives.
  await page.keyboard.press('Escape');
  await page.getByRole('link', { name: 'What', exact: true }).click();
  await page.getByRole('button', { name: 'Without a place' }).last().click();
  const other = (await grid(page)).first();
  await other.click();
  await page.getByRole('button', { name: 'No place yet. Give it one?' }).click();
  await page.getByRole('button', { name: 'Paste: Visby, Sweden' }).click();
  await expect(page.getByText('1 picture put at Visby, Sweden')).toBeVisible();
  const second = Number(page.url().match(/picture\/(\d+)/)![1]);
  await expect.poll(async () => (await pictureOf(page, second)).where?.place ?? null).toBe('Visby');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(async () => (await pictureOf(page, second)).where).toBeNull();

  await page.goto(`/picture/${first}`);
  await page.getByRole('button', { name: 'Visby, Sweden', exact: true }).click();
  await page.getByRole('button', { name: 'Remove the place' }).click();
  await expect(page.getByText('Place removed')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(async () => (await pictureOf(page, first!)).where?.place ?? null).toBe('Visby');
  await page.getByRole('button', { name: 'Visby, Sweden', exact: true }).click();
  await page.getByRole('button', { name: 'Remove the place' }).click();
  await expect.poll(async () => (await pictureOf(page, first!)).where).toBeNull();
});

test('the map: pins with pictures, a box and a circle become chips, a pin shows its pictures', async ({
  inside: page,
}) => {
  await page.goto('/browse/where');
  await page.getByRole('button', { name: 'Map', exact: true }).click();
  const area = await map(page);
  await accessible(page);
  const total = await countOf(page, { has: 'place' });
  await expect(page.getByText(`${total} pictures with a place`)).toBeVisible();

  await page.locator('.map-pin').first().click();
  const strip = page.getByRole('region', { name: 'Pictures at this pin' });
  await expect(strip.getByText(/\d+( pictures?)? here$/)).toBeVisible();
  await accessible(page);
  await strip.getByRole('button', { name: 'Only these' }).click();
  const chip = page.getByRole('button', { name: /^Remove: on a part of the map/ });
  await expect(chip).toBeVisible();
  await chip.click();

  await page.getByRole('button', { name: 'Show all of them' }).click();
  await page.waitForTimeout(800);
  await page.getByRole('button', { name: 'Ask for a box of the map' }).click();
  const draw = async (from: [number, number], to: [number, number]) => {
    await page.mouse.move(area.x + area.width * from[0], area.y + area.height * from[1]);
    await page.mouse.down();
    await page.mouse.move(area.x + area.width * to[0], area.y + area.height * to[1], { steps: 4 });
    await page.mouse.up();
  };
  await draw([0.02, 0.02], [0.98, 0.9]);
  await expect(chip).toBeVisible();
  await chip.click();
  await page.getByRole('button', { name: 'Ask for a circle on the map' }).click();
  await draw([0.5, 0.4], [0.9, 0.4]);
  await expect(page.getByRole('button', { name: /^Remove: within .* km of a spot on the map/ })).toBeVisible();
  await page.getByRole('button', { name: 'Places as a list' }).click();
  await expect(page).toHaveURL(/\/browse\/where$/);
});

test('a picture is dropped on the map, and taken off again @wide @long', async ({ inside: page }) => {
  await page.goto('/browse/map');
  await map(page);
  const carried = page.locator('[data-unplaced]').first();
  const id = Number(await carried.getAttribute('data-unplaced'));
  await carried.dragTo(page.getByTestId('map'), { targetPosition: { x: 300, y: 260 } });
  await expect(page.getByText('1 picture put on the map')).toBeVisible();
  expect((await pictureOf(page, id)).position).not.toBeNull();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(async () => (await pictureOf(page, id)).position).toBeNull();
});

test('a place of the household’s own is named on the map, asked for, and its name taken away @long', async ({
  inside: page,
  own,
}) => {
  await page.goto('/browse/where');
  await page.getByRole('button', { name: 'Name a place' }).click();
  await page.getByLabel('What you call it').fill(own('The old town'));
  await page.getByLabel('Find a place by name').fill('visby');
  await page.getByRole('option', { name: /^Visby/ }).click();
  await page.getByRole('button', { name: 'Hidden from guests' }).click();
  await page.getByRole('dialog').locator('[data-map=ready]').waitFor({ timeout: 60_000 });
  await accessible(page);
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText(/Pictures taken there say so now/)).toBeVisible();
  await page.getByRole('button', { name: new RegExp(`^${own('The old town').replace(/[()]/g, '.')}`) }).click();
  await expect(page).toHaveURL(/\/browse$/);
  await expect(page.getByRole('button', { name: `Remove: at ${own('The old town')}` })).toBeVisible();
  await page.goto('/browse/where');
  await page.getByRole('button', { name: `Change ${own('The old town')}` }).click();
  await page.getByRole('button', { name: 'Remove the name' }).click();
  await expect(page.getByText(/is no longer a place/)).toBeVisible();
});

test('folders as they came: from a picture to where it lies, sorted, flat, and an album in one act @long', async ({
  inside: page,
}) => {
  const [id] = await idsOf(page, { all: [] });
  const { folder } = await pictureOf(page, id!);
  await page.goto(`/picture/${id}`);
  await page.getByRole('link', { name: `Its folder: ${folder!.name}` }).click();
  const row = page.locator(`[data-folder="${folder!.id}"]`);
  await expect(row).toBeInViewport();
  await expect(row).toHaveAttribute('aria-current', 'location');
  await accessible(page);
  await page.getByRole('button', { name: 'Flat' }).click();
  await page.getByRole('button', { name: 'Size' }).click();
  await accessible(page);
  const { folders } = await ask<{ folders: { id: number; bytes: number; pictures: number }[] }>(page, '/api/folders');
  const largest = folders.filter((f) => f.pictures).sort((a, b) => b.bytes - a.bytes)[0]!;
  await expect(page.locator('[data-folder]').first()).toHaveAttribute('data-folder', String(largest.id));
  await page
    .locator('[data-folder]')
    .first()
    .getByRole('button', { name: /^More for/ })
    .click();
  await page.getByRole('button', { name: 'Put all into an album' }).click();
  await page.getByRole('button', { name: 'Make album' }).click();
  await expect(page).toHaveURL(/\/albums\/\d+$/);
  await page.getByRole('button', { name: 'Undo' }).click();
});

test('the sitting: an event named and left for later, counted to the end', async ({ inside: page, wide }) => {
  await page.goto('/arrivals');
  await page.getByRole('button', { name: /^Days and events/ }).click();
  await expect(page).toHaveURL(/\/sitting$/);
  await expect(page.getByText(/still open/)).toBeVisible();
  await accessible(page);
  await page.getByRole('button', { name: 'Later' }).click();
  await expect(page.getByText(/1 left for later/)).toBeVisible();
  await page.getByLabel('Or your own name').fill(wide ? 'A wide day' : 'A small day');
  await page.getByRole('button', { name: 'Use this name' }).click();
  await expect(page.getByText(/1 answered/)).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  const named = async () =>
    (await ask<{ events: { title: string | null }[] }>(page, '/api/events')).events.some((e) =>
      /A (wide|small) day/.test(e.title ?? ''),
    );
  await expect.poll(named).toBe(false);
  await expect(page.getByText(/1 answered/)).toHaveCount(0);
});

test('by time: oldest first, one flat list, and up from a day to its month and year @long', async ({
  inside: page,
}) => {
  await page.goto('/browse');
  await grid(page);
  const [newest] = await idsOf(page, { all: [] });
  await page.getByRole('button', { name: 'How pictures are shown' }).click();
  await accessible(page);
  await page.getByRole('button', { name: 'Oldest first' }).click();
  const under = page.getByRole('group', { name: 'Under headings of' });
  await under.getByRole('button', { name: 'Nothing' }).click();
  await grid(page);
  await expect(page.getByRole('heading', { level: 3 })).toHaveCount(0);
  // Under people each heading says who.
  await under.getByRole('button', { name: 'People' }).click();
  await expect(page.getByRole('heading', { level: 2, name: /Agathe Wend/ }).first()).toBeVisible();
  await accessible(page);
  const day = (await pictureOf(page, newest!)).taken!.slice(0, 10);
  await page.getByRole('button', { name: 'Newest first' }).click();
  await under.getByRole('button', { name: 'Events' }).click();
  await page.getByRole('button', { name: 'Calendar' }).click();
  await page
    .locator(`#month-${day.slice(0, 7)} [data-day]`)
    .last()
    .click();
  await grid(page);
  await page.getByRole('button', { name: `› ${day.slice(0, 4)}` }).click();
  await expect(page.getByRole('button', { name: `Remove: taken in ${day.slice(0, 4)}` })).toBeVisible();
  await page.getByRole('button', { name: 'This level only' }).click();
  await expect(page.getByRole('button', { name: /^Remove: dated only/ })).toBeVisible();
  await page.getByRole('button', { name: 'All years' }).click();
  await grid(page);
});

test('the vault is laid out in another way, and back @long', async ({ inside: page }) => {
  await page.goto('/household');
  const other = page.getByRole('radio', { name: /^Days and events side by side/ });
  await other.click();
  await expect(page.getByText(/are being rearranged/)).toBeVisible();
  await accessible(page);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('radio', { name: /^One folder per year, with one per day/ })).toBeChecked();
});

test('a clock that is an hour behind is noticed, mended, taken back, and its pictures find their place on a track @long', async ({
  inside: page,
  home,
  wide,
}) => {
  test.setTimeout(300_000);
  // Three occasions a camera and a phone were at, and the days of a recorded track.
  const came = path.join(import.meta.dirname, 'out/camera');
  rmSync(came, { recursive: true, force: true });
  const { files } = JSON.parse(readFileSync(path.join(DEMO, 'truth.json'), 'utf8')) as {
    files: { path: string; folder: string; event: string | null; kind: string; trueLocal?: string }[];
  };
  const some = (folder: string, event: string | null, most: number) =>
    files
      .filter(
        (f) =>
          f.kind !== 'bad' &&
          f.folder === folder &&
          (event ? f.event === event : f.trueLocal?.startsWith('2026-07-12')),
      )
      .slice(0, most);
  const wanted = [
    ...['skating', 'kite-day', 'lantern-parade'].flatMap((event) => some('good-camera', event, 6)),
    ...some('good-camera', null, 5),
    ...some('martens-phone', 'kite-day', 6),
  ];
  for (const file of wanted) {
    mkdirSync(path.dirname(path.join(came, file.path)), { recursive: true });
    copyFileSync(path.join(DEMO, file.path), path.join(came, file.path));
  }
  gemmel(home, 'import', came);
  const clocks = async () => (await ask<{ clocks: { shiftSeconds: number }[] }>(page, '/api/clocks')).clocks;
  await expect.poll(async () => (await clocks()).length, { timeout: 120_000 }).toBeGreaterThan(0);
  expect(Math.abs((await clocks())[0]!.shiftSeconds - 3720)).toBeLessThanOrEqual(60);
  await page.goto('/sitting');
  const offer = page.getByRole('group', { name: /^Clock of/ });
  await accessible(page);
  await offer.getByRole('button', { name: /^Correct \d+ pictures?$/ }).click();
  await expect(page.getByText(/now shows? the right time/)).toBeVisible();
  await expect.poll(async () => (await clocks()).length).toBe(0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(async () => (await clocks()).length).toBe(1);
  await expect(offer).toBeVisible();

  await emptyHands(page);
  const ids = await idsOf(page, { all: [{ taken: { from: '2026-07-12', to: '2026-07-12' } }, { lacks: 'place' }] });
  expect(ids.length).toBeGreaterThan(2);
  const { token } = await ask<{ token: string }>(page, '/api/me');
  await page.request.put('/api/pile', { data: { ids }, headers: { 'x-gemmel-token': token } });
  await page.goto(wide ? '/browse' : '/pile');
  await page.getByRole('button', { name: 'Place', exact: true }).click();
  await page.getByTestId('gpx').setInputFiles(path.join(DEMO, 'household.json'));
  await expect(page.getByText(/isn’t a GPX track/)).toBeVisible();
  await page.getByTestId('gpx').setInputFiles(path.join(DEMO, 'tracks/2026-07-12-gotland.gpx'));
  await page.getByLabel('Add to the camera’s clock').fill('1:02');
  await expect(page.getByText(/lie on the track/)).toBeVisible();
  await accessible(page);
  await page.getByRole('button', { name: /^Put \d+ pictures? on the track$/ }).click();
  await expect(page.getByText(/put on the track/)).toBeVisible();
  const placed = await Promise.all(ids.map((id) => pictureOf(page, id)));
  expect(placed.filter((p) => p.position && Math.abs(p.position.lat - 57.6) < 0.5).length).toBeGreaterThan(2);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(async () => (await pictureOf(page, ids[0]!)).position).toBeNull();
  await emptyHands(page);
});

test('a street map in the data folder is drawn over the base map, whatever its layers hold @long', async ({
  inside: page,
  home,
}) => {
  const file = path.join(home.data, 'town.pmtiles');
  // How much of the map is water, by its colour.
  const water = async () => {
    await page.goto('/browse/map');
    await map(page);
    await page.waitForTimeout(2500);
    const { data } = await sharp(await page.getByTestId('map').screenshot())
      .removeAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    let n = 0;
    for (let i = 0; i < data.length; i += 3) if (data[i] === 0xc4 && data[i + 1] === 0xd9 && data[i + 2] === 0xd6) n++;
    return n / (data.length / 3);
  };
  const before = await water();
  try {
    writeFileSync(file, oneTile('water'));
    const flooded = await water();
    expect(flooded).toBeGreaterThan(before + 0.2);
    writeFileSync(file, 'no map at all');
    await page.goto('/browse/map');
    await expect(page.getByRole('alert').getByText(/can’t be read. The map works without it/)).toBeVisible({
      timeout: 60_000,
    });
    await expect(page.locator('.map-pin').first()).toBeVisible({ timeout: 30_000 });
  } finally {
    rmSync(file, { force: true });
  }
});
