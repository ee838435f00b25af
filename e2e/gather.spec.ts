import { execFileSync } from 'node:child_process';
import { appendFileSync, copyFileSync, mkdirSync, readdirSync, rmSync } from 'node:fs';
import path from 'node:path';
import type { Locator, Page } from '@playwright/test';
import { accessible, ask, DEMO, expect, gemmel, grid, test } from './house';
import { OUT } from './server';

const CHOSEN = path.join(OUT, 'chosen');

const SCANS = readdirSync(path.join(DEMO, 'old-laptop/messages')).map((name) =>
  path.join(DEMO, 'old-laptop/messages', name),
);

/** A folder of pictures that no other test has: each has a mark of its own behind its end. */
function folderOf(name: string, files: Record<string, number>): string {
  const folder = path.join(CHOSEN, name);
  rmSync(folder, { recursive: true, force: true });
  for (const [at, n] of Object.entries(files)) {
    const file = path.join(folder, at);
    mkdirSync(path.dirname(file), { recursive: true });
    copyFileSync(SCANS[n]!, file);
    appendFileSync(file, `${name} ${at}`);
  }
  return folder;
}

/** Drops files and folders on the page as a desktop does. */
async function drop(page: Page, files: string[]): Promise<void> {
  const desktop = await page.context().newCDPSession(page);
  const data = { items: [], files, dragOperationsMask: 1 };
  for (const type of ['dragEnter', 'dragOver', 'drop'] as const)
    await desktop.send('Input.dispatchDragEvent', { type, x: 180, y: 300, data });
  await desktop.detach();
}

const batch = (page: Page, name: string): Locator => page.getByRole('group', { name, exact: true });
const stored = { timeout: 60_000 };

test('three nested folders dropped at once: each its own batch, the offers answered out of order, the last after a reload @long', async ({
  inside: page,
  own,
}) => {
  await page.goto('/arrivals');
  await expect(page.getByRole('heading', { name: 'What has come in' })).toBeVisible();
  const names = [own('Orchard'), own('Harbour'), own('Attic')] as const;
  const folders = [
    folderOf(names[0], { 'a.jpg': 0, 'deep/er/b.jpg': 1 }),
    folderOf(names[1], { 'summer/c.jpg': 2, 'winter/d.jpg': 3 }),
    folderOf(names[2], { 'box/of/e.jpg': 4 }),
  ];
  await drop(page, folders);
  for (const name of names) await expect(batch(page, name).getByText(/pictures? stored/)).toBeVisible(stored);
  await accessible(page);
  // The middle one first, under another name; the last one not at all; the first after coming back.
  await batch(page, names[1]).getByRole('button', { name: 'Make an album' }).click();
  await expect(batch(page, names[1]).getByText('summer (1), winter (1)')).toBeVisible();
  await batch(page, names[1]).getByRole('button', { name: 'One album for each of 2 folders' }).click();
  await expect(page.getByText('2 albums made, one for each folder')).toBeVisible();
  await expect(batch(page, names[1]).getByRole('button', { name: 'winter' })).toBeVisible();
  await batch(page, names[2])
    .getByRole('button', { name: `No album for ${names[2]}` })
    .click();
  await page.reload();
  await batch(page, names[0]).getByRole('button', { name: 'Make an album' }).click();
  const field = batch(page, names[0]).getByLabel('Name of the album');
  await expect(field).toHaveValue(names[0]);
  await field.fill(own('Apples'));
  await batch(page, names[0]).getByRole('button', { name: 'Make album' }).click();
  await batch(page, names[0]).getByRole('button', { name: 'Open its album' }).click();
  await expect(page.getByRole('heading', { name: own('Apples') })).toBeVisible();
  expect(await (await grid(page)).count()).toBe(2);
});

test('a known folder dropped again: nothing is sent, nothing is double, and the album is offered still @long', async ({
  inside: page,
  own,
}) => {
  await page.goto('/arrivals');
  await expect(page.getByRole('heading', { name: 'What has come in' })).toBeVisible();
  const name = own('Twice');
  const folder = folderOf(name, { 'a.jpg': 5, 'b.jpg': 6 });
  await drop(page, [folder]);
  await expect(batch(page, name).getByText('2 pictures stored')).toBeVisible(stored);
  await page.waitForTimeout(300);
  const sent: string[] = [];
  page.on('request', (r) => r.url().includes('/api/uploads') && sent.push(r.url()));
  await drop(page, [folder]);
  await expect(batch(page, name).first().getByText('2 already here')).toBeVisible(stored);
  expect(sent).toEqual([]);
  await batch(page, name).first().getByRole('button', { name: 'Make an album' }).click();
  await batch(page, name).first().getByRole('button', { name: 'Make album' }).click();
  await batch(page, name).first().getByRole('button', { name: 'Open its album' }).click();
  await expect(page.getByRole('heading', { name })).toBeVisible();
  expect(await (await grid(page)).count()).toBe(2);
});

test('a page that is reloaded in mid-upload goes on by itself @long', async ({ inside: page, own }) => {
  const name = own('Reload');
  const folder = folderOf(name, { 'a.jpg': 7, 'b.jpg': 8, 'c.jpg': 9 });
  await page.goto('/arrivals');
  let through = 0;
  await page.route('**/api/uploads', async (route) => {
    // The first comes through, the others hang on a slow line.
    if (through++ === 0) await route.continue();
    else await new Promise((resolve) => setTimeout(resolve, 60_000)).then(() => route.abort().catch(() => undefined));
  });
  await page.getByTestId('folder').setInputFiles(folder);
  await expect(batch(page, name).getByText(/1 of 3 · 33%/)).toBeVisible(stored);
  await page.unrouteAll({ behavior: 'ignoreErrors' });
  await page.reload();
  await expect(batch(page, name).getByText('3 pictures stored')).toBeVisible(stored);
  await expect(batch(page, name)).toHaveCount(1);
});

test('a closed page asks for the folder again and goes on in the same batch; pausing holds it @long', async ({
  inside: page,
  own,
}) => {
  const name = own('Closed');
  const folder = folderOf(name, { 'a.jpg': 0, 'b.jpg': 1 });
  await page.goto('/arrivals');
  await page.route('**/api/uploads', (route) => route.abort());
  await page.getByTestId('folder').setInputFiles(folder);
  await expect(batch(page, name).getByText(/Connection lost/)).toBeVisible(stored);
  await page.evaluate(() => indexedDB.deleteDatabase('gemmel-sending'));
  await page.goto('/browse');
  await page.evaluate(() => indexedDB.deleteDatabase('gemmel-sending'));
  await page.goto('/arrivals');
  await expect(batch(page, name).getByText(/2 files never arrived because the page was closed/)).toBeVisible();
  await accessible(page);
  await page.unrouteAll({ behavior: 'ignoreErrors' });
  const chooser = page.waitForEvent('filechooser');
  await batch(page, name).getByRole('button', { name: 'Choose it again' }).click();
  await (await chooser).setFiles(folder);
  await expect(batch(page, name).getByText('2 pictures stored')).toBeVisible(stored);
  await expect(batch(page, name)).toHaveCount(1);
});

test('a failing line is told and recovers by itself, without a file lost or double @long', async ({
  inside: page,
  own,
}) => {
  const name = own('Failing');
  const folder = folderOf(name, { 'a.jpg': 2, 'b.jpg': 3, 'c.jpg': 4 });
  await page.goto('/arrivals');
  let broken = 0;
  await page.route('**/api/uploads**', (route) => (broken++ < 14 ? route.abort('connectionreset') : route.continue()));
  await page.getByTestId('folder').setInputFiles(folder);
  await expect(batch(page, name).getByText(/Connection lost at 0 of 3/)).toBeVisible(stored);
  await expect(batch(page, name).getByText('3 pictures stored')).toBeVisible(stored);
  const { batches } = await ask<{ batches: { name: string; counts: object }[] }>(page, '/api/batches');
  expect(batches.filter((b) => b.name === name).map((b) => b.counts)).toMatchObject([
    { total: 3, stored: 3, known: 0 },
  ]);
});

test('a card shows up: what is on it by day, ticked singly, by day and by range, numbered, taken, and let go @long', async ({
  inside: page,
  home,
  wide,
}) => {
  const name = 'card-autumn';
  await page.goto('/arrivals');
  gemmel(home, 'standin', 'card', 'insert', name);
  try {
    const offer = page.getByRole('group', { name: `Card ${name}` });
    await expect(offer.getByText(/\d+ new pictures?/)).toBeVisible({ timeout: 30_000 });
    await accessible(page);
    await offer.getByRole('button', { name: 'See what’s on it' }).click();
    const boxes = page.getByRole('checkbox');
    await expect(boxes).toHaveCount(24);
    await expect(boxes.first().locator('img')).toBeVisible();
    await accessible(page);
    const fresh = await page.locator('[role=checkbox][aria-checked=true]').count();
    await page.getByRole('button', { name: 'None' }).click();
    await expect(page.getByText('Nothing ticked')).toBeVisible();
    const open = page.locator('[role=checkbox][aria-disabled=false]');
    await open.nth(0).click();
    await expect(open.nth(0)).toBeChecked();
    if (wide) await open.nth(3).click({ modifiers: ['Shift'] });
    else {
      await open.nth(0).click();
      await open.nth(0).click({ delay: 700 });
      await open.nth(3).click();
    }
    await expect(page.getByText(/^4 pictures · /)).toBeVisible();
    await open.nth(1).click();
    await expect(page.getByText(/^3 pictures · /)).toBeVisible();
    await page.getByRole('button', { name: 'Tick the day' }).first().click();
    await expect(page.getByText(new RegExp(`^${fresh} pictures · `))).toBeVisible();
    await page.getByRole('button', { name: 'Untick the day' }).first().click();
    await open.nth(0).click();
    await open.nth(2).click();
    await page.getByRole('button', { name: 'Number the files' }).click();
    await page.getByLabel('Name').fill('Evening');
    await expect(page.getByText('Evening 002.jpg')).toBeVisible();
    await page.getByRole('button', { name: 'Use these names' }).click();
    await page.getByRole('button', { name: 'Bring in 2' }).click();
    await expect(page.getByText('2 pictures stored')).toBeVisible(stored);
    await expect(page.getByText(/^Copied from a card/)).toBeVisible();
    await accessible(page);
    await page.getByRole('button', { name: 'See the pictures' }).click();
    expect(await (await grid(page)).count()).toBe(2);
    await expect
      .poll(async () => {
        const { batches } = await ask<{ batches: { id: number; name: string }[] }>(page, '/api/batches');
        const mine = batches.find((b) => b.name.startsWith(name))!;
        const { tiles } = await ask<{ tiles: { id: number }[] }>(page, '/api/pictures/page', {
          question: { batch: mine.id },
          limit: 5,
        });
        const one = await ask<{ name: string; originalName: string | null }>(page, `/api/pictures/${tiles[0]!.id}`);
        return [one.name.startsWith('Evening 00'), one.originalName !== null];
      })
      .toEqual([true, true]);
    await page.goto('/devices');
    const device = page.getByRole('group').filter({ hasText: `Card or folder: ${name}` });
    await expect(device.getByText(/files on it aren’t here/)).toBeVisible();
    await accessible(page);
  } finally {
    gemmel(home, 'standin', 'card', 'eject', name);
  }
  await page.goto('/arrivals');
  await expect(page.getByRole('group', { name: `Card ${name}` })).toHaveCount(0, { timeout: 20_000 });
});

test('a phone is let in with a password shown once, and delivers by itself @long', async ({
  inside: page,
  own,
  home,
}) => {
  await page.goto('/devices');
  await page.getByRole('button', { name: 'Connect a phone' }).click();
  await page.getByLabel('Whose phone is it?').fill(own('Gran’s phone'));
  await page.getByRole('button', { name: 'Connect it' }).click();
  await expect(page.getByRole('img', { name: /QR code/ })).toBeVisible();
  await expect(page.getByLabel(/^Password: [a-z2-9]{5}(-[a-z2-9]{5}){3}$/)).toBeVisible();
  await accessible(page);
  await page.getByRole('button', { name: 'Done' }).click();
  await expect(page.getByText(`Sends by itself: ${own('Gran’s phone')}`)).toBeVisible();
  const name = 'noors-phone';
  expect(gemmel(home, 'standin', 'phone', name, 'sync')).toMatch(/Phone noors-phone: 14 files sent/);
  await page.goto('/arrivals');
  const delivered = page.getByRole('group', { name: new RegExp(`^${name}, \\d`) }).first();
  await expect(delivered.getByText(/pictures? stored|already here/)).toBeVisible(stored);
  await delivered.getByRole('link', { name: /See every file/ }).click();
  await expect(page.getByText(/^Sent by a phone/)).toBeVisible();
  expect(gemmel(home, 'standin', 'phone', name, 'sync')).toContain('0 files sent');
});

test('a batch: every file and its fate, saved as a list, numbered with an undo, and tried again @long', async ({
  inside: page,
  own,
}) => {
  const name = own('Fates');
  const folder = folderOf(name, { 'a.jpg': 5, 'b.jpg': 6 });
  copyFileSync(path.join(DEMO, 'bad/letter.jpg'), path.join(folder, 'letter.jpg'));
  await page.goto('/arrivals');
  await page.getByTestId('folder').setInputFiles(folder);
  await expect(batch(page, name).getByText('2 pictures stored · 1 left out')).toBeVisible(stored);
  await batch(page, name)
    .getByRole('link', { name: /See every file/ })
    .click();
  await page.getByRole('button', { name: 'Left out 1' }).click();
  await expect(page.getByText('letter.jpg', { exact: true })).toBeVisible();
  await expect(page.getByText('a.jpg', { exact: true })).toHaveCount(0);
  const saving = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Save this list' }).click();
  expect((await saving).suggestedFilename()).toMatch(/\.csv$/);
  await page.getByRole('button', { name: 'Names of the files' }).click();
  await page.getByLabel('My own words').last().fill(own('Grapes'));
  await expect(page.getByText(`${own('Grapes')} 001.jpg`)).toBeVisible();
  // In the order in which they are touched.
  await page.getByRole('button', { name: 'Name it came with' }).click();
  await expect(page.getByText(`${own('Grapes')} 001 a.jpg`)).toBeVisible();
  await page.getByRole('button', { name: 'Name 2 files' }).click();
  await expect(page.getByText(/2 files named/)).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText(/^Undone: /)).toBeVisible();
  await page.getByRole('button', { name: 'Try the failed ones again' }).click();
  await expect(page.getByText('Nothing to try again')).toBeVisible();
});

test('what an older library said differently is listed and decided with one touch @long', async ({
  inside: page,
  own,
  wide,
}) => {
  const name = own('Older');
  const folder = path.join(CHOSEN, name);
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  const [jpg, xmp] = wide ? ['02-13_01.jpg', '02-13_01.xmp'] : ['03-23_03.jpg', '03-23_03.xmp'];
  const title = wide ? 'A Sunday' : 'First snow';
  for (const file of [jpg, xmp]) copyFileSync(path.join(DEMO, 'older-library/2023', file), path.join(folder, file));
  await page.goto('/arrivals');
  await page.getByTestId('folder').setInputFiles(path.join(folder));
  await expect(batch(page, name).getByText('1 picture stored')).toBeVisible(stored);
  const { ids } = await ask<{ ids: number[] }>(page, '/api/skeleton', { question: { text: jpg } });
  await ask(page, '/api/pictures/change', { ids, change: { title: own('Ours') } });
  appendFileSync(path.join(folder, xmp), '\n');
  await page.getByTestId('folder').setInputFiles(folder);
  const again = batch(page, name).first();
  await expect(again.getByText('1 fact where two sources disagree')).toBeVisible(stored);
  await again.getByRole('link', { name: /See every file/ }).click();
  await expect(page.getByRole('heading', { name: 'Two sources disagree' })).toBeVisible();
  await accessible(page);
  await page.getByRole('button', { name: `Take: ${title}` }).click();
  await expect(page.getByText('Taken over: title')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('button', { name: `Keep: ${own('Ours')}` }).click();
  await expect(page.getByText('Left as it is')).toBeVisible();
  const [first] = ids;
  expect((await ask<{ title: string }>(page, `/api/pictures/${first}`)).title).toBe(own('Ours'));
});

test('clips: a silent preview under the pointer, one that browsers cannot play is converted, a moment plays from its still @long', async ({
  inside: page,
  own,
  wide,
}) => {
  const name = own('Clips');
  const folder = path.join(CHOSEN, name);
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  execFileSync('ffmpeg', [
    '-v',
    'error',
    '-y',
    '-f',
    'lavfi',
    '-i',
    `testsrc=size=${wide ? 640 : 480}x360:rate=25:duration=4`,
    '-c:v',
    'mpeg2video',
    '-an',
    '-f',
    'mpegts',
    path.join(folder, 'old-camera.mts'),
  ]);
  for (const ending of ['heic', 'mov'])
    copyFileSync(path.join(DEMO, `ilses-phone/DCIM/100/IMG_2024.${ending}`), path.join(folder, `IMG_2024.${ending}`));
  await page.goto('/arrivals');
  await page.getByTestId('folder').setInputFiles(folder);
  await expect(batch(page, name).getByText(/2 pictures stored|1 picture stored · 1 already here/)).toBeVisible(stored);
  await batch(page, name)
    .getByRole('link', { name: /See every file/ })
    .click();
  await page.getByRole('link', { name: /old-camera.mts/ }).click();
  await expect(page.locator('video')).toBeVisible(stored);
  await expect.poll(() => page.locator('video').evaluate((v: HTMLVideoElement) => v.duration)).toBeGreaterThan(3.5);
  await page.goBack();
  await page.getByRole('link', { name: /IMG_2024.heic/ }).click();
  await page.getByRole('button', { name: 'Play the moment' }).click();
  await expect(page.getByLabel('The moving part of IMG_2024.heic')).toBeVisible();
  await expect(page.getByLabel('The moving part of IMG_2024.heic')).toHaveCount(0, { timeout: 10_000 });
  await page.getByText(/The moving part/).scrollIntoViewIfNeeded();
  await accessible(page);
  if (!wide) return;
  await page.goto('/browse');
  await grid(page);
  // The folder they came in; a clip says how long it is.
  await page.getByLabel('Ask for people, places, days, tags').fill('clips');
  await page
    .getByRole('option', { name: /^clips/i })
    .first()
    .click();
  const clip = (await grid(page)).filter({ hasText: /\d:\d\d/ }).first();
  await clip.hover();
  await expect.poll(() => clip.locator('video').evaluate((v: HTMLVideoElement) => v.currentTime)).toBeGreaterThan(0);
  expect(await clip.locator('video').evaluate((v: HTMLVideoElement) => v.muted)).toBe(true);
  await page.mouse.move(2, 2);
  await expect(clip.locator('video')).toHaveCount(0);
});
