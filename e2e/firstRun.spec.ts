import { rmSync } from 'node:fs';
import path from 'node:path';
import { accessible, DEMO, expect, grid, test } from './house';
import { ROOM, startServer } from './server';

test('a new library: the keeper’s account, empty pages that say what will be here, the first pictures', async ({
  page,
  empty,
}) => {
  const at = empty.url;
  await page.goto(`${at}/`);
  await expect(page.getByRole('heading', { name: 'Who keeps the pictures?' })).toBeVisible();
  await expect(page.getByText('made-up household')).toHaveCount(0);
  await accessible(page);
  await page.getByLabel('Name of the library').fill('The house by the lake');
  await page.getByLabel('Your name').fill('Åsa Öberg');
  await page.getByLabel('E-mail address').fill('asa@house.example');
  await page.getByLabel('Password (at least ten characters)').fill('too short');
  await expect(page.getByRole('button', { name: 'Start the library' })).toBeDisabled();
  await page.getByLabel('Password (at least ten characters)').fill('long enough now');
  await page.getByRole('button', { name: 'Start the library' }).click();
  await expect(page.getByRole('heading', { name: 'Arrivals' })).toBeVisible();
  await expect(page.getByText('Nothing has come in yet')).toBeVisible();
  await accessible(page);

  const EMPTY = [
    ['/browse', 'Your library will grow here'],
    ['/albums', 'No albums yet'],
    ['/nowhere/at/all', 'This page doesn’t exist'],
    ['/browse/who', 'Nobody has a name yet'],
    ['/browse/where', 'No pictures have a place yet'],
    ['/introductions', 'Everybody is introduced'],
    ['/pile', 'Nothing on the pile'],
    ['/sharing', 'Nothing is shared'],
  ] as const;
  for (const [place, title] of process.env['E2E_LONG'] ? EMPTY : EMPTY.slice(0, 3)) {
    await page.goto(at + place);
    await expect(page.getByRole('heading', { name: title })).toBeVisible();
    if (process.env['E2E_LONG']) await accessible(page);
  }
  await page.goto(`${at}/s/${'x'.repeat(43)}`);
  await expect(page.getByRole('heading', { name: 'This share isn’t open' })).toBeVisible();

  await page.goto(`${at}/arrivals`);
  await page.getByTestId('files').setInputFiles(path.join(DEMO, 'grans-tablet/photo_2026-05-16_13-02-39.jpg'));
  await expect(page.getByText('1 picture stored')).toBeVisible({ timeout: 30_000 });
  await page.getByRole('link', { name: 'Browse' }).click();
  expect(await (await grid(page)).count()).toBe(1);
  await page.reload();
  expect(await (await grid(page)).count()).toBe(1);
});

test('over a network the first page asks for the code that was printed at the start @long', async ({ page }, info) => {
  const data = path.join(ROOM, `worker-${info.workerIndex}-network`);
  rmSync(data, { recursive: true, force: true });
  const server = await startServer(data, { GEMMEL_HOST: '0.0.0.0' });
  try {
    await expect.poll(() => server.said()).toContain('set-up code');
    const code = server.said().match(/: (\d{4}-\d{4})/)![1]!;
    // As if somebody stood in between: then nobody can tell who asks.
    await page.setExtraHTTPHeaders({ 'x-forwarded-for': '203.0.113.9' });
    await page.goto(server.url);
    await page.getByLabel('Your name').fill('Åsa Öberg');
    await page.getByLabel('E-mail address').fill('asa@house.example');
    await page.getByLabel('Password (at least ten characters)').fill('long enough now');
    await expect(page.getByRole('button', { name: 'Start the library' })).toBeDisabled();
    await page.getByLabel('Set-up code').fill('0000 0000');
    await page.getByRole('button', { name: 'Start the library' }).click();
    await expect(page.getByRole('alert')).toHaveText('That isn’t the set-up code Gemmel printed when it was started.');
    await accessible(page);
    await page.getByLabel('Set-up code').fill(code.replace('-', ' '));
    await page.getByRole('button', { name: 'Start the library' }).click();
    await expect(page.getByRole('heading', { name: 'Arrivals' })).toBeVisible();
  } finally {
    await server.stop();
    rmSync(data, { recursive: true, force: true });
  }
});
