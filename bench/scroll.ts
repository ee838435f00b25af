/** Scrolling and jumping in a library of 100 000 pictures, in Chromium, against an empty page scrolled the same way. */
import type { Page } from '@playwright/test';
import { benchBrowser, line, quantile, SIZES } from './engine';
import { ACCOUNT, benchLibrary } from './library';
import { steady } from './synthetic';

const N = Number(process.env['PICTURES'] ?? 100_000);
const PORT = 4891;

/** Scrolls an element by the same steps, one a frame, and notes how long each frame took. */
async function frames(page: Page, selector: string, pixels: number): Promise<number[]> {
  return page.evaluate(
    ([wanted, by]) =>
      new Promise<number[]>((resolve) => {
        const element = document.querySelector(wanted)!;
        const took: number[] = [];
        let last = performance.now();
        let n = 0;
        const step = (now: number) => {
          took.push(now - last);
          last = now;
          element.scrollTop += by;
          if (++n < 600) requestAnimationFrame(step);
          else resolve(took.slice(20));
        };
        requestAnimationFrame(step);
      }),
    [selector, pixels] as const,
  );
}

/** The functions that took the most time themselves, for looking where it goes. */
function hottest(profile: {
  nodes: { id: number; callFrame: { functionName: string; lineNumber: number; columnNumber: number } }[];
  samples?: number[];
  timeDeltas?: number[];
}): void {
  const names = new Map(
    profile.nodes.map((n) => [
      n.id,
      `${n.callFrame.functionName || '(anonymous)'}:${n.callFrame.lineNumber}:${n.callFrame.columnNumber}`,
    ]),
  );
  const self = new Map<string, number>();
  profile.samples?.forEach((id, i) =>
    self.set(names.get(id)!, (self.get(names.get(id)!) ?? 0) + (profile.timeDeltas?.[i] ?? 0) / 1000),
  );
  for (const [name, ms] of [...self].sort((a, b) => b[1] - a[1]).slice(0, 25)) line(`  ${name}`, `${ms.toFixed(0)} ms`);
}

/** Where lists are, and what of the made-up household stands on them once they are useful. */
const LISTS = [
  ['people', '/browse/who', 'Person'],
  ['places', '/browse/where', 'Town|Sweden|Place'],
  ['tags and what was noticed', '/browse/what', 'tag|Tag'],
  ['albums', '/albums', 'Album'],
] as const;

/** How long lists take from the touch to what is useful, the first time and when they have been seen. */
async function lists(page: Page, size: string): Promise<void> {
  for (const [name, at, useful] of LISTS) {
    const took: number[] = [];
    for (let i = 0; i < 4; i++) {
      await page.locator('a[href="/browse"]').first().click();
      await page.locator('.tile').first().waitFor();
      await page.waitForTimeout(600);
      took.push(
        await page.evaluate(
          ([href, words]) =>
            new Promise<number>((resolve) => {
              const wanted = new RegExp(words!);
              const main = document.querySelector('main')!;
              const start = performance.now();
              const look = () => {
                const there = location.pathname === href && wanted.test(main.innerText);
                if (there || performance.now() - start > 5000) resolve(performance.now() - start);
                else requestAnimationFrame(look);
              };
              document.querySelector<HTMLElement>(`a[href="${href}"]`)!.click();
              requestAnimationFrame(look);
            }),
          [at, useful],
        ),
      );
    }
    line(
      `${size}: the list of ${name}, first, then median`,
      `${took[0]!.toFixed(0)} ms, ${quantile(took.slice(1), 0.5).toFixed(0)} ms`,
    );
  }
}

/** How long a picture takes from the touch until it is sharp, and the next ones. */
async function looking(page: Page, size: string): Promise<void> {
  await page.locator('a[href="/browse"]').first().click();
  await page.locator('.tile img.here').first().waitFor();
  await page.waitForTimeout(500);
  const sharp = (act: string) =>
    page.evaluate(
      (how) =>
        new Promise<number>((resolve) => {
          const before = location.pathname;
          const start = performance.now();
          const look = () => {
            const image = document.querySelector<HTMLImageElement>('[data-testid=viewer] img[src*="/large"]');
            const there =
              location.pathname !== before && image?.complete && image.naturalWidth > 0 && image.style.opacity !== '0';
            if (there || performance.now() - start > 5000) resolve(performance.now() - start);
            else requestAnimationFrame(look);
          };
          if (how === 'open') document.querySelector<HTMLElement>('.tile')!.click();
          else document.body.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowRight', bubbles: true }));
          requestAnimationFrame(look);
        }),
      act,
    );
  const opened = await sharp('open');
  const next: number[] = [];
  for (let i = 0; i < 8; i++) {
    await page.waitForTimeout(700);
    next.push(await sharp('next'));
  }
  line(
    `${size}: a picture opened until it is sharp; the next one, median`,
    `${opened.toFixed(0)} ms, ${quantile(next, 0.5).toFixed(0)} ms`,
  );
}

/** Opens the page of pictures anew: how long until the first of them is painted, by the page's own clock, in ms since it was asked for. */
async function firstPictures(page: Page): Promise<number> {
  await page.goto('/browse');
  await page.waitForFunction(() => 'firstPainted' in window);
  return page.evaluate(() => (window as unknown as { firstPainted: number }).firstPainted);
}

const engine = await benchLibrary(N, PORT);
const random = steady(7);
// With STAY the library is left open, to be looked at by hand.
if (process.env['STAY']) await new Promise(() => undefined);
const browser = await benchBrowser();
try {
  for (const [size, viewport] of SIZES) {
    const context = await browser.newContext({ viewport, baseURL: `http://127.0.0.1:${PORT}` });
    const page = await context.newPage();
    await page.setContent(
      '<div id="s" style="height:100vh;overflow:auto"><div style="height:9000000px;background:linear-gradient(#eee,#ddd)"></div></div>',
    );
    const empty = [await frames(page, '#s', 60), await frames(page, '#s', 20)] as const;
    await context.request.post('/api/sign-in', { data: { email: ACCOUNT.email, password: ACCOUNT.password } });
    await page.addInitScript(() => {
      const look = () => {
        if (!document.querySelector('.tile img.here')) return void requestAnimationFrame(look);
        // What this frame shows has been handed over when the next one begins.
        requestAnimationFrame(() => Object.assign(window, { firstPainted: performance.now() }));
      };
      requestAnimationFrame(look);
    });
    const first = await firstPictures(page);
    const cdp = process.env['PROFILE'] ? await context.newCDPSession(page) : null;
    await cdp?.send('Profiler.enable');
    await cdp?.send('Profiler.start');
    const grid = await frames(page, '[data-testid=grid]', 60);
    if (cdp) hottest((await cdp.send('Profiler.stop')).profile);
    line(`${size}: first pictures on screen, ${N} in the library`, `${first.toFixed(0)} ms`);
    // Later visits: what was seen last is on the device, and the scripts come from there.
    await page.waitForFunction(() => navigator.serviceWorker.controller !== null, null, { timeout: 60_000 });
    await page.waitForTimeout(2000);
    const again: number[] = [];
    for (let i = 0; i < 5; i++) {
      again.push(await firstPictures(page));
      await page.waitForTimeout(5000);
    }
    line(`${size}: first pictures on a later visit, median`, `${quantile(again, 0.5).toFixed(0)} ms`);
    const slow = await frames(page, '[data-testid=grid]', 20);
    for (const [speed, found, bare] of [
      ['3600', grid, empty[0]],
      ['1200', slow, empty[1]],
    ] as const) {
      const [a, b] = [quantile(bare, 0.95), quantile(found, 0.95)];
      line(
        `${size}: 95th percentile frame at ${speed} px/s`,
        `${(b / a).toFixed(2)} x an empty page (${b.toFixed(1)} ms to ${a.toFixed(1)} ms)`,
      );
    }
    const jumps: number[] = [];
    const ribbon = (await page.getByRole('slider', { name: 'Month' }).boundingBox())!;
    for (let i = 0; i < 12; i++) {
      const y = ribbon.y + ribbon.height * (0.1 + 0.8 * random());
      jumps.push(
        await page.evaluate(
          ([x, at]) =>
            new Promise<number>((resolve) => {
              const start = performance.now();
              const target = document.elementFromPoint(x!, at!)!;
              for (const type of ['pointerdown', 'pointerup'])
                target.dispatchEvent(
                  new PointerEvent(type, { bubbles: true, pointerId: 1, clientX: x!, clientY: at! }),
                );
              const before = new Set(
                [...document.querySelectorAll('.tile')].map((t) => (t as HTMLElement).dataset['id']),
              );
              const look = () => {
                const box = document.querySelector('[data-testid=grid]')!.getBoundingClientRect();
                const inView = [...document.querySelectorAll<HTMLElement>('.tile')].filter((t) => {
                  const r = t.getBoundingClientRect();
                  return r.bottom > box.top && r.top < box.bottom;
                });
                const ready =
                  inView.length > 0 &&
                  inView.some((t) => !before.has(t.dataset['id'])) &&
                  inView.every((t) => t.querySelector('img.here'));
                if (ready || performance.now() - start > 3000) resolve(performance.now() - start);
                else requestAnimationFrame(look);
              };
              requestAnimationFrame(look);
            }),
          [ribbon.x + ribbon.width / 2, y],
        ),
      );
      await page.waitForTimeout(200);
    }
    line(
      `${size}: a jump to any month shows its pictures, median, worst`,
      `${quantile(jumps, 0.5).toFixed(0)} ms, ${Math.max(...jumps).toFixed(0)} ms`,
    );
    await lists(page, size);
    await looking(page, size);
    await context.close();
  }
  line('server memory resident', `${(process.memoryUsage().rss / 1e6).toFixed(0)} MB`);
} finally {
  await browser.close();
  await engine.end();
}
process.exit(0);
