import AxeBuilder from '@axe-core/playwright';
import { expect, test as base, type Page } from '@playwright/test';
import path from 'node:path';

export const DEMO = path.resolve(import.meta.dirname, '../demo');

interface House {
  /** A name of this size's own, since both sizes walk through the same library. */
  own: (name: string) => string;
  wide: boolean;
  /** The page, signed in as the keeper. */
  inside: Page;
}

export const test = base.extend<House>({
  own: async ({}, use, info) => use((name) => `${name} (${info.project.name})`),
  wide: async ({}, use, info) => use(info.project.name === 'wide'),
  inside: async ({ page }, use) => {
    const errors: string[] = [];
    page.on('pageerror', (error) => errors.push(error.message));
    const answer = await page.request.post('/api/sign-in', {
      data: { email: 'ilse@hallorin.example', password: 'sunday-table' },
    });
    expect(answer.ok()).toBe(true);
    await use(page);
    expect(errors).toEqual([]);
  },
});
export { expect };

/** Nothing serious is found by axe on what is on screen. */
export async function accessible(page: Page): Promise<void> {
  // What still fades in is looked at when it stands.
  await page.evaluate(() => Promise.allSettled(document.getAnimations().map((moving) => moving.finished)));
  const { violations } = await new AxeBuilder({ page }).analyze();
  const serious = violations.filter((v) => v.impact === 'serious' || v.impact === 'critical');
  expect(
    serious.map(
      (v) =>
        `${v.id}: ${v.nodes
          .slice(0, 3)
          .map((n) => n.html.slice(0, 160))
          .join(' | ')}`,
    ),
  ).toEqual([]);
}

/** The grid's tiles with their pictures loaded. */
export async function grid(page: Page) {
  const tiles = page.locator('.tile');
  await expect(tiles.first().locator('img.here')).toBeVisible();
  return tiles;
}

/** Puts the pile down when something is on it, so that each step begins with empty hands. */
export async function emptyHands(page: Page): Promise<void> {
  const { token } = (await (await page.request.get('/api/me')).json()) as { token: string };
  await page.request.put('/api/pile', { data: { ids: [] }, headers: { 'x-gemmel-token': token } });
}

/** Chooses tiles onto the pile as the size does it: clicks on wide, holding the first and tapping the rest on a phone. */
export async function choose(page: Page, wide: boolean, numbers: readonly number[]): Promise<void> {
  const tiles = await grid(page);
  for (const [i, n] of numbers.entries()) {
    const tile = tiles.nth(n);
    if (wide) await tile.click();
    else if (i === 0) await tile.click({ delay: 700 });
    else await tile.click();
    await expect(tile).toHaveAttribute('aria-pressed', 'true');
  }
}

/** An answer of the server, asked for directly. */
export async function ask<T>(page: Page, at: string, body?: unknown): Promise<T> {
  const { token } = (await (await page.request.get('/api/me')).json()) as { token: string };
  const response =
    body === undefined
      ? await page.request.get(at)
      : await page.request.post(at, { data: body, headers: { 'x-gemmel-token': token } });
  expect(response.ok()).toBe(true);
  return (await response.json()) as T;
}
