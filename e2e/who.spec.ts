import { copyFileSync, mkdirSync, readdirSync, rmSync } from 'node:fs';
import path from 'node:path';
import { accessible, ask, DEMO, expect, gemmel, test } from './house';
import { OUT } from './server';
import type { Page } from '@playwright/test';

interface Person {
  id: number;
  name: string;
  pictures: number;
  likely: number;
  recognised: boolean;
}
interface Face {
  id: number;
  box: [number, number, number, number];
  state: string;
  person: { id: number; name: string } | null;
}

const people = async (page: Page) => (await ask<{ people: Person[] }>(page, '/api/people')).people;
const facesOf = async (page: Page, id: number) => (await ask<{ faces: Face[] }>(page, `/api/pictures/${id}`)).faces;
const sureness = (page: Page) =>
  ask<{ ask: number; file: number; recognises: boolean; seeking: object | null }>(page, '/api/faces/sureness');

/** A picture in which somebody is named, and that person. */
async function somebody(page: Page): Promise<{ picture: number; face: Face }> {
  const [first] = await people(page);
  const { faces } = await ask<{ faces: { pictures: number[] } }>(page, `/api/people/${first!.id}`);
  const picture = faces.pictures[0]!;
  const face = (await facesOf(page, picture)).find((f) => f.person?.id === first!.id)!;
  return { picture, face };
}

test('who: sorted, a favourite first, a circle made with somebody in it, each taken back @long', async ({
  inside: page,
  own,
}) => {
  await page.goto('/browse/who');
  const cameos = page.getByRole('link', { name: /, \d+ pictures?/ });
  await expect(cameos.first()).toBeVisible();
  const names = () => cameos.evaluateAll((links) => links.map((l) => l.getAttribute('aria-label')!.split(',')[0]!));
  await page.getByRole('button', { name: 'Name', exact: true }).click();
  await accessible(page);
  await page.getByRole('button', { name: 'New circle' }).click();
  await page.getByLabel('Name', { exact: true }).fill(own('Kite flyers'));
  await page.getByRole('dialog').getByRole('checkbox').first().click();
  await accessible(page);
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('heading', { name: own('Kite flyers') })).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('heading', { name: own('Kite flyers') })).toHaveCount(0);

  const last = (await names()).at(-1)!;
  await cameos.last().click();
  await page.getByRole('button', { name: /^Make .* a favourite$/ }).click();
  await expect(page.getByText(/is now a favourite/)).toBeVisible();
  await page.goBack();
  await expect.poll(async () => (await names()).includes(last)).toBe(true);
  await expect(page.getByRole('link', { name: new RegExp(`^${last}, .*favourite`) }).first()).toBeVisible();
  await page
    .getByRole('link', { name: new RegExp(`^${last}, `) })
    .first()
    .click();
  await page.getByRole('button', { name: /is a favourite$/ }).click();
});

test('a cameo is leafed through without opening it @wide', async ({ inside: page }) => {
  await page.goto('/browse/who');
  const leaf = page.locator('[data-leaf]').first();
  await leaf.hover();
  const shown = () => leaf.locator('img').getAttribute('src');
  const before = await shown();
  await expect
    .poll(async () => {
      // Whoever comes in above it moves it down.
      const box = (await leaf.boundingBox())!;
      await page.mouse.move(box.x + 8, box.y + 40);
      await page.mouse.move(box.x + box.width - 8, box.y + 40, { steps: 4 });
      return shown();
    })
    .not.toBe(before);
  await page.mouse.move(4, 4);
  await expect.poll(shown).toBe(before);
});

test('somebody new is introduced with a circle, the odd one out comes back alone, and all is undone @long', async ({
  inside: page,
  own,
  wide,
}) => {
  await page.goto('/introductions');
  const faces = page.getByRole('checkbox');
  await expect(page.getByText('Somebody you know?')).toBeVisible();
  const { faces: waiting } = await ask<{ faces: number }>(page, '/api/introductions');
  const n = await faces.count();
  if (n > 1) await faces.last().click();
  if (wide) await page.keyboard.press('n');
  else await page.getByRole('button', { name: 'Somebody new' }).click();
  await page.getByLabel('Name').fill(own('Edda Lind'));
  await page.getByRole('button', { name: 'Household', exact: true }).click();
  await accessible(page);
  await page.getByRole('button', { name: 'This is Edda' }).click();
  await expect(page.getByText(new RegExp(`named ${own('Edda Lind').replace(/[()]/g, '\\$&')}`))).toBeVisible();
  await expect.poll(async () => (await people(page)).some((p) => p.name === own('Edda Lind'))).toBe(true);
  if (wide) {
    await page.locator('body').click({ position: { x: 5, y: 5 } });
    await page.keyboard.press('z');
  } else await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(async () => (await people(page)).some((p) => p.name === own('Edda Lind'))).toBe(false);
  await expect.poll(async () => (await ask<{ faces: number }>(page, '/api/introductions')).faces).toBe(waiting);
});

test('a person: close-ups, a face taken back out, a portrait by hand, a show, each with a way back @long', async ({
  inside: page,
}) => {
  const [first] = await people(page);
  await page.goto(`/person/${first!.id}`);
  await expect(page.getByRole('heading', { name: 'Often with' })).toBeVisible();
  await accessible(page);
  await page.getByRole('button', { name: 'Close-ups' }).click();
  const faces = page.getByRole('checkbox');
  await faces.nth(1).click();
  await accessible(page);
  await page.getByRole('button', { name: 'Use as the portrait' }).click();
  await expect(page.getByText(/^New portrait of/)).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await faces.nth(1).click();
  await page.getByRole('button', { name: /remove it$/ }).click();
  await expect(page.getByText('Not them; you won’t be asked about this face again')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(async () => (await people(page)).find((p) => p.id === first!.id)!.pictures).toBe(first!.pictures);

  await page.getByRole('button', { name: 'Play', exact: true }).click();
  const show = page.getByRole('dialog', { name: /^Show: / });
  await expect(show.locator('img').first()).toBeVisible();
  await page.keyboard.press('ArrowRight');
  await expect(show).toHaveAttribute('data-slide', /^[1-9]$/);
  await page.keyboard.press(' ');
  await expect(show.getByRole('button', { name: 'Play', exact: true })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(show).toHaveCount(0);
});

test('a missed face is drawn and named, and the drawing undone', async ({ inside: page, own }) => {
  const { picture, face } = await somebody(page);
  await page.goto(`/picture/${picture}`);
  const before = (await facesOf(page, picture)).length;
  await page.getByRole('button', { name: 'Add a face' }).click();
  const board = page.getByTestId('draw-face');
  const box = (await board.boundingBox())!;
  // Beside the face that is known: far enough away from every other.
  const [x, y] = face.box[0] > 0.5 ? [0.02, 0.02] : [0.86, 0.02];
  await page.mouse.move(box.x + x * box.width, box.y + y * box.height);
  await page.mouse.down();
  await page.mouse.move(box.x + (x + 0.1) * box.width, box.y + (y + 0.14) * box.height, { steps: 5 });
  await page.mouse.up();
  await expect(page.getByRole('dialog', { name: 'Whose face?' })).toBeVisible();
  await accessible(page);
  await page.getByLabel('Name', { exact: true }).fill(own('Somebody Drawn'));
  await page.getByLabel('Name', { exact: true }).press('Enter');
  await expect(page.getByText(/^Face marked and named Somebody Drawn/)).toBeVisible();
  expect((await facesOf(page, picture)).some((f) => f.person?.name === own('Somebody Drawn'))).toBe(true);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(async () => (await facesOf(page, picture)).length).toBe(before);
});

test('two names of one person are joined after saying what will happen, and parted again @long', async ({
  inside: page,
}) => {
  const all = await people(page);
  const [into, from] = [all[0]!, all.at(-1)!];
  await page.goto(`/person/${from.id}`);
  await page.getByRole('button', { name: `Edit ${from.name}` }).click();
  await page.getByRole('button', { name: 'Join with somebody …' }).click();
  await page.getByLabel('Name to keep').fill(into.name);
  await page.getByLabel('Name to keep').press('Enter');
  await expect(page.getByText(new RegExp(`will show ${into.name}`))).toBeVisible();
  await accessible(page);
  await page.getByRole('button', { name: `Join with ${into.name}` }).click();
  await expect(page.getByText(`${from.name} joined with ${into.name}`)).toBeVisible();
  await expect.poll(async () => (await people(page)).some((p) => p.id === from.id)).toBe(false);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect
    .poll(async () => (await people(page)).find((p) => p.id === from.id)?.pictures, { timeout: 20_000 })
    .toBe(from.pictures);
});

test('how sure it must be: sliders that say what they mean, kept and taken back @long', async ({ inside: page }) => {
  await page.goto('/household');
  await expect(page.getByRole('heading', { name: 'Recognising faces' })).toBeVisible();
  const said = page.getByText(/^Set like this, /);
  const before = await said.textContent();
  const slider = page.getByLabel('Name faces automatically from');
  await slider.focus();
  await page.keyboard.press('End');
  await expect(said).toContainText('0 faces are named automatically');
  expect(await said.textContent()).not.toBe(before);
  await accessible(page);
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect.poll(async () => (await sureness(page)).file).toBe(1);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(async () => (await sureness(page)).file).toBe(0.95);
});

test('recognition switched off deletes what describes faces and says so; switched on, faces are found again @long', async ({
  page,
  empty,
}) => {
  // A library of its own with six pictures, so that nothing is taken from the other tests.
  const keeper = { email: 'sure@house.example', password: 'long enough now' };
  await page.request.post(`${empty.url}/api/first-run`, { data: { library: 'Six pictures', name: 'Sure', ...keeper } });
  const six = path.join(OUT, 'chosen/six');
  rmSync(six, { recursive: true, force: true });
  mkdirSync(six, { recursive: true });
  for (const name of readdirSync(path.join(DEMO, 'grans-tablet')).slice(0, 6))
    copyFileSync(path.join(DEMO, 'grans-tablet', name), path.join(six, name));
  gemmel(empty, 'import', six);
  const at = (path: string) => empty.url + path;
  const waiting = () => ask<{ groups: { faces: { id: number }[] }[]; faces: number }>(page, at('/api/introductions'));
  await expect.poll(async () => (await waiting()).groups.length, { timeout: 30_000 }).toBeGreaterThan(0);
  const [group] = (await waiting()).groups;
  await ask(page, at('/api/faces/answer'), {
    faces: group!.faces.map((f) => f.id),
    odd: [],
    is: { newPerson: 'Agathe Wend' },
  });
  await page.goto(at('/household'));
  await page.getByRole('button', { name: 'Switch recognition off …' }).click();
  await accessible(page);
  await page.getByRole('button', { name: 'Delete and switch off' }).click();
  await expect(page.getByText(/descriptions of faces deleted. The names stay/)).toBeVisible();
  expect((await waiting()).faces).toBe(0);
  const { people: named } = await ask<{ people: Person[] }>(page, at('/api/people'));
  expect(named.map((p) => p.name)).toEqual(['Agathe Wend']);
  await page.getByRole('button', { name: 'Recognise faces again' }).click();
  await expect(page.getByText(/^Looking for faces: /)).toBeVisible();
  const seeking = async () => (await ask<{ seeking: object | null }>(page, at('/api/faces/sureness'))).seeking;
  await expect.poll(seeking, { timeout: 60_000, intervals: [500] }).toBeNull();
  await expect.poll(async () => (await waiting()).faces, { timeout: 30_000 }).toBeGreaterThan(0);
});
