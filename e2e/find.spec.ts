import type { Page } from '@playwright/test';
import { accessible, ask, emptyHands, expect, grid, test } from './house';

const line = 'Ask for people, places, days, tags';

/** The number of the last thing that was done. */
const lastAct = async (page: Page): Promise<number> =>
  (await ask<{ acts: { id: number }[] }>(page, '/api/acts')).acts[0]?.id ?? 0;

/** Takes back everything that was done since, so that other walks find the household as it was. */
async function takeBack(page: Page, since: number): Promise<void> {
  const { token } = await ask<{ token: string }>(page, '/api/me');
  const { acts } = await ask<{ acts: { id: number; undoable: boolean }[] }>(page, '/api/acts');
  for (const act of acts)
    if (act.id > since && act.undoable)
      await page.request.post(`/api/acts/${act.id}/undo`, { headers: { 'x-gemmel-token': token } });
}

test('a question as people say it: completions with counts, a letter wrong, keys, a chip put right in place', async ({
  inside: page,
}) => {
  await page.goto('/browse');
  await grid(page);
  const typed = page.getByLabel(line);
  // A bare first name finds everybody of it, and the pictures follow without Enter.
  await typed.fill('Tove');
  const { people } = await ask<{ people: { id: number; name: string }[] }>(page, '/api/people');
  const tove = people.find(({ name }) => name === 'Tove Hallorin')!;
  const count = async (question: object) => (await ask<{ count: number }>(page, '/api/count', { question })).count;
  const option = page.getByRole('option', { name: /^Tove Hallorin, a person/ });
  // Recognition may still be naming faces: what is offered says what is true now.
  await expect
    .poll(async () => {
      await typed.fill('Tov');
      await typed.fill('Tove');
      await page.waitForTimeout(600);
      const hers = await count({ who: { people: [tove.id], mode: 'all' } });
      const shown = await page.getByText(`${hers} pictures`, { exact: true }).first().isVisible();
      return shown && (await option.getAttribute('aria-label')) === `Tove Hallorin, a person, ${hers} pictures`;
    })
    .toBe(true);
  await accessible(page);
  // Two names with "and", one left out.
  await typed.fill('tove and emil without ruben');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Remove: with Tove Hallorin' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Remove: not with Ruben Wend' })).toBeVisible();
  await page.getByRole('button', { name: 'Show every picture' }).click();
  // A slip of the hand: what nothing begins with is taken for what is one letter off.
  const { tags } = await ask<{ tags: { name: string; below: number }[] }>(page, '/api/tags');
  const word = tags.find(({ name, below }) => /^[a-z]{6,}$/.test(name) && name[3] !== name[4] && below > 0)!.name;
  const slip = `${word.slice(0, 3)}${word[4]}${word[3]}${word.slice(5)}`;
  const meant = await count({ text: slip });
  expect(meant).toBeGreaterThan(0);
  await typed.fill(slip);
  await expect(page.getByRole('option', { name: new RegExp(`^Search for “${slip}”`) })).toHaveAccessibleName(
    new RegExp(`, ${meant} pictures?$`),
  );
  // Keys: down to the first, Enter takes it.
  await typed.fill('lantern');
  await expect(page.getByRole('option').first()).toBeVisible();
  await page.keyboard.press('ArrowDown');
  await expect(page.getByRole('option').first()).toHaveAttribute('aria-selected', 'true');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: /^Remove: / })).toHaveCount(1);
  await page.getByRole('button', { name: 'Show every picture' }).click();
  // A month made wider, then left out.
  await typed.fill('may 2026');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'May 2026', exact: true }).click();
  await accessible(page);
  await page.getByRole('button', { name: 'Wider: taken in 2026' }).click();
  await page.getByRole('button', { name: '2026', exact: true }).click();
  await page.getByRole('button', { name: 'Leave out: not taken in 2026' }).click();
  await expect(page.getByRole('button', { name: 'Remove: not taken in 2026' })).toBeVisible();
  // The last questions come back.
  await page.getByRole('button', { name: 'Show every picture' }).click();
  await typed.focus();
  await expect(page.getByRole('button', { name: /with Tove Hallorin.*not with Ruben Wend/ })).toBeVisible();
});

test('What: facets of the question, asked for and left out; a question kept at hand, its order, undone @long', async ({
  inside: page,
  wide,
}) => {
  const name = wide ? 'The good ones, wide' : 'The good ones';
  await page.goto('/browse/what');
  await expect(page.getByRole('heading', { name: 'Stars', exact: true })).toBeVisible();
  await accessible(page);
  const { ratings } = await ask<{ ratings: number[] }>(page, '/api/facets', { question: { all: [] } });
  await page
    .getByRole('button', { name: /^4 stars/ })
    .first()
    .click();
  await expect(page.getByText(`${ratings[4]} pictures`, { exact: true }).first()).toBeVisible();
  await page.getByRole('button', { name: 'Leave out: JPG' }).click();
  await expect(page.getByRole('button', { name: 'Remove: not in the format JPG' })).toBeVisible();
  await page.getByRole('button', { name: 'Keep at hand' }).click();
  await expect(page.getByText('Kept at hand', { exact: false }).first()).toBeVisible();
  await page.goto('/arrivals');
  const pin = page.getByRole('button', { name: /^rated exactly 4.*pictures?$/ }).first();
  await expect(pin).toBeVisible();
  await page
    .getByRole('button', { name: /^More for rated exactly 4/ })
    .first()
    .click();
  await page.getByRole('dialog').getByLabel('Name').fill(name);
  await page.getByRole('dialog').getByRole('button', { name: 'Save' }).click();
  await page
    .getByRole('button', { name: new RegExp(`^${name}, `) })
    .first()
    .click();
  await expect(page).toHaveURL(/\/browse$/);
  await page.goto('/arrivals');
  await page
    .getByRole('button', { name: `More for ${name}` })
    .first()
    .click();
  await page.getByRole('dialog').getByRole('button', { name: 'No longer keep it at hand' }).click();
  await expect(page.getByRole('button', { name: new RegExp(`^${name}, `) })).toHaveCount(0);
});

test('words: a tree made in place, moved by hand, near-twins joined and taken apart, each with an undo @long', async ({
  inside: page,
  wide,
}) => {
  const tag = (name: string) => `${name}-${wide ? 'far' : 'near'}`;
  const [outside, pond, ponds] = [tag('outside'), tag('pond'), tag('pond') + 's'];
  const token = async () => (await ask<{ token: string }>(page, '/api/me')).token;
  const { ids } = await ask<{ ids: number[] }>(page, '/api/skeleton', { question: { kind: 'photo' } });
  const first = ids[0]!;
  const give = async (id: number, name: string) =>
    page.request.post('/api/pictures/change', {
      data: { ids: [id], change: { addTags: [name] } },
      headers: { 'x-gemmel-token': await token() },
    });
  await give(first, pond);
  // Ids are told by how far each is from the one before.
  await give(first + ids[1]!, ponds);
  await page.goto('/browse/tags');
  await expect(page.getByRole('heading', { name: 'Words for pictures' })).toBeVisible();
  await accessible(page);
  await page.getByLabel('Find or make a word').fill(`${outside} › ${tag('meadow')}`);
  await page.keyboard.press('Enter');
  await expect(page.getByText(`Tag “${outside} › ${tag('meadow')}” made`)).toBeVisible();
  // Below another word: by hand on a wide screen, by the sheet on a phone.
  const row = (name: string) => page.getByRole('button', { name: new RegExp(`^(.* › )?${name}, \\d+ pictures?$`) });
  if (wide) {
    // Rows may move while news comes in: whoever missed one drags again.
    await expect(async () => {
      await row(pond).scrollIntoViewIfNeeded();
      const from = (await row(pond).boundingBox())!;
      const to = (await row(outside).boundingBox())!;
      await page.mouse.move(from.x + 40, from.y + 20);
      await page.mouse.down();
      await page.mouse.move(from.x + 40, from.y + 8, { steps: 3 });
      await page.mouse.move(to.x + 40, to.y + 20, { steps: 12 });
      await page.mouse.up();
      await expect(page.getByText(`“${pond}” is now below “${outside}”`)).toBeVisible({ timeout: 4000 });
    }).toPass();
  } else {
    await page.getByRole('button', { name: `More for ${pond}`, exact: true }).click();
    await accessible(page);
    await page.getByRole('button', { name: 'Put it below another word' }).click();
    await page.getByLabel('Find', { exact: true }).fill(outside);
    await page
      .getByRole('dialog')
      .getByRole('button', { name: new RegExp(`^${outside}`) })
      .first()
      .click();
  }
  await expect(page.getByText(`“${pond}” is now below “${outside}”`)).toBeVisible();
  await expect(row(pond)).toHaveAccessibleName(new RegExp(`^${outside} › ${pond}`));
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(row(pond)).toHaveAccessibleName(new RegExp(`^${pond}`));
  // The two that may be one stand above; the pictures of one go to the other, and come back.
  const card = page.getByText(new RegExp(`^(${pond} and ${ponds}|${ponds} and ${pond})$`));
  for (let i = 0; i < 12 && !(await card.isVisible()); i++) await page.getByText(/more pairs? to look at/).click();
  await page.getByRole('button', { name: `Make it ${ponds}`, exact: true }).click();
  await expect(page.getByText(`“${pond}” is now “${ponds}”`)).toBeVisible();
  await expect(row(ponds)).toHaveAccessibleName(/2 pictures$/);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(row(ponds)).toHaveAccessibleName(/1 picture$/);
});

test('one after another through an event: stars bring the next picture; it goes on where one stopped @long', async ({
  inside: page,
}) => {
  await emptyHands(page);
  const before = await lastAct(page);
  const { events } = await ask<{ events: { id: number; title: string | null; pictures: number }[] }>(
    page,
    '/api/events',
  );
  const event = events.find((one) => one.title && one.pictures >= 6 && one.pictures <= 60)!;
  await page.goto('/browse');
  const typed = page.getByLabel(line);
  await typed.fill(event.title!);
  await page
    .getByRole('option', { name: new RegExp(`, an event`) })
    .first()
    .click();
  await page
    .getByRole('button', { name: `More for ${event.title}` })
    .first()
    .click();
  await page.getByRole('button', { name: 'One after another' }).click();
  await expect(page.getByText(`1 of ${event.pictures}`)).toBeVisible();
  await accessible(page);
  const n = Math.min(5, event.pictures - 1);
  let touches = 0;
  for (let i = 0; i < n; i++) {
    await page.getByRole('radio', { name: `${(i % 3) + 3} stars` }).click();
    touches++;
    await expect(page.getByText(`${i + 2} of ${event.pictures}`)).toBeVisible();
  }
  console.log(`stars for ${n} pictures: ${(touches / n).toFixed(1)} touches a picture`);
  expect(touches / n).toBeLessThanOrEqual(1.3);
  // Keys do the same, and what is unsaid stands in the sentence.
  const heart = page.getByRole('button', { name: /the heart$|a heart$/ });
  const loved = (await heart.getAttribute('aria-label')) === 'Remove the heart';
  await page.keyboard.press('h');
  await expect(page.getByRole('button', { name: loved ? 'Give it a heart' : 'Remove the heart' })).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('button', { name: 'Stop here' }).click();
  await expect(page).toHaveURL(/\/browse$/);
  await page
    .getByRole('button', { name: `More for ${event.title}` })
    .first()
    .click();
  await page.getByRole('button', { name: 'One after another' }).click();
  await expect(page.getByText(`${n + 1} of ${event.pictures}`)).toBeVisible();
  await takeBack(page, before);
});

test('marks: made in place, on one picture and on some, asked for, removed and back @long', async ({
  inside: page,
  own,
}) => {
  await emptyHands(page);
  const { ids } = await ask<{ ids: number[] }>(page, '/api/skeleton', { question: { kind: 'photo' } });
  await page.goto(`/picture/${ids[0]}`);
  await page.getByRole('button', { name: 'Mark', exact: true }).click();
  await page.getByLabel('What the new mark means').fill(own('to print'));
  await page.keyboard.press('Enter');
  const mark = page.getByRole('button', { name: own('to print'), exact: true });
  await expect(mark).toHaveAttribute('aria-pressed', 'true');
  await accessible(page);
  // A comment, found by its words.
  await page.getByLabel('Write a comment').fill(`Agathe laughed so much ${own('zwieback')}`);
  await page.getByRole('button', { name: 'Keep the comment' }).click();
  await expect(page.getByText(`Agathe laughed so much ${own('zwieback')}`)).toBeVisible();
  const found = async () =>
    (await ask<{ count: number }>(page, '/api/count', { question: { text: own('zwieback') } })).count;
  await expect.poll(found).toBe(1);
  await page.goto('/browse');
  await page.getByLabel(line).fill(own('to print'));
  await page
    .getByRole('option', { name: /a mark/ })
    .first()
    .click();
  await expect(page.getByText('1 picture', { exact: true }).first()).toBeVisible();
  await page.goto('/household');
  await page.getByRole('button', { name: `Change the mark ${own('to print')}` }).click();
  await page.getByRole('button', { name: /^Remove the mark/ }).click();
  await expect(page.getByText(`Mark “${own('to print')}” removed`)).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.goto(`/picture/${ids[0]}`);
  await expect(mark).toHaveAttribute('aria-pressed', 'true');
});

test('keys in the grid go for all that are chosen: stars, a tag, an event, and the list of keys @wide', async ({
  inside: page,
}) => {
  await page.goto('/browse');
  await grid(page);
  const since = await lastAct(page);
  const tile = page.locator('.tile').first();
  await tile.focus();
  await page.keyboard.press('x');
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('x');
  await page.keyboard.press('4');
  await expect(page.getByText('★★★★ given to 2 pictures')).toBeVisible();
  await page.keyboard.press('t');
  const sheet = page.getByRole('dialog', { name: 'Describe 2 pictures' });
  await expect(sheet.getByRole('radio', { name: '4 stars' })).toBeChecked();
  await page.keyboard.press('Escape');
  await expect(sheet).toHaveCount(0);
  await page.keyboard.press('e');
  await expect(page.getByRole('dialog')).toBeVisible();
  await page.keyboard.press('Escape');
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible();
  await page.keyboard.press('Escape');
  await takeBack(page, since);
  await emptyHands(page);
});

test('what the machine notices: looked for when it is asked for, with how far it is, held, gone on with, switched off @long', async ({
  inside: page,
}) => {
  const since = await lastAct(page);
  await page.goto('/household');
  const words = page.getByRole('switch', { name: 'Look for it: Words in pictures' });
  await words.click();
  await expect(words).toBeChecked();
  await expect(page.getByRole('status').filter({ hasText: /^[\d,]+ of [\d,]+ photos, \d+%/ })).toBeVisible();
  await page.getByRole('button', { name: 'Pause' }).click();
  await expect(page.getByRole('status').filter({ hasText: /Paused\.$/ })).toBeVisible();
  await accessible(page);
  await page.getByRole('button', { name: 'Go on' }).click();
  await expect(page.getByRole('button', { name: 'Pause' })).toBeVisible();
  await words.click();
  await expect(words).not.toBeChecked();
  await expect(page.getByRole('button', { name: 'Pause' })).toHaveCount(0);
  await takeBack(page, since);
});
