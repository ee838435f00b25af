import {
  copyFileSync,
  existsSync,
  lstatSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  renameSync,
  rmSync,
  symlinkSync,
  unlinkSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { addressOf, startMariadb } from '../src/db/mariadb';
import { openDb } from '../src/db/open';
import { openBatch, walk } from '../src/intake/announce';
import { backFolder, leftFolder, settleHome } from '../src/keep/home';
import { hashFile } from '../src/vault/vault';
import { writeBook } from '../src/keep/book';
import { loadBook } from '../src/keep/load';
import { rebuild } from '../src/keep/rebuild';
import { shapeOf } from '../src/keep/shape';
import { SAID, saidOfTable } from '../src/keep/tables';
import { ownDatabase } from './database';
import { compareVault } from '../src/keep/compare';
import { moveAsked } from '../src/keep/renumber';
import { askErase } from '../src/library/erase';
import { pieceFolder } from '../src/piece/folder';
import { restoreAll } from '../src/safe/restore';
import { secretsOf } from '../src/secrets';
import { openHouse, type Caller, type House } from './house';
import { LONG } from './long';
import { jpeg, shaOf } from './pictures';
import { fillTables } from './richLibrary';

jest.setTimeout(40_000);

describe('libraries', () => {
  let house: House;
  let folder: string;
  beforeAll(async () => {
    folder = mkdtempSync(path.join(tmpdir(), 'gemmel-libraries-'));
    house = await openHouse();
    for (let n = 0; n < 8; n++) {
      mkdirSync(path.join(folder, 'in'), { recursive: true });
      writeFileSync(path.join(folder, 'in', `${n}.jpg`), await jpeg(n, `2021:06:0${1 + (n % 4)} 10:0${n}:00`));
    }
    await house.takeIn(path.join(folder, 'in'), 'Eight');
  });
  afterAll(async () => {
    await house?.stop();
    rmSync(folder, { recursive: true, force: true });
  });

  /** Somebody in another of their libraries. */
  const call: House['call'] = (name, input, as) => house.call(name, input, as);
  const inLibrary = async (slug: string, as: Caller = house.keeper) => ({
    fetch: (at: string, init: RequestInit = {}) =>
      house.fetch(at, { ...init, headers: { ...(init.headers as object), 'x-gemmel-library': slug } }, as),
    send: async (method: string, at: string, body?: unknown) => {
      const answer = await house.fetch(
        at,
        {
          method,
          headers: { 'x-gemmel-library': slug, ...(body === undefined ? {} : { 'content-type': 'application/json' }) },
          ...(body === undefined ? {} : { body: JSON.stringify(body) }),
        },
        as,
      );
      return { status: answer.status, body: (await answer.json()) as Record<string, unknown> };
    },
  });
  const root = (slug: string) => path.join(house.app.config.data, 'vault', slug);
  /** Waits until nothing waits or runs; what is kept with its answer counts as done. */
  const still = async () => {
    for (let quiet = 0; quiet < 4;) {
      // What is tried again after a pause waits for its time.
      const open = await house.app
        .db('jobs')
        .whereIn('state', ['ready', 'running'])
        .where((q) => void q.where('state', 'running').orWhere('tries', 0))
        .first('id');
      quiet = open ? 0 : quiet + 1;
      await new Promise((resolve) => setTimeout(resolve, 20));
    }
  };
  const clean = async (library: number, slug: string) => {
    const { missing, unknown } = await compareVault(house.app.db, root(slug), library);
    return { missing, unknown };
  };

  test('one is called otherwise and back, and lists what it holds and who may open it', async () => {
    const done = await call('nameLibrary', { body: { name: 'Pictures of ours' } });
    const { libraries, houseKeeper } = await call('libraries', {});
    expect(houseKeeper).toBe(true);
    expect(libraries).toMatchObject([
      { slug: 'home', name: 'Pictures of ours', pictures: 8, house: true, removed: null, people: [{ name: 'Keeper' }] },
    ]);
    await house.undo(done);
    expect((await call('libraries', {})).libraries[0]!.name).toBe('Test library');
    // The first one looks after the house.
    await expect(call('removeLibrary', { body: { name: 'Test library' } })).rejects.toMatchObject({ status: 409 });
    await expect(call('nameLibrary', { body: { name: 'Mine' } }, await house.member('helper'))).rejects.toMatchObject({
      status: 403,
    });
  });

  test('pictures go to another library with what was said of them, once they are there whole', async () => {
    const { db } = house.app;
    await call('makeLibrary', { body: { name: 'Club' } });
    const club = (await db('libraries').where('slug', 'club').first())!;
    const ids = (await db('pictures').where('library_id', 1).orderBy('id').select('id')).map(({ id }) => id);
    const going = ids.slice(0, 3);
    await call('change', { body: { ids: going, change: { rating: 3, caption: 'Regatta', addTags: ['Boats'] } } });
    const [person] = await db('people').insert({
      library_id: 1,
      name: 'Olle Test',
      nickname: 'Olle',
      born: '1939-04-05',
    });
    await db('faces').insert({
      library_id: 1,
      picture_id: going[0]!,
      x: 0.1,
      y: 0.1,
      w: 0.2,
      h: 0.2,
      height_px: 40,
      quality: 0.5,
      vector_a: Buffer.alloc(0),
      vector_b: Buffer.alloc(0),
      state: 'named',
      named_by: 'hand',
      person_id: person!,
    });
    // A second face, of which somebody said that it is not his.
    const [second] = await db('faces').insert({
      ...(await db('faces').where('person_id', person!).first())!,
      id: undefined as never,
      x: 0.6,
      state: 'not a face',
      named_by: 'hand',
      person_id: null,
    });
    await db('face_refusals').insert({ library_id: 1, face_id: second!, person_id: person! });
    // An album with two headings, of which one has a picture that goes.
    const { id: album } = await call('makeAlbum', { body: { name: 'On the water', ids: [...going, ids[3]!] } });
    await db('albums').insert({
      library_id: club.id,
      kind: 'plain',
      name: 'On the water',
      created_at: '2026-01-01 00:00:00',
      position: 'a0',
    });
    const stands = await db('album_pictures as ap')
      .join('pictures as p', 'p.id', 'ap.picture_id')
      .where('ap.album_id', album)
      .orderBy('ap.position')
      .select('ap.position', 'p.sha256');
    const headed = stands[1]!.sha256 as Buffer;
    await db('album_chapters').insert([
      { library_id: 1, album_id: album, position: stands[1]!.position, heading: 'Under sail', note: null },
      { library_id: 1, album_id: album, position: stands[3]!.position, heading: 'Ashore', note: null },
    ]);
    await house.quiet();
    await expect(call('splitOff', { body: { ids: going, to: 'home' } })).rejects.toMatchObject({ status: 400 });
    await expect(call('splitOff', { body: { ids: going, to: 'nowhere' } })).rejects.toMatchObject({ status: 404 });
    await call('splitOff', { body: { ids: going, to: 'club' } });
    await still();
    const { splits } = await call('keeping', {});
    expect(splits).toMatchObject([{ to: 'Club', state: 'done', pictures: 3, arrived: 3, leftHere: 0 }]);
    const there = await db('pictures').where('library_id', club.id).orderBy('id').select('id', 'rating', 'caption');
    expect(there.map(({ rating, caption }) => [rating, caption])).toEqual(Array(3).fill([3, 'Regatta']));
    expect(await db('people').where('library_id', club.id).first('name', 'nickname', 'born')).toMatchObject({
      nickname: 'Olle',
      born: '1939-04-05',
    });
    expect(await db('faces').where({ library_id: club.id, state: 'named' }).first('id')).toBeDefined();
    expect(
      await db('face_refusals as r')
        .join('people as p', 'p.id', 'r.person_id')
        .join('faces as f', 'f.id', 'r.face_id')
        .where('r.library_id', club.id)
        .select('p.name', 'f.state'),
    ).toEqual([{ name: 'Olle Test', state: 'not a face' }]);
    const water = (await db('album_pictures as ap')
      .join('albums as a', 'a.id', 'ap.album_id')
      .join('pictures as p', 'p.id', 'ap.picture_id')
      .where({ 'a.library_id': club.id, 'a.name': 'On the water' })
      .orderBy('ap.position')
      .select('ap.position', 'p.sha256')) as { position: string; sha256: Buffer }[];
    expect(water).toHaveLength(3);
    const headings = await db('album_chapters').where('library_id', club.id).select('heading', 'position');
    expect(headings.map(({ heading }) => heading)).toEqual(['Under sail']);
    // It stands right before the picture it stood before, in whatever order they came.
    const at = water.findIndex(({ sha256 }) => sha256.equals(headed));
    expect(headings[0]!.position < water[at]!.position).toBe(true);
    if (at > 0) expect(water[at - 1]!.position < headings[0]!.position).toBe(true);
    expect(await db('pictures').where('library_id', 1).whereIn('id', going).first('id')).toBeUndefined();
    expect((await db('binned').where({ library_id: 1, state: 'in' })).length).toBe(3);
    expect([await clean(1, 'home'), await clean(club.id, 'club')]).toEqual(Array(2).fill({ missing: [], unknown: [] }));
  });

  test('there and back and there again, with what was said on the way; and both are rebuilt from their books', async () => {
    const { db } = house.app;
    const club = (await db('libraries').where('slug', 'club').first('id'))!;
    const of = async (library: number) =>
      db('pictures')
        .where({ library_id: library, caption: 'Regatta' })
        .orderBy('sha256')
        .select('id', 'title', 'rating');
    const { send } = await inLibrary('club');
    const there = (await of(club.id)).map(({ id }) => id);
    await send('POST', '/api/pictures/change', { ids: there, change: { title: 'Under sail' } });
    await still();
    expect((await send('POST', '/api/library/split', { ids: there, to: 'home' })).status).toBe(200);
    await still();
    expect((await of(1)).map(({ title, rating }) => [title, rating])).toEqual(Array(3).fill(['Under sail', 3]));
    const here = (await of(1)).map(({ id }) => id);
    await call('change', { body: { ids: here, change: { rating: 5 } } });
    await call('splitOff', { body: { ids: here, to: 'club' } });
    await still();
    expect((await of(club.id)).map(({ title, rating }) => [title, rating])).toEqual(Array(3).fill(['Under sail', 5]));
    expect([await clean(1, 'home'), await clean(club.id, 'club')]).toEqual(Array(2).fill({ missing: [], unknown: [] }));
    const { db: fresh } = await ownDatabase();
    for (const { id, slug } of await db('libraries').select('id', 'slug')) {
      const book = path.join(folder, `${slug}.json`);
      await writeBook(db, id, book);
      await fresh.transaction((trx) => loadBook(trx, book));
      for (const table of SAID) {
        const { columns, key } = await shapeOf(db, table);
        const { made = [] } = saidOfTable(table)!;
        const names = columns.map(({ name }) => name).filter((name) => !made.includes(name));
        const rows = (on: typeof db) =>
          on(table as string)
            .where(table === 'libraries' ? 'id' : 'library_id', id)
            .orderBy([...key])
            .select(names);
        expect([slug, table, await rows(fresh)]).toEqual([slug, table, await rows(db)]);
      }
    }
    await fresh.destroy();
  });

  test('copied into a folder whole in itself, and opened again as a further library: every word, under numbers of its own', async () => {
    const { db } = house.app;
    const [first, second] = (await db('pictures').where('library_id', 1).orderBy('id').select('id')) as {
      id: number;
    }[];
    for (const picture_id of [first!.id, second!.id])
      await db('faces').insert({
        library_id: 1,
        picture_id,
        x: 0.2,
        y: 0.2,
        w: 0.2,
        h: 0.2,
        height_px: 40,
        quality: 0.5,
        vector_a: Buffer.alloc(0),
        vector_b: Buffer.alloc(0),
      });
    await fillTables(db, 1);
    // The file beside a picture that was made up is one.
    const beside = Buffer.from('beside');
    writeFileSync(path.join(root('home'), 'beside.mov'), beside);
    await db('picture_files')
      .where('library_id', 1)
      .update({ vault_path: 'beside.mov', bytes: beside.length, sha256: Buffer.from(shaOf(beside), 'hex') });
    const picture = (await db('pictures').where('library_id', 1).orderBy('id').first('id'))!;
    const person = (await db('people').where('library_id', 1).orderBy('id').first('id'))!;
    const question = {
      v: 1,
      question: { all: [{ who: { people: [person.id], mode: 'all' } }, { rating: { min: 3 } }] },
    };
    await db('albums')
      .where('library_id', 1)
      .update({ kind: 'smart', question: JSON.stringify(question) });
    await db('album_pictures').where('library_id', 1).update({ picture_id: picture.id });
    const to = path.join(folder, 'out');
    await call('exportLibrary', { body: { folder: to } });
    await still();
    expect((await call('keeping', {})).export).toMatchObject({ state: 'done', result: { damaged: 0, to } });
    expect(readdirSync(to).sort()).toEqual(expect.arrayContaining(['READ-ME.txt', 'gemmel.json', 'vault']));
    // A damaged file of that folder is told and left out.
    await call('openLibrary', { body: { folder: to } });
    await still();
    const { open } = await call('keeping', {});
    expect(open).toMatchObject({ state: 'done', result: { name: 'Test library', missing: 0, slug: 'test-library' } });
    const copy = (await db('libraries').where('slug', 'test-library').first())!;
    const shas = async (library: number) =>
      (await db('pictures')
        .where('library_id', library)
        .orderBy('sha256')
        .select('sha256', 'rating', 'caption', 'day')) as unknown[];
    expect(await shas(copy.id)).toEqual(await shas(1));
    const album = (await db('albums').where('library_id', copy.id).whereNotNull('question').first('id', 'question'))!;
    const other = (await db('people').where({ library_id: copy.id, name: 'Olle Test' }).first('id'))!;
    expect(typeof album.question === 'string' ? JSON.parse(album.question) : album.question).toEqual({
      v: 1,
      question: { all: [{ who: { people: [other.id], mode: 'all' } }, { rating: { min: 3 } }] },
    });
    expect(
      await db('album_pictures as a')
        .join('pictures as p', 'p.id', 'a.picture_id')
        .where('a.library_id', copy.id)
        .whereNot('p.library_id', copy.id)
        .first('a.album_id'),
    ).toBeUndefined();
    // Whoever opened it is its keeper; whoever was in it elsewhere is a name.
    expect(
      await db('members').where({ library_id: copy.id }).whereNull('left_at').select('part', 'name'),
    ).toMatchObject([{ part: 'keeper', name: 'Keeper' }]);
    expect(await clean(copy.id, 'test-library')).toEqual({ missing: [], unknown: [] });
    // Pictures in the bin come back there.
    const club = await inLibrary('test-library');
    const back = await club.send('POST', '/api/bin/restore', { all: true });
    expect(back.body).toMatchObject({ pictures: 3 });
    await still();
    expect(await clean(copy.id, 'test-library')).toEqual({ missing: [], unknown: [] });
    await call('openLibrary', { body: { folder: path.join(folder, 'in') } });
    for (let i = 0; i < 200 && (await call('keeping', {})).open?.state !== 'failed'; i++)
      await new Promise((resolve) => setTimeout(resolve, 50));
    expect((await call('keeping', {})).open).toMatchObject({ state: 'failed', why: { code: 'no-library-there' } });
    await expect(call('exportLibrary', { body: { folder: 'relative' } })).rejects.toMatchObject({ status: 400 });
  });

  test('removed, nobody reaches it; brought back it is as it was; gone for good it leaves nothing but the others', async () => {
    const { db, config } = house.app;
    const copy = (await db('libraries').where('slug', 'test-library').first())!;
    const there = await inLibrary('test-library');
    expect((await there.send('DELETE', '/api/library', { name: 'Another' })).status).toBe(400);
    expect((await there.send('DELETE', '/api/library', { name: 'test library' })).status).toBe(200);
    expect((await there.send('GET', '/api/library')).status).toBe(403);
    const me = await call('me', {});
    expect(me.libraries.map(({ slug }) => slug)).toEqual(['home', 'club']);
    expect((await call('libraries', {})).libraries.at(-1)).toMatchObject({
      slug: 'test-library',
      removed: { at: expect.any(String) as string },
    });
    await call('bringLibraryBack', { params: { slug: 'test-library' } });
    expect((await there.send('GET', '/api/library')).status).toBe(200);
    await there.send('DELETE', '/api/library', { name: 'Test library' });
    // Not yet: there are thirty days.
    await askErase(house.app);
    await still();
    expect(existsSync(root('test-library'))).toBe(true);
    await db('libraries')
      .where('id', copy.id)
      .update({ removed_at: db.raw('UTC_TIMESTAMP(3) - INTERVAL 31 DAY') });
    const before = await db('pictures').where('library_id', 1).orderBy('id').select('id', 'vault_path');
    // Its pieces leave no files; another library's keep theirs.
    const folders: string[] = [];
    for (const library_id of [copy.id, 1]) {
      const [piece] = await db('pieces').insert({
        library_id,
        kind: 'prints',
        name: 'Prints',
        source: '{}',
        settings: '{}',
      });
      folders.push(pieceFolder(house.app, piece!));
      mkdirSync(folders.at(-1)!, { recursive: true });
      writeFileSync(path.join(folders.at(-1)!, 'made.pdf'), 'made');
    }
    await askErase(house.app);
    house.runner.nudge();
    for (let i = 0; i < 400 && (await db('libraries').where('id', copy.id).first('id')); i++)
      await new Promise((resolve) => setTimeout(resolve, 25));
    await still();
    expect(await db('libraries').where('id', copy.id).first('id')).toBeUndefined();
    const [tables] = (await db.raw(
      "SELECT TABLE_NAME AS name FROM information_schema.COLUMNS WHERE TABLE_SCHEMA = DATABASE() AND COLUMN_NAME = 'library_id'",
    )) as [{ name: string }[]];
    for (const { name } of tables)
      expect([name, await db(name).where('library_id', copy.id).first('library_id')]).toEqual([name, undefined]);
    expect([existsSync(root('test-library')), existsSync(path.join(config.data, 'said/test-library'))]).toEqual([
      false,
      false,
    ]);
    expect(folders.map((at) => existsSync(path.join(at, 'made.pdf')))).toEqual([false, true]);
    await db('pieces').where('library_id', 1).delete();
    rmSync(folders[1]!, { recursive: true });
    expect(await db('pictures').where('library_id', 1).orderBy('id').select('id', 'vault_path')).toEqual(before);
    // What both libraries showed is still shown.
    for (const { shown } of await db('pictures').where('library_id', 1).select('shown'))
      expect(
        existsSync(
          path.join(config.data, 'derived', shown.toString('hex').slice(0, 2), `${shown.toString('hex')}-small.webp`),
        ),
      ).toBe(true);
  });

  test('checked both ways: what nobody knows is taken in, what is gone is told, words are written again; tidied of what is nobody’s', async () => {
    const { db, config } = house.app;
    const [gone, bare] = (await db('pictures').where('library_id', 1).orderBy('id').select('id', 'vault_path')) as [
      { id: number; vault_path: string },
      { id: number; vault_path: string },
    ];
    await call('change', { body: { ids: [bare.id], change: { title: 'Spoken of' } } });
    await still();
    unlinkSync(path.join(root('home'), gone.vault_path));
    unlinkSync(path.join(root('home'), `${bare.vault_path}.xmp`));
    copyFileSync(path.join(folder, 'in', '0.jpg'), path.join(root('home'), 'known.jpg'));
    writeFileSync(path.join(root('home'), 'stranger.jpg'), await jpeg(99));
    await call('repairLibrary', {});
    await still();
    const { repair } = await call('keeping', {});
    expect(repair).toMatchObject({
      state: 'done',
      result: { gone: 1, named: [gone.vault_path], unknown: 2, taken: 2, rewritten: 1, mended: 0 },
    });
    expect(existsSync(path.join(root('home'), `${bare.vault_path}.xmp`))).toBe(true);
    expect(await db('pictures').where({ library_id: 1, name: 'stranger.jpg' }).first('id')).toBeDefined();
    expect((await clean(1, 'home')).unknown).toEqual([]);

    const old = (file: string) => {
      writeFileSync(file, 'left');
      const { utimesSync } = jest.requireActual<typeof import('node:fs')>('node:fs');
      utimesSync(file, new Date(0), new Date(0));
    };
    const key = 'ab'.repeat(32);
    mkdirSync(path.join(config.data, 'derived/ab'), { recursive: true });
    mkdirSync(path.join(root('home'), 'empty/deeper'), { recursive: true });
    old(path.join(config.data, 'derived/ab', `${key}-small.webp`));
    old(path.join(config.data, 'uploads', '999999'));
    old(path.join(root('home'), 'half.jpg.xmp.part'));
    const shown = async () => (await db('pictures').select('shown')).length;
    const all = await shown();
    await call('tidyHouse', {});
    await still();
    expect((await call('keeping', {})).tidy).toMatchObject({
      state: 'done',
      result: { derived: { files: 1 }, left: { files: 2 }, folders: 2 },
    });
    expect([existsSync(path.join(config.data, 'derived/ab', `${key}-small.webp`)), await shown()]).toEqual([
      false,
      all,
    ]);
    const helper = await house.member('helper');
    await expect(call('tidyHouse', {}, helper)).rejects.toMatchObject({ status: 403 });
  });

  test('moved to another disk while pictures come in, with second copies of it there; away it is not missing; and back', async () => {
    const { app } = house;
    const { db, paths } = app;
    const disk = mkdtempSync(path.join(existsSync('/dev/shm') ? '/dev/shm' : tmpdir(), 'gemmel-disk-'));
    const safe = mkdtempSync(path.join(tmpdir(), 'gemmel-safe-'));
    const known = async () =>
      db('pictures').where('library_id', 1).whereNull('broken_at').orderBy('id').select('vault_path', 'sha256');
    const whole = async (at: string) => {
      for (const { vault_path, sha256 } of await known())
        expect([vault_path, (await hashFile(path.join(at, vault_path))).equals(sha256)]).toEqual([vault_path, true]);
    };
    try {
      // What is known to be gone stays gone; the rest is whole.
      for (const { vault_path } of await db('picture_files').where('library_id', 1).select('vault_path'))
        rmSync(path.join(root('home'), vault_path), { force: true });
      await db('picture_files').where('library_id', 1).delete();
      const bring = async (n: number) => {
        const folderOf = path.join(folder, `more-${n}`);
        mkdirSync(folderOf, { recursive: true });
        writeFileSync(path.join(folderOf, `${n}.jpg`), await jpeg(200 + n, '2021:07:01 10:00:00'));
        await openBatch(app, 1, 'More', await walk(folderOf));
      };
      await call('moveLibrary', { body: { folder: path.join(disk, 'not there') } });
      await still();
      expect((await call('keeping', {})).move).toMatchObject({ state: 'failed', why: { code: 'no-folder-there' } });
      await call('moveLibrary', { body: { folder: disk } });
      await Promise.all([bring(1), bring(2), bring(3)]);
      await still();
      expect((await call('keeping', {})).move).toMatchObject({
        state: 'done',
        result: { to: path.join(disk, 'home') },
      });
      expect(lstatSync(root('home')).isSymbolicLink()).toBe(true);
      await whole(path.join(disk, 'home'));
      expect((await clean(1, 'home')).unknown).toEqual([]);
      expect(readdirSync(paths.vault).filter((name) => name.startsWith('.left'))).toEqual([]);
      // Coming in, to the bin and back, and to another folder, all across disks.
      await bring(4);
      await still();
      const [one] = await db('pictures').where('library_id', 1).orderBy('id', 'desc').select('id');
      const did = await call('intoBin', { body: { ids: [one!.id] } });
      await still();
      await house.undo(did);
      await still();
      await whole(path.join(disk, 'home'));
      expect((await clean(1, 'home')).unknown).toEqual([]);

      const { id } = await call('addSafePlace', {
        body: { kind: 'folder', name: 'Hall', location: path.join(safe, 'gemmel'), often: 'daily', hour: 2 },
      });
      await still();
      expect((await call('safekeeping', {})).places[0]).toMatchObject({
        last: { state: 'done', wrong: 0 },
        // But for what is known to be gone.
        waiting: (await db('pictures').where('library_id', 1).whereNotNull('broken_at').select('id')).length,
      });
      expect(readdirSync(disk).filter((name) => name !== 'home')).toEqual([]);

      // Brought back onto a fresh machine it lies in the vault there; put on a disk of its own again, it is rebuilt where it lies.
      if (LONG) {
        const fresh = path.join(safe, 'fresh');
        process.env['GEMMEL_PHRASE'] = (
          await call('safePhrase', { params: { id }, body: { password: 'a-long-password' } })
        ).phrase;
        await restoreAll({ from: path.join(safe, 'gemmel'), data: fresh, over: false, dryRun: false });
        expect(lstatSync(path.join(fresh, 'vault/home')).isDirectory()).toBe(true);
        await whole(path.join(fresh, 'vault/home'));
        renameSync(path.join(fresh, 'vault/home'), path.join(safe, 'home'));
        symlinkSync(path.join(safe, 'home'), path.join(fresh, 'vault/home'));
        rmSync(path.join(fresh, 'db'), { recursive: true });
        const secrets = secretsOf(fresh);
        const { libraries } = await rebuild({ ...app.config, data: fresh, secrets }, false, () => undefined);
        const all = await db('pictures').where('library_id', 1).select('id');
        expect(libraries).toContainEqual(
          expect.objectContaining({ slug: 'home', pictures: all.length, fromBook: true }),
        );
        const mariadb = await startMariadb(path.join(fresh, 'db'), secrets.db);
        const anew = openDb(addressOf(path.join(fresh, 'db'), secrets.db), 1);
        try {
          expect(await anew('libraries').where('slug', 'home').first('home')).toEqual({
            home: path.join(safe, 'home'),
          });
        } finally {
          await anew.destroy();
          await mariadb.stop();
        }
      }

      renameSync(path.join(disk, 'home'), path.join(disk, 'pulled out'));
      const before = await known();
      await call('repairLibrary', {});
      await call('bringUpToDate', { params: { id } });
      for (let i = 0; i < 200 && (await call('keeping', {})).repair?.why?.code !== 'disk-away'; i++)
        await new Promise((resolve) => setTimeout(resolve, 50));
      await still();
      expect((await call('safekeeping', {})).places[0]!.latest).toMatchObject({
        state: 'failed',
        why: { code: 'library-away' },
      });
      expect(await known()).toEqual(before);
      renameSync(path.join(disk, 'pulled out'), path.join(disk, 'home'));

      await db('jobs').where('kind', 'repair').delete();
      await call('moveLibrary', { body: { folder: null } });
      await still();
      expect((await call('keeping', {})).move).toMatchObject({ state: 'done', result: { to: null } });
      expect(lstatSync(root('home')).isDirectory()).toBe(true);
      await whole(root('home'));
      expect(readdirSync(disk)).toEqual([]);
    } finally {
      rmSync(disk, { recursive: true, force: true });
      rmSync(safe, { recursive: true, force: true });
    }
  }, 120_000);

  test('a name that a sudden end left leading nowhere leads there again, whatever was half done', async () => {
    const { app } = house;
    const slug = 'cut';
    const at = root(slug);
    const home = path.join(folder, 'other disk', slug);
    mkdirSync(home, { recursive: true });
    const links = () => lstatSync(at).isSymbolicLink();
    await settleHome(app, 99, slug, home);
    expect(links()).toBe(true);
    // A database that was made anew and knows nothing of it does not take the way there away.
    await settleHome(app, 99, slug, null);
    expect(links()).toBe(true);
    rmSync(at);
    mkdirSync(path.join(at, 'made in this moment'), { recursive: true });
    await settleHome(app, 99, slug, home);
    expect([links(), existsSync(path.join(leftFolder(app, 99, 0), 'made in this moment'))]).toEqual([true, true]);
    mkdirSync(path.join(backFolder(app, 99), 'whole'), { recursive: true });
    await settleHome(app, 99, slug, null);
    expect([links(), existsSync(path.join(at, 'whole'))]).toEqual([false, true]);
    await settleHome(app, 99, slug, null);
    expect(existsSync(path.join(at, 'whole'))).toBe(true);
    for (const one of [at, leftFolder(app, 99, 0)]) rmSync(one, { recursive: true, force: true });
  });

  test('what it takes up, and a limit for those who bring', async () => {
    const { db } = house.app;
    const page = await call('storage', {});
    const [[{ bytes }]] = (await db.raw('SELECT SUM(bytes) AS bytes FROM pictures WHERE library_id = 1')) as [
      [{ bytes: number }],
    ];
    expect(page.years.reduce((sum, one) => sum + one.bytes, 0)).toBe(Number(bytes));
    expect(page.largest[0]!.bytes).toBe(Math.max(...page.largest.map((one) => one.bytes)));
    expect(page.growth.full).toBeNull();
    expect(page.could.binned.pictures).toBe(3);
    await call('setLimits', { body: { member: 1_000_000, share: null } });
    const helper = await house.member('helper');
    const file = { path: 'a.jpg', bytes: 900_000 };
    await call('openBatch', { body: { name: 'Some', files: [file] } }, helper);
    await expect(
      call('openBatch', { body: { name: 'More', files: [{ ...file, path: 'b.jpg' }] } }, helper),
    ).rejects.toMatchObject({ status: 413 });
    await call('openBatch', { body: { name: 'More', files: [{ ...file, path: 'b.jpg' }] } });
    // Only a keeper sets it, and reads what all takes up.
    await expect(call('storage', {}, helper)).rejects.toMatchObject({ status: 403 });
  });

  test('a question’s numbers move on, its figures do not', () => {
    const asked = {
      all: [
        { who: { people: [1, 2], mode: 'any' } },
        { rating: { min: 3 } },
        { folder: { id: 4, only: true } },
        { where: { own: 5 } },
        { taken: { month: 6, day: 7 } },
        { not: { tag: 8 } },
      ],
    };
    expect(moveAsked(asked, 100)).toEqual({
      all: [
        { who: { people: [101, 102], mode: 'any' } },
        { rating: { min: 3 } },
        { folder: { id: 104, only: true } },
        { where: { own: 105 } },
        { taken: { month: 6, day: 7 } },
        { not: { tag: 108 } },
      ],
    });
    expect(moveAsked({ ids: [1, 2] }, 100)).toEqual({ ids: [101, 102] });
    expect(moveAsked({ seconds: 5, music: [3], show: { music: [4] } }, 100)).toEqual({
      seconds: 5,
      music: [103],
      show: { music: [104] },
    });
    const edits = {
      kept: [{ ids: [1, 2], way: 3, full: false }],
      out: [4],
      also: [5],
      cover: 6,
      words: { title: 'T', 'picture:7': 'a', 'title:event-8': 'b', 'words:album-9': 'c', 'title:month-2026-05': 'd' },
    };
    expect(moveAsked(edits, 100)).toEqual({
      kept: [{ ids: [101, 102], way: 3, full: false }],
      out: [104],
      also: [105],
      cover: 106,
      words: {
        title: 'T',
        'picture:107': 'a',
        'title:event-108': 'b',
        'words:album-109': 'c',
        'title:month-2026-05': 'd',
      },
    });
  });
});
