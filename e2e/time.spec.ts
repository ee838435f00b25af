import { accessible, ask, choose, emptyHands, expect, grid, test } from './house';

interface EventRow {
  id: number;
  title: string | null;
  pictures: number;
}

test('an event: split at a picture, joined again, filled from the pile, each with an undo @long', async ({
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
  await expect(page.getByText(/^Event split here/)).toBeVisible();
  expect(await count()).toBe(before + 1);
  await accessible(page);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(count).toBe(before);

  await page.goto(`/picture/${middle}`);
  await page.getByRole('button', { name: 'Not part of this event' }).click();
  await expect(page.getByText('Taken out of its event')).toBeVisible();
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
  await page.getByLabel('Name of a new event').fill(own('An hour apart'));
  await accessible(page);
  await page.getByRole('button', { name: 'Make the event' }).click();
  await expect(page.getByText(/2 pictures moved to/)).toBeVisible();
  const made = (await ask<{ events: EventRow[] }>(page, '/api/events')).events.find(
    (e) => e.title === own('An hour apart'),
  );
  expect(made?.pictures).toBe(2);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(count).toBe(before);
  await emptyHands(page);
});

test('the calendar: full days stand out, keys go from day to day, typing jumps, a day leads to its pictures @long', async ({
  inside: page,
}) => {
  // One picture is a day later for a while, so that a month has two full days whatever has come in before.
  const first = (await ask<{ ids: number[] }>(page, '/api/skeleton', { question: { all: [] } })).ids[0]!;
  const { act } = await ask<{ act: number }>(page, '/api/dates/mend', { ids: [first], how: { shift: 86_400 } });
  await page.goto('/browse');
  await grid(page);
  await page.getByRole('button', { name: 'Calendar' }).click();
  await expect(page.getByLabel('Go to')).toBeVisible();
  await accessible(page);
  const { days } = await ask<{ days: [string | null, number, string?][] }>(page, '/api/skeleton', {
    question: { all: [] },
  });
  const dated = days.filter((d): d is [string, number] => d[0] !== null && d[2] === undefined);
  const oldest = dated[dated.length - 1]![0];
  const year = oldest.slice(0, 4);
  await page.getByLabel('Go to').fill(year);
  await page.getByLabel('Go to').press('Enter');
  await expect(page.getByRole('region', { name: year, exact: true })).toBeInViewport();
  await page.getByLabel('Go to').fill('never');
  await page.getByLabel('Go to').press('Enter');
  await expect(page.getByText(/isn’t a date we can read/)).toBeVisible();

  // In the month with the most days the arrow keys go from one full day to the next.
  const months = new Map<string, number>();
  for (const day of new Set(dated.map((d) => d[0])))
    months.set(day.slice(0, 7), (months.get(day.slice(0, 7)) ?? 0) + 1);
  const [busy] = [...months].sort((a, b) => b[1] - a[1])[0]!;
  const buttons = page.locator(`#month-${busy} [data-day]`);
  await buttons.first().focus();
  await page.keyboard.press('ArrowRight');
  await expect(buttons.nth(1)).toBeFocused();
  const name = await buttons.nth(1).getAttribute('aria-label');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/browse$/);
  const n = Number(name!.match(/: (\d+) pictures?$/)![1]);
  await expect(page.getByText(n === 1 ? '1 picture' : `${n} pictures`, { exact: true }).first()).toBeVisible();
  expect(await (await grid(page)).count()).toBeGreaterThanOrEqual(Math.min(n, 12));

  await page.getByRole('button', { name: 'Calendar' }).click();
  await page.getByRole('button', { name: 'Years' }).click();
  await accessible(page);
  await ask(page, `/api/acts/${act}/undo`, {});
});
