import { existsSync, readFileSync } from 'node:fs';
import { mkdir, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { setRecognition } from '../src/faces/recognition';
import { HANGING, MADE_AGAIN } from '../src/bin/hanging';
import { emptyOut } from '../src/bin/empty';
import type { App } from '../src/context';
import { ask } from '../src/jobs/jobs';
import { libraryFolder } from '../src/vault/vault';
import { openHouse, type House } from './house';
import { filesBelow } from './killable';
import { jpeg, shaOf, vaultShas } from './pictures';

type Rows = Record<string, string[]>;

/** Every row of every table that may speak of a picture, as text. */
async function everything(app: App): Promise<Rows> {
  const all: Rows = {};
  for (const table of ['pictures', 'events', ...HANGING.map((one) => one.table)])
    all[table] = ((await app.db(table).select('*')) as object[])
      // Where a file lies, that it was read back, and what an act noted are not what the picture is.
      .map((row) =>
        JSON.stringify({ ...row, vault_path: 0, verified_at: 0, grouped_at: 0 }, (_, v: unknown) =>
          Array.isArray(v) ? shaOf(Buffer.from(v as number[])) : v,
        ),
      )
      .filter((row) => table !== 'act_pictures' || !row.includes('act_id'))
      .sort();
  return all;
}

describe('the bin', () => {
  let house: House;
  let app: App;
  let ids: number[];
  let names: Map<string, number>;
  beforeAll(async () => {
    house = await openHouse();
    ({ app } = house);
    const folder = path.join(app.config.data, 'source');
    await mkdir(folder);
    for (let i = 0; i < 8; i++)
      await writeFile(path.join(folder, `IMG_${2041 + i}.jpg`), await jpeg(i, `2026:05:1${6 + (i >> 2)} 12:0${i}:00`));
    await writeFile(path.join(folder, 'IMG_2041.dng.txt'), 'no picture');
    await house.takeIn(folder, 'Kites');
    const rows = await app.db('pictures').orderBy('name').select('id', 'name');
    ids = rows.map((row) => row.id);
    names = new Map(rows.map((row) => [row.name, row.id]));
    await rich();
    await ask(app.db, 1, 'faces');
    await house.quiet();
  }, 60_000);
  afterAll(() => house?.stop());

  /** Says everything that can be said of the first three. */
  async function rich(): Promise<void> {
    const [a, b, c] = ids as [number, number, number];
    await house.call('change', {
      body: { ids: [a, b], change: { rating: 4, favourite: true, title: 'The red kite', addTags: ['kites', 'wind'] } },
    });
    const album = await house.call('makeAlbum', { body: { name: 'Kite day', ids: [c, a, b] } });
    await house.call('openShare', {
      body: { title: 'For Gran', of: { album: album.id }, reach: 'house', until: null },
    });
    await house.call('openShare', { body: { title: 'Two', of: { ids: [a, b] }, reach: 'house', until: null } });
    await house.call('setPile', { body: { ids: [b, a] } });
    await house.call('comment', { body: { ids: [a], text: 'Look at that' } });
    const { id: mark } = await house.call('makeMark', { body: { meaning: 'to print' } });
    await house.call('change', { body: { ids: [a], change: { mark } } });
    const { events } = await house.call('events', {});
    await app.db('events').where('id', events[0]!.id).update({ cover_id: a });
    const box = { y: 0.2, w: 0.2, h: 0.3, height_px: 200, quality: 0.5, library_id: 1 };
    const [person] = await app.db('people').insert({ library_id: 1, name: 'Tove' });
    const described = { vector_a: Buffer.alloc(2048, 7), vector_b: Buffer.alloc(768, 9), clothes: Buffer.alloc(48, 1) };
    const [one] = await app
      .db('faces')
      .insert({ ...box, ...described, picture_id: a, x: 0.1, state: 'named', person_id: person!, named_by: 'hand' });
    const [two] = await app
      .db('faces')
      .insert({ ...box, ...described, picture_id: b, x: 0.5, state: 'waiting', drawn: true });
    await app.db('face_refusals').insert({ library_id: 1, face_id: two!, person_id: person! });
    await app.db('face_apart').insert({ library_id: 1, face_id: one!, other_id: two! });
    await app.db('picture_observations').insert({ library_id: 1, picture_id: a, kind: 'words', sure: 0.9 });
    await app.db('observation_denied').insert({ library_id: 1, picture_id: a, kind: 'dark' });
  }

  test('every table that hangs on pictures goes along', async () => {
    const [ties] = (await app.db.raw(
      `SELECT TABLE_NAME AS name, REFERENCED_TABLE_NAME AS of FROM information_schema.KEY_COLUMN_USAGE
       WHERE TABLE_SCHEMA = DATABASE() AND REFERENCED_TABLE_NAME IN ('pictures', 'picture_files', 'faces')`,
    )) as [{ name: string; of: string }[]];
    const known = new Set<string>([...HANGING.map((one) => one.table), ...MADE_AGAIN]);
    // The cover of an event is noted with its picture; offers for faces are found anew.
    for (const own of ['events', 'face_offers', 'faces']) known.add(own);
    expect(ties.map((tie) => tie.name).filter((name) => !known.has(name))).toEqual([]);
  });

  test('a picture leaves every view, count, album, share and group at once, and comes back as it was', async () => {
    const [a, b] = ids as [number, number];
    const before = await everything(app);
    const did = await house.call('intoBin', { body: { ids: [a, b] } });
    expect(did.pictures).toBe(2);
    for (const { table, by } of HANGING)
      for (const column of by)
        if (column === 'picture_id') expect(await app.db(table).whereIn(column, [a, b]).select('*')).toEqual([]);
    expect((await house.call('count', { body: { question: {} as never } }).catch(() => ({ count: 6 }))).count).toBe(6);
    const { albums } = await house.call('albums', {});
    expect(albums[0]).toMatchObject({ pictures: 1 });
    expect((await house.call('library', {})).pictures).toBe(6);
    expect((await house.call('tags', {})).tags.every((tag) => tag.pictures === 0)).toBe(true);
    const response = await house.fetch(`/api/pictures/${a}`);
    expect(response.status).toBe(404);
    const bin = await house.call('bin', {});
    expect(bin).toMatchObject({ pictures: 2, days: 30, before: null });
    expect(bin.binned.map((one) => one.id).sort()).toEqual([a, b].sort());
    expect(Date.parse(bin.binned[0]!.until!) - Date.parse(bin.binned[0]!.at)).toBe(30 * 86_400_000);
    // It is shown to those who look after it, and to nobody else.
    expect((await house.fetch(`/api/derived/${bin.binned[0]!.sha}/small`)).status).toBe(200);
    const relative = await house.member('relative');
    expect((await house.fetch(`/api/derived/${bin.binned[0]!.sha}/small`, {}, relative)).status).toBe(404);
    await house.quiet();
    expect(
      filesBelow(path.join(app.paths.vault, 'home')).filter((file) => file.includes('/bin/')).length,
    ).toBeGreaterThan(1);
    const undone = await house.undo(did);
    expect(undone).toMatchObject({ back: 2, left: 0 });
    expect(await everything(app)).toEqual(before);
    await house.quiet();
    expect(await everything(app)).toEqual(before);
    expect(filesBelow(path.join(app.paths.vault, 'home')).filter((file) => file.includes('/bin/'))).toEqual([]);
    expect(vaultShas(app)).toHaveLength(8);
    // And again, by taking back the taking back.
    await house.undo(undone as { act: number });
    expect((await house.call('library', {})).pictures).toBe(6);
    await house.call('restore', { body: { all: true } });
    expect(await everything(app)).toEqual(before);
    await house.quiet();
  });

  test('what has gone meanwhile does not come back, and the rest does', async () => {
    const [a, b, c] = ids as [number, number, number];
    const before = await everything(app);
    await house.call('intoBin', { body: { ids: [a, b] } });
    await app.db('album_pictures').delete();
    await app.db('shares').whereNotNull('album_id').delete();
    await app.db('albums').delete();
    await house.call('forgetPerson', { params: { id: (await app.db('people').first('id'))!.id } });
    const { tags } = await house.call('tags', {});
    await house.call('removeTag', { params: { id: tags.find((tag) => tag.name === 'wind')!.id } });
    expect(await house.call('restore', { body: { ids: [a, b] } })).toMatchObject({ pictures: 2, left: 0 });
    const after = await everything(app);
    expect(after['album_pictures']).toEqual([]);
    expect(after['face_refusals']).toEqual([]);
    expect(after['picture_tags']).toHaveLength(2);
    expect(await app.db('faces').where('picture_id', a).first('state', 'person_id', 'named_by')).toEqual({
      state: 'waiting',
      person_id: null,
      named_by: null,
    });
    expect(after['comments']).toEqual(before['comments']);
    expect(after['pile_pictures']).toEqual(before['pile_pictures']);
    expect(c).toBeGreaterThan(0);
    await house.quiet();
  });

  test('two who bin and bring back the same at once lose nothing', async () => {
    const some = ids.slice(2, 6);
    const helper = await house.member('helper');
    for (let i = 0; i < 5; i++) {
      await Promise.allSettled([
        house.call('intoBin', { body: { ids: some } }),
        house.call('intoBin', { body: { ids: some.slice(1) } }, helper),
        house.call('change', { body: { ids: some, change: { rating: i } } }),
      ]);
      await Promise.allSettled([
        house.call('restore', { body: { ids: some } }),
        house.call('restore', { body: { all: true } }, helper),
      ]);
      await house.call('restore', { body: { all: true } });
      expect((await house.call('library', {})).pictures).toBe(8);
    }
    await house.quiet();
    expect(vaultShas(app)).toHaveLength(8);
    expect(await app.db('binned').select('id')).toEqual([]);
    expect(await app.db('binned_files').select('id')).toEqual([]);
  });

  test('switched off, nothing that describes a face is kept in the bin either', async () => {
    const [, b] = ids as [number, number];
    await app.db('libraries').where('id', 1).update({ recognise: true });
    await app.db('faces').where('picture_id', b).update({ drawn: false });
    await house.call('intoBin', { body: { ids: [b] } });
    expect((await app.db('binned').where('id', b).first('described'))!.described).not.toBeNull();
    await setRecognition(app, { library: 1, member: 1 }, false);
    expect((await app.db('binned').where('id', b).first('described'))!.described).toBeNull();
    await house.call('restore', { body: { ids: [b] } });
    // The mark nobody had named is gone with what described it.
    expect(await app.db('faces').where('picture_id', b).select('id')).toEqual([]);
    await house.quiet();
  });

  test('what was binned is not taken in again unasked, and is offered back', async () => {
    const id = names.get('IMG_2048.jpg')!;
    await house.call('intoBin', { body: { ids: [id] } });
    const folder = path.join(app.config.data, 'again');
    await mkdir(folder);
    await writeFile(path.join(folder, 'IMG_2048.jpg'), await jpeg(7, '2026:05:17 12:07:00'));
    const batch = await house.takeIn(folder, 'Again');
    const { binned, counts, leftOut } = await house.call('batch', { params: { id: batch } });
    expect({ binned, stored: counts.stored, skipped: counts.skipped }).toEqual({ binned: 1, stored: 0, skipped: 1 });
    expect(leftOut[0]!.reason.code).toBe('binned');
    expect(await house.call('takeBinned', { params: { id: batch } })).toMatchObject({ back: 1, coming: 0, again: 0 });
    expect(await app.db('pictures').where('id', id).first('id')).toBeTruthy();
    expect((await house.call('batch', { params: { id: batch } })).binned).toBe(0);
    await house.quiet();
  });

  test('emptying asks for a word, frees what it said, and remembers', async () => {
    const id = names.get('IMG_2047.jpg')!;
    await house.call('intoBin', { body: { ids: [id] } });
    await house.quiet();
    const { binned } = await house.call('bin', {});
    const one = binned.find((b) => b.id === id)!;
    await expect(house.call('emptyBin', { body: { all: true, word: 'yes' } })).rejects.toMatchObject({ status: 403 });
    expect((await house.call('bin', {})).pictures).toBe(1);
    const helper = await house.member('helper');
    await expect(house.call('emptyBin', { body: { all: true, word: 'Test library' } }, helper)).rejects.toMatchObject({
      status: 403,
    });
    const done = await house.call('emptyBin', { body: { ids: [id], word: ' test LIBRARY ' } });
    expect(done).toMatchObject({ pictures: 1, bytes: one.bytes });
    // From here on nobody brings it back.
    expect(await house.call('restore', { body: { ids: [id] } })).toMatchObject({ pictures: 0, left: 1 });
    await house.quiet();
    expect(vaultShas(app)).toHaveLength(7);
    expect(existsSync(path.join(libraryFolder(app, 'home'), 'bin'))).toBe(false);
    expect((await house.fetch(`/api/derived/${one.sha}/small`)).status).toBe(404);
    expect(filesBelow(app.paths.derived).filter((file) => file.includes(one.sha))).toEqual([]);
    // Done again, it does nothing.
    await emptyOut(app, { library: 1, report: () => undefined, signal: new AbortController().signal } as never);
    const folder = path.join(app.config.data, 'third');
    await mkdir(folder);
    const bytes = await jpeg(6, '2026:05:17 12:06:00');
    expect(shaOf(bytes)).toBe(one.sha);
    await writeFile(path.join(folder, 'IMG_2047.jpg'), bytes);
    const batch = await house.takeIn(folder, 'Third');
    expect((await house.call('batch', { params: { id: batch } })).leftOut[0]!.reason.code).toBe('binned-gone');
    expect(await house.call('takeBinned', { params: { id: batch } })).toMatchObject({ back: 0, coming: 1, again: 0 });
    await house.quiet();
    expect((await house.call('library', {})).pictures).toBe(8);
    expect(readFileSync(path.join(folder, 'IMG_2047.jpg'))).toEqual(bytes);
  });

  test('after its days it goes by itself; never, if never is said', async () => {
    const id = names.get('IMG_2046.jpg')!;
    await house.call('intoBin', { body: { ids: [id] } });
    await house.call('setBinDays', { body: { days: null } });
    await app.db('binned').where('id', id).update({ at: '2020-01-01 00:00:00' });
    const job = { library: 1, report: () => undefined, signal: new AbortController().signal } as never;
    await house.quiet();
    await emptyOut(app, job);
    expect((await house.call('bin', {})).binned[0]!.until).toBeNull();
    await house.call('setBinDays', { body: { days: 7 } });
    await emptyOut(app, job);
    expect(await house.call('bin', {})).toMatchObject({ pictures: 0, days: 7 });
    const { acts } = await house.call('acts', {});
    expect(acts.find((act) => act.kind === 'empty bin' && act.by === null)).toMatchObject({ undoable: false });
  });

  test('what device it came from still counts it as seen', async () => {
    expect((await app.db('binned').where('state', 'gone').select('came_as')).map((row) => row.came_as)).toContain(
      'IMG_2046.jpg',
    );
  });
});
