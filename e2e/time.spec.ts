import { accessible, ask, choose, emptyHands, expect, grid, test } from './house';

interface EventRow {
  id: number;
  title: string | null;
  pictures: number;
}

test('an event: split at a picture, joined again, filled from the pile, each with an undo', async ({
  inside: page,
  own,
  wide,
}) => {
  await emptyHands(page);
  const { events } = await ask<{ events: EventRow[] }>(page, '/api/events');
  const event = events.filter((e) => e.pictures >= 6 && e.pictures < 40)[wide ? 1 : 0]!;
  const before = events.length;
  const { ids } = await ask<{ ids: number[] }>(page, '/api/skeleton', { question: { event: event.id } });
  const all = ids.reduce<number[]>((list, step) => [...list, (list[list.length - 1] ?? 0) + step], []);
  const middle = all[Math.floor(all.length / 2)]!;
  const count = async () => (await ask<{ events: EventRow[] }>(page, '/api/events')).events.length;

  await page.goto(`/picture/${middle}`);
  await page.getByRole('button', { name: 'Split the event here' }).click();
  await expect(page.getByText(/^Split here:/)).toBeVisible();
  expect(await count()).toBe(before + 1);
  await accessible(page);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(count).toBe(before);

  await page.goto(`/picture/${middle}`);
  await page.getByRole('button', { name: 'Not of this event' }).click();
  await expect(page.getByText('It belongs to no event now.')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect
    .poll(async () => (await ask<{ event: { id: number } | null }>(page, `/api/pictures/${middle}`)).event?.id)
    .toBe(event.id);

  await page.goto('/browse');
  await grid(page);
  await page
    .getByRole('button', { name: /^More for/ })
    .first()
    .click();
  await accessible(page);
  await page
    .getByRole('dialog')
    .getByRole('button', { name: /^Join with/ })
    .first()
    .click();
  await expect(page.getByText(/^Joined with/)).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(count).toBe(before);

  await page.goto('/browse');
  await choose(page, wide, [0, 1]);
  if (!wide) await page.getByRole('link', { name: /Pile/ }).click();
  await page.getByRole('button', { name: 'Event', exact: true }).click();
  await page.getByLabel('Its name').fill(own('An hour apart'));
  await accessible(page);
  await page.getByRole('button', { name: 'Make it an event' }).click();
  await expect(page.getByText(/2 pictures filed under/)).toBeVisible();
  const made = (await ask<{ events: EventRow[] }>(page, '/api/events')).events.find(
    (e) => e.title === own('An hour apart'),
  );
  expect(made?.pictures).toBe(2);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(count).toBe(before);
  await emptyHands(page);
});
