import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import type { Page } from '@playwright/test';
import { accessible, ask, expect, idsOf, test } from './house';

/** Has a piece's files made, and waits until the page shows them. */
async function make(page: Page, label: string): Promise<void> {
  await page.getByRole('button', { name: label, exact: true }).click();
  await expect(page.getByText(/^Made .*\.$/)).toBeVisible({ timeout: 120_000 });
}

/** Begins a piece of some kind from the album's page. */
async function begin(page: Page, kind: string, name: string, settle?: () => Promise<void>): Promise<void> {
  await page.getByRole('button', { name: 'Make something' }).first().click();
  const dialog = page.getByRole('dialog', { name: 'Make something of these' });
  await expect(dialog.getByText(kind, { exact: true }).first()).toBeVisible();
  const kinds = await dialog.getByRole('button', { name: 'Begin', exact: true }).all();
  const order = [
    'Family book',
    'Prints',
    'Collage',
    'Greeting card',
    'Calendar',
    'Film',
    'Pages for a stick',
    'Copies',
  ];
  await kinds[order.indexOf(kind)]!.click();
  await page.getByLabel('What it is called').fill(name);
  await settle?.();
  await page.getByRole('dialog').getByRole('button', { name: 'Begin', exact: true }).click();
  await expect(page).toHaveURL(/\/piece\/\d+/);
}

test('a family book from an album: turned, arranged otherwise, moved, written, made', async ({ inside: page, own }) => {
  const ids = await idsOf(page, { all: [{ kind: 'photo' }] });
  const album = (await ask<{ id: number }>(page, '/api/albums', { name: own('Our year'), ids: ids.slice(0, 24) })).id;
  await page.goto(`/albums/${album}`);
  await begin(page, 'Family book', 'The year in pictures');
  await expect(page.getByText(/Family book of “Our year.*pages/)).toBeVisible();
  await expect(page.getByRole('img', { name: 'The cover' }).first()).toBeVisible();
  const next = page.getByRole('button', { name: 'Next', exact: true });
  await next.click();
  await expect(page.getByText('Page 1', { exact: true })).toBeVisible();
  await next.click();
  await expect(page.getByText(/^Pages 2 and 3/)).toBeVisible();
  await accessible(page);
  const spread = page.locator('.book svg[role=img]');
  // Beside its pictures a page is touched, on one of them that picture.
  await spread.first().click({ position: { x: 4, y: 4 } });
  const keep = page.getByRole('button', { name: 'Keep this page as it is' });
  await keep.click();
  await expect(page.getByRole('button', { name: 'Let this page flow again' })).toBeVisible();
  await page.getByRole('button', { name: 'Words', exact: true }).click();
  await page.getByLabel('Title of the chapter').fill('How it began');
  await page.getByRole('dialog').getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText(/Pages 2 and 3 · How it began/)).toBeVisible();
  // A picture of the next page comes to the one before.
  const pages = async () =>
    (
      await ask<{ pages: { number: number; pictures: { id: number }[] }[] }>(
        page,
        `/api/pieces/${page.url().split('/').pop()}/layout`,
      )
    ).pages;
  const before = (await pages()).find(({ number }) => number === 2)!.pictures.length;
  await spread.nth(1).locator('image').first().click();
  const chip = page.getByRole('button', { name: 'To the page before' });
  if (await chip.isVisible()) {
    await chip.click();
    await expect.poll(async () => (await pages()).find(({ number }) => number === 2)!.pictures.length).toBe(before + 1);
  }
  await spread.first().locator('image').first().click();
  await page.getByRole('button', { name: 'Leave it out' }).click();
  await page.getByRole('button', { name: /not in the book/ }).click();
  await accessible(page);
  await page.getByRole('button', { name: 'Take this picture into the book' }).last().click();
  await page.keyboard.press('Escape');
  await make(page, 'Make the PDF');
  await expect(page.getByText('The year in pictures - cover.pdf')).toBeVisible();
  const file = await page.request.get(
    await page
      .getByRole('link', { name: 'Save The year in pictures.pdf' })
      .getAttribute('href')
      .then((at) => at!),
  );
  expect((await file.body()).subarray(0, 5).toString()).toBe('%PDF-');
  await page.goto('/making');
  await expect(page.getByRole('link', { name: /The year in pictures/ })).toBeVisible();
  await accessible(page);
});

test('prints: laid out, made, ordered from the shop that stands in', async ({ inside: page, own }) => {
  const ids = await idsOf(page, { all: [{ kind: 'photo' }] });
  const album = (await ask<{ id: number }>(page, '/api/albums', { name: own('For the frames'), ids: ids.slice(0, 3) }))
    .id;
  await page.goto(`/albums/${album}`);
  await begin(page, 'Prints', 'For the frames', async () => {
    await page.getByRole('button', { name: 'JPEG files' }).click();
    await page.getByRole('button', { name: '2 times' }).click();
    await accessible(page);
  });
  await expect(page.getByRole('img', { name: /^Sheet 1/ })).toBeVisible();
  await make(page, 'Make the prints');
  await page.getByRole('button', { name: 'Order from the print shop' }).click();
  await expect(page.getByText(/^Ordered .* from The made-up print shop: 6 prints, receipt S-/)).toBeVisible();
});

test('pages for a stick open from their files alone, without a server', async ({ inside: page, own }) => {
  const ids = await idsOf(page, { all: [{ kind: 'photo' }] });
  const album = (await ask<{ id: number }>(page, '/api/albums', { name: own('For Bastian'), ids: ids.slice(0, 4) })).id;
  await page.goto(`/albums/${album}`);
  await begin(page, 'Pages for a stick', 'For Bastian');
  await make(page, 'Make the ZIP');
  const href = (await page.getByRole('link', { name: 'Save For Bastian.zip' }).getAttribute('href'))!;
  const folder = mkdtempSync(path.join(tmpdir(), 'gemmel-stick-'));
  const zip = path.join(folder, 'a.zip');
  writeFileSync(zip, await (await page.request.get(href)).body());
  execFileSync('python3', ['-m', 'zipfile', '-e', zip, folder]);
  expect(readdirSync(folder)).toContain('index.html');
  const alone = await page.context().newPage();
  await alone.context().setOffline(true);
  const problems: string[] = [];
  alone.on('pageerror', (error) => problems.push(error.message));
  await alone.goto(pathToFileURL(path.join(folder, 'index.html')).href);
  await expect(alone.getByRole('heading', { name: 'For Bastian' })).toBeVisible();
  await expect
    .poll(() =>
      alone.locator('.one img').evaluateAll((all) => all.every((one) => (one as HTMLImageElement).naturalWidth > 0)),
    )
    .toBe(true);
  await alone.getByRole('link', { name: /^Picture 2/ }).click();
  await alone.keyboard.press('ArrowRight');
  await expect
    .poll(() => alone.locator('#stage img').evaluate((one) => (one as HTMLImageElement).naturalWidth))
    .toBeGreaterThan(300);
  expect(await alone.locator('#stage img').getAttribute('src')).toMatch(/003\.jpg$/);
  await alone.getByRole('button', { name: 'Close' }).click();
  await expect(alone.locator('dialog')).toBeHidden();
  expect(problems).toEqual([]);
  await alone.context().setOffline(false);
  await alone.close();
});

test('a film is made, stopped and played; a frame is fed @long', async ({ inside: page, own, browser }) => {
  const ids = await idsOf(page, { all: [{ kind: 'photo' }] });
  const album = (await ask<{ id: number }>(page, '/api/albums', { name: own('At the lake'), ids: ids.slice(0, 5) })).id;
  await page.goto(`/albums/${album}`);
  await begin(page, 'Film', 'At the lake', async () => {
    await page.getByRole('button', { name: /^720 lines/ }).click();
    await page.getByRole('button', { name: '3 seconds' }).click();
  });
  await page.getByRole('button', { name: 'Make the film' }).click();
  await page.getByRole('button', { name: 'Stop', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Make the film' })).toBeVisible({ timeout: 30_000 });
  await make(page, 'Make the film');
  const video = page.locator('video');
  await expect.poll(() => video.evaluate((one) => (one as HTMLVideoElement).readyState)).toBeGreaterThan(0);
  const seconds = await video.evaluate((one) => (one as HTMLVideoElement).duration);
  expect(seconds).toBeGreaterThan(14);
  await video.evaluate((one) => {
    (one as HTMLVideoElement).muted = true;
    return (one as HTMLVideoElement).play();
  });
  await expect.poll(() => video.evaluate((one) => (one as HTMLVideoElement).currentTime)).toBeGreaterThan(0.5);
  await accessible(page);
  await page.goto(`/albums/${album}`);
  await page.getByRole('button', { name: 'Make something' }).first().click();
  await page.getByRole('button', { name: 'Connect a frame' }).click();
  await page.getByRole('button', { name: 'Never' }).click();
  await page.getByRole('button', { name: 'Connect it', exact: true }).click();
  const address = (await page.getByText(/\/frame\/[\w-]+$/).textContent())!;
  await accessible(page);
  const shelf = await browser.newContext();
  const told = (await (await shelf.request.get(address)).json()) as { pictures: unknown[]; next: string };
  expect(told.pictures.length).toBe(5);
  const picture = await shelf.request.get(new URL(told.next, address).href);
  expect(picture.headers()['content-type']).toBe('image/jpeg');
  await shelf.close();
  await page.getByRole('button', { name: 'Disconnect it' }).click();
  await expect.poll(async () => (await page.request.get(address)).status()).toBe(404);
});
