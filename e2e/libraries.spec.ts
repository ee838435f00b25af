import { spawn } from 'node:child_process';
import { cp, mkdir, rm } from 'node:fs/promises';
import path from 'node:path';
import { accessible, ask, choose, DEMO, emptyHands, expect, grid, test } from './house';
import { envOf, ROOT, startServer } from './server';

/** Libraries, as a keeper meets them: another one, pictures that go there, one removed and brought back, and what all takes up. */
test('another library: made, given pictures, removed, and gone for good @long', async ({ inside: page, own, wide }) => {
  const club = own('Sailing club');
  await emptyHands(page);
  await page.goto('/household');
  await page.getByRole('button', { name: 'Libraries' }).first().click();
  await expect(page.getByRole('heading', { name: 'Libraries' })).toBeVisible();
  await page.getByRole('button', { name: 'Make another library' }).click();
  await page.getByLabel('Name of the library').fill(club);
  await page.getByRole('button', { name: 'Make the library' }).click();
  await expect(page).toHaveURL(/\/arrivals/);

  await page.goto('/libraries');
  const home = page.getByRole('group', { name: 'Home library' });
  await home.getByRole('button', { name: 'Show it in this tab' }).click();
  await expect(page).toHaveURL(/\/arrivals/);
  await page.goto('/browse');
  await choose(page, wide, [0, 1]);
  await expect.poll(async () => (await ask<{ ids: number[] }>(page, '/api/pile')).ids.length).toBe(2);
  await page.goto('/pile');
  await page.getByRole('button', { name: 'More for the pile' }).click();
  await page.getByRole('button', { name: 'To another library' }).click();
  await accessible(page);
  await page
    .getByRole('dialog')
    .getByRole('button', { name: new RegExp(`^${club.replace(/[()]/g, '\\$&')}`) })
    .click();
  await expect(page.getByText(`2 pictures are going to “${club}”.`)).toBeVisible();
  await page.goto('/libraries');
  await expect(page.getByText(`2 pictures went to “${club}”.`)).toBeVisible({ timeout: 60_000 });
  await expect(page.getByRole('group', { name: club }).getByText(/^2 pictures/)).toBeVisible();
  // Here they are in the bin, from where they come back.
  await ask(page, '/api/bin/restore', { all: true });

  await page.goto('/libraries');
  await page.getByRole('group', { name: club }).getByRole('button', { name: 'Show it in this tab' }).click();
  await expect(page).toHaveURL(/\/arrivals/);
  await page.goto('/libraries');
  const remove = async () => {
    await page.getByRole('group', { name: club }).getByRole('button', { name: 'Remove' }).click();
    await page.getByLabel('Type its name to be sure').fill('Something else');
    await page.getByRole('button', { name: 'Remove the library' }).click();
    await expect(page.getByText('That is not the name of the library.', { exact: false })).toBeVisible();
    await page.getByLabel('Type its name to be sure').fill(club);
    await page.getByRole('button', { name: 'Remove the library' }).click();
    await expect(page).toHaveURL(/\/arrivals/);
    await page.goto('/libraries');
  };
  await remove();
  const removed = page.getByRole('group', { name: club });
  await expect(removed.getByText(/^Removed on .* You can bring it back until /)).toBeVisible();
  await removed.getByRole('button', { name: 'Remove it for good' }).click();
  await page.getByLabel('Type its name to be sure').fill(club);
  await page.getByRole('dialog').getByRole('button', { name: 'Remove for good' }).click();
  await expect(removed).toHaveCount(0);

  await page.goto('/storage');
  await expect(page.getByRole('heading', { name: 'By year' })).toBeVisible();
});

/** Keeping house: checked, copied out, what takes up space, and a library brought back. */
test('keeping house: checked, copied out, what takes up space, a limit; a removed library is brought back @both @long', async ({
  inside: page,
  own,
}, info) => {
  await page.goto('/libraries');
  await page.getByRole('button', { name: 'Check now' }).click();
  await expect(page.getByText(/^Checked on .*: (\d+) of \1 files are where they should be\./)).toBeVisible({
    timeout: 60_000,
  });
  await page.getByRole('button', { name: 'Copy the library …' }).click();
  await page.getByLabel('Folder', { exact: true }).fill('not/whole');
  await page.getByRole('button', { name: 'Start copying' }).click();
  await expect(page.getByText('Say where the folder is from the root on', { exact: false })).toBeVisible();
  await page.getByLabel('Folder', { exact: true }).fill(info.outputPath('copy'));
  await page.getByRole('button', { name: 'Start copying' }).click();
  await expect(page.getByText(/^Copied into .*: \d+ files, /)).toBeVisible({ timeout: 60_000 });
  await accessible(page);

  await page.getByRole('button', { name: 'What takes up space' }).click();
  await expect(page.getByRole('heading', { name: 'By year' })).toBeVisible();
  await expect(page.getByText('2026').first()).toBeVisible();
  await page.getByRole('group', { name: 'Each helper or relative' }).getByRole('button', { name: '5.0 GB' }).click();
  await expect(page.getByText('Saved')).toBeVisible();
  await accessible(page);
  await page.getByRole('group', { name: 'Each helper or relative' }).getByRole('button', { name: 'No limit' }).click();

  // The originals go to another folder and come back, while the pages work on.
  await page.goto('/libraries');
  await mkdir(info.outputPath('disk'));
  await page.getByRole('button', { name: 'Move them …' }).click();
  await page.getByLabel('Folder', { exact: true }).fill(info.outputPath('disk'));
  await page.getByRole('button', { name: 'Start moving' }).click();
  await expect(page.getByText(/^Moved on .*: \d+ files, /)).toBeVisible({ timeout: 60_000 });
  await expect(page.getByText(/on a disk of their own\.$/)).toBeVisible();
  await page.goto('/browse');
  await grid(page);
  await page.goto('/libraries');
  await page.getByRole('button', { name: 'Move them back' }).click();
  await expect(page.getByText(/^On the same disk as everything else\./)).toBeVisible({ timeout: 60_000 });

  const cabin = own('Cabin');
  await page.goto('/libraries');
  await page.getByRole('button', { name: 'Make another library' }).click();
  await page.getByLabel('Name of the library').fill(cabin);
  await page.getByRole('button', { name: 'Make the library' }).click();
  await expect(page).toHaveURL(/\/arrivals/);
  await page.goto('/libraries');
  await page.getByRole('group', { name: cabin }).getByRole('button', { name: 'Remove' }).click();
  await page.getByLabel('Type its name to be sure').fill(cabin);
  await page.getByRole('button', { name: 'Remove the library' }).click();
  await expect(page).toHaveURL(/\/arrivals/);
  await page.goto('/libraries');
  const removed = page.getByRole('group', { name: cabin });
  await removed.getByRole('button', { name: 'Bring it back' }).click();
  await expect(page.getByText(`“${cabin}” is back`)).toBeVisible();
  await expect(removed.getByRole('button', { name: 'Show it in this tab' })).toBeVisible();
});

/** A database that is lost: a page says so, and one press brings everything back. */
test('a lost database is rebuilt from the page that says so @both @long', async ({ page }, info) => {
  const data = info.outputPath('data');
  const first = await startServer(data);
  await page.request.post(`${first.url}/api/first-run`, {
    data: { library: 'The old one', name: 'Keeper', email: 'keeper@house.example', password: 'a-long-password' },
  });
  await first.stop();
  await cp(path.join(DEMO, 'grans-tablet'), path.join(data, 'vault/home/2026'), { recursive: true });
  await rm(path.join(data, 'db'), { recursive: true });
  const { port } = new URL(first.url);
  const child = spawn(process.execPath, [path.join(ROOT, 'apps/server/dist/main.js')], {
    env: envOf(data, { GEMMEL_PORT: port }),
    stdio: 'ignore',
  });
  const ended = new Promise((resolve) => child.once('exit', resolve));
  try {
    await expect(async () => {
      await page.goto(first.url);
      await expect(page.getByRole('heading', { name: 'The database is lost. Your pictures are not.' })).toBeVisible({
        timeout: 1000,
      });
    }).toPass({ timeout: 60_000 });
    await accessible(page);
    await page.getByRole('button', { name: 'Rebuild from the files' }).click();
    await expect(page.getByRole('heading', { name: 'Rebuilding …' })).toBeVisible();
    // Nobody is known yet: whoever is first makes the keeper's account, and finds the pictures there.
    await expect(page.getByLabel('Name of the library')).toBeVisible({ timeout: 60_000 });
  } finally {
    child.kill('SIGTERM');
    await ended;
  }
});
