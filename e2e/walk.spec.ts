import { appendFileSync, copyFileSync, mkdirSync, readdirSync, rmSync } from 'node:fs';
import path from 'node:path';
import { accessible, ask, choose, DEMO, emptyHands, expect, grid, test } from './house';

test('1. sign in: the demo fills it in and says so', async ({ page, wide }) => {
  await page.goto('/');
  await expect(page).toHaveURL(/sign-in/);
  await expect(page.getByText('This is the demo with a made-up household')).toBeVisible();
  await accessible(page);
  await page.getByLabel('Password').fill('wrong');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('alert')).toHaveText('That address and password don’t match.');
  await page.reload();
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('heading', { name: 'Arrivals' })).toBeVisible();
  await expect(page.getByText('pictures kept', { exact: true })).toBeVisible();
  await accessible(page);
  await page
    .getByRole('link', { name: wide ? /settings/ : 'Household and settings' })
    .first()
    .click();
  await expect(page.getByRole('heading', { name: 'Colours' })).toBeVisible();
  await page.getByRole('button', { name: 'Evening' }).click();
  await expect(page.locator('html')).toHaveClass(/dark/);
  await accessible(page);
  await page.getByRole('button', { name: 'As on this device' }).click();
  await page.getByRole('button', { name: 'Sign out' }).click();
  await expect(page).toHaveURL(/sign-in/);
});

test('2. arrivals: a folder and loose files at once, bad files named with their reason, an album from a batch', async ({
  inside: page,
  own,
  wide,
}) => {
  await page.goto('/arrivals');
  const phone = path.join(DEMO, 'later/noors-phone/DCIM/100');
  const half = readdirSync(phone)
    .sort()
    .slice(wide ? 7 : 0, wide ? 14 : 7);
  const folderName = own('Walk');
  const folder = path.join(import.meta.dirname, 'out/chosen', folderName);
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(path.join(folder, 'deep/er'), { recursive: true });
  half.forEach((name, i) => {
    const file = path.join(folder, i < 3 ? 'deep/er' : '', name);
    copyFileSync(path.join(phone, name), file);
    appendFileSync(file, folderName); // no other test brings these very bytes
  });
  await page.getByTestId('folder').setInputFiles(folder);
  await page
    .getByTestId('files')
    .setInputFiles([
      ...['letter.jpg', 'empty.jpg', 'cut-short.jpg', 'huge.png'].map((name) => path.join(DEMO, 'bad', name)),
      path.join(DEMO, 'grans-tablet/photo_2026-04-05_15-04-18.jpg'),
    ]);
  const walk = page.getByRole('group', { name: folderName });
  await expect(walk).toBeVisible();
  await expect(walk.getByText(/\d+ of 7 · \d+%|7 pictures stored/)).toBeVisible();
  const loose = page.getByRole('group', { name: /^Pictures of/ }).first();
  await expect(loose.getByText(/left out/).first()).toBeVisible({ timeout: 40_000 });
  await expect(walk.getByText('7 pictures stored')).toBeVisible({ timeout: 60_000 });
  await accessible(page);
  await loose.getByRole('link', { name: /See every file: 4 left out, and why/ }).click();
  await page.getByRole('button', { name: 'Left out 4' }).click();
  await expect(page.getByText('Not a picture, although its name ends in .jpg')).toBeVisible();
  await expect(page.getByText('An empty file')).toBeVisible();
  await expect(page.getByText(/kept aside/)).toHaveCount(2);
  await page.getByRole('button', { name: 'Already here 1' }).click();
  await expect(page.getByText(/^Already here(?! 1)/).last()).toBeVisible();
  await accessible(page);
  await page.getByRole('button', { name: 'Back to Arrivals' }).click();
  await walk.getByRole('button', { name: 'Make an album' }).click();
  await expect(walk.getByLabel('Name of the album')).toHaveValue(folderName);
  await walk.getByRole('button', { name: 'Make album' }).click();
  await walk.getByRole('button', { name: 'Open its album' }).click();
  await expect(page.getByRole('heading', { name: folderName })).toBeVisible();
  await expect(page.getByText(/^7 pictures/)).toBeVisible();
  expect(await (await grid(page)).count()).toBe(7);
});

test('3. browse by time: name an event, jump by the ribbon, size, ask in words, choose onto the pile @both', async ({
  inside: page,
  own,
  wide,
}) => {
  await emptyHands(page);
  await page.goto('/browse');
  const tiles = await grid(page);
  await accessible(page);
  const before = (await tiles.first().boundingBox())!.height;
  if (!wide) await page.getByRole('button', { name: 'How pictures are shown' }).click();
  await page.getByRole('slider', { name: 'Picture size' }).fill('240');
  await expect.poll(async () => (await tiles.first().boundingBox())!.height).toBeGreaterThan(before + 30);
  await page.getByRole('slider', { name: 'Picture size' }).fill(wide ? '165' : '112');
  if (!wide) await page.getByRole('button', { name: 'How pictures are shown' }).click();

  const unnamed = page.getByRole('button', { name: 'No name yet. Give it one?' }).first();
  await unnamed.scrollIntoViewIfNeeded();
  await unnamed.click();
  await page.getByLabel(/Name of the event on/).fill(own('A quiet day'));
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: own('A quiet day') })).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('heading', { name: own('A quiet day') })).toHaveCount(0);

  const ribbon = page.getByRole('slider', { name: 'Month' });
  const first = await ribbon.getAttribute('aria-valuetext');
  await ribbon.focus();
  await page.keyboard.press('End');
  await expect(ribbon).not.toHaveAttribute('aria-valuetext', first!);
  await expect(page.getByRole('heading', { name: /Summer 1992|Without a date/ }).first()).toBeVisible();
  await page.keyboard.press('Home');
  await expect(ribbon).toHaveAttribute('aria-valuetext', first!);

  const line = page.getByLabel('Ask for people, places, days, tags');
  await line.fill('@em');
  await page.getByRole('option', { name: /^Emil Hallorin, a person/ }).click();
  await line.fill('2026');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Remove: with Emil Hallorin' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Remove: taken in 2026' })).toBeVisible();
  const { count } = await ask<{ count: number }>(page, '/api/count', {
    question: { taken: { from: '2026-01-01', to: '2026-12-31' } },
  });
  await expect(page.getByText(/^\d+ pictures?$/).first()).toBeVisible();
  expect(
    parseInt(
      (await page
        .getByText(/^\d+ pictures?$/)
        .first()
        .textContent())!,
      10,
    ),
  ).toBeLessThan(count);
  await page.getByRole('button', { name: 'Show every picture' }).click();

  await choose(page, wide, [0, 1]);
  await expect(page.getByRole('link', { name: /Open the pile: 2 picture/ })).toBeVisible();
  if (wide) {
    await tiles.nth(3).click({ modifiers: ['Shift'] });
    await expect(page.getByRole('link', { name: /Open the pile: 4 picture/ })).toBeVisible();
    await tiles.nth(3).click({ modifiers: ['Control'] });
    await expect(page.getByRole('link', { name: /Open the pile: 3 picture/ })).toBeVisible();
    // The rubber band takes every picture it touches.
    const box = (await tiles.first().boundingBox())!;
    await page.mouse.move(box.x + 6, box.y + 6);
    await page.mouse.down();
    await page.mouse.move(box.x + 500, box.y + 60, { steps: 8 });
    await page.mouse.up();
    await expect(tiles.nth(1)).toHaveAttribute('aria-pressed', 'true');
    // Keys: along the row, onto the pile and off.
    await tiles.nth(0).focus();
    await page.keyboard.press('ArrowRight');
    await expect(tiles.nth(1)).toBeFocused();
    await page.keyboard.press('p');
    await expect(tiles.nth(1)).toHaveAttribute('aria-pressed', 'false');
  } else {
    await tiles.nth(1).click();
    await expect(page.getByRole('link', { name: /Open the pile: 1 picture/ })).toBeVisible();
    await page.getByRole('button', { name: 'Done' }).click();
  }
});

test('4. the picture: next and previous, zoom, stars, heart, words, tags, time, faces, and undo', async ({
  inside: page,
  own,
  wide,
}) => {
  await page.goto('/browse');
  const tiles = await grid(page);
  // A picture of the lantern parade with named people in it.
  const named = await ask<{ ids: number[] }>(page, '/api/skeleton', {
    question: { all: [{ has: 'event' }, { faces: { min: 2 } }, { kind: 'photo' }, { has: 'names' }] },
  });
  expect(named.ids.length).toBeGreaterThan(0);
  await tiles.nth(1).click();
  await expect(page).toHaveURL(/\/picture\/\d+/);
  const here = page.url();
  await page.getByRole('button', { name: 'Next picture' }).click();
  await expect(page).not.toHaveURL(here);
  if (wide) await page.keyboard.press('ArrowLeft');
  else {
    const box = (await page.getByTestId('viewer').boundingBox())!;
    await page.mouse.move(box.x + 90, box.y + 200);
    await page.mouse.down();
    await page.mouse.move(box.x + 290, box.y + 205, { steps: 6 });
    await page.mouse.up();
  }
  await expect(page).toHaveURL(here);
  const viewer = page.getByTestId('viewer');
  await viewer.dblclick();
  await expect(viewer).toHaveAttribute('data-zoom', '2.50');
  await viewer.dblclick();
  await expect(viewer).toHaveAttribute('data-zoom', '1.00');

  await page.goto(`/picture/${named.ids[0]}`);
  await page.getByRole('button', { name: /^Show the/ }).click();
  await expect(page.getByRole('button', { name: /Hallorin|Wend|Castell|Frost|Oyelaran/ }).first()).toBeVisible();
  await accessible(page);
  await page.getByRole('button', { name: 'Hide the faces' }).click();

  await page.getByRole('radio', { name: '4 stars' }).click();
  await expect(page.getByRole('radio', { name: '4 stars' })).toHaveAttribute('aria-checked', 'true');
  await page
    .getByRole('button', { name: 'Give it a heart' })
    .or(page.getByRole('button', { name: 'Remove the heart' }))
    .click();
  const title = page.getByRole('button', { name: /^Give it a title|^Title:/ });
  await title.click();
  await page.getByLabel('Title', { exact: true }).fill(own('Lights over the water'));
  await page.keyboard.press('Enter');
  await expect(page.getByText(own('Lights over the water'))).toBeVisible();
  await page.getByRole('button', { name: /^What’s in the picture|^Caption:/ }).click();
  await page.getByLabel('Caption', { exact: true }).fill('Everybody walked to the quay.');
  await page.getByRole('radio', { name: '4 stars' }).focus();
  await expect(page.getByText('Everybody walked to the quay.')).toBeVisible();
  await page.getByRole('button', { name: 'Tag', exact: true }).click();
  await page.getByLabel('A tag').fill(own('quay'));
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: `Remove the tag ${own('quay')}` })).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('button', { name: `Remove the tag ${own('quay')}` })).toHaveCount(0);

  await page.getByRole('button', { name: /\d{4}, \d\d:\d\d/ }).click();
  await accessible(page);
  const time = page.getByLabel('Date and time by the clock on the wall');
  await time.fill('2026-03-01T08:30:00');
  await page.getByRole('button', { name: 'Use this time' }).click();
  await expect(page.getByText('Sunday 1 March 2026, 08:30')).toBeVisible();
  await expect(page.getByText('set by hand')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('Sunday 1 March 2026, 08:30')).toHaveCount(0);

  const clip = await ask<{ ids: number[] }>(page, '/api/skeleton', { question: { kind: 'video' } });
  await page.goto(`/picture/${clip.ids[0]}`);
  const video = page.locator('video');
  await video.evaluate((v: HTMLVideoElement) => ((v.muted = true), v.play()));
  await expect.poll(() => video.evaluate((v: HTMLVideoElement) => v.currentTime)).toBeGreaterThan(0.2);
});

test('5. who: people, a person’s pictures, introductions with an odd one out, and undo', async ({
  inside: page,
  own,
  wide,
}) => {
  await page.goto('/browse/who');
  await expect(page.getByRole('link', { name: /Emil Hallorin, \d+ picture/ })).toBeVisible();
  await accessible(page);
  await page.getByRole('link', { name: /Emil Hallorin/ }).click();
  await expect(page.getByRole('heading', { name: 'Emil Hallorin' })).toBeVisible();
  await grid(page);
  await accessible(page);
  await page.goto('/introductions');
  await expect(page.getByRole('heading', { name: 'Somebody you know?' })).toBeVisible();
  await accessible(page);
  const faces = page.getByRole('checkbox', { name: /^Face \d+ of/ });
  const several = (await faces.count()) > 1;
  const start = (await ask<{ faces: number }>(page, '/api/introductions')).faces;
  if (several) {
    await faces.last().click();
    await expect(faces.last()).toHaveAttribute('aria-checked', 'false');
  }
  const name = own('Berta Lind');
  await page.getByLabel('Type a name').fill(name);
  await page.getByRole('button', { name: `Somebody new: ${name}` }).click();
  await expect(page.getByText(new RegExp(`named ${name.replace(/[()]/g, '\\$&')}`))).toBeVisible();
  await expect(page.getByText(/^2 of/)).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText(/^1 of/)).toBeVisible();
  await expect
    .poll(async () =>
      (await ask<{ people: { name: string }[] }>(page, '/api/people')).people.some((p) => p.name === name),
    )
    .toBe(false);
  await expect.poll(async () => (await ask<{ faces: number }>(page, '/api/introductions')).faces).toBe(start);
  // Type-ahead: a few letters and Enter are enough.
  await page.getByLabel('Type a name').fill('ka');
  await expect(page.getByText('↵ to accept')).toBeVisible();
  await page.getByLabel('Type a name').fill('');
  await page.getByRole('button', { name: 'Passer-by' }).click();
  await expect(page.getByText(/marked as (a passer-by|passers-by)/)).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText(/marked as (a passer-by|passers-by)/)).toHaveCount(0);
  await expect.poll(async () => (await ask<{ faces: number }>(page, '/api/introductions')).faces).toBe(start);
  await page.getByRole('button', { name: 'Later' }).click();
  await expect(page.getByText('Put off until tomorrow')).toBeVisible();
  if (wide) await page.getByRole('button', { name: 'Undo' }).click();
});

test('6. the pile: stars, tags, put down and taken up again', async ({ inside: page, own, wide }) => {
  await emptyHands(page);
  await page.goto('/browse');
  await choose(page, wide, [0, 2]);
  if (!wide) {
    await page.getByRole('link', { name: /Open the pile/ }).click();
    await expect(page.getByText('2 pictures in hand')).toBeVisible();
    await accessible(page);
  }
  await page.getByRole('button', { name: 'Describe', exact: true }).click();
  await page.getByRole('dialog').getByRole('radio', { name: '3 stars' }).click();
  await expect(page.getByText('★★★ given to 2 pictures')).toBeVisible();
  await accessible(page);
  await page.getByRole('dialog').getByLabel('A tag').fill(own('lamps'));
  await page.keyboard.press('Enter');
  await expect(page.getByText(`2 pictures tagged “${own('lamps')}”`)).toBeVisible();
  const { tags } = await ask<{ tags: { name: string; pictures: number }[] }>(page, '/api/tags');
  expect(tags.find((t) => t.name === own('lamps'))?.pictures).toBe(2);
  await page.getByRole('dialog').getByRole('button', { name: 'Done' }).click();
  await page.getByRole('button', { name: 'Put down', exact: true }).click();
  await expect(page.getByText('2 pictures put down; nothing else changed')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(async () => (await ask<{ ids: number[] }>(page, '/api/pile')).ids.length).toBe(2);
  await page.reload();
  await expect(
    wide ? page.getByRole('link', { name: /Open the pile: 2 picture/ }) : page.getByText('2 pictures in hand'),
  ).toBeVisible();
});

test('7. albums: from the pile, in an order by hand, taken out, removed and back; one that fills itself', async ({
  inside: page,
  own,
  wide,
}) => {
  await emptyHands(page);
  await page.goto('/browse');
  await choose(page, wide, [0, 1, 2]);
  if (!wide) await page.getByRole('link', { name: /Open the pile/ }).click();
  await page.getByRole('button', { name: 'Album', exact: true }).click();
  await page.getByRole('dialog').getByLabel('Name of a new album').fill(own('For the wall'));
  await accessible(page);
  await page.getByRole('button', { name: 'Make album' }).click();
  await expect(page.getByRole('heading', { name: own('For the wall') })).toBeVisible();
  const album = Number(page.url().match(/albums\/(\d+)/)![1]);
  const order = async () => (await ask<{ ids: number[] }>(page, `/api/albums/${album}`)).ids;
  const before = await order();
  expect(before).toHaveLength(3);

  await page.getByRole('button', { name: 'Order by hand' }).click();
  const places = page.getByTestId('arrange').locator('[data-id]');
  await expect(places).toHaveCount(3);
  await accessible(page);
  const [a, c] = [(await places.nth(0).boundingBox())!, (await places.nth(2).boundingBox())!];
  await page.mouse.move(a.x + 40, a.y + 40);
  await page.mouse.down();
  await page.mouse.move(c.x + c.width - 12, c.y + 45, { steps: 14 });
  await page.waitForTimeout(250);
  await page.mouse.up();
  await expect.poll(order).toEqual([before[1], before[2], before[0]]);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(order).toEqual(before);
  await page.getByRole('button', { name: 'Done' }).click();

  await choose(page, wide, [0, 1, 2]);
  await page.getByRole('button', { name: 'Take out the 3 on the pile' }).click();
  await expect(page.getByText('3 pictures taken out of the album')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(order).toEqual(before);
  await page.goto(`/picture/${before[0]}`);
  await expect(page.getByText(/Kept once, seen in \d album/)).toBeVisible();
  await expect(page.getByRole('link', { name: own('For the wall') })).toBeVisible();
  await page.goto(`/albums/${album}`);
  const kept = (await ask<{ pictures: number }>(page, '/api/library')).pictures;
  await page.getByRole('button', { name: 'More for this album' }).click();
  await expect(page.getByText('Removing an album never removes a picture: all 3 stay in the library.')).toBeVisible();
  await page.getByRole('button', { name: 'Remove album' }).click();
  await expect(page).toHaveURL(/\/albums$/);
  expect((await ask<{ pictures: number }>(page, '/api/library')).pictures).toBe(kept);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('link', { name: own('For the wall') }).first()).toBeVisible();
  await accessible(page);

  // A smart album from sentences.
  await page.getByRole('button', { name: 'Make an album' }).click();
  await page.getByRole('button', { name: 'A smart album' }).click();
  await page.getByLabel('Name').fill(own('Emil, or five stars'));
  await page.getByRole('button', { name: 'Condition' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Who is in it' }).click();
  await page.getByRole('dialog').getByRole('checkbox', { name: 'Emil Hallorin' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Add' }).click();
  await page.getByRole('button', { name: 'Condition' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Stars', exact: true }).click();
  await page.getByRole('dialog').getByRole('button', { name: '5', exact: true }).click();
  await accessible(page);
  await page.getByRole('button', { name: 'all', exact: true }).click(); // all becomes any
  const emil = (await ask<{ people: { id: number; name: string }[] }>(page, '/api/people')).people.find(
    (p) => p.name === 'Emil Hallorin',
  )!.id;
  const question = { any: [{ who: { people: [emil], mode: 'all' } }, { rating: { min: 5 } }] };
  const { count } = await ask<{ count: number }>(page, '/api/count', { question });
  await expect(page.getByRole('heading', { name: `${count} pictures now` })).toBeVisible();
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('either with Emil Hallorin or rated 5')).toBeVisible();
  await expect(page.getByText(new RegExp(`^${count} pictures`))).toBeVisible();
  // It follows a later change by itself.
  const { ids } = await ask<{ ids: number[] }>(page, '/api/skeleton', { question: { all: [{ not: question }] } });
  await ask(page, '/api/pictures/change', { ids: [ids[0]], change: { rating: 5 } });
  await expect(page.getByText(new RegExp(`^${count + 1} pictures`))).toBeVisible({ timeout: 30_000 });
  await ask(page, '/api/pictures/change', { ids: [ids[0]], change: { rating: 0 } });
});

test('8. share: a link for guests, look and save, closed at any time @long', async ({
  inside: page,
  own,
  wide,
  browser,
  baseURL,
}) => {
  await emptyHands(page);
  await page.goto('/browse');
  await choose(page, wide, [0, 1, 2]);
  if (!wide) await page.getByRole('link', { name: /Open the pile/ }).click();
  await page.getByRole('button', { name: 'Share', exact: true }).click();
  await page.getByLabel('Title for guests').fill(own('From the lantern evening'));
  // What has been for the house only is shared when it is said so.
  await page.getByRole('button', { name: 'Share them, too' }).click();
  await page.getByRole('button', { name: /^How long/ }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'A week' }).click();
  await accessible(page);
  await page.getByRole('button', { name: 'Open the share' }).click();
  await page.getByRole('button', { name: 'Copy the link for Anybody with the link' }).click();
  const link = await page.evaluate(() => navigator.clipboard.readText());
  expect(new URL(link).pathname).toMatch(/^\/s\/[\w-]{22,}$/);

  const guests = await browser.newContext({ baseURL: baseURL!, viewport: page.viewportSize()!, acceptDownloads: true });
  const guest = await guests.newPage();
  await guest.goto(link);
  await expect(guest.getByRole('heading', { name: own('From the lantern evening') })).toBeVisible();
  await expect(guest.getByText(/3 pictures from Ilse Hallorin/)).toBeVisible();
  await accessible(guest);
  await guest.locator('.cell').first().click();
  await guest.getByRole('button', { name: 'The next one' }).click();
  await expect(guest.getByText('2 of 3')).toBeVisible();
  await accessible(guest);
  const [one] = await Promise.all([
    guest.waitForEvent('download'),
    guest.getByRole('link', { name: 'Save this picture at full size' }).click(),
  ]);
  expect(one.suggestedFilename()).toMatch(/\.(jpg|heic|mp4|mov)$/i);
  await guest.getByRole('button', { name: 'Back to all pictures' }).click();
  const [all] = await Promise.all([
    guest.waitForEvent('download'),
    guest.getByRole('link', { name: /Save all at full size/ }).click(),
  ]);
  expect(all.suggestedFilename()).toMatch(/\.zip$/);
  expect((await guests.request.get('/api/people')).status()).toBe(401);

  await page.goto('/sharing');
  const card = page.getByRole('group', { name: own('From the lantern evening') });
  await expect(card.getByText(/Opened (once|\d times)/)).toBeVisible();
  await accessible(page);
  await card.getByRole('button', { name: 'Close' }).click();
  await expect(card.getByText(/^Closed/)).toBeVisible();
  await guest.goto(link);
  await expect(guest.getByRole('heading', { name: 'This share isn’t open' })).toBeVisible();
  await accessible(guest);
  await guests.close();
});

test('where and what: places and tags lead to their pictures @long', async ({ inside: page }) => {
  await page.goto('/browse/where');
  await expect(page.getByRole('heading', { name: 'Sweden' })).toBeVisible();
  await accessible(page);
  await page.getByRole('button', { name: /^All of Sweden/ }).click();
  await expect(page.getByRole('button', { name: 'Remove: near Sweden' })).toBeVisible();
  await grid(page);
  await page.getByRole('link', { name: 'What', exact: true }).click();
  await accessible(page);
  await page
    .getByRole('button', { name: /^Photographs/i })
    .first()
    .click();
  await expect(page.getByRole('button', { name: 'Remove: that are photographs' })).toBeVisible();
});

test('a broken connection says so and loses nothing', async ({ inside: page }) => {
  await page.goto('/albums');
  await expect(page.getByRole('heading', { name: 'Albums' })).toBeVisible();
  await page.route('**/api/shares', (route) => route.abort());
  await page.getByRole('link', { name: 'Sharing' }).click();
  await expect(
    page.getByText('Gemmel can’t be reached right now. Nothing is lost; try again in a moment.'),
  ).toBeVisible({ timeout: 25_000 });
  const again = page.getByRole('button', { name: 'Try again' });
  const asked = page.waitForRequest('**/api/shares');
  await again.click();
  await asked;
  await page.unroute('**/api/shares');
  // It may have been asked again by itself meanwhile.
  await again.click({ timeout: 5000 }).catch(() => undefined);
  await expect(page.getByRole('heading', { name: 'Sharing' })).toBeVisible();
  await expect(page.getByText('That didn’t work')).toHaveCount(0);
});
