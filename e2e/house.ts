import AxeBuilder from '@axe-core/playwright';
import { expect, test as base, type Browser, type Page } from '@playwright/test';
import { execFileSync } from 'node:child_process';
import path from 'node:path';
import { envOf, OUT, ROOM, ROOT, startServer, type Served } from './server';

export const DEMO = path.join(ROOT, 'demo');

/** What a worker has to itself. */
interface Home {
  /** A server with a copy of the household's library. */
  home: Served;
}

interface House {
  /** A server with a library nobody has begun; started for whoever asks for it. */
  empty: Served;
  /** A name of this size's own, since both sizes walk through the same library. */
  own: (name: string) => string;
  wide: boolean;
  /** The page, signed in as the keeper. */
  inside: Page;
}

/** A copy of the loaded household for one worker. */
function copyHousehold(to: string): void {
  execFileSync('rm', ['-rf', to]);
  execFileSync('cp', ['-r', '--reflink=auto', process.env['E2E_HOUSEHOLD']!, to]);
}

export const test = base.extend<House, Home>({
  home: [
    async ({}, use, { workerIndex }) => {
      const data = path.join(ROOM, `worker-${workerIndex}`);
      copyHousehold(data);
      const server = await startServer(data, { GEMMEL_DEMO: path.join(OUT, 'demo') });
      await use(server);
      await server.stop();
      execFileSync('rm', ['-rf', data]);
    },
    { scope: 'worker', timeout: 120_000 },
  ],
  empty: async ({}, use, { workerIndex }) => {
    const data = path.join(ROOM, `worker-${workerIndex}-empty`);
    execFileSync('rm', ['-rf', data]);
    const server = await startServer(data);
    await use(server);
    await server.stop();
    execFileSync('rm', ['-rf', data]);
  },
  baseURL: async ({ home }, use) => use(home.url),
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

/** Runs the command line beside a worker's server; answers with what it printed. */
export const gemmel = (home: Served, ...words: string[]): string =>
  execFileSync(process.execPath, [path.join(ROOT, 'apps/server/dist/cli.js'), ...words], {
    env: envOf(home.data),
    encoding: 'utf8',
  });

/** What axe has looked at in this worker, by size and scheme: what is shown there, as kinds of elements. */
const looked = new Map<string, Set<string>>();

/**
 * The kinds of elements on screen: tag, role, classes, which labels they have, and whether they hold text. Runs in the page.
 * Names of people, numbers and other words do not matter.
 */
function kindsOnScreen(): string[] {
  const kinds = new Set<string>();
  for (const e of document.querySelectorAll('body *')) {
    const named = [
      'aria-label',
      'aria-labelledby',
      'aria-hidden',
      'alt',
      'title',
      'href',
      'tabindex',
      'for',
      'placeholder',
    ];
    const has = named.filter((name) => e.hasAttribute(name)).join(' ');
    const state = ['aria-checked', 'aria-selected', 'aria-pressed', 'aria-expanded', 'aria-disabled', 'aria-current'];
    const is = state.map((name) => e.getAttribute(name) ?? '').join(' ');
    const text = [...e.childNodes].some((n) => n.nodeType === 3 && n.textContent!.trim() !== '');
    const parent = e.parentElement?.getAttribute('role') ?? '';
    kinds.add(`${e.tagName}|${e.getAttribute('role')}|${parent}|${e.getAttribute('class')}|${has}|${is}|${text}`);
  }
  return [...kinds];
}

/**
 * Nothing serious is found by axe on what is on screen. It looks at each page, and at each further state of it that shows a
 * kind of element it has not seen at this size and in this scheme; the long form looks every time.
 */
export async function accessible(page: Page): Promise<void> {
  // What still fades in is looked at when it stands.
  await page.evaluate(() => Promise.allSettled(document.getAnimations().map((moving) => moving.finished)));
  const dark = await page.evaluate(() => document.documentElement.classList.contains('dark'));
  const key = `${page.viewportSize()?.width} ${dark}`;
  const seen = looked.get(key) ?? new Set();
  looked.set(key, seen);
  const shown = [new URL(page.url()).pathname.replace(/\/\d+/g, '/n'), ...(await page.evaluate(kindsOnScreen))];
  if (!process.env['E2E_LONG'] && shown.every((kind) => seen.has(kind))) return;
  const { violations } = await new AxeBuilder({ page })
    .setLegacyMode(true)
    .options({ resultTypes: ['violations'] })
    .analyze();
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
  for (const kind of shown) seen.add(kind);
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

/** Chooses tiles onto the pile as the size does it: Ctrl and clicks on wide, holding the first and tapping the rest on a phone. */
export async function choose(page: Page, wide: boolean, numbers: readonly number[]): Promise<void> {
  const tiles = await grid(page);
  for (const [i, n] of numbers.entries()) {
    const tile = tiles.nth(n);
    if (wide) await tile.click({ modifiers: ['Control'] });
    else if (i === 0) await tile.click({ delay: 700 });
    else await tile.click();
    await expect(tile).toHaveAttribute('aria-pressed', 'true');
  }
}

/** A browser of somebody's own, as small as a telephone. */
export async function another(browser: Browser, baseURL: string | undefined, more: object = {}): Promise<Page> {
  const context = await browser.newContext({
    ...(baseURL ? { baseURL } : {}),
    locale: 'en-GB',
    viewport: { width: 390, height: 844 },
    ...more,
  });
  const page = await context.newPage();
  page.on('pageerror', (error) => console.log('an error on another page:', error.message, error.stack));
  return page;
}

/** An answer of the server, asked for directly; of another server when the address is whole. */
export async function ask<T>(page: Page, at: string, body?: unknown, method = 'POST'): Promise<T> {
  const origin = URL.canParse(at) ? new URL(at).origin : '';
  const { token } = (await (await page.request.get(`${origin}/api/me`)).json()) as { token: string };
  const response =
    body === undefined && method === 'POST'
      ? await page.request.get(at)
      : await page.request.fetch(at, {
          method,
          ...(body === undefined ? {} : { data: body }),
          headers: { 'x-gemmel-token': token },
        });
  if (!response.ok()) throw new Error(`${at}: ${response.status()} ${await response.text()}`);
  return (await response.json()) as T;
}

/** The pictures that answer a question, newest first. */
export async function idsOf(page: Page, question: object): Promise<number[]> {
  const { ids } = await ask<{ ids: number[] }>(page, '/api/skeleton', { question });
  let id = 0;
  return ids.map((step) => (id += step));
}
