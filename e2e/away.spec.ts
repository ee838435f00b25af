import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import type { Page } from '@playwright/test';
import { accessible, another, ask, DEMO, expect, grid, idsOf, test } from './house';
import { ROOT } from './server';

test.use({ serviceWorkers: 'allow' });

/** Until the application is there without a line. */
async function ready(page: Page): Promise<void> {
  await page.waitForFunction(async () => Boolean((await navigator.serviceWorker.ready).active));
  await page.waitForFunction(() => navigator.serviceWorker.controller !== null);
}

const away = (page: Page) => page.getByRole('status').filter({ hasText: 'No connection' });

test('without a line: opened, looked at, played, rated, named, asked; and all of it is there once afterwards', async ({
  inside: page,
  own,
}) => {
  test.setTimeout(240_000);
  const [faced] = await idsOf(page, { all: [{ kind: 'photo' }, { lacks: 'names' }] });
  const others = await idsOf(page, { all: [{ kind: 'photo' }, { has: 'names' }] });
  const ids = [...others.slice(0, 11), faced!];
  const name = own('For the train');
  const { id: album } = await ask<{ id: number }>(page, '/api/albums', { name, ids });
  const before = new Map<number, number>();
  for (const id of ids) {
    const picture = await ask<{ rating: number }>(page, `/api/pictures/${id}`);
    before.set(id, picture.rating);
  }
  await page.goto(`/albums/${album}`);
  await ready(page);
  await page.getByRole('button', { name: 'More for this album' }).click();
  await page.getByRole('button', { name: 'Keep on this device' }).click();
  await page.goto('/device');
  await expect(page.getByText(/^12 pictures, /)).toBeVisible({ timeout: 60_000 });
  await accessible(page);
  await page.goto('/browse');
  await grid(page);
  // The people of the household are known once they have been looked at.
  await page.goto('/browse/who');
  await expect(page.getByText(/Tove/).first()).toBeVisible();
  await page.waitForTimeout(1200);

  await page.context().setOffline(true);
  await page.goto('/browse');
  await grid(page);
  await expect(away(page)).toBeVisible();
  await accessible(page);
  // The album opens, and plays.
  await page.goto(`/albums/${album}`);
  const tiles = await grid(page);
  await expect(tiles).toHaveCount(12);
  await page.getByRole('button', { name: /^Play/ }).first().click();
  await expect(page.getByRole('dialog').locator('img').first()).toBeVisible();
  await page.keyboard.press('Escape');
  // Ten are rated, in the large view.
  await page.goto(`/picture/${ids[0]}`);
  for (const id of ids.slice(0, 10)) {
    await page.goto(`/picture/${id}`);
    await expect(page.getByRole('img').first()).toBeVisible();
    const stars = before.get(id) === 5 ? 3 : 5;
    await page.keyboard.press(String(stars));
    await expect(page.getByText(/It’s sent as soon as there is a connection/)).toBeVisible();
  }
  // One face gets a name.
  const who = own('Aunt Away');
  await page.goto(`/picture/${faced}`);
  await page.getByRole('button', { name: /faces? without a name/ }).click();
  await page
    .getByRole('button', { name: /Whose face\?|Probably/ })
    .first()
    .click();
  await page
    .getByRole('dialog')
    .getByLabel(/^(?:Name|Or somebody else)$/)
    .fill(who);
  await page.keyboard.press('Enter');
  await expect(page.getByText(/named .*It’s sent as soon as there is a connection/)).toBeVisible();
  await page.goto('/device');
  await expect(page.getByText('Waits since', { exact: false })).toHaveCount(11);
  await accessible(page);
  // What can't be done says so.
  await page.goto('/safekeeping');
  await expect(page.getByText(/This needs a connection/)).toBeVisible();
  // A caption is changed here, and meanwhile by somebody else in the library.
  await page.goto(`/picture/${ids[0]}`);
  await page
    .getByRole('button', { name: /caption|What’s in the picture/i })
    .first()
    .click();
  const field = page.getByLabel('Caption');
  await field.fill('From the hut');
  await field.blur();
  await expect(page.getByText(/Caption changed. It’s sent/)).toBeVisible();
  await ask(page, '/api/pictures/change', { ids: [ids[0]], change: { caption: 'From the house' } });
  await page.context().setOffline(false);
  await page.evaluate(() => window.dispatchEvent(new Event('online')));
  await expect(away(page)).toBeHidden({ timeout: 30_000 });
  await expect(page.getByRole('status').filter({ hasText: 'needs a decision' })).toBeVisible({ timeout: 30_000 });
  for (const id of ids.slice(0, 10)) {
    const picture = await ask<{ rating: number }>(page, `/api/pictures/${id}`);
    expect([id, picture.rating]).toEqual([id, before.get(id) === 5 ? 3 : 5]);
  }
  const { acts } = await ask<{ acts: { kind: string }[] }>(page, '/api/acts');
  // Ten stars, and the caption from the house.
  expect(acts.slice(0, 12).filter(({ kind }) => kind === 'say')).toHaveLength(11);
  const { people } = await ask<{ people: { name: string }[] }>(page, '/api/people');
  expect(people.filter(({ name: called }) => called === who)).toHaveLength(1);
  await page.goto('/device');
  await expect(page.getByText('Somebody else has changed it to: From the house.')).toBeVisible();
  await page.getByRole('button', { name: 'Use mine' }).click();
  await expect(page.getByText('Yours is saved.')).toBeVisible();
  expect((await ask<{ caption: string }>(page, `/api/pictures/${ids[0]}`)).caption).toBe('From the hut');
  // Signing out leaves nothing behind.
  await page.goto('/household');
  await page.getByRole('button', { name: 'Sign out' }).click();
  await expect(page).toHaveURL(/sign-in/);
  const left = await page.evaluate(async () => {
    const names = (await indexedDB.databases())
      .map((one) => one.name!)
      .filter((one) => one.startsWith('gemmel-device'));
    const counts = await Promise.all(
      names.map(
        (name) =>
          new Promise<number>((resolve) => {
            const open = indexedDB.open(name);
            open.onsuccess = () => {
              const store = open.result.objectStoreNames[0]!;
              const all = open.result.transaction(store).objectStore(store).count();
              all.onsuccess = () => resolve(all.result);
            };
          }),
      ),
    );
    const kept = await Promise.all(
      (await caches.keys())
        .filter((one) => one.startsWith('gemmel'))
        .map(async (one) => (await (await caches.open(one)).keys()).length),
    );
    return [...counts, ...kept].reduce((sum, n) => sum + n, 0);
  });
  expect(left).toBe(0);
});

/** Gives two pictures of one name to Gemmel as a phone does: a form that is sent, followed by the page it leads to. */
async function giveTwo(page: Page, salts: readonly [number, number]): Promise<void> {
  const data = readFileSync(path.join(DEMO, 'good-camera', 'DCIM/102/DSC0510.jpg')).toString('base64');
  await page.evaluate(
    ({ data: bytes, salts: some }) => {
      const raw = Uint8Array.from(atob(bytes), (one) => one.charCodeAt(0));
      const files = new DataTransfer();
      for (const salt of some)
        files.items.add(new File([raw, new Uint8Array([salt])], 'image.jpg', { type: 'image/jpeg' }));
      const form = document.createElement('form');
      form.method = 'POST';
      form.action = '/give';
      form.enctype = 'multipart/form-data';
      const input = document.createElement('input');
      input.type = 'file';
      input.name = 'files';
      input.multiple = true;
      input.files = files.files;
      form.append(input);
      document.body.append(form);
      form.submit();
    },
    { data, salts },
  );
}

test('pictures come from another application’s share sheet, also without a line', async ({ inside: page }) => {
  await page.goto('/arrivals');
  await ready(page);
  await page.context().setOffline(true);
  await giveTwo(page, [1, 2]);
  await expect(page).toHaveURL(/\/arrivals\?given/);
  await expect(away(page)).toBeVisible();
  await page.context().setOffline(false);
  await page.evaluate(() => window.dispatchEvent(new Event('online')));
  await expect(page.getByText('2 pictures stored').first()).toBeVisible({ timeout: 60_000 });
});

test('so do those of a relative, who sees in the parlour that they have come', async ({
  inside: page,
  own,
  browser,
  baseURL,
}) => {
  const name = own('Agathe with a phone');
  const { path: invited } = await ask<{ path: string }>(page, '/api/invites', { name, part: 'relative' });
  const hers = await another(browser, baseURL, { serviceWorkers: 'allow' });
  const account = { name, email: `${own('phone').replace(/\W/g, '')}@kin.example`, password: 'kites-in-june' };
  await hers.request.post(`/api/invite/${invited.split('/').pop()}`, { data: { account } });
  await hers.goto('/parlour');
  await ready(hers);
  await hers.context().setOffline(true);
  await giveTwo(hers, [3, 4]);
  await expect(hers).toHaveURL(/parlour/);
  await expect(
    hers.getByText('All 2 wait on this device and are sent as soon as there is a connection.'),
  ).toBeVisible();
  await hers.context().setOffline(false);
  await hers.evaluate(() => window.dispatchEvent(new Event('online')));
  await expect(hers.getByText('2 files have arrived. Thank you!')).toBeVisible({ timeout: 60_000 });
  await accessible(hers);
  await hers.context().close();
});

test('it can be installed, and a new version waits until what is being written is saved', async ({ inside: page }) => {
  await page.goto('/browse');
  await ready(page);
  const manifest = await page.evaluate(async () => {
    const at = document.querySelector<HTMLLinkElement>('link[rel=manifest]')!.href;
    return (await (await fetch(at)).json()) as {
      name: string;
      start_url: string;
      display: string;
      icons: { src: string; sizes: string; purpose?: string }[];
      shortcuts: { url: string }[];
      share_target: { action: string };
    };
  });
  // What browsers ask before they offer to install: a name, a start, a window, icons of two sizes, and a worker.
  expect(manifest).toMatchObject({ name: 'Gemmel', start_url: '/browse', display: 'standalone' });
  expect(manifest.share_target.action).toBe('/give');
  expect(manifest.shortcuts.map(({ url }) => url)).toEqual(['/arrivals', '/pile', '/at-hand']);
  for (const size of ['192x192', '512x512'])
    expect(manifest.icons.some(({ sizes, purpose }) => sizes === size && !purpose)).toBe(true);
  for (const { src } of manifest.icons) expect((await page.request.get(src)).ok()).toBe(true);
  const [id] = await idsOf(page, { all: [{ kind: 'photo' }] });
  await page.goto(`/picture/${id}`);
  await page
    .getByRole('button', { name: /caption|What’s in the picture/i })
    .first()
    .click();
  // A worker with another word in it is another version.
  const worker = path.join(ROOT, 'apps/web/dist/sw.js');
  const as = readFileSync(worker, 'utf8');
  writeFileSync(worker, `${as}\n// later`);
  try {
    await page.evaluate(async () => (await navigator.serviceWorker.getRegistration())!.update());
    await page.getByLabel('Caption').fill('Written while a version came');
    const offer = page.getByRole('status').filter({ hasText: 'A new version of Gemmel is ready.' });
    await expect(offer).toBeVisible({ timeout: 30_000 });
    // A browser has a worker that is kept busy stay for minutes; nobody waits for that.
    await page.evaluate(() => setInterval(() => void fetch('/manifest.webmanifest').catch(() => null), 5));
    await offer.getByRole('button', { name: 'Use it now' }).click();
    await expect(offer).toBeHidden({ timeout: 30_000 });
    await expect(page.getByText('Written while a version came')).toBeVisible();
    expect((await ask<{ caption: string }>(page, `/api/pictures/${id}`)).caption).toBe('Written while a version came');
  } finally {
    writeFileSync(worker, as);
  }
});
