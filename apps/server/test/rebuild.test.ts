import {
  copyFileSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  renameSync,
  rmSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { Config } from '../src/config';
import { endApp, makeApp, type App } from '../src/context';
import { migrate, type Db } from '../src/db/open';
import { walk } from '../src/intake/announce';
import { makeRunner } from '../src/jobs/all';
import { afterBook } from '../src/keep/after';
import { askBooks, bookOf, writeBook } from '../src/keep/book';
import { compareVault } from '../src/keep/compare';
import { loadBook } from '../src/keep/load';
import { headOfBook, NoBook, readBook } from '../src/keep/read';
import { shapeOf } from '../src/keep/shape';
import { KEEPING, SAID, saidOfTable } from '../src/keep/tables';
import { readAgain } from '../src/question/words';
import { ownDatabase } from './database';
import { DEMO, openHouse, ROOT, type House } from './house';
import { jpeg, shaOf } from './pictures';
import { fillTables } from './richLibrary';

type Rows = Record<string, unknown>[];

/** What a book keeps of a table, in the order of its key. */
async function rowsOf(db: Db, table: string, leave: readonly string[] = []): Promise<Rows> {
  const { columns, key } = await shapeOf(db, table);
  const { made = [] } = saidOfTable(table)!;
  const names = columns.map(({ name }) => name).filter((name) => !made.includes(name) && !leave.includes(name));
  return (await db(table)
    .where(table === 'libraries' ? 'id' : 'library_id', 1)
    .orderBy([...key])
    .select(names)) as Rows;
}

/** Opens what a data folder holds with another database, and lets all work be done. */
async function openWith(
  config: Config,
  db: Db,
): Promise<{ app: App; quiet: () => Promise<void>; stop: () => Promise<void> }> {
  const app = makeApp(config, db, path.join(ROOT, 'apps/server/dist/worker.js'));
  const runner = makeRunner(app);
  await runner.start();
  return {
    app,
    quiet: async () => {
      for (let still = 0; still < 5;) {
        still = (await db('jobs').whereNot('state', 'failed').first('id')) ? 0 : still + 1;
        await new Promise((resolve) => setTimeout(resolve, 20));
      }
    },
    stop: async () => {
      await runner.stop();
      await endApp(app);
    },
  };
}

/** The first pictures with faces of the demo, in a folder. */
async function someOfTheDemo(to: string, many: number): Promise<void> {
  mkdirSync(to, { recursive: true });
  const found = (await walk(path.join(DEMO, 'ilses-phone')))
    .filter(({ path: at }) => /\.jpe?g$/i.test(at))
    .slice(0, many);
  for (const [i, { source }] of found.entries()) copyFileSync(source!, path.join(to, `${i}-${path.basename(source!)}`));
}

describe('a library from its files alone', () => {
  let house: House;
  let folder: string;
  beforeAll(async () => {
    folder = mkdtempSync(path.join(tmpdir(), 'gemmel-anew-'));
    house = await openHouse({ recognise: true });
  });
  let again: { app: App; quiet: () => Promise<void>; stop: () => Promise<void> } | null = null;
  afterEach(async () => {
    await again?.stop();
    await again?.app.db.destroy();
    again = null;
  });
  afterAll(async () => {
    await house?.stop();
    rmSync(folder, { recursive: true, force: true });
  });

  test('every table is told, made again, of the moment or of the house; and what is told can be put back', async () => {
    const [tables] = (await house.app.db.raw('SHOW TABLES')) as [Record<string, string>[]];
    const all = tables.map((row) => Object.values(row)[0]!).filter((name) => !name.startsWith('knex_'));
    expect(Object.keys(KEEPING).sort()).toEqual(all.sort());
    for (const table of SAID) {
      const { columns } = await shapeOf(house.app.db, table);
      const names = columns.map(({ name }) => name);
      const { made = [], ids = [], asked = [] } = saidOfTable(table)!;
      expect([
        table,
        [...made, ...ids, ...asked].filter((name) => !names.includes(name) && !/^band/.test(name)),
      ]).toEqual([table, []]);
      // A number of a row is told as one, or another library's would be spoken of.
      const unsaid = names.filter(
        (name) =>
          /_(id|by)$/.test(name) &&
          !['library_id', 'named_by', 'made_by', 'observed_by', 'seen_by', 'read_by'].includes(name) &&
          !ids.includes(name) &&
          !made.includes(name),
      );
      expect([table, unsaid]).toEqual([table, []]);
    }
  });

  test('rebuilt: every table as it was, words said after the book, files nobody knew, and all the machine made of pictures', async () => {
    const { app } = house;
    const { db, config } = app;
    const some = path.join(folder, 'some');
    await someOfTheDemo(some, 6);
    await house.takeIn(some, 'Some pictures');
    const ids = (await db('pictures').orderBy('id').select('id')).map(({ id }) => id);
    const [one, two, three] = ids as [number, number, number];
    await house.call('change', {
      body: { ids: [one, two], change: { addTags: ['Kites'], rating: 4, caption: 'On the dike' } },
    });
    const face = (await db('faces').first('id'))!;
    const [nora] = await db('people').insert({ library_id: 1, name: 'Nora Test', nickname: 'No', born: '1950-02-03' });
    await db('faces').where('id', face.id).update({ state: 'named', named_by: 'hand', person_id: nora! });
    await house.call('intoBin', { body: { ids: [three] } });
    expect((await fillTables(db, 1)).length).toBeGreaterThan(10);
    await db('pictures')
      .where('id', two)
      .update({ own_place_id: (await db('own_places').first('id'))!.id, place_source: 'hand', taken_source: 'hand' });
    const slug = (await db('libraries').first('slug'))!.slug;
    await readAgain(db, 1, ids);
    // The file beside a picture that was made up is one.
    const beside = Buffer.from('a clip beside a picture');
    mkdirSync(path.join(config.data, 'vault', slug, '2026'), { recursive: true });
    writeFileSync(path.join(config.data, 'vault', slug, '2026/beside.mov'), beside);
    await db('picture_files').update({
      vault_path: '2026/beside.mov',
      bytes: beside.length,
      sha256: Buffer.from(shaOf(beside), 'hex'),
    });
    await house.quiet();
    const book = bookOf(config.data, slug);
    await askBooks(app);
    house.runner.nudge();
    await house.quiet();
    expect((await headOfBook(book))!.slug).toBe(slug);
    expect(JSON.parse(readFileSync(book, 'utf8')).tables.people.columns).toContain('born');
    // Nothing that opens anything, and nothing that tells a face.
    const text = readFileSync(book, 'utf8');
    for (const secret of ['password_hash', 'vector_a', 'token_hash']) expect(text).not.toContain(secret);

    // After the book: words beside a picture, and a file that nobody ever announced.
    await house.call('change', { body: { ids: [two], change: { caption: 'Said late' } } });
    await house.quiet();
    await db('sidecars').update({ dirty_at: null });
    const root = path.join(config.data, 'vault', slug);
    const late = path.join(root, `${(await db('pictures').where('id', two).first('vault_path'))!.vault_path}.xmp`);
    utimesSync(late, new Date(Date.now() + 5000), new Date(Date.now() + 5000));
    mkdirSync(path.join(root, '2019'), { recursive: true });
    writeFileSync(path.join(root, '2019/found.jpg'), await jpeg(4711, '2019:07:08 09:10:11'));

    const before = new Map<string, Rows>();
    for (const table of SAID) before.set(table, await rowsOf(db, table));
    const { db: fresh } = await ownDatabase();
    await fresh.transaction((trx) => loadBook(trx, book));
    for (const table of SAID.filter((name) => !['sidecars', 'acts', 'act_pictures', 'pictures'].includes(name)))
      expect([table, await rowsOf(fresh, table)]).toEqual([table, before.get(table)]);
    const plain = (rows: Rows) => rows.map(({ caption, ...row }) => (row['id'] === two ? row : { ...row, caption }));
    expect(plain(await rowsOf(fresh, 'pictures'))).toEqual(plain(before.get('pictures')!));

    const { pictures, missing } = await afterBook(
      fresh,
      config.data,
      1,
      slug,
      Date.parse((await headOfBook(book))!.written),
    );
    expect([pictures, missing]).toEqual([ids.length - 1, 0]);
    expect((await compareVault(fresh, root, 1)).unknown).toEqual(['2019/found.jpg']);
    expect(await fresh('shares').whereNull('closed_at').first('id')).toBeUndefined();
    await house.runner.stop();
    again = await openWith(config, fresh);
    await again.quiet();
    expect(await fresh('jobs').select('kind', 'error')).toEqual([]);
    // What was said late is heard, and the file nobody knew is a picture like any other.
    expect((await fresh('pictures').where('id', two).first('caption'))!.caption).toBe('Said late');
    expect((await fresh('pictures').where('name', 'found.jpg').first('day'))!.day).toBe('2019-07-08');
    expect(existsSync(path.join(root, '2019/found.jpg'))).toBe(false);
    // All the machine made is made again, and alike.
    const machine = ['likeness', 'sharpness', 'thumb', 'words', 'observed_by', 'faces_sought'];
    expect(
      await fresh('pictures')
        .whereIn('id', ids)
        .orderBy('id')
        .select('id', ...machine),
    ).toEqual(
      (
        await db('pictures')
          .orderBy('id')
          .select('id', ...machine)
      ).map((row: Record<string, unknown>) =>
        row['id'] === two ? { ...row, words: expect.stringContaining('said late') as string } : row,
      ),
    );
    const described = (on: Db) =>
      on('faces')
        .whereIn('picture_id', ids)
        .orderBy('id')
        .select('id', 'picture_id', on.raw('LENGTH(vector_a) AS a'), 'state', 'person_id');
    expect(await described(fresh)).toEqual(await described(db));
    const { missing: gone, unknown } = await compareVault(fresh, root, 1);
    expect({ gone, unknown }).toEqual({ gone: [], unknown: [] });
  });

  test('a book that was cut, or is of another kind, is no book; one that is not whole puts nothing in', async () => {
    const slug = (await house.app.db('libraries').first('slug'))!.slug;
    const book = bookOf(house.app.config.data, slug);
    await writeBook(house.app.db, 1, book);
    const text = readFileSync(book, 'utf8');
    const file = path.join(folder, 'cut.json');
    const { db: fresh } = await ownDatabase();
    for (const part of [
      text.slice(0, text.length / 2),
      text.slice(0, -3),
      text.replace('"gemmel":"library"', '"gemmel":"album"'),
      text.replace('"events":{', '"sessions":{'),
      '',
      '[1]\n',
    ]) {
      writeFileSync(file, part);
      await expect(fresh.transaction((trx) => loadBook(trx, file))).rejects.toBeInstanceOf(NoBook);
      expect(await fresh('libraries').select('id')).toEqual([]);
    }
    for await (const _ of readBook(book)) void _;
    await fresh.destroy();
  });

  test('without a book: pictures with what is written beside them, albums by their manifests', async () => {
    const { app } = house;
    const { config, db } = app;
    const slug = (await db('libraries').first('slug'))!.slug;
    const pictures = await db('pictures').orderBy('sha256').select('sha256', 'title', 'caption', 'rating', 'day');
    const { db: fresh } = await ownDatabase();
    await migrate(fresh);
    await fresh('libraries').insert({ slug, name: slug });
    renameSync(bookOf(config.data, slug), path.join(folder, 'put-away.json'));
    await afterBook(fresh, config.data, 1, slug, null);
    again = await openWith(config, fresh);
    await again.quiet();
    const now = await fresh('pictures')
      .whereIn(
        'sha256',
        pictures.map((p) => p.sha256),
      )
      .orderBy('sha256')
      .select('sha256', 'title', 'caption', 'rating', 'day');
    expect(now.map((p) => ({ ...p, caption: p.caption === 'Said late' ? 'On the dike' : p.caption }))).toEqual(
      pictures.map((p) => ({ ...p, caption: p.caption === 'Said late' ? 'On the dike' : p.caption })),
    );
    expect(await fresh('people').where('name', 'Nora Test').first('id')).toBeDefined();
  });
});
