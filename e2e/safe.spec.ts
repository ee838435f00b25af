import { accessible, expect, test } from './house';

/** Safekeeping, as a keeper meets it: a second place, what would be lost before and after, a trial, and the sheet for the drawer. */
test('a second place: added, brought up to date by itself, restored on trial, and its recovery sheet saved', async ({
  inside: page,
}, info) => {
  await page.goto('/household');
  await page.getByRole('button', { name: 'Safekeeping' }).click();
  await expect(page.getByRole('img', { name: 'Parted: not everything is in two places' })).toBeVisible();
  await expect(page.getByText(/^If this disk failed now, you’d lose all \d+ pictures/)).toBeVisible();
  await page.getByRole('button', { name: 'Add a second place' }).click();
  const sheet = page.getByRole('dialog');
  await sheet.getByLabel('What you call it').fill('The disk in the hall');
  await sheet.getByLabel('Folder on this machine').fill('not/a/whole/path');
  await accessible(page);
  await sheet.getByRole('button', { name: 'Add it' }).click();
  await expect(sheet.getByText('“not/a/whole/path” isn’t an address for this kind of place.')).toBeVisible();
  await sheet.getByLabel('Folder on this machine').fill(info.outputPath('disk'));
  await sheet.getByRole('button', { name: 'Add it' }).click();
  await expect(page.getByText('“The disk in the hall” added')).toBeVisible();

  await expect(page.getByRole('img', { name: 'Joined: everything is in two places' })).toBeVisible({ timeout: 60_000 });
  await expect(page.getByText('If this disk failed now, you’d lose nothing.')).toBeVisible();
  const place = page.getByRole('group', { name: 'The disk in the hall' });
  await expect(place.getByText(/^Up to date as of/)).toBeVisible();
  await accessible(page);

  await place.getByRole('button', { name: 'Try a restore' }).click();
  await expect(place.getByText(/^Restored on trial on .*: (\d+) of \1, in /)).toBeVisible({ timeout: 60_000 });

  await place.getByRole('button', { name: 'Settings' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Every week' }).click();
  await page
    .getByRole('dialog')
    .getByRole('button', { name: /What was done here/ })
    .click();
  await expect(page.getByRole('dialog').getByText(/^Brought up to date · \d+ files$/)).toBeVisible();
  await accessible(page);
  await page.getByRole('button', { name: 'Close' }).click();

  await page.getByRole('button', { name: 'Print the recovery sheet' }).click();
  await page.getByLabel('Password').fill('sunday-table');
  await page.getByRole('button', { name: 'Make it' }).click();
  const saving = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save it' }).click();
  expect((await saving).suggestedFilename()).toBe('Recovery sheet.pdf');

  // Let go, so that whoever comes next meets the house as it was.
  await place.getByRole('button', { name: 'Settings' }).click();
  await page.getByRole('button', { name: 'Stop looking after it' }).click();
  await page.getByRole('button', { name: 'Remove this place' }).click();
  await expect(page.getByText('In one place only')).toBeVisible();
});
