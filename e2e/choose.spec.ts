import { mkdirSync, rmSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { accessible, ask, expect, gemmel, idsOf, test } from './house';
import { OUT } from './server';

test('a picture goes to the bin from its page, leaves its album, and comes back as it was', async ({
  inside: page,
  own,
  wide,
}) => {
  const all = await idsOf(page, { kind: 'photo' });
  const id = all[wide ? 30 : 20]!;
  const before = (await ask<{ count: number }>(page, '/api/count', { question: { all: [] } })).count;
  // Walks before this one may have left something in the bin.
  const inBin = (await ask<{ pictures: number }>(page, '/api/bin')).pictures;
  const album = await ask<{ id: number }>(page, '/api/albums', { name: own('Of one'), ids: [id] });
  await page.goto('/browse');
  await page.goto(`/picture/${id}`);
  await page.getByRole('button', { name: 'More for this picture' }).click();
  await accessible(page);
  await page.getByRole('button', { name: 'Move to the bin' }).click();
  await expect(page.getByText('1 picture moved to the bin')).toBeVisible();
  await expect(page).not.toHaveURL(new RegExp(`/picture/${id}$`));
  expect((await ask<{ count: number }>(page, '/api/count', { question: { all: [] } })).count).toBe(before - 1);
  expect((await ask<{ ids: number[] }>(page, `/api/albums/${album.id}`)).ids).toEqual([]);

  await page.goto('/household');
  await page.getByRole('button', { name: 'Open the bin' }).click();
  await expect(page.getByRole('heading', { name: 'The bin' })).toBeVisible();
  await expect(page.getByText(/^(29|30) days left$/).first()).toBeVisible();
  await accessible(page);
  // Nothing goes for good without the right word.
  await page.getByRole('button', { name: 'Empty the bin' }).click();
  await expect(page.getByText(/That frees/)).toBeVisible();
  await page.getByLabel(/to confirm/).fill('no idea');
  await page.getByRole('button', { name: 'Remove for good' }).click();
  await expect(page.getByText(/neither the name of the library nor your password/)).toBeVisible();
  await page.getByRole('button', { name: 'Close' }).click();
  await page.getByRole('button', { name: /until/ }).first().click();
  await page.getByRole('button', { name: 'Bring it back' }).click();
  await expect(page.getByText('1 picture brought back')).toBeVisible();
  if (inBin === 0) await expect(page.getByText('The bin is empty')).toBeVisible();
  expect((await ask<{ pictures: number }>(page, '/api/bin')).pictures).toBe(inBin);
  expect((await ask<{ ids: number[] }>(page, `/api/albums/${album.id}`)).ids).toEqual([id]);
  expect((await ask<{ count: number }>(page, '/api/count', { question: { all: [] } })).count).toBe(before);
});

test('a run is decided: the best proposed with its reason, another kept too, the rest binned, and taken back @long', async ({
  inside: page,
}) => {
  type Runs = { runs: { id: number; shots: number }[]; total: number };
  const { runs, total } = await ask<Runs>(page, '/api/runs');
  const run = runs.find((one) => one.shots >= 3)!;
  await page.goto('/arrivals');
  await page.getByRole('button', { name: /Choose the best/ }).click();
  await expect(page.getByRole('heading', { name: 'Choose the best' })).toBeVisible();
  await accessible(page);
  await page.goto(`/runs/${run.id}`);
  await expect(page.getByText(/^Number \d+:$/)).toBeVisible();
  await accessible(page);
  await page.getByRole('button', { name: 'Zoom in' }).click();
  const columns = page.getByRole('checkbox', { name: /^Keep number/ });
  await expect(columns).toHaveCount(run.shots);
  await expect(page.getByRole('checkbox', { name: /the one proposed/ })).toHaveAttribute('aria-checked', 'true');
  await page
    .getByRole('checkbox', { name: /^Keep number \d+$/ })
    .first()
    .click();
  await page.getByRole('button', { name: new RegExp(`^Keep 2, bin ${run.shots - 2}$`) }).click();
  await expect(page.getByText(/^Kept 2 shots/)).toBeVisible();
  // The next run is ready, and this one is asked about no more.
  await expect(page).not.toHaveURL(new RegExp(`/runs/${run.id}$`));
  await expect.poll(async () => (await ask<Runs>(page, '/api/runs')).total).toBe(total - 1);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(async () => (await ask<Runs>(page, '/api/runs')).total).toBe(total);
});

test('in the grid a run is one picture with its number, opened in place @long', async ({ inside: page }) => {
  await page.goto('/browse');
  const stack = page.locator('[data-stack]').first();
  for (let i = 0; i < 80 && !(await stack.count()); i++) {
    await page.getByTestId('grid').evaluate((grid) => grid.scrollBy(0, 500));
    await page.waitForTimeout(120);
  }
  const run = await stack.getAttribute('data-stack');
  const shots = Number(await stack.textContent());
  const all = (await ask<{ shots: { id: number }[] }>(page, `/api/runs/${run}`)).shots.map((shot) => String(shot.id));
  const seen = () =>
    page
      .locator('.tile')
      .evaluateAll((tiles, of) => tiles.filter((t) => of.includes(t.getAttribute('data-id')!)).length, all);
  expect(shots).toBe(all.length);
  expect(await seen()).toBe(1);
  await page.locator(`[data-stack="${run}"]`).click();
  await expect.poll(seen).toBe(shots);
  await page.locator(`[data-stack="${run}"]`).click();
  await expect.poll(seen).toBe(1);
});

test('a double is merged: what it knew goes to the one that stays @long', async ({ inside: page, home, wide, own }) => {
  type Groups = { groups: { id: number; name: string }[][]; total: number };
  // A copy as a messenger makes it: smaller, and knowing nothing.
  const original = (await idsOf(page, { kind: 'photo' })).at(wide ? -3 : -6)!;
  const bytes = await (await page.request.get(`/api/pictures/${original}/original`)).body();
  const folder = path.join(OUT, own('messages'));
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  await sharp(bytes)
    .rotate()
    .resize(640)
    .jpeg({ quality: 60 })
    .toFile(path.join(folder, `${own('message')}.jpg`));
  gemmel(home, 'import', folder);
  // Walks before this one may have left others.
  const mine = async () =>
    (await ask<Groups>(page, '/api/doubles')).groups.find((some) =>
      some.some(({ name }) => name === `${own('message')}.jpg`),
    );
  await expect.poll(mine, { timeout: 60_000 }).toBeTruthy();
  const { total } = await ask<Groups>(page, '/api/doubles');
  const [keep, copy] = (await mine())!;
  await ask(page, '/api/pictures/change', { ids: [copy!.id], change: { addTags: [own('on the copy')] } });
  await page.goto('/runs');
  await page.getByRole('button', { name: /^Doubles/ }).click();
  const group = page.getByRole('radiogroup').filter({ hasText: copy!.name });
  await expect(group.getByRole('radio', { name: keep!.name })).toHaveAttribute('aria-checked', 'true');
  await accessible(page);
  await group.getByRole('button', { name: 'Keep it, bin the double' }).click();
  await expect(page.getByText(/1 double moved to the bin/)).toBeVisible();
  const tags = (await ask<{ tags: { name: string }[] }>(page, `/api/pictures/${keep!.id}`)).tags.map((tag) => tag.name);
  expect(tags).toContain(own('on the copy'));
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(async () => (await ask<Groups>(page, '/api/doubles')).total).toBe(total);
  // The household is left as it was.
  const { name } = await ask<{ name: string }>(page, '/api/library');
  await ask(page, '/api/bin', { ids: [copy!.id] });
  await ask(page, '/api/bin/empty', { ids: [copy!.id], word: name });
});

test('a picture is cut, made level and set right by itself, and is as it was taken again; its look goes to three others @long', async ({
  inside: page,
  wide,
}) => {
  type Shown = { sha: string; width: number; height: number; touched: boolean };
  const photos = await idsOf(page, { kind: 'photo' });
  const id = photos[wide ? 40 : 50]!;
  const others = photos.slice(wide ? 41 : 51, wide ? 44 : 54);
  const picture = (one: number) => ask<Shown>(page, `/api/pictures/${one}`);
  const before = await picture(id);
  await page.goto(`/picture/${id}`);
  await page.getByRole('button', { name: 'Touch up' }).click();
  await expect(page.getByRole('heading', { name: 'How it is made' })).toBeVisible();
  const canvas = page.getByRole('img').first();
  await expect.poll(async () => (await canvas.boundingBox())?.width ?? 0).toBeGreaterThan(100);
  await page.getByRole('button', { name: 'By itself' }).click();
  await expect(page.getByRole('button', { name: 'Light and colours by itself' })).toBeVisible();
  await page.getByRole('button', { name: 'Add a line' }).click();
  await page.getByRole('button', { name: 'Level', exact: true }).click();
  await page.getByRole('slider').fill('250');
  await expect(page.getByText('Made level: 2.5° to the right')).toBeVisible();
  await page.getByRole('button', { name: 'Add a line' }).click();
  await page.getByRole('button', { name: 'Cut', exact: true }).click();
  await page.getByRole('button', { name: '1 : 1', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Cut to 1 : 1' })).toBeVisible();
  await accessible(page);
  // One step back, and forward again.
  await page.getByRole('button', { name: 'One step back' }).click();
  await expect(page.getByRole('button', { name: 'Cut to 1 : 1' })).toHaveCount(0);
  await page.getByRole('button', { name: 'One step forward' }).click();
  await page.getByRole('button', { name: 'Keep this look' }).click();
  await expect(page.getByText('Look kept; the original stays as it was')).toBeVisible();
  const after = await picture(id);
  expect(after.touched).toBe(true);
  expect(Math.abs(after.width - after.height)).toBeLessThanOrEqual(2);
  expect(after.sha).not.toBe(before.sha);
  // The grid shows it in its new shape.
  const { tiles } = await ask<{ tiles: { sha: string }[] }>(page, '/api/tiles', { ids: [id] });
  expect(tiles[0]!.sha).toBe(after.sha);

  await ask(page, '/api/pile', { ids: others }, 'PUT');
  await page.goto(`/touch-up/${id}`);
  await page.getByRole('button', { name: 'Copy this look to others' }).click();
  const sheet = page.getByRole('dialog', { name: 'Copy this look' });
  await expect(sheet.getByRole('img', { name: 'A picture with this look' })).toHaveCount(3);
  await sheet.getByRole('button', { name: 'Copy to 3 pictures' }).click();
  await expect(page.getByText('Look copied to 3 pictures')).toBeVisible();
  for (const one of others) expect((await picture(one)).touched).toBe(true);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(async () => (await picture(others[0]!)).touched).toBe(false);
  await ask(page, '/api/pile', { ids: [] }, 'PUT');

  await page.goto(`/touch-up/${id}`);
  await page.getByRole('button', { name: 'As taken', exact: true }).click();
  await page.getByRole('button', { name: 'Keep this look' }).click();
  await expect(page.getByText('Shown as it was taken')).toBeVisible();
  expect(await picture(id)).toMatchObject({ sha: before.sha, width: before.width, touched: false });
});
