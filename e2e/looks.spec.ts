import { accessible, ask, emptyHands, expect, grid, test } from './house';

const PAGES = [
  '/arrivals',
  '/browse',
  '/browse/where',
  '/browse/who',
  '/browse/what',
  '/introductions',
  '/albums',
  '/albums/new',
  '/sharing',
  '/household',
  '/devices',
  '/browse/calendar',
  '/browse/folders',
  '/browse/map',
  '/sitting',
  '/browse/tags',
];
test('in the evening everything can still be read, and at twice the size nothing is cut off at the side @long', async ({
  inside: page,
  wide,
}) => {
  await page.emulateMedia({ colorScheme: 'dark' });
  const size = page.viewportSize()!;
  for (const at of PAGES) {
    await page.setViewportSize(size);
    await page.goto(at);
    await expect(page.getByRole('main')).toBeVisible();
    await page.waitForLoadState('networkidle').catch(() => undefined);
    await expect(page.locator('html')).toHaveClass(/dark/);
    await accessible(page);
    // Zooming to 200 % halves the room: a wide screen becomes a small one; a phone is taken at the narrowest in use.
    await page.setViewportSize(wide ? { width: 640, height: 400 } : { width: 320, height: 640 });
    await page.waitForTimeout(120);
    const over = await page.evaluate(() => {
      const width = document.documentElement.clientWidth;
      return [...document.querySelectorAll<HTMLElement>('main *, nav *')]
        .filter((e) => {
          const r = e.getBoundingClientRect();
          if (r.width === 0 || r.right <= width + 1) return false;
          // What scrolls sideways on purpose may reach further.
          for (let up = e.parentElement; up; up = up.parentElement)
            if (/auto|scroll|hidden/.test(getComputedStyle(up).overflowX)) return false;
          return true;
        })
        .map((e) => `${e.tagName} ${e.textContent?.slice(0, 40)}`)
        .slice(0, 3);
    });
    expect([at, over]).toEqual([at, []]);
    expect(
      await page.evaluate(() => document.documentElement.scrollWidth <= document.documentElement.clientWidth),
    ).toBe(true);
  }
});

test('very long names break or are cut, never pushed out of their place @long', async ({ inside: page, own }) => {
  const long = `${own('Donaudampfschifffahrtsgesellschaftskapitänsmütze').replace(/\s/g, '')}${'ö'.repeat(90)}`.slice(
    0,
    150,
  );
  const { ids } = await ask<{ ids: number[] }>(page, '/api/skeleton', { question: { all: [] } });
  const { id } = await ask<{ id: number }>(page, '/api/albums', { name: long, ids: [ids[0]] });
  await ask(page, '/api/pictures/change', { ids: [ids[0]], change: { title: long, addTags: [long.slice(0, 78)] } });
  for (const at of ['/albums', `/albums/${id}`, `/picture/${ids[0]}`, '/browse/what']) {
    await page.goto(at);
    await page.waitForLoadState('networkidle').catch(() => undefined);
    const right = await page.evaluate(() =>
      Math.max(
        ...[...document.querySelectorAll('main *')]
          .filter((e) => e.textContent?.includes('Donaudampf'))
          .map((e) => e.getBoundingClientRect().right),
      ),
    );
    expect([at, right <= page.viewportSize()!.width + 1]).toEqual([at, true]);
  }
});

test('on a slow network places stand at once and fill as answers come', async ({ inside: page }) => {
  await emptyHands(page);
  await page.route('**/api/**', async (route) => {
    await new Promise((resolve) => setTimeout(resolve, 600));
    await route.continue().catch(() => undefined);
  });
  await page.goto('/browse', { waitUntil: 'commit' });
  await expect(page.getByRole('navigation', { name: 'Places' })).toBeVisible({ timeout: 20_000 });
  await expect(page.getByText('One moment …').or(page.locator('.tile').first())).toBeVisible();
  await grid(page);
  await page.unrouteAll({ behavior: 'wait' });
});

test('by keyboard alone: to a picture, its stars, the pile, and back @wide', async ({ inside: page }) => {
  await emptyHands(page);
  await page.goto('/browse');
  const tiles = await grid(page);
  await tiles.first().focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowDown');
  await expect(page.locator('.tile:focus')).toHaveCount(1);
  await page.keyboard.press('p');
  await expect(page.getByRole('link', { name: /Open the pile: 1 picture/ })).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/picture\//);
  await expect(page.getByRole('heading', { name: 'The facts' })).toBeVisible();
  await page.keyboard.press('2');
  await expect(page.getByRole('radio', { name: '2 stars' })).toHaveAttribute('aria-checked', 'true');
  await page.keyboard.press('0');
  await expect(page.getByRole('radio', { name: '2 stars' })).toHaveAttribute('aria-checked', 'false');
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await page.keyboard.press('Escape');
  await expect(page).toHaveURL(/\/browse$/);
  await page.keyboard.press('/');
  await expect(page.getByLabel('Ask for people, places, days, tags')).toBeFocused();
});

test('a finger that holds a picture chooses it, one that scrolls does not', async ({ inside: page, wide }) => {
  test.skip(wide, 'fingers are for phones');
  await emptyHands(page);
  await page.goto('/browse');
  const tiles = await grid(page);
  const touch = await page.context().newCDPSession(page);
  const finger = async (type: 'touchStart' | 'touchMove' | 'touchEnd', x = 0, y = 0) =>
    void (await touch.send('Input.dispatchTouchEvent', { type, touchPoints: type === 'touchEnd' ? [] : [{ x, y }] }));
  const box = (await tiles.nth(1).boundingBox())!;
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await finger('touchStart', x, y);
  await finger('touchMove', x, y - 60);
  await page.waitForTimeout(600);
  await finger('touchEnd');
  await expect(page.locator('.tile[aria-pressed=true]')).toHaveCount(0);
  await page.getByTestId('grid').evaluate((e) => (e.scrollTop = 0));
  await finger('touchStart', x, y);
  await page.waitForTimeout(600);
  await finger('touchEnd');
  await expect(tiles.nth(1)).toHaveAttribute('aria-pressed', 'true');
  await expect(page).toHaveURL(/\/browse$/);
  await page.touchscreen.tap((await tiles.nth(2).boundingBox())!.x + 20, (await tiles.nth(2).boundingBox())!.y + 20);
  await expect(page.getByRole('link', { name: /Open the pile: 2 picture/ })).toBeVisible();
  await page.getByRole('button', { name: 'Done' }).click();
});
