import type { Page } from '@playwright/test';
import { execFileSync } from 'node:child_process';
import { mkdirSync, rmSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { accessible, ask, expect, gemmel, idsOf, test } from './house';
import { OUT } from './server';

interface Listed {
  albums: { id: number; name: string; shelf: number | null; pictures: number; kind: string }[];
  shelves: { id: number; name: string; shelf: number | null }[];
}
const listed = (page: Page) => ask<Listed>(page, '/api/albums');
const album = (page: Page, id: number) =>
  ask<{ ids: number[]; chapters: { at: number; heading: string | null }[] }>(page, `/api/albums/${id}`);
/** Drags one element onto the middle of another, as a mouse does. */
async function drag(page: Page, from: string, to: string): Promise<void> {
  const handle = page.locator(`[data-row="${from}"]`);
  await handle.dragTo(page.locator(`[data-row="${to}"]`), { targetPosition: { x: 120, y: 22 } });
}

test('shelves: made in place, albums put on them, renamed, removed with what stands on them and back @long', async ({
  inside: page,
  own,
  wide,
}) => {
  const ids = await idsOf(page, { kind: 'photo' });
  const { id } = await ask<{ id: number }>(page, '/api/albums', { name: own('Azores'), ids: ids.slice(0, 3) });
  const shelfOf = async () => (await listed(page)).albums.find((one) => one.id === id)?.shelf ?? null;
  const shelfId = async (name: string) => (await listed(page)).shelves.find((one) => one.name === name)!.id;
  if (wide) {
    const outer = await ask<{ id: number }>(page, '/api/shelves', { name: own('Journeys') });
    const inner = await ask<{ id: number }>(page, '/api/shelves', { name: own('Islands') });
    await page.goto('/albums');
    await drag(page, `album ${id}`, `shelf ${inner.id}`);
    await expect(page.getByText(`“${own('Azores')}” stands on “${own('Islands')}”`)).toBeVisible();
    expect(await shelfOf()).toBe(inner.id);
    await drag(page, `shelf ${inner.id}`, `shelf ${outer.id}`);
    await expect
      .poll(async () => (await listed(page)).shelves.find((one) => one.id === inner.id)?.shelf)
      .toBe(outer.id);
    await page.getByRole('button', { name: `Close ${own('Journeys')}` }).click();
    await expect(page.locator(`[data-row="album ${id}"]`)).toHaveCount(0);
    await page.getByRole('button', { name: `Open ${own('Journeys')}` }).click();
    await page.locator(`[data-row="shelf ${outer.id}"]`).getByRole('link').click();
  } else {
    await page.goto(`/albums/${id}`);
    await page.getByRole('button', { name: 'More for this album' }).click();
    await page.getByRole('button', { name: 'Put it on a shelf' }).click();
    await page.getByLabel('Or a new shelf').fill(own('Journeys'));
    await accessible(page);
    await page.getByRole('button', { name: 'Make the shelf' }).click();
    await expect.poll(shelfOf).not.toBeNull();
    await page.getByRole('button', { name: `‹ ${own('Journeys')}` }).click();
  }
  await expect(page.getByRole('heading', { name: own('Journeys'), level: 1 })).toBeVisible();
  await accessible(page);
  await page.getByRole('button', { name: 'More for this shelf' }).click();
  await page.getByLabel('Name of the shelf').fill(own('Far away'));
  await page.getByRole('button', { name: 'Rename' }).click();
  await expect(page.getByRole('heading', { name: own('Far away'), level: 1 })).toBeVisible();
  const kept = (await ask<{ pictures: number }>(page, '/api/library')).pictures;
  await page.getByRole('button', { name: 'More for this shelf' }).click();
  await page.getByRole('button', { name: 'Remove the shelf' }).click();
  await expect(page.getByText('No picture is removed, whatever you choose.')).toBeVisible();
  await accessible(page);
  await page.getByRole('button', { name: /^Remove the shelf and its/ }).click();
  await expect(page.getByText(/All pictures are still in the library/)).toBeVisible();
  expect((await listed(page)).albums.some((one) => one.id === id)).toBe(false);
  expect((await ask<{ pictures: number }>(page, '/api/library')).pictures).toBe(kept);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(shelfOf).not.toBeNull();
  await ask(page, `/api/shelves/${await shelfId(own('Far away'))}/remove`, { rest: 'go' });
});

test('chapters: a heading from a picture on, a note at the end, moved and changed @long', async ({
  inside: page,
  own,
  wide,
}) => {
  const ids = (await idsOf(page, { kind: 'photo' })).slice(0, 5);
  const { id } = await ask<{ id: number }>(page, '/api/albums', { name: own('Two days'), ids });
  const headings = async () => (await album(page, id)).chapters.map((one) => [one.at, one.heading]);
  await page.goto(`/albums/${id}`);
  if (wide) {
    await page.getByTestId('grid').locator(`[data-id="${ids[2]}"]`).click({ button: 'right' });
    await page.getByRole('button', { name: 'A chapter from here on' }).click();
  } else {
    await page.getByRole('button', { name: 'More for this album' }).click();
    await page.getByRole('button', { name: 'Add a chapter at the end' }).click();
  }
  await page.getByLabel('Heading').fill('The second day');
  await page.getByLabel('Note').fill('It rained until noon.');
  await accessible(page);
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('heading', { name: 'The second day' })).toBeVisible();
  await expect(page.getByText('It rained until noon.')).toBeVisible();
  await expect.poll(headings).toEqual([[wide ? 2 : 5, 'The second day']]);
  // By keys it goes one to the left.
  await page.getByRole('button', { name: 'Order by hand' }).click();
  const cell = page.getByTestId('arrange').locator('[data-chapter]');
  await cell.focus();
  await page.keyboard.press('Space');
  await page.keyboard.press('ArrowLeft');
  await page.keyboard.press('Space');
  await expect.poll(headings).toEqual([[wide ? 1 : 4, 'The second day']]);
  await page.getByRole('button', { name: 'Done' }).click();
  await page.getByRole('button', { name: 'Change “The second day”' }).click();
  await page.getByLabel('Heading').fill('Rain');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('heading', { name: 'Rain' })).toBeVisible();
  // Another order is shown; the one by hand, with its chapters, comes back.
  await page.getByRole('button', { name: 'More for this album' }).click();
  await page.getByRole('button', { name: 'In which order' }).click();
  await page.getByRole('button', { name: 'By date' }).click();
  await expect(page.getByRole('heading', { name: 'Rain' })).toHaveCount(0);
  await page.getByRole('dialog').getByRole('button', { name: 'By hand' }).click();
  await page.getByRole('button', { name: 'Done' }).click();
  await expect(page.getByRole('heading', { name: 'Rain' })).toBeVisible();
  expect((await album(page, id)).ids).toEqual(ids);
  await ask(page, `/api/albums/${id}`, undefined, 'DELETE');
});

test('a tree of folders becomes shelves and albums in one act, as the preview says @long', async ({
  inside: page,
  home,
  own,
}) => {
  const disk = path.join(OUT, `albums-${process.pid}`, own('Old disk'));
  for (const [i, below] of ['1998/Kiel', '1998/Alps', '1999'].entries()) {
    mkdirSync(path.join(disk, below), { recursive: true });
    const colour = { r: 60 * i, g: 140, b: 30 + (process.pid % 200) };
    await sharp({ create: { width: 90 + i, height: 60, channels: 3, background: colour } })
      .jpeg()
      .toFile(path.join(disk, below, `${i}.jpg`));
  }
  gemmel(home, 'import', disk);
  const before = await listed(page);
  await page.goto('/browse/folders');
  await page.getByRole('button', { name: `More for ${own('Old disk')}` }).click();
  await page.getByRole('button', { name: 'As shelves and albums' }).click();
  await expect(page.getByText(/It becomes 2 shelves and 3 albums\..*each picture is still kept once/)).toBeVisible();
  await accessible(page);
  await page.getByRole('button', { name: 'Make them' }).click();
  await expect(page).toHaveURL(/\/albums\/shelf\/\d+$/);
  await expect(page.getByRole('heading', { name: own('Old disk'), level: 1 })).toBeVisible();
  expect((await listed(page)).shelves.length).toBe(before.shelves.length + 2);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(async () => (await listed(page)).albums.length).toBe(before.albums.length);
  type Folders = { folders: { id: number; name: string }[] };
  const { id } = (await ask<Folders>(page, '/api/folders')).folders.find((one) => one.name === own('Old disk'))!;
  await ask(page, '/api/bin', { ids: await idsOf(page, { folder: { id } }) });
  rmSync(path.dirname(disk), { recursive: true, force: true });
});

test('a smart album with groups in groups; why a picture is in and why another is not; kept out and put in @long', async ({
  inside: page,
  own,
}) => {
  const many = await idsOf(page, { rating: { min: 4 } });
  await page.goto('/albums/new');
  await page.getByLabel('Name').fill(own('Nested'));
  // What Browse asked last stands here; it is cleared first.
  for (let left = await page.getByRole('button', { name: /^Remove: / }).count(); left > 0; left--)
    await page
      .getByRole('button', { name: /^Remove: / })
      .first()
      .click();
  const add = async (which: number, subject: string, value: string) => {
    await page.getByRole('button', { name: 'Condition' }).nth(which).click();
    await page.getByRole('dialog').getByRole('button', { name: subject, exact: true }).click();
    await page.getByRole('dialog').getByRole('button', { name: value, exact: true }).click();
  };
  await page.getByRole('button', { name: 'Group', exact: true }).click();
  // The inner group's own buttons come first.
  await add(0, 'Stars', '4 or better');
  await page.getByRole('button', { name: 'Group', exact: true }).first().click();
  await add(0, 'Hearts', 'With a heart');
  await add(0, 'Photographs or clips', 'Clips');
  await accessible(page);
  const question = {
    any: [{ rating: { min: 4 } }, { all: [{ favourite: true }, { kind: 'video' }] }],
  };
  const { count } = await ask<{ count: number }>(page, '/api/count', { question });
  await expect(page.getByRole('heading', { name: `${count} pictures now` })).toBeVisible();
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page).toHaveURL(/\/albums\/\d+$/);
  const id = Number(page.url().match(/albums\/(\d+)/)![1]);
  await page.goto(`/picture/${many[0]}`);
  await page
    .locator('div', { has: page.getByRole('link', { name: own('Nested') }) })
    .getByRole('button', { name: 'Why?' })
    .last()
    .click();
  await expect(page.getByRole('heading', { name: `Why is it in “${own('Nested')}”?` })).toBeVisible();
  await expect(page.getByText(/This one: ★{4,5}/)).toBeVisible();
  await accessible(page);
  await page.getByRole('button', { name: 'Keep out of this album' }).click();
  await expect(page.getByRole('heading', { name: `Why isn’t it in “${own('Nested')}”?` })).toBeVisible();
  expect((await album(page, id)).ids).not.toContain(many[0]);
  await page.getByRole('button', { name: 'Let the question decide' }).click();
  await expect.poll(async () => (await album(page, id)).ids.includes(many[0]!)).toBe(true);
  const other = (await idsOf(page, { not: question }))[0]!;
  await page.goto(`/picture/${other}`);
  await page.getByRole('button', { name: 'Why isn’t it in another?' }).click();
  await page
    .getByRole('dialog')
    .getByRole('button', { name: own('Nested') })
    .click();
  await expect(page.getByText('It doesn’t fit what this album asks for:')).toBeVisible();
  await page.getByRole('button', { name: 'Put it in by hand' }).click();
  await expect.poll(async () => (await album(page, id)).ids.includes(other)).toBe(true);
  // Frozen, it stays as it is now.
  await page.goto(`/albums/${id}`);
  await page.getByRole('button', { name: 'More for this album' }).click();
  await page.getByRole('button', { name: 'Freeze it as a plain album' }).click();
  await page.getByRole('button', { name: 'Make album' }).click();
  await expect(page).not.toHaveURL(new RegExp(`/albums/${id}$`));
  const frozen = Number(page.url().match(/albums\/(\d+)/)![1]);
  expect(new Set((await album(page, frozen)).ids)).toEqual(new Set((await album(page, id)).ids));
  for (const one of [id, frozen]) await ask(page, `/api/albums/${one}`, undefined, 'DELETE');
});

test('the best of a year: proposed with reasons, widened by its dial, one left out, kept as an album @long', async ({
  inside: page,
  own,
}) => {
  await page.goto('/albums/best');
  const proposed = page.getByTestId('proposed').locator('[data-id]');
  await expect(proposed).toHaveCount(24);
  await page.getByRole('button', { name: '12', exact: true }).click();
  await expect(proposed).toHaveCount(12);
  const of = () => proposed.evaluateAll((all) => all.map((one) => Number((one as HTMLElement).dataset['id'])));
  const spread = await of();
  await page.getByLabel('How widely it is spread').fill('0');
  await expect.poll(async () => JSON.stringify(await of())).not.toBe(JSON.stringify(spread));
  await expect(page.getByText(/★★★★/).first()).toBeVisible();
  await accessible(page);
  await proposed
    .first()
    .getByRole('button', { name: /^Leave out/ })
    .click();
  await expect(proposed).toHaveCount(11);
  const kept = await of();
  await page.getByLabel('Name of the album').fill(own('Eleven'));
  await page.getByRole('button', { name: 'Keep these 11 as an album' }).click();
  await expect(page).toHaveURL(/\/albums\/\d+$/);
  const id = Number(page.url().match(/albums\/(\d+)/)![1]);
  expect((await album(page, id)).ids).toEqual(kept);
  await ask(page, `/api/albums/${id}`, undefined, 'DELETE');
});

test('what is in no album goes down, event by event @long', async ({ inside: page, own }) => {
  const loose = async () => (await ask<{ count: number }>(page, '/api/count', { question: { inNoAlbum: true } })).count;
  const before = await loose();
  await page.goto('/albums');
  await page.getByRole('link', { name: /^In no album yet/ }).click();
  await expect(page.getByText(`${before} pictures are still in none.`)).toBeVisible();
  await accessible(page);
  await page
    .getByRole('button', { name: /^Into (…|an album)$/ })
    .first()
    .click();
  await page.getByLabel('Name of a new album').fill(own('From the list'));
  await page.getByRole('button', { name: 'Make album' }).click();
  await expect(page).toHaveURL(/\/albums\/loose$/);
  await expect.poll(loose).toBeLessThan(before);
  const after = await loose();
  await expect(page.getByText(`${after} pictures are still in none.`)).toBeVisible();
  await page.getByRole('button', { name: 'By folder' }).click();
  await expect(page.getByRole('button', { name: /^Show / }).first()).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText(`${before} pictures are still in none.`)).toBeVisible();
});

test('what is chosen is dragged from the grid onto an album @wide @long', async ({ inside: page, own, wide }) => {
  test.skip(!wide);
  const ids = await idsOf(page, { kind: 'photo' });
  const { id } = await ask<{ id: number }>(page, '/api/albums', { name: own('Dropped'), ids: [] });
  await ask(page, '/api/pile', { ids: [] }, 'PUT');
  await page.goto('/browse');
  const tiles = page.getByTestId('grid').locator('[data-index]');
  await expect(tiles.first()).toBeVisible();
  for (const n of [0, 1]) await tiles.nth(n).click({ modifiers: ['Control'] });
  const box = (await tiles.nth(1).boundingBox())!;
  await page.mouse.move(box.x + 30, box.y + 30);
  await page.mouse.down();
  const target = page.locator(`[data-drop="${id}"]`);
  // The albums show up once the hand has moved.
  await expect(async () => {
    await page.mouse.move(box.x - 40, box.y + 60, { steps: 6 });
    await page.mouse.move(box.x - 20, box.y + 40, { steps: 3 });
    await expect(target).toBeAttached({ timeout: 1500 });
  }).toPass();
  await target.scrollIntoViewIfNeeded();
  const to = (await target.boundingBox())!;
  await page.mouse.move(to.x + 60, to.y + 20, { steps: 8 });
  await page.mouse.up();
  await expect(page.getByText(`2 pictures added to “${own('Dropped')}”`)).toBeVisible();
  expect((await album(page, id)).ids.every((one) => ids.includes(one))).toBe(true);
  expect((await album(page, id)).ids).toHaveLength(2);
  await ask(page, '/api/pile', { ids: [] }, 'PUT');
  await ask(page, `/api/albums/${id}`, undefined, 'DELETE');
});

test('a show with music: decoded before it is shown, kept, played by one tap, ended by a key @long', async ({
  inside: page,
  own,
  wide,
}) => {
  const piece = path.join(OUT, `piece-${process.pid}.mp3`);
  execFileSync('ffmpeg', [
    '-v',
    'error',
    '-y',
    '-f',
    'lavfi',
    '-i',
    'sine=duration=30',
    '-metadata',
    `title=${own('Waltz')}`,
    piece,
  ]);
  const ids = (await idsOf(page, { kind: 'photo' })).slice(0, 6);
  const { id } = await ask<{ id: number }>(page, '/api/albums', { name: own('Evening'), ids });
  await page.goto(`/albums/${id}`);
  // Whatever comes on screen was whole at that moment.
  await page.evaluate(() => {
    const seen: boolean[] = [];
    (window as unknown as { seen: boolean[] }).seen = seen;
    new MutationObserver((changes) => {
      for (const { addedNodes } of changes)
        for (const node of addedNodes)
          if (node instanceof HTMLElement)
            for (const image of node.querySelectorAll<HTMLImageElement>('[data-frame] img'))
              requestAnimationFrame(() => seen.push(image.complete && image.naturalWidth > 0));
    }).observe(document.body, { childList: true, subtree: true });
  });
  await page.getByRole('button', { name: 'Play', exact: true }).click();
  const show = page.getByRole('dialog', { name: `Show: ${own('Evening')}` });
  await expect(show).toBeVisible();
  if (!wide) await accessible(page);
  await page.mouse.move(300, 300);
  await show.getByRole('button', { name: 'How it is played' }).click();
  const sheet = page.getByRole('dialog', { name: 'How it is played' });
  await sheet.getByLabel('Pieces of music').setInputFiles(piece);
  await expect(sheet.getByRole('button', { name: `1. ${own('Waltz')}` })).toBeVisible();
  await sheet.getByRole('button', { name: '3 seconds' }).click();
  if (!wide) await accessible(page);
  await sheet.getByLabel('Name of the show').fill(own('For the evening'));
  await sheet.getByRole('button', { name: 'Keep this show' }).click();
  await expect(sheet).toHaveCount(0);
  const audio = page.locator('audio[data-music]');
  await expect.poll(() => audio.evaluate((one) => !(one as HTMLAudioElement).paused)).toBe(true);
  await expect.poll(() => audio.evaluate((one) => (one as HTMLAudioElement).currentTime)).toBeGreaterThan(0.3);
  await expect.poll(async () => Number(await show.getAttribute('data-slide')), { timeout: 20_000 }).toBeGreaterThan(1);
  const seen = await page.evaluate(() => (window as unknown as { seen: boolean[] }).seen);
  expect(seen.length).toBeGreaterThan(0);
  expect(seen.every(Boolean)).toBe(true);
  await page.keyboard.press('Space');
  await expect(show).toHaveAttribute('data-playing', 'false');
  await expect.poll(() => audio.evaluate((one) => (one as HTMLAudioElement).paused)).toBe(true);
  await page.keyboard.press('Escape');
  await expect(show).toHaveCount(0);
  await expect(audio).toHaveCount(0);

  await page.goto('/albums');
  await page.getByRole('button', { name: `Play ${own('For the evening')}` }).click();
  const kept = page.getByRole('dialog', { name: `Show: ${own('For the evening')}` });
  await expect(kept.getByText(own('For the evening'), { exact: true })).toBeVisible();
  await expect(kept).toHaveAttribute('data-playing', 'true');
  await page.keyboard.press('Escape');
  const { shows } = await ask<{ shows: { id: number; name: string }[] }>(page, '/api/shows');
  await ask(page, `/api/shows/${shows.find((one) => one.name === own('For the evening'))!.id}`, undefined, 'DELETE');
  const { music } = await ask<{ music: { id: number; title: string }[] }>(page, '/api/music');
  await ask(page, `/api/music/${music.find((one) => one.title === own('Waltz'))!.id}`, undefined, 'DELETE');
  await ask(page, `/api/albums/${id}`, undefined, 'DELETE');
  rmSync(piece, { force: true });
});

test('a show on a wall: a code on the screen, confirmed on the phone, no menus, ended from there @long', async ({
  inside: page,
  own,
  browser,
  baseURL,
}) => {
  const ids = (await idsOf(page, { kind: 'photo' })).slice(0, 4);
  const { id } = await ask<{ id: number }>(page, '/api/albums', { name: own('In the kitchen'), ids });
  const context = await browser.newContext({ baseURL: baseURL!, viewport: { width: 1280, height: 800 } });
  const screen = await context.newPage();
  await screen.goto('/show');
  await expect(screen).toHaveURL(/\/show\/[\w-]{43}$/);
  const code = (await screen.getByLabel(/^The code/).textContent())!.replace(/\D/g, '');
  expect(code).toMatch(/^\d{6}$/);
  await page.goto('/sharing');
  await page.getByRole('button', { name: 'Put a show on a screen' }).click();
  await page.getByLabel('The code on the screen').fill(code);
  await page.getByLabel('What the screen is called').fill(own('Kitchen'));
  await page
    .getByRole('dialog')
    .getByRole('button', { name: own('In the kitchen') })
    .click();
  await accessible(page);
  await page.getByRole('button', { name: 'Play it there' }).click();
  await expect(page.getByText(own('Kitchen'), { exact: true })).toBeVisible();
  const show = screen.getByRole('dialog', { name: /^Show: / });
  await expect(show).toBeVisible({ timeout: 20_000 });
  await expect(screen.locator('[data-frame] img').first()).toBeVisible({ timeout: 20_000 });
  await expect(screen.getByRole('navigation')).toHaveCount(0);
  await expect(screen.getByRole('button', { name: 'End the show' })).toHaveCount(0);
  await page.getByRole('button', { name: new RegExp(`^${own('Kitchen').replace(/[()]/g, '.')}`) }).click();
  await page.getByRole('button', { name: 'Take it off the wall' }).click();
  await expect(page.getByText(`“${own('Kitchen')}” plays nothing from now on`)).toBeVisible();
  await screen.reload();
  await expect(screen.getByText('This screen no longer plays anything.')).toBeVisible();
  await context.close();
  await ask(page, `/api/albums/${id}`, undefined, 'DELETE');
});
