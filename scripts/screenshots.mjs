// Takes one picture of each main view from a running demo: GEMMEL_DATA=… node scripts/screenshots.mjs [address]
// With the demo's data folder given, a made-up card is put in for the views of gathering, on both sizes side by side.
import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { chromium } from '@playwright/test';
import sharp from 'sharp';

const base = process.argv[2] ?? 'http://127.0.0.1:4870';
const out = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '../docs/screenshots');
mkdirSync(out, { recursive: true });
const browser = await chromium.launch({
  executablePath: ['/usr/bin/chromium', '/usr/bin/chromium-headless-shell'].find(existsSync),
  args: [
    '--no-sandbox',
    '--ignore-gpu-blocklist',
    '--enable-unsafe-swiftshader',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
  ],
});
const SIZES = { phone: { width: 390, height: 844 }, wide: { width: 1280, height: 800 } };

async function open(size, colorScheme = 'light', signedIn = true) {
  const context = await browser.newContext({ baseURL: base, locale: 'en-GB', viewport: SIZES[size], colorScheme });
  if (signedIn)
    await context.request.post('/api/sign-in', { data: { email: 'ilse@hallorin.example', password: 'sunday-table' } });
  return { context, page: await context.newPage() };
}
/** ONLY=map,dates takes just these. */
const only = process.env.ONLY?.split(',');
const wanted = (name) => !only || only.some((one) => name === one || name.startsWith(`${one}-`));

async function shot(page, name, at, act) {
  if (!wanted(name)) return;
  if (at) await page.goto(at);
  await page.waitForLoadState('networkidle').catch(() => undefined);
  await page.waitForTimeout(900);
  if (act) await act(page);
  await page.waitForTimeout(600);
  await page.screenshot({ path: path.join(out, `${name}.png`) });
  console.log(name);
}

const { context, page } = await open('phone');
const { token } = await (await context.request.get('/api/me')).json();
const send = async (method, at, data) =>
  (await context.request.fetch(at, { method, data, headers: { 'x-gemmel-token': token } })).json();
const find = async (question) =>
  (await send('POST', '/api/pictures/page', { question, limit: 12 })).tiles.map((t) => t.id);
const { albums } = await send('GET', '/api/albums');
const { people } = await send('GET', '/api/people');
const album = albums.find((a) => a.kind === 'plain').id;
const smart = albums.find((a) => a.kind === 'smart').id;
const gran = people.find((p) => p.nickname === 'Gran') ?? people[0];
const [titled] = await find({ all: [{ has: 'caption' }, { rating: { min: 3 } }, { faces: { min: 1 } }] });
const pile = await find({ rating: { min: 4 } });
const { shares } = await send('GET', '/api/shares');
if (!shares.length) {
  const day = new Date(Date.now() + 30 * 86_400_000).toISOString().slice(0, 10);
  const may = { save: 'full', say: true, add: true, shown: false, files: 200, bytes: 2_000_000_000 };
  const tells = { places: true, names: true, captions: true, dates: true, others: false };
  const begin = (title, of, until) =>
    send('POST', '/api/shares', { title, of, until, visits: null, may, tells, reach: 'house' });
  const old = await begin('Kites for Bastian', { ids: pile.slice(0, 5) }, null);
  await send('POST', `/api/shares/${old.share.id}/close`, {});
  await begin('Best of 2026', { album }, day);
}
const share = (await send('GET', '/api/shares')).shares.find((s) => s.path);

const root = path.resolve(out, '../..');
const cli = (...words) =>
  execFileSync(process.execPath, [path.join(root, 'apps/server/dist/cli.js'), ...words], {
    env: { ...process.env, GEMMEL_ROOT: root, GEMMEL_PORT: new URL(base).port },
  });

/** Views that stand side by side in one file. */
async function together(name, views) {
  if (!wanted(name)) return;
  const parts = [];
  for (const [i, [on, at, act]] of views.entries()) {
    const part = `${name}-${i}`;
    await shot(on, part, at, act);
    const file = path.join(out, `${part}.png`);
    parts.push({ input: readFileSync(file), ...on.viewportSize() });
    rmSync(file);
  }
  const lefts = parts.map((_, i) => parts.slice(0, i).reduce((left, part) => left + part.width + 20, 0));
  await sharp({
    create: {
      width: lefts.at(-1) + parts.at(-1).width,
      height: Math.max(...parts.map((part) => part.height)),
      channels: 3,
      background: '#e0d6c3',
    },
  })
    .composite(parts.map(({ input }, i) => ({ input, left: lefts[i], top: 0 })))
    .png()
    .toFile(path.join(out, `${name}.png`));
}
/** A relative, who sees the pictures of two people, signed in on a telephone of hers. */
async function relative(context) {
  const account = { name: 'Agathe Wend', email: 'agathe@hallorin.example', password: 'sunday-table' };
  let { members } = await send('GET', '/api/members');
  if (!members.some((m) => m.part === 'relative')) {
    const { path: link } = await send('POST', '/api/invites', { name: 'Agathe', part: 'relative' });
    await context.request.post(`/api/invite/${link.split('/').at(-1)}`, { data: { account } });
    members = (await send('GET', '/api/members')).members;
  }
  const { id } = members.find((m) => m.part === 'relative');
  const two = people.filter((p) => p.pictures > 0).slice(0, 2);
  const question = { any: two.map((p) => ({ who: { people: [p.id], mode: 'all' } })) };
  await send('PUT', `/api/members/${id}/view`, { question, reach: 'house' });
  await context.request.post('/api/sign-in', { data: { email: account.email, password: account.password } });
}
const wide = await open('wide');
/** One view on both sizes. */
const both = (name, at, act) =>
  together(name, [
    [page, at, act],
    [wide.page, at, act],
  ]);

await send('PUT', '/api/pile', { ids: [] });
await together('who', [
  [page, '/browse/who'],
  [page, '/introductions'],
  [page, `/person/${gran.id}`],
]);
// Of one run the choice, of one picture a look, and something in the bin; all of it is taken back afterwards.
const { runs } = await send('GET', '/api/runs');
const shots = runs.find((run) => run.shots >= 4) ?? runs[0];
const [looked, ...thrown] = await find({ all: [{ kind: 'photo' }, { faces: { min: 3 } }] });
/** Four of the household's pictures as prints on the glass of a scanner, one upside down; answers with the scan's number. */
async function glass(pictures) {
  const folder = mkdtempSync(path.join(tmpdir(), 'gemmel-glass-'));
  const prints = [];
  for (const [i, id] of pictures.slice(0, 4).entries()) {
    const bytes = await (await context.request.get(`/api/pictures/${id}/original`)).body();
    const paper = { top: 20, bottom: 20, left: 20, right: 20, background: '#f3ead6' };
    const framed = await sharp(await sharp(bytes).rotate().resize(640, 640, { fit: 'inside' }).toBuffer())
      .extend(paper)
      .toBuffer();
    const turned = await sharp(framed)
      .rotate(i === 1 ? 180 : 0)
      .toBuffer();
    const input = await sharp(turned).rotate([4, -6, -3, 7][i], { background: '#00000000' }).png().toBuffer();
    const { width, height } = await sharp(input).metadata();
    const middle = [400 + 800 * (i % 2), 520 + 1040 * Math.floor(i / 2)];
    prints.push({ input, left: Math.round(middle[0] - width / 2), top: Math.round(middle[1] - height / 2) });
  }
  await sharp({ create: { width: 1600, height: 2080, channels: 3, background: '#ecebe8' } })
    .composite(prints)
    .jpeg({ quality: 90 })
    .toFile(path.join(folder, 'From Gran’s box.jpg'));
  cli('import', folder);
  rmSync(folder, { recursive: true });
  for (let n = 0; n < 60; n++) {
    const { scans } = await send('GET', '/api/scans');
    const found = scans.find((one) => one.name.startsWith('From Gran'));
    if (found) return found.id;
    await page.waitForTimeout(1000);
  }
  throw new Error('no prints were found on the scan');
}
if (shots && wanted('choosing') && process.env.GEMMEL_DATA) {
  const scan = await glass(await find({ all: [{ kind: 'photo' }, { faces: { min: 2 } }, { rating: { min: 3 } }] }));
  const binned = await send('POST', '/api/bin', { ids: thrown.slice(0, 8) });
  await together('choosing', [
    [page, `/runs/${shots.id}`],
    [
      page,
      `/touch-up/${looked}`,
      async (p) => {
        await p.getByRole('button', { name: 'By itself' }).click();
        await p.getByRole('button', { name: 'Add a line' }).click();
        await p.getByRole('button', { name: 'Warmth' }).click();
        await p.getByRole('slider').fill('35');
      },
    ],
    [page, `/scans/${scan}`, (p) => p.getByRole('button', { name: 'Choose print 1' }).click()],
    [page, '/bin'],
  ]);
  const { name: library } = await send('GET', '/api/library');
  await send('POST', '/api/bin', { ids: [scan] });
  await send('POST', '/api/bin/empty', { ids: [scan], word: library });
  await send('POST', `/api/acts/${binned.act}/undo`, {});
}
// Two shelves, one on the other, with chapters in an album.
const { albums: listed, shelves } = await send('GET', '/api/albums');
if (!shelves.length) {
  const journeys = await send('POST', '/api/shelves', { name: 'Journeys' });
  const lake = await send('POST', '/api/shelves', { name: 'Summers by the lake', on: journeys.id });
  const { events } = await send('GET', '/api/events');
  for (const event of events.filter((one) => one.title).slice(0, 4))
    await send('POST', '/api/albums', { name: event.title, from: { event: event.id }, shelf: lake.id });
  await send('POST', '/api/shelves/put', { albums: [album], on: journeys.id });
  const { albums: all } = await send('GET', '/api/albums');
  const told =
    all.find((one) => one.shelf === lake.id && one.name.includes('Gotland')) ??
    all.find((one) => one.shelf === lake.id);
  const { ids } = await send('GET', `/api/albums/${told.id}`);
  await send('PATCH', `/api/albums/${told.id}`, {
    description: 'We took the wrong ferry, found the right beach, and nobody wanted to go home.',
  });
  await send('POST', `/api/albums/${told.id}/chapters`, {
    heading: 'Arriving',
    note: null,
    before: { picture: ids[0] },
  });
  await send('POST', `/api/albums/${told.id}/chapters`, {
    heading: 'The second day',
    note: 'It rained until noon.',
    before: { picture: ids[3] ?? ids[0] },
  });
}
const told = (await send('GET', '/api/albums')).albums.find(
  (one) => one.ownDays === false && one.shelf !== null && one.id > listed.length,
);
const letter = told?.id ?? album;
await together('albums', [
  [page, '/albums'],
  [page, `/albums/${letter}`],
  [page, `/albums/${smart}/question`],
  [wide.page, `/albums/${letter}`],
]);
await together('shows', [
  [page, '/albums/best'],
  [
    page,
    `/albums/${letter}`,
    async (p) => {
      await p.getByRole('button', { name: 'Play', exact: true }).click();
      await p.getByLabel('Jump to').fill('3');
      await p.waitForTimeout(1600);
    },
  ],
  [
    wide.page,
    `/albums/${letter}`,
    async (p) => {
      await p.getByRole('button', { name: 'Play', exact: true }).click();
      await p.getByLabel('Jump to').fill('6');
      await p.waitForTimeout(1600);
    },
  ],
]);
if (!(await send('GET', '/api/marks')).marks.length)
  for (const meaning of ['to print', 'scan again', 'ask Gran']) await send('POST', '/api/marks', { meaning });
const line = (p) => p.getByLabel('Ask for people, places, days, tags');
await together('finding', [
  [page, '/browse', (p) => line(p).pressSequentially('tove and emil not ki', { delay: 30 })],
  [page, '/browse/what'],
  [page, '/browse/tags'],
]);
const event = (await send('GET', '/api/events')).events.find((e) => e.title && e.pictures > 6 && e.pictures < 40);
await together('describing', [
  [
    page,
    '/browse',
    async (p) => {
      await line(p).fill(event.title);
      await p
        .getByRole('option', { name: /an event/ })
        .first()
        .click();
      await p
        .getByRole('button', { name: `More for ${event.title}` })
        .first()
        .click();
      await p.getByRole('button', { name: 'One after another' }).click();
      await p.waitForTimeout(1500);
    },
  ],
  [
    page,
    '/pile',
    async (p) => {
      await send('PUT', '/api/pile', { ids: pile });
      await p.reload();
      await p.getByRole('button', { name: 'Describe', exact: true }).click();
    },
  ],
]);
await send('PUT', '/api/pile', { ids: [] });
await send('PUT', '/api/pile', { ids: pile });
await both('when', '/browse');
await send('PUT', '/api/pile', { ids: [] });
await both('picture', `/picture/${titled}`, async (p) => {
  const faces = p.getByRole('button', { name: /^Show the/ });
  if (await faces.count()) await faces.click();
});
await both('calendar', '/browse/calendar');
await both('map', '/browse/map', async (p) => {
  await p.locator('.map-pin').first().waitFor({ timeout: 60_000 });
  await p.locator('.map-pin').first().click();
  await p.waitForTimeout(6000);
});
await send('PUT', '/api/pile', { ids: pile });
await both('dates', '/pile', async (p) => {
  await p.getByRole('button', { name: 'Date', exact: true }).click();
  await p.getByLabel(/^In your own words/).fill('summer 1988');
  await p.waitForTimeout(1500);
});
if (process.env.GEMMEL_DATA && (!only || only.includes('card'))) {
  await send('PUT', '/api/pile', { ids: [] });
  cli('standin', 'card', 'insert', 'card-autumn');
  cli('standin', 'phone', 'noors-phone', 'sync');
  await page.goto('/arrivals');
  await page.getByText(/new pictures?/).waitFor();
  await page.waitForTimeout(8000);
  await both('arrivals', '/arrivals');
  const { cards } = await send('GET', '/api/cards');
  const tick = (p) => p.getByRole('checkbox').nth(4).click();
  await together('card', [
    [page, `/card/${cards[0].id}`, tick],
    [wide.page, `/card/${cards[0].id}`, tick],
    [
      page,
      undefined,
      async (p) => {
        const { files } = await send('GET', `/api/sources/${cards[0].id}/files`);
        await send('POST', `/api/sources/${cards[0].id}/take`, {
          files: files
            .filter((f) => f.state === 'new')
            .map((f) => f.id)
            .slice(0, 18),
        });
        await p.goto(`/batch/${(await send('GET', '/api/batches')).batches[0].id}`);
        await p.waitForTimeout(1500);
      },
    ],
  ]);
  await page.waitForTimeout(15_000);
  // A few things to be told, one of them taken back.
  const { act } = await send('POST', '/api/pictures/change', {
    ids: pile.slice(0, 3),
    change: { addTags: ['for the wall'] },
  });
  await send('POST', `/api/acts/${act}/undo`, {});
  await together('devices', [
    [page, '/devices'],
    [page, '/done'],
    [wide.page, '/done'],
  ]);
  cli('standin', 'card', 'eject', 'card-autumn');
}
// A book and prints of everything, and a calendar, which are removed again.
if (wanted('making')) {
  await send('PUT', '/api/pile', { ids: [] });
  const say = { language: 'en' };
  const begin = async (name, source, settings) =>
    (await send('POST', '/api/pieces', { name, source, settings: { ...say, ...settings } })).id;
  const tells = { caption: true, date: false, place: false, names: false };
  const book = await begin(
    'Our year',
    { question: { all: [] } },
    {
      kind: 'book',
      paper: 'square 21',
      bleed: true,
      chapters: 'events',
      fill: 'even',
      tells,
      maps: true,
      people: true,
      index: true,
    },
  );
  const finish = { copies: 1, as: 'pdf', finish: 'matt' };
  const prints = await begin(
    'For Gran',
    { ids: pile.slice(0, 8) },
    { kind: 'prints', size: '10x15', paper: 'A4', border: true, date: true, ...finish },
  );
  const year = { year: 2027, country: 'SE', birthdays: true, title: 'The Hallorins', as: 'pdf' };
  const calendar = await begin('2027', { question: { all: [] } }, { kind: 'calendar', paper: 'A4 upright', ...year });
  await send('POST', `/api/pieces/${prints}/making`, {});
  const leaf = (times) => async (on) => {
    await on.locator('svg[role=img] image').first().waitFor();
    for (let i = 0; i < times; i++) await on.getByRole('button', { name: 'Next', exact: true }).click();
    await on.waitForTimeout(800);
  };
  await together('making', [
    [page, '/making', (on) => on.getByRole('link', { name: /For Gran/ }).waitFor()],
    [page, `/piece/${book}`, leaf(5)],
    [wide.page, `/piece/${book}`, leaf(6)],
    [page, `/piece/${prints}`, leaf(0)],
    [page, `/piece/${calendar}`, leaf(0)],
  ]);
  for (const id of [book, prints, calendar]) await send('DELETE', `/api/pieces/${id}`);
}
if (wanted('safekeeping') && process.env.GEMMEL_DATA) {
  const disk = String(cli('standin', 'disk', 'insert', 'second-disk'))
    .trim()
    .split(' ')
    .pop();
  const { id } = await send('POST', '/api/safekeeping/places', {
    kind: 'folder',
    name: 'The disk in the hall',
    location: `${disk}/gemmel`,
    often: 'daily',
    hour: 2,
  });
  const rest = async () => {
    for (;;) {
      await page.waitForTimeout(1000);
      const { places } = await send('GET', '/api/safekeeping');
      if (!places.find((one) => one.id === id).now) return;
    }
  };
  await rest();
  await send('POST', `/api/safekeeping/places/${id}/rehearse`, {});
  await rest();
  await together('safekeeping', [
    [page, '/safekeeping'],
    [page, undefined, (on) => on.getByRole('button', { name: 'Settings' }).click()],
    [wide.page, '/safekeeping'],
    [page, '/libraries'],
    [page, '/storage'],
  ]);
  await send('DELETE', `/api/safekeeping/places/${id}`);
  cli('standin', 'disk', 'eject', 'second-disk');
}
if (wanted('away')) {
  // What is on a device, with a line and without one. A service worker takes a moment to be there.
  await page.goto(`/albums/${album}`);
  await page.waitForFunction(() => navigator.serviceWorker.controller !== null, null, { timeout: 60_000 });
  await page.getByRole('button', { name: 'More for this album' }).click();
  await page.getByRole('button', { name: 'Keep on this device' }).click();
  await page.waitForTimeout(6000);
  await page.goto('/browse');
  await page.waitForTimeout(2500);
  const evening = await open('wide', 'dark');
  await evening.page.goto('/browse');
  await evening.page.waitForFunction(() => navigator.serviceWorker.controller !== null, null, { timeout: 60_000 });
  await evening.page.goto('/browse');
  await evening.page.waitForTimeout(3000);
  for (const one of [context, evening.context]) await one.setOffline(true);
  await together('away', [
    [page, '/browse'],
    [
      page,
      `/albums/${album}`,
      async (on) => {
        await on.locator('.tile').first().click();
        await on.waitForTimeout(1500);
        await on.getByRole('radio', { name: '4 stars' }).click();
      },
    ],
    [page, '/device'],
    [evening.page, '/browse'],
  ]);
  for (const one of [context, evening.context]) await one.setOffline(false);
  await page.waitForTimeout(8000);
}
const dark = await open('wide', 'dark');
await shot(dark.page, 'evening-wide', '/browse/who');
await send('PUT', '/api/pile', { ids: [] });
const guest = await open('phone', 'light', false);
const kin = await open('phone', 'light', false);
if (wanted('guests')) {
  await relative(kin.context);
  // Something to tell.
  const { token } = await (await kin.context.request.get('/api/me')).json();
  const { fresh } = await (await kin.context.request.get('/api/parlour')).json();
  await kin.context.request.post('/api/comments', {
    data: { ids: [fresh.ids[0]], text: 'I had a kite just like that one.' },
    headers: { 'x-gemmel-token': token },
  });
  await page.goto(`/albums/${album}`);
  await together('guests', [
    [page, undefined, (on) => on.getByRole('button', { name: 'Share' }).first().click()],
    [guest.page, share.path],
    [guest.page, share.path, (on) => on.locator('.cell').nth(1).click()],
    [kin.page, '/'],
    [page, '/sharing'],
    [page, '/news'],
  ]);
}
await browser.close();
