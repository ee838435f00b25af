import { TELLS_NOTHING } from '@gemmel/contract';
import { middleOf, readWhen } from '@gemmel/core';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { readSidecar } from '../src/media/metadata';
import { toXmp } from '../src/vault/sidecar';
import { placeAt, townsIn, townsNamed } from '../src/media/places';
import { refreshEvents } from '../src/event/events';
import { openHouse, type House } from './house';

const VISBY = { lat: 57.6409, lon: 18.296 };
const PORTO = { lat: 41.1496, lon: -8.611 };

describe('the gazetteer', () => {
  test.each([
    ['the middle of Visby', VISBY, 'SE', 'Visby'],
    ['the middle of Porto', PORTO, 'PT', 'Porto'],
    ['a town near the date line', { lat: -16.43, lon: 179.5 }, 'FJ', 'Labasa'],
  ])('%s', (_, { lat, lon }, country, place) => expect(placeAt(lat, lon)).toMatchObject({ country, place }));
  test('says how far the town is', () => {
    expect(placeAt(57.7309, 18.296)!.km).toBeCloseTo(10, 0);
    expect(placeAt(VISBY.lat, VISBY.lon)!.km).toBeLessThan(1.5);
  });
  test('nothing is named in the middle of the sea', () => expect(placeAt(0, -30)).toBeNull());
  test('names are found as they begin, the nearest and largest first', () => {
    expect(townsNamed('visb', null)[0]).toMatchObject({ place: 'Visby', country: 'SE' });
    const near = townsNamed('london', { lat: 43, lon: -81.2 });
    const far = townsNamed('london', { lat: 51, lon: 0 });
    expect([near[0]!.country, far[0]!.country]).toEqual(['CA', 'GB']);
    expect(townsNamed('v', null)).toEqual([]);
  });
  test('the largest towns of a box, also across the date line', () => {
    expect(townsIn([17, 57, 19.5, 58.2], 3).map((t) => t.place)).toContain('Visby');
    const across = townsIn([177, -20, -178, -15], 20);
    expect(across.length).toBeGreaterThan(2);
    expect(across.every((t) => t.lon > 176 || t.lon < -177)).toBe(true);
  });
});

describe('dates that only know some days', () => {
  test.each(['about 1960', 'summer 1988', 'July 1974', '1960s', 'about 16 May 2026'])(
    '%s is read back from a sidecar as it was written',
    async (words) => {
      const span = readWhen(words, 2026)!;
      const folder = mkdtempSync(path.join(tmpdir(), 'gemmel-said-'));
      const file = path.join(folder, 'a.jpg.xmp');
      writeFileSync(
        file,
        toXmp({
          title: null,
          caption: null,
          rating: 0,
          favourite: false,
          label: null,
          tags: [],
          paths: [],
          position: null,
          taken: null,
          span,
          width: 4,
          height: 3,
          faces: [],
        }),
      );
      expect((await readSidecar(file)).taken).toMatchObject({ local: middleOf(span), source: 'written', span });
      rmSync(folder, { recursive: true });
    },
  );
});

describe('places, dates and folders of a library', () => {
  let house: House;
  let ids: number[];
  const every = { question: { all: [] } };
  const at = async (id: number) => house.call('picture', { params: { id } });

  beforeAll(async () => {
    house = await openHouse();
    const folder = path.join(house.app.config.data, 'came', 'Summer 1988');
    mkdirSync(path.join(folder, 'lake'), { recursive: true });
    const draw = (n: number) =>
      sharp({ create: { width: 64, height: 48, channels: 3, background: { r: 20 * n, g: 90, b: 200 - 20 * n } } });
    for (let n = 0; n < 3; n++) writeFileSync(path.join(folder, `scan ${n}.png`), await draw(n).png().toBuffer());
    writeFileSync(path.join(folder, 'lake', '20240817_173727.png'), await draw(5).png().toBuffer());
    writeFileSync(path.join(folder, 'lake', '20240817_180000.png'), await draw(6).png().toBuffer());
    await house.takeIn(folder, 'Summer 1988');
    const { tiles } = await house.call('pictures', { body: every });
    ids = tiles.map((tile) => tile.id).sort((a, b) => a - b);
    const named = new Map(await Promise.all(ids.map(async (id) => [(await at(id)).name, id] as const)));
    ids = ['scan 0.png', 'scan 1.png', 'scan 2.png', '20240817_173727.png', '20240817_180000.png'].map((name) =>
      named.get(name)!,
    );
  });
  afterAll(() => house?.stop());

  test('a folder that only knows its summer dates its pictures to it, and files them so', async () => {
    const scan = await at(ids[0]!);
    expect(scan).toMatchObject({ takenSpan: { exact: 'season', from: '1988-06-01', to: '1988-08-31' }, event: null });
    expect(scan.keptAt).toMatch(/^1988\/1988 summer\//);
    const found = async (question: object) => (await house.call('count', { body: { question } as never })).count;
    expect(await found({ taken: { from: '1988-01-01', to: '1988-12-31' } })).toBe(3);
    expect(await found({ taken: { from: '1988-07-01', to: '1988-07-31' } })).toBe(0);
    expect(await found({ taken: { only: '1988' } })).toBe(3);
    const { days } = await house.call('skeleton', { body: every });
    expect(days).toContainEqual(['1988-07-16', 3, '1988-22']);
  });

  test('folders stand as they came, with sums; one can be asked for alone, and becomes an album', async () => {
    const { folders } = await house.call('folders', {});
    const [top, lake] = ['Summer 1988', 'lake'].map((name) => folders.find((f) => f.name === name)!);
    expect(top).toMatchObject({ parent: null, pictures: 3 });
    expect(lake).toMatchObject({ parent: top!.id, pictures: 2, last: '2024-08-17' });
    const count = async (folder: object) =>
      (await house.call('count', { body: { question: { folder } as never } })).count;
    expect(await count({ id: top!.id })).toBe(5);
    expect(await count({ id: top!.id, only: true })).toBe(3);
    const { id } = await house.call('makeAlbum', { body: { name: 'The lake', folder: lake!.id } });
    expect((await house.call('album', { params: { id } })).ids).toHaveLength(2);
    expect((await at(ids[3]!)).folder).toEqual({ id: lake!.id, name: 'lake' });
  });

  test('dates are mended as the preview says, written beside the picture, and taken back exactly', async () => {
    const how = { set: 'about 1960' };
    const preview = await house.call('previewDates', { body: { ids: ids.slice(0, 2), how } });
    expect(preview).toMatchObject({ changed: 2, left: 0 });
    expect(preview.pictures[0]!.after).toMatchObject({ span: { exact: 'year', about: true } });
    const was = await at(ids[0]!);
    const before = await house.call('mendDates', { body: { ids: ids.slice(0, 2), how } });
    await house.quiet();
    const mended = await at(ids[0]!);
    expect(mended).toMatchObject({ takenSpan: { from: '1960-01-01', about: true }, takenSource: 'hand' });
    expect(mended.keptAt).toMatch(/^1960\/1960\//);
    const sidecar = readFileSync(path.join(house.app.paths.vault, 'home', `${mended.keptAt}.xmp`), 'utf8');
    expect(sidecar).toContain('<exif:DateTimeOriginal>1960</exif:DateTimeOriginal>');
    expect(sidecar).toContain('<gemmel:taken>1960~</gemmel:taken>');
    await house.undo(before);
    await house.quiet();
    expect(await at(ids[0]!)).toEqual(was);
  });

  test('an event whose every picture is dated elsewhere has its name again when that is undone', async () => {
    await house.call('mendDates', { body: { ids: ids.slice(3), how: { from: 'file name' } } });
    await house.quiet();
    const event = (await at(ids[3]!)).event!.id;
    await house.call('nameEvent', { params: { id: event }, body: { title: 'At the lake' } });
    const before = await house.call('mendDates', { body: { ids: ids.slice(3), how: { set: '1974' } } });
    await house.quiet();
    expect((await at(ids[3]!)).event).toBeNull();
    await house.undo(before);
    await house.quiet();
    expect((await at(ids[3]!)).event).toEqual({ id: event, title: 'At the lake' });
    await house.call('nameEvent', { params: { id: event }, body: { title: null } });
  });

  test('dates come from names, in an order, and by an amount; what says nothing stays', async () => {
    const mend = (some: number[], how: object) => house.call('mendDates', { body: { ids: some, how: how as never } });
    const undo = await mend(ids, { from: 'file name' });
    // They say so already: nothing was done that could be taken back.
    expect(undo.act).toBeNull();
    expect((await at(ids[3]!)).takenSource).toBe('file name');
    await mend(ids.slice(0, 3), { order: { from: '1 July 1974 12:00', step: 30 } });
    expect((await Promise.all(ids.slice(0, 3).map(at))).map((p) => p.taken?.slice(0, 19))).toEqual([
      '1974-07-01T12:00:00',
      '1974-07-01T12:00:30',
      '1974-07-01T12:01:00',
    ]);
    await mend([ids[0]!], { shift: -86_400 });
    expect((await at(ids[0]!)).taken).toBe('1974-06-30T12:00:00.000');
    await expect(mend([ids[0]!], { set: 'kite day' })).rejects.toThrow('not a date');
    await expect(mend([ids[0]!], { shift: 4e9 * 3 })).rejects.toThrow();
    await mend([ids[1]!], { none: true });
    expect(await at(ids[1]!)).toMatchObject({ taken: null, takenSource: null, event: null });
  });

  test('a date taken away while events are found: the picture is not filed by the date it had', async () => {
    const { db } = house.app;
    const id = ids[2]!;
    await house.quiet();
    await db('pictures').where({ id }).update({ event_id: null });
    // Held and undated by one, read with its old date and waited for by the other.
    const taking = await db.transaction();
    await taking('pictures').where({ id }).update({ taken_local: null, day: null, taken_source: null });
    const finding = refreshEvents(house.app, { library: 1 });
    await new Promise((wait) => setTimeout(wait, 400));
    await taking.commit();
    await finding;
    expect((await at(id)).event).toBeNull();
  });

  test('a place is given, named, asked for in every way, written beside, and taken back', async () => {
    const some = ids.slice(0, 2);
    const before = await house.call('givePlace', { body: { given: [{ ids: some, spot: VISBY }] } });
    await house.quiet();
    const placed = await at(ids[0]!);
    expect(placed).toMatchObject({ where: { country: 'SE', place: 'Visby' }, placeSource: 'hand', position: VISBY });
    const sidecar = readFileSync(path.join(house.app.paths.vault, 'home', `${placed.keptAt}.xmp`), 'utf8');
    expect(sidecar).toContain('<exif:GPSLatitude>57,38.454');
    const count = async (where: object) =>
      (await house.call('count', { body: { question: { where } as never } })).count;
    expect(await count({ country: 'SE' })).toBe(2);
    expect(await count({ country: 'SE', region: placed.where!.region! })).toBe(2);
    expect(await count({ box: [18, 57, 19, 58] })).toBe(2);
    expect(await count({ circle: { ...PORTO, km: 100 } })).toBe(0);
    const columns = await house.call('positions', { body: every });
    expect(columns).toMatchObject({ lats: [5764090, 0], lons: [1829600, 0] });
    await house.undo(before);
    expect(await at(ids[0]!)).toMatchObject({ where: null, position: null, placeSource: null });
    await expect(
      house.call('givePlace', {
        body: {
          given: [
            { ids: [ids[0]!], spot: VISBY },
            { ids: [ids[0]!], spot: null },
          ],
        },
      }),
    ).rejects.toThrow('one place only');
  });

  test('a place of the household’s own overrides the town, is found by its name, and hides its pictures from guests', async () => {
    await house.call('givePlace', {
      body: {
        given: [
          { ids: [ids[0]!], spot: VISBY },
          { ids: [ids[1]!], spot: PORTO },
        ],
      },
    });
    const { id } = await house.call('makeOwnPlace', { body: { name: 'Home', ...VISBY, metres: 300, hidden: true } });
    expect((await at(ids[0]!)).ownPlace).toEqual({ id, name: 'Home' });
    expect((await at(ids[1]!)).where).toMatchObject({ country: 'PT', place: 'Porto' });
    expect((await house.call('searchPlaces', { body: { typed: 'hom' } })).places[0]).toMatchObject({ name: 'Home' });
    expect((await house.call('count', { body: { question: { where: { own: id } } } })).count).toBe(1);
    const { share } = await house.call('openShare', {
      body: {
        title: 'For Gran',
        of: { ids: ids.slice(0, 2) },
        reach: 'house',
        until: null,
        tells: { ...TELLS_NOTHING, places: true },
      },
    });
    const guest = await house.call('guest', { params: { token: share.path!.split('/').pop()! } });
    expect(guest.pictures.map((p) => p.town)).toEqual([null, { name: 'Porto', country: 'PT' }]);
    const { share: plain } = await house.call('openShare', {
      body: { title: 'Plain', of: { ids: ids.slice(0, 2) }, reach: 'house', until: null },
    });
    const seen = await house.call('guest', { params: { token: plain.path!.split('/').pop()! } });
    expect(seen.pictures.map((p) => p.town)).toEqual([null, null]);
    await house.call('changeOwnPlace', { params: { id }, body: { hidden: false } });
    const removed = await house.call('removeOwnPlace', { params: { id } });
    expect(await at(ids[0]!)).toMatchObject({ ownPlace: null, where: { country: 'SE', place: 'Visby' } });
    await house.undo(removed);
    expect((await at(ids[0]!)).ownPlace).toEqual({ id, name: 'Home' });
  });

  test('a recorded track places what lies on it, with the camera’s clock put right', async () => {
    await house.call('mendDates', { body: { ids: [ids[3]!], how: { set: '17 August 2024 16:35' } } });
    await house.call('mendDates', { body: { ids: [ids[3]!], how: { zone: 120, keep: 'clock' } } });
    const start = Date.parse('2024-08-17T15:30:00Z');
    const track = [0, 10, 20].map((m): [number, number, number] => [start + m * 60_000, 57.6 + m / 1000, 18.3]);
    const ask = (shift: number) =>
      house.call('byTrack', { body: { ids: [ids[3]!, ids[1]!], track, shift, tolerance: 600 } });
    expect(await ask(0)).toEqual({ placed: [], left: 2 });
    // The camera was an hour behind: 16:35 by it was 17:35, 15:35 in Greenwich.
    const { placed, left } = await ask(3600);
    expect(left).toBe(1);
    expect(placed).toEqual([{ id: ids[3], lat: expect.closeTo(57.605, 9), lon: 18.3, seconds: 300 }]);
  });

  test('the sitting asks about what is open: events to name, pictures between two at a place, pictures without a date', async () => {
    await house.call('mendDates', {
      body: { ids: ids.slice(2, 5), how: { order: { from: '5 May 2026 10:00', step: 600 } } },
    });
    await house.call('givePlace', {
      body: {
        given: [
          { ids: [ids[2]!, ids[4]!], spot: VISBY },
          { ids: [ids[3]!], spot: null },
        ],
      },
    });
    await house.quiet();
    const open = await house.call('sitting', {});
    expect(open.undated.map((u) => u.ids)).toEqual([[ids[1]]]);
    expect(open.undated[0]).toMatchObject({ name: 'Summer 1988', guess: { exact: 'season' } });
    expect(open.unplaced).toMatchObject([
      { ids: [ids[3]], name: 'Home', before: { id: ids[2] }, after: { id: ids[4] } },
    ]);
    expect(open.events[0]!.best.map((b) => b.id)).toContain(ids[3]);
    expect(open.unnamed).toBe(open.events.length);
  });

  test('an event has the days, the place and the cover that people say, and lets go of what lies outside', async () => {
    const { events } = await house.call('events', {});
    const event = events.find((e) => e.start === '2026-05-05')!;
    const undo = await house.call('changeEvent', {
      params: { id: event.id },
      body: { span: { from: '2026-05-01', to: '2026-05-09' }, place: 'The allotment', cover: ids[3]! },
    });
    await house.quiet();
    const said = (await house.call('event', { params: { id: event.id } })).event;
    expect(said).toMatchObject({
      start: '2026-05-01',
      end: '2026-05-09',
      spanByHand: true,
      place: 'The allotment',
      cover: ids[3],
      pictures: 3,
    });
    await expect(house.call('changeEvent', { params: { id: event.id }, body: { cover: ids[0]! } })).rejects.toThrow(
      'picture of the event',
    );
    await house.undo(undo);
    expect((await house.call('event', { params: { id: event.id } })).event).toMatchObject({
      start: '2026-05-05',
      spanByHand: false,
      cover: null,
    });
  });

  test('the vault is laid out in another way and back, every file found where its row says', async () => {
    const all = async () => Promise.all(ids.map(async (id) => (await at(id)).keptAt));
    await house.quiet();
    const first = await all();
    const changed = await house.call('setVaultLayout', { body: { layout: 'year/month' } });
    await house.quiet();
    const then = await all();
    expect(then.some((p) => /^2026\/2026-05\//.test(p))).toBe(true);
    for (const kept of then) expect(existsSync(path.join(house.app.paths.vault, 'home', kept))).toBe(true);
    await house.undo(changed);
    await house.quiet();
    expect(await all()).toEqual(first);
    const state = await house.call('vaultLayout', {});
    expect(state).toMatchObject({ layout: 'year/event', moving: null });
  });

  test('a street map in the data folder is listed and sent in ranges; nothing else of the folder is', async () => {
    writeFileSync(path.join(house.app.config.data, 'town.pmtiles'), 'PMTiles and more');
    expect((await house.call('streetMaps', {})).maps).toEqual(['town.pmtiles']);
    const part = await house.fetch('/api/map/street/town.pmtiles', { headers: { range: 'bytes=0-6' } });
    expect([part.status, await part.text()]).toEqual([206, 'PMTiles']);
    for (const name of ['secrets.json', '..%2Fsecrets.json', 'db'])
      expect((await house.fetch(`/api/map/street/${name}`)).status).toBe(404);
  });
});
