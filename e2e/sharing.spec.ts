import type { Page } from '@playwright/test';
import path from 'node:path';
import { accessible, another, ask, DEMO, emptyHands, expect, test } from './house';

interface Share {
  id: number;
  title: string;
  path: string;
}

const openShare = async (page: Page, body: object): Promise<Share> =>
  (await ask<{ share: Share }>(page, '/api/shares', { reach: 'house', until: null, ...body })).share;
const some = async (page: Page, n: number): Promise<number[]> => {
  const { tiles } = await ask<{ tiles: { id: number }[] }>(page, '/api/pictures/page', {
    question: { all: [] },
    limit: n,
  });
  return tiles.map(({ id }) => id);
};

test('a relative: invited, shown what the keeper chooses, seen as they do, in a parlour of their own', async ({
  inside: page,
  own,
  browser,
  baseURL,
}) => {
  const { path: invited } = await ask<{ path: string }>(page, '/api/invites', {
    name: own('Agathe'),
    part: 'relative',
  });
  const hers = await another(browser, baseURL);
  await hers.goto(invited);
  await hers.getByLabel('E-mail address').fill(`agathe-${own('x').replace(/\W/g, '')}@kin.example`);
  await hers.getByLabel('Password (at least ten characters)').fill('kites-in-june');
  await hers.getByRole('button', { name: 'Come in' }).click();
  await expect(hers).toHaveURL(/parlour/);
  await expect(hers.getByText('There’s nothing to see here yet')).toBeVisible();
  await accessible(hers);
  expect((await hers.request.get('/api/batches')).status()).toBe(403);

  await page.goto('/household');
  await page.getByRole('button', { name: new RegExp(`^${own('Agathe').replace(/[()]/g, '.')}`) }).click();
  await page.getByRole('button', { name: 'What they see' }).click();
  await page.getByRole('button', { name: 'Choose what they see' }).click();
  await expect(page.getByText(/only for the house$/)).toBeVisible();
  await page.getByRole('switch', { name: 'Also pictures that are only for the house' }).click();
  await expect(page.getByRole('heading', { name: /would see \d+ pictures now/ })).toBeVisible();
  await accessible(page);
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText(/sees this from now on/)).toBeVisible();

  // She is told at once, gives a heart, and writes.
  await expect(hers.getByRole('heading', { name: /\d+ pictures to look at/ })).toBeVisible({ timeout: 15_000 });
  await accessible(hers);
  await hers.getByRole('listitem').first().click();
  await hers.getByRole('button', { name: 'Give it a heart' }).click();
  await expect(hers.getByText('A heart from you')).toBeVisible();
  await expect(hers.getByRole('link', { name: 'At full size' })).toBeVisible();
  await accessible(hers);

  // The keeper looks as she does, and can change nothing meanwhile.
  await page.getByRole('button', { name: new RegExp(`^${own('Agathe').replace(/[()]/g, '.')}`) }).click();
  await page.getByRole('button', { name: 'What they see' }).click();
  const [eyes] = await Promise.all([
    page.context().waitForEvent('page'),
    page.getByRole('button', { name: /^See it as/ }).click(),
  ]);
  await expect(eyes.getByText(/Nothing can be changed from here/)).toBeVisible();
  await expect(eyes).toHaveURL(/parlour/);
  await accessible(eyes);
  await eyes.getByRole('button', { name: 'Back to yours' }).click();
  await expect(eyes.getByRole('link', { name: /Arrivals( \d+)?$/ })).toBeVisible();
  await eyes.close();
  const { members } = await ask<{ members: { id: number; name: string }[] }>(page, '/api/members');
  const { id } = members.find(({ name }) => name === own('Agathe'))!;
  await ask(page, `/api/members/${id}/remove`, { said: 'goes' });
  await hers.context().close();
});

test('a share with a word: a guest adds pictures, the keeper says yes; they write to each other', async ({
  inside: page,
  own,
  browser,
  baseURL,
}) => {
  const may = { save: 'full', say: true, add: true, shown: false, files: 50, bytes: 1_000_000_000 };
  const title = own('Kites for Kai');
  const share = await openShare(page, { title, of: { ids: await some(page, 4) }, word: 'wind', may });
  const kai = await another(browser, baseURL, { colorScheme: 'dark' });
  await kai.goto(share.path);
  await expect(kai.getByRole('heading', { name: 'Somebody has sent you pictures' })).toBeVisible();
  await accessible(kai);
  await kai.getByLabel('The word').fill('calm');
  await kai.getByRole('button', { name: 'Come in' }).click();
  await expect(kai.getByText('That’s not the word. Try again.')).toBeVisible();
  await kai.getByLabel('The word').fill('wind');
  await kai.getByRole('button', { name: 'Come in' }).click();
  await expect(kai.getByRole('heading', { name: title })).toBeVisible();
  await accessible(kai);

  await kai.getByRole('button', { name: 'Add your pictures' }).click();
  await kai.getByLabel('Your name').fill('Kai');
  await kai.getByRole('button', { name: 'Go on' }).click();
  await expect(kai.getByText(/sees them first/)).toBeVisible();
  await accessible(kai);
  await kai.locator('input[type=file]').setInputFiles(path.join(DEMO, '../e2e/fixtures/from-kai.jpg'));
  await expect(kai.getByText('waits for a yes')).toBeVisible({ timeout: 30_000 });
  await kai.keyboard.press('Escape');

  await kai.locator('.cell').first().click();
  await kai.getByRole('button', { name: 'Write something about it' }).click();
  await kai.getByRole('textbox', { name: 'Write something' }).fill('How high it went!');
  await kai.getByRole('button', { name: 'Send' }).click();
  await expect(kai.getByText('How high it went!')).toBeVisible();
  await accessible(kai);
  const { pictures } = await ask<{ pictures: { id: number }[] }>(kai, `/api/guest/${share.path.split('/').at(-1)}`);
  await page.goto(`/picture/${pictures[0]!.id}`);
  await expect(page.getByText(/^Kai, .*where guests read it$/)).toBeVisible();
  await page.getByRole('button', { name: 'Answer', exact: true }).click();
  await page.getByLabel('An answer that guests read').fill('Higher than the church.');
  await accessible(page);
  await page.getByRole('button', { name: 'Write the answer' }).click();
  await expect(page.getByText('Higher than the church.')).toBeVisible();
  await kai.reload();
  await kai.locator('.cell').first().click();
  await kai.getByRole('button', { name: /^(Write something about it|1 comment|2 comments)/ }).click();
  await expect(kai.getByText('Ilse Hallorin, of the house')).toBeVisible();
  await expect(kai.getByText('Higher than the church.')).toBeVisible();

  await page.goto('/sharing');
  const card = page.getByRole('group', { name: title });
  await expect(card.getByText('1 picture from a guest waits for your word')).toBeVisible();
  await accessible(page);
  // What happened is told, and old once it has been looked at.
  await page.goto('/arrivals');
  await page.getByRole('link', { name: /things are new/ }).click();
  await expect(page.getByRole('heading', { name: 'What’s new' })).toBeVisible();
  await expect(page.getByText('Kai wrote: “How high it went!”')).toBeVisible();
  await expect(page.getByText(`Kai added 1 picture to “${title}”. It waits for your yes.`)).toBeVisible();
  await page.getByRole('button', { name: 'Once a week' }).click();
  await expect(page.getByText('Saved')).toBeVisible();
  await accessible(page);
  await page.getByRole('button', { name: 'Never' }).click();
  await page.goto('/arrivals');
  const batch = page.getByRole('group', { name: 'Kai', exact: true });
  await expect(page.getByRole('link', { name: /are new|is new/ })).toBeHidden();
  await batch.getByRole('button', { name: 'Share them, too' }).click();
  await expect(page.getByText(`Now in “${title}”`)).toBeVisible();
  await kai.goto(share.path);
  await expect(kai.getByText(/^5 pictures from Ilse Hallorin/)).toBeVisible();

  // Closed: what is open says so at the next step.
  await ask(page, `/api/shares/${share.id}/close`, {});
  await kai.reload();
  await expect(kai.getByRole('heading', { name: 'This share isn’t open' })).toBeVisible();
  await expect(kai.getByText('This share has been closed.')).toBeVisible();
  await kai.context().close();
});

test('by name and by e-mail: the letter lies in the made-up mailbox, its link is theirs alone', async ({
  inside: page,
  own,
  browser,
  baseURL,
}) => {
  await emptyHands(page);
  const ids = await some(page, 3);
  await ask(page, '/api/pile', { put: ids }, 'PUT');
  await page.goto('/pile');
  await page.getByRole('button', { name: 'Share', exact: true }).click();
  await page.getByLabel('Title for guests').fill(own('For Noor'));
  await page.getByRole('button', { name: 'Share them, too' }).click();
  await page.getByRole('button', { name: /^For\b/ }).click();
  await page.getByRole('switch', { name: 'Anybody with the link' }).click();
  await page.getByLabel('Somebody else’s name').fill('Noor');
  await page.getByLabel('E-mail address, if you know it').fill('noor@kin.example');
  await page.getByRole('button', { name: 'Add Noor' }).click();
  await page.getByRole('button', { name: 'Open the share' }).click();
  await page.getByRole('button', { name: 'Send by e-mail' }).click();
  await page.getByLabel('A few words, if you like').fill('See you on Sunday!');
  await accessible(page);
  await page.getByRole('button', { name: 'Send', exact: true }).click();
  await expect(page.getByText('One e-mail sent')).toBeVisible();
  await page.goto('/mailbox');
  await page
    .getByRole('button', { name: new RegExp(`shares “${own('For Noor').replace(/[()]/g, '.')}” with you`) })
    .click();
  await accessible(page);
  const letter = page.frameLocator('iframe');
  await expect(letter.getByText('See you on Sunday!')).toBeVisible();
  const link = await letter.getByRole('link', { name: 'See the pictures' }).getAttribute('href');
  const noor = await another(browser, baseURL);
  await noor.goto(new URL(link!).pathname);
  await expect(noor.getByText('3 pictures from Ilse Hallorin', { exact: false })).toBeVisible();
  await noor.context().close();
  await ask(page, '/api/pile', { ids: [] }, 'PUT');
});
