import { readFileSync } from 'node:fs';
import path from 'node:path';
import type { Page } from '@playwright/test';
import { accessible, ask, choose, emptyHands, expect, grid, test } from './house';
import { ROOT } from './server';

/** A catalogue's sentences without values, by the English ones; those that read the same in both are left out. */
function catalogue(language: string): Map<string, string> {
  const text = readFileSync(path.join(ROOT, `apps/web/src/words/${language}/messages.po`), 'utf8');
  const said = (block: string, name: string) =>
    [...(block.match(new RegExp(`^${name} (".*"(?:\\n".*")*)$`, 'm'))?.[1] ?? '').matchAll(/"(.*)"/g)]
      .map((line) => JSON.parse(`"${line[1]}"`) as string)
      .join('');
  const pairs = text
    .split('\n\n')
    .map((block) => [said(block, 'msgid'), said(block, 'msgstr')] as const)
    .filter(([english, other]) => english.length > 3 && english !== other && !/[{}]/.test(english));
  return new Map(pairs);
}

/** Everything on screen and in the names of what can be touched, line by line. */
const shownOn = (page: Page) =>
  page.evaluate(() => [
    ...document.body.innerText.split('\n').map((line) => line.trim()),
    ...[...document.querySelectorAll('[aria-label],[placeholder]')].flatMap((e) =>
      ['aria-label', 'placeholder'].map((name) => e.getAttribute(name)?.trim() ?? ''),
    ),
    document.title,
  ]);

/** Looks whether a sentence of the sources was left as it is, and whether the page reaches over its edge. */
async function speaks(page: Page, language: string): Promise<void> {
  const words = catalogue(language);
  // The household's own names are its own.
  for (const own of ['Household', 'Home library', 'Noor’s phone']) words.delete(own);
  await expect.poll(() => page.evaluate(() => document.documentElement.lang)).toBe(language);
  // A word that the other language has too, for something else, is no English.
  const theirs = new Set(words.values());
  await expect
    .poll(async () => (await shownOn(page)).filter((line) => words.has(line) && !theirs.has(line)))
    .toEqual([]);
  const { scroll, width } = await page.evaluate(() => ({
    scroll: document.documentElement.scrollWidth,
    width: window.innerWidth,
  }));
  expect(scroll).toBeLessThanOrEqual(width);
}

test.describe('a household that speaks German', () => {
  test.use({ locale: 'de-DE' });

  test('the main path in German: sign in, browse, name a face, album, share; a guest reads Swedish @long', async ({
    page,
    own,
    browser,
    baseURL,
    wide,
  }) => {
    await page.goto('/sign-in');
    await expect(page.getByRole('button', { name: 'Anmelden' })).toBeVisible();
    await speaks(page, 'de');
    await page.getByLabel('Passwort').fill('falsch und lang genug');
    await page.getByRole('button', { name: 'Anmelden' }).click();
    await expect(page.getByRole('alert')).toHaveText('Adresse und Passwort passen nicht zusammen.');
    await page.getByLabel('Passwort').fill('sunday-table');
    await page.getByRole('button', { name: 'Anmelden' }).click();
    await expect(page.getByRole('heading', { name: 'Eingang' })).toBeVisible();
    await expect(page.getByText('Bilder aufbewahrt')).toBeVisible();
    await speaks(page, 'de');
    await accessible(page);
    await emptyHands(page);

    await page.getByRole('link', { name: 'Stöbern' }).click();
    await grid(page);
    await expect(
      page
        .getByRole('heading', {
          name: /^(Januar|Februar|März|April|Mai|Juni|Juli|August|September|Oktober|November|Dezember) 20\d\d$/,
        })
        .first(),
    ).toBeVisible();
    await speaks(page, 'de');
    // A question typed in German, and shown in it.
    await page.getByLabel('Frag nach Menschen, Orten, Tagen, Stichwörtern').fill('mai 2026');
    await page.keyboard.press('Enter');
    await expect(page.getByRole('button', { name: 'Entfernen: aufgenommen im Mai 2026' })).toBeVisible();
    await speaks(page, 'de');
    for (const view of ['where', 'who', 'what', 'calendar']) {
      await page.goto(`/browse/${view}`);
      await expect(page.getByRole('link', { name: 'Stöbern' })).toBeVisible();
      await page.waitForLoadState('networkidle');
      await speaks(page, 'de');
    }

    await page.goto('/introductions');
    await expect(page.getByRole('heading', { name: 'Kennst du jemanden davon?' })).toBeVisible();
    await speaks(page, 'de');
    const name = own('Käthe Lind');
    await page.getByLabel('Einen Namen tippen').fill(name);
    await page.getByRole('button', { name: `Jemand Neues: ${name}` }).click();
    await expect(page.getByText(/^\d+ Gesichte?r? benannt: Käthe Lind/)).toBeVisible();
    await page.getByRole('button', { name: 'Rückgängig' }).click();
    await expect(page.getByText(/^Rückgängig: \d+ Gesicht/)).toBeVisible();

    await page.goto('/browse');
    await choose(page, wide, [0, 1]);
    await page.getByRole('link', { name: 'Stapel öffnen: 2 Bilder' }).click();
    await expect(page.getByText('2 Bilder in der Hand')).toBeVisible();
    await speaks(page, 'de');
    await page.getByRole('button', { name: 'Album', exact: true }).click();
    await page.getByRole('dialog').getByLabel('Name des neuen Albums').fill(own('Für die Wand'));
    await page.getByRole('button', { name: 'Album anlegen' }).click();
    await expect(page.getByRole('heading', { name: own('Für die Wand') })).toBeVisible();
    await speaks(page, 'de');

    await page.getByRole('button', { name: 'Dieses Album teilen' }).click();
    await page.getByRole('button', { name: 'Auch teilen' }).click();
    await page.getByRole('button', { name: /^Wie lange/ }).click();
    await page.getByRole('dialog').getByRole('button', { name: 'Eine Woche' }).click();
    await speaks(page, 'de');
    await page.getByRole('button', { name: 'Freigabe öffnen' }).click();
    await page.getByRole('button', { name: 'Link für Alle mit dem Link kopieren' }).click();
    const link = await page.evaluate(() => navigator.clipboard.readText());
    await speaks(page, 'de');

    const guests = await browser.newContext({ baseURL: baseURL!, viewport: page.viewportSize()!, locale: 'sv-SE' });
    const guest = await guests.newPage();
    await guest.goto(link);
    await expect(guest.getByText('2 bilder från Ilse Hallorin')).toBeVisible();
    await expect(guest.getByRole('link', { name: /^Spara alla i full storlek/ })).toBeVisible();
    await speaks(guest, 'sv');
    await guest.locator('.cell').first().click();
    await expect(guest.getByRole('button', { name: 'Tillbaka till alla bilder' })).toBeVisible();
    await speaks(guest, 'sv');

    // Whoever reads another language chooses it, and finds it again; the guest keeps theirs.
    const { shares } = await ask<{ shares: { id: number; title: string }[] }>(page, '/api/shares');
    await page.goto('/sharing');
    await expect(page.getByText(own('Für die Wand')).first()).toBeVisible();
    await speaks(page, 'de');
    for (const at of ['/household', '/done', '/devices', '/sitting']) {
      await page.goto(at);
      await page.waitForLoadState('networkidle');
      await speaks(page, 'de');
    }
    await page.goto('/household');
    await page.getByRole('button', { name: 'English' }).first().click();
    await expect(page.getByRole('heading', { name: 'What is kept' })).toBeVisible();
    await page.reload();
    await expect(page.getByRole('heading', { name: 'What is kept' })).toBeVisible();
    expect(await page.evaluate(() => document.documentElement.lang)).toBe('en');
    await ask(page, `/api/shares/${shares.find((one) => one.title === own('Für die Wand'))!.id}/close`, {});
    await guest.reload();
    await expect(guest.getByText('Den här delningen är inte öppen')).toBeVisible();
    await guests.close();
  });

  test('everything fits a narrow phone in German @long', async ({ page }) => {
    await page.setViewportSize({ width: 320, height: 640 });
    await page.goto('/sign-in');
    await speaks(page, 'de');
    await page.getByRole('button', { name: 'Anmelden' }).click();
    await expect(page.getByRole('link', { name: /Eingang|Arrivals/ })).toBeVisible();
    // Whatever was chosen before on this library.
    const { token } = (await (await page.request.get('/api/me')).json()) as { token: string };
    await page.request.put('/api/me/language', { data: { language: 'de' }, headers: { 'x-gemmel-token': token } });
    const { ids } = await ask<{ ids: number[] }>(page, '/api/skeleton', { question: { all: [] } });
    const { people } = await ask<{ people: { id: number }[] }>(page, '/api/people');
    const { albums } = await ask<{ albums: { id: number }[] }>(page, '/api/albums');
    for (const at of [
      '/arrivals',
      '/browse',
      '/browse/who',
      '/browse/where',
      '/browse/what',
      '/browse/calendar',
      '/introductions',
      '/sitting',
      '/albums',
      `/albums/${albums[0]!.id}`,
      `/picture/${ids[0]}`,
      `/person/${people[0]!.id}`,
      '/sharing',
      '/pile',
      '/devices',
      '/done',
      '/household',
    ]) {
      await page.goto(at);
      await page.waitForLoadState('networkidle');
      await speaks(page, 'de');
      // Nothing is cut off that has no room to be whole.
      const cut = await page.evaluate(() =>
        [...document.querySelectorAll('[role=button],[role=tab],[role=radio],h1,h2')]
          .filter((e) => e.scrollWidth > e.clientWidth + 1 && getComputedStyle(e).overflowX !== 'auto')
          .map((e) => e.textContent),
      );
      expect([at, cut]).toEqual([at, []]);
    }
    await page.request.put('/api/me/language', { data: { language: 'en' }, headers: { 'x-gemmel-token': token } });
  });
});
