import { accessible, ask, expect, test } from './house';

/** Somebody is invited, comes in from a browser of their own, and is let go again. */
test('an invitation by a link: made, opened in another browser, come in by, and let go', async ({
  inside: page,
  own,
  browser,
  baseURL,
}) => {
  await page.goto('/household');
  await page.getByRole('button', { name: 'Invite somebody' }).click();
  const sheet = page.getByRole('dialog');
  await sheet.getByLabel('Their name').fill(own('Agathe'));
  await expect(sheet.getByText('A relative looks and writes comments.')).toBeVisible();
  await sheet.getByRole('button', { name: 'helper' }).click();
  await accessible(page);
  await sheet.getByRole('button', { name: 'Make the invitation' }).click();
  const link = await sheet.getByLabel('The link').inputValue();
  expect(link).toMatch(/\/invite\/[\w-]{43}$/);
  await page.keyboard.press('Escape');
  await expect(page.getByText(/Invited as helper until/)).toBeVisible();

  const context = await browser.newContext({ ...(baseURL ? { baseURL } : {}), locale: 'en-GB' });
  const hers = await context.newPage();
  await hers.goto(link);
  await expect(hers.getByText(/Ilse Hallorin invites you/)).toBeVisible();
  await accessible(hers);
  await hers.getByLabel('E-mail address').fill(`agathe-${own('x').length}@kin.example`);
  await hers.getByLabel('Password (at least ten characters)').fill('kites-in-june');
  await hers.getByRole('button', { name: 'Come in' }).click();
  await expect(hers).toHaveURL(/arrivals/);
  // The same link a second time.
  await hers.goto(link);
  await expect(hers.getByText('This invitation is no longer good.')).toBeVisible();

  // A new password by a link, and where she is signed in.
  await page.reload();
  await page.getByRole('button', { name: new RegExp(own('Agathe').replace(/[()]/g, '.')) }).click();
  await page.getByRole('button', { name: 'Forgot their password' }).click();
  const reset = await page.getByRole('dialog').getByLabel('The link').inputValue();
  await page.keyboard.press('Escape');
  await hers.goto(reset);
  await hers.getByLabel('New password (at least ten characters)').fill('kites-in-july');
  await hers.getByRole('button', { name: 'Set the password' }).click();
  await expect(hers).toHaveURL(/arrivals/);
  await hers.goto('/household');
  await hers.getByRole('button', { name: 'Where I’m signed in' }).click();
  await expect(hers.getByText('Here, now')).toBeVisible();
  await hers.keyboard.press('Escape');

  // Let go: nothing of the library is hers to see, at once.
  await page.getByRole('button', { name: new RegExp(own('Agathe').replace(/[()]/g, '.')) }).click();
  await page.getByRole('button', { name: 'Let them go' }).click();
  await page.getByRole('button', { name: 'Let them go' }).click();
  await expect(page.getByText(`${own('Agathe')} no longer belongs to this library`)).toBeVisible();
  await hers.goto('/arrivals');
  await expect(hers).toHaveURL(/sign-in/);
  expect((await ask<{ members: unknown[] }>(page, '/api/members')).members).toHaveLength(1);
  await context.close();
});

/** Two tabs of one browser, each with a library of its own. */
test('another library is made; two tabs show two libraries, and each stays with its own @long', async ({
  inside: page,
  own,
  context,
}) => {
  await page.goto('/libraries');
  await page.getByRole('button', { name: 'Make another library' }).click();
  await page.getByRole('dialog').getByLabel('Name of the library').fill(own('The cabin'));
  await accessible(page);
  await page.getByRole('button', { name: 'Make the library' }).click();
  await expect(page).toHaveURL(/arrivals/);
  await page.goto('/household');
  await expect(page.getByRole('heading', { name: own('The cabin'), level: 1 })).toBeVisible();
  await expect(page.getByText('0 pictures').first()).toBeVisible();

  const other = await context.newPage();
  await other.goto('/household');
  await expect(other.getByRole('heading', { name: 'Home library', level: 1 })).toBeVisible();
  await page.reload();
  await expect(page.getByRole('heading', { name: own('The cabin'), level: 1 })).toBeVisible();
  // Pictures are those of the library that the tab shows.
  await other.goto('/browse');
  await expect(other.locator('.tile img.here').first()).toBeVisible();
  await other.close();
  await page.getByRole('button', { name: 'Home library' }).click();
  await expect(page).toHaveURL(/arrivals/);
  await page.goto('/browse');
  await expect(page.locator('.tile img.here').first()).toHaveAttribute('src', /in=home/);
});

/** A passkey: made on a device after the password, opens the door by itself, and is forgotten. */
test('a passkey is made, opens the door without a password, and is removed', async ({ browser, home }) => {
  // Browsers tie a passkey to a name; a number is none.
  const baseURL = home.url.replace('127.0.0.1', 'localhost');
  const context = await browser.newContext({ baseURL, locale: 'en-GB' });
  const page = await context.newPage();
  const device = await context.newCDPSession(page);
  await device.send('WebAuthn.enable');
  await device.send('WebAuthn.addVirtualAuthenticator', {
    options: {
      protocol: 'ctap2',
      transport: 'internal',
      hasResidentKey: true,
      hasUserVerification: true,
      isUserVerified: true,
      automaticPresenceSimulation: true,
    },
  });
  await page.goto('/sign-in');
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
  await expect(page).toHaveURL(/arrivals/);
  await page.goto('/household');
  await page.getByRole('button', { name: 'Passkeys' }).click();
  const sheet = page.getByRole('dialog');
  await sheet.getByLabel(/What it’s called/).fill('My phone');
  await sheet.getByLabel('Password').fill('sunday-table');
  await sheet.getByRole('button', { name: 'Make a passkey' }).click();
  await expect(sheet.getByText('Not used yet')).toBeVisible();
  await accessible(page);
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Sign out', exact: true }).click();
  await page.getByRole('button', { name: 'Sign in with a passkey' }).click();
  await expect(page).toHaveURL(/arrivals/);
  await page.goto('/household');
  await page.getByRole('button', { name: 'Passkeys' }).click();
  await expect(sheet.getByText(/Last used/)).toBeVisible();
  await sheet.getByRole('button', { name: 'Remove' }).click();
  await expect(sheet.getByText('My phone', { exact: true })).toBeHidden();
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Sign out', exact: true }).click();
  await page.getByRole('button', { name: 'Sign in with a passkey' }).click();
  await expect(page.getByText(/doesn’t open this door/)).toBeVisible();
  await context.close();
});
