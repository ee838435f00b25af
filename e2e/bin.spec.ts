import { accessible, ask, expect, idsOf, test } from './house';

test('a picture goes to the bin from its page, leaves its album, and comes back as it was @both', async ({
  inside: page,
  own,
  wide,
}) => {
  const all = await idsOf(page, { kind: 'photo' });
  const id = all[wide ? 30 : 20]!;
  const before = (await ask<{ count: number }>(page, '/api/count', { question: { all: [] } })).count;
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
  await expect(page.getByText('The bin is empty')).toBeVisible();
  expect((await ask<{ ids: number[] }>(page, `/api/albums/${album.id}`)).ids).toEqual([id]);
  expect((await ask<{ count: number }>(page, '/api/count', { question: { all: [] } })).count).toBe(before);
});
