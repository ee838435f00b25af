import { appendFileSync, copyFileSync, mkdirSync, readdirSync, rmSync } from 'node:fs';
import { spawn } from 'node:child_process';
import path from 'node:path';
import type { Page } from '@playwright/test';
import { accessible, ask, DEMO, emptyHands, expect, grid, idsOf, test } from './house';
import { envOf, OUT, ROOT } from './server';

const pictureOf = (page: Page, id: number) =>
  ask<{ rating: number; caption: string | null }>(page, `/api/pictures/${id}`);

test('an act is taken back and done again from the diary, and a new album undone leads back from its page', async ({
  inside: page,
  own,
}) => {
  const [id] = await idsOf(page, { kind: 'photo' });
  await ask(page, '/api/pictures/change', { ids: [id], change: { caption: own('Said for the diary') } });
  await page.goto('/done');
  await expect(page.getByRole('heading', { name: 'Today' })).toBeVisible();
  const entry = page.getByText('Changed caption of 1 picture').first();
  await expect(entry).toBeVisible();
  await accessible(page);
  await page.getByRole('button', { name: 'Undo' }).first().click();
  await expect(page.getByText('Undone: Changed caption of 1 picture')).toBeVisible();
  await expect.poll(async () => (await pictureOf(page, id!)).caption).not.toBe(own('Said for the diary'));
  await expect(page.getByText(/undone by/).first()).toBeVisible();
  await page.getByRole('button', { name: 'Redo' }).first().click();
  await expect.poll(async () => (await pictureOf(page, id!)).caption).toBe(own('Said for the diary'));

  await page.goto('/albums');
  await page.getByRole('button', { name: 'Make an album' }).click();
  await page.getByLabel('Name').fill(own('Soon gone'));
  await page.getByRole('button', { name: 'An empty album' }).click();
  await expect(page).toHaveURL(/\/albums\/\d+$/);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page).toHaveURL(/\/albums$/);
  await expect(page.getByText('That didn’t work')).toHaveCount(0);
});

test('a click opens; the mark, Ctrl and X choose; Ctrl and Z take back step by step; a right click offers everything @wide', async ({
  inside: page,
}) => {
  await emptyHands(page);
  await page.goto('/browse');
  const tiles = await grid(page);
  await tiles.nth(2).hover();
  await tiles.nth(2).locator('[data-choose]').click();
  await expect(tiles.nth(2)).toHaveAttribute('aria-pressed', 'true');
  await tiles.nth(3).focus();
  await page.keyboard.press('x');
  await expect(page.getByRole('link', { name: /Open the pile: 2 picture/ })).toBeVisible();
  await tiles.nth(3).click({ button: 'right' });
  const menu = page.getByRole('dialog', { name: '2 pictures' });
  await expect(menu).toBeVisible();
  await accessible(page);
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    menu.getByRole('button', { name: 'Save as ZIP' }).click(),
  ]);
  expect(download.suggestedFilename()).toBe('Pictures.zip');
  await emptyHands(page);
  const [first] = await idsOf(page, { all: [] });
  const before = (await pictureOf(page, first!)).rating;
  await tiles.first().focus();
  await page.keyboard.press(before === 2 ? '3' : '2');
  await expect(page.getByText(/^★{2,3} given$/)).toBeVisible();
  await page.keyboard.press(before === 4 ? '5' : '4');
  await expect(page.getByText(/^★{4,5} given$/)).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await pictureOf(page, first!)).rating).toBe(before === 2 ? 3 : 2);
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await pictureOf(page, first!)).rating).toBe(before);
  await tiles.first().click();
  await expect(page).toHaveURL(/\/picture\/\d+/);
});

test('a phone on its side gives the picture, and the map, the whole screen @long', async ({ inside: page }) => {
  const [id] = await idsOf(page, { kind: 'photo' });
  await page.setViewportSize({ width: 844, height: 390 });
  await page.goto(`/picture/${id}`);
  await expect.poll(async () => (await page.getByTestId('viewer').boundingBox())?.height).toBeGreaterThan(380);
  await page.goto('/browse/map');
  await expect.poll(async () => (await page.getByTestId('map').boundingBox())?.height).toBeGreaterThan(370);
  await expect(page.getByRole('navigation', { name: 'Places' })).toHaveCount(0);
  await page.setViewportSize({ width: 320, height: 568 });
  await page.goto('/introductions');
  const line = page.getByLabel('Type a name');
  await line.click();
  await line.fill('no');
  // What is typed on is not covered by anything.
  const box = (await line.boundingBox())!;
  const top = await page.evaluate(
    ([x, y]) => document.elementFromPoint(x!, y!)?.getAttribute('aria-label'),
    [box.x + box.width / 2, box.y + box.height / 2],
  );
  expect(top).toBe('Type a name');
});

test('what the question offers is all to be seen, and what comes in by the command line is heard without asking again for each file @long', async ({
  inside: page,
  home,
  own,
}) => {
  const many = process.env['E2E_LONG'] ? 300 : 16;
  if (process.env['E2E_LONG']) test.setTimeout(900_000);
  const folder = path.join(OUT, 'many', own('Many'));
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  const source = path.join(DEMO, 'later/noors-phone/DCIM/100');
  const names = readdirSync(source).filter((name) => name.endsWith('.jpg'));
  for (let i = 0; i < many; i++) {
    const file = path.join(folder, `many-${i}.jpg`);
    copyFileSync(path.join(source, names[i % names.length]!), file);
    appendFileSync(file, `${own('many')} ${i}`);
  }
  await page.goto('/browse');
  const line = page.getByLabel('Ask for people, places, days, tags');
  await line.fill('em');
  const offered = page.getByRole('option');
  await expect(offered.first()).toBeVisible();
  for (const one of await offered.all()) {
    const box = (await one.boundingBox())!;
    const inside = await page.evaluate(
      ([x, y]) => document.elementFromPoint(x!, y!)?.closest('[role=option]')?.textContent,
      [box.x + 30, box.y + box.height / 2],
    );
    expect(inside).toBe(await one.textContent());
  }
  await line.fill('');
  await grid(page);
  const before = (await ask<{ count: number }>(page, '/api/count', { question: { all: [] } })).count;
  const asked: string[] = [];
  page.on('request', (request) => asked.push(new URL(request.url()).pathname));
  const began = Date.now();
  const importing = spawn(process.execPath, [path.join(ROOT, 'apps/server/dist/cli.js'), 'import', folder], {
    env: envOf(home.data),
    stdio: 'ignore',
  });
  await new Promise((resolve) => importing.once('exit', resolve));
  await expect
    .poll(async () => (await ask<{ count: number }>(page, '/api/count', { question: { all: [] } })).count)
    .toBe(before + many);
  await page.waitForTimeout(6000);
  const of = (at: string) => asked.filter((one) => one === at).length;
  // It is heard, though another process did it, and the grid is asked for a few times, not for each file.
  expect(of('/api/skeleton')).toBeGreaterThan(0);
  const few = Math.max(14, many / 10, (Date.now() - began) / 8000);
  expect(of('/api/skeleton')).toBeLessThan(few);
  expect(of('/api/events')).toBeLessThan(few);
  expect(of('/api/albums')).toBeLessThan(few);
});
