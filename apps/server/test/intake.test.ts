import { createHash } from 'node:crypto';
import {
  cpSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { REASONS } from '@gemmel/contract';
import { Ended } from '../src/apart/pool';
import { openBatch, walk } from '../src/intake/announce';
import { makeRunner } from '../src/jobs/all';
import { exiftool } from '../src/media/metadata';
import { replayMoves } from '../src/vault/moves';
import { DEMO, openHouse, type House } from './house';
import { jpeg } from './pictures';

interface Row {
  id: number;
  name: string;
  vault_path: string;
  sha256: Buffer;
  kind: string;
  format: string;
  width: number;
  height: number;
  taken_local: string | null;
  offset_minutes: number | null;
  taken_source: string | null;
  country: string | null;
  place: string | null;
  likeness: string | number | null;
  seconds: number | null;
  thumb: Buffer;
}
interface Truth {
  path: string;
  kind: string;
  width: number;
  height: number;
  recordedTime: string | null;
  trueLocal: string | null;
  videoSeconds: number | null;
}

/** A few files of every sort: JPEG, HEIC, stored turned, a clip, scans with dates only in folder names, a double. */
const CHOSEN = [
  'ilses-phone/DCIM/100/IMG_2069.jpg',
  'martens-phone/DCIM/20260221_120246.heic',
  'martens-phone/DCIM/20260221_143929.mp4',
  'good-camera/DCIM/101/DSC0146.jpg',
  'grans-tablet/photo_2026-05-16_13-02-39.jpg',
  'box-of-scans/Summer 1992/scan_0009.jpg',
];

describe('taking in', () => {
  let house: House;
  let source: string;
  const truth = (JSON.parse(readFileSync(path.join(DEMO, 'truth.json'), 'utf8')) as { files: Truth[] }).files;
  const rows = () => house.app.db('pictures').orderBy('id') as unknown as Promise<Row[]>;
  const inVault = (row: Row) => path.join(house.app.paths.vault, 'home', row.vault_path);

  beforeAll(async () => {
    house = await openHouse({ recognise: true });
    source = mkdtempSync(path.join(tmpdir(), 'gemmel-source-'));
    for (const file of CHOSEN) cpSync(path.join(DEMO, file), path.join(source, 'all', file));
    await house.takeIn(path.join(source, 'all'), 'Everything');
    await house.app.db('libraries').where('id', 1).update({ recognise: false });
  });
  afterAll(async () => {
    await house?.stop();
    rmSync(source, { recursive: true, force: true });
  });

  test('every sort of file is stored byte for byte, with its shape and its time', async () => {
    const pictures = await rows();
    expect(pictures).toHaveLength(CHOSEN.length);
    for (const row of pictures) {
      const original = CHOSEN.find((file) => path.basename(file) === row.name)!;
      const known = truth.find((t) => t.path === original)!;
      const bytes = readFileSync(path.join(source, 'all', original));
      expect(readFileSync(inVault(row)).equals(bytes)).toBe(true);
      expect(row.sha256.equals(createHash('sha256').update(bytes).digest())).toBe(true);
      expect([row.width, row.height]).toEqual([known.width, known.height]);
      // A clip's own clock runs in UTC; it is put on the wall clock of its place.
      const time = row.kind === 'video' ? known.trueLocal : known.recordedTime;
      if (time) expect(row.taken_local?.slice(0, 16)).toBe(time.slice(0, 16).replace('T', ' '));
      expect(row.thumb.length).toBeGreaterThan(8);
      expect(row.likeness).not.toBeNull();
      for (const size of ['small.webp', 'large.jpg']) {
        const sha = row.sha256.toString('hex');
        expect(statSync(path.join(house.app.paths.derived, sha.slice(0, 2), `${sha}-${size}`)).size).toBeGreaterThan(
          500,
        );
      }
    }
    const clip = pictures.find((p) => p.kind === 'video')!;
    expect(clip.seconds).toBeCloseTo(truth.find((t) => t.path.endsWith(clip.name))!.videoSeconds!, 0);
    expect(pictures.find((p) => p.name.startsWith('scan'))).toMatchObject({ taken_source: 'folder name' });
    expect(pictures.find((p) => p.name.startsWith('photo_'))).toMatchObject({ taken_source: 'file name' });
    expect(pictures.find((p) => p.name === 'IMG_2069.jpg')).toMatchObject({ taken_source: 'camera', country: 'SE' });
    expect(await house.app.db('faces').first('id')).toBeDefined();
  });

  test('what is here already is recognised, and still belongs to an album of its batch', async () => {
    const again = path.join(source, 'again');
    cpSync(path.join(source, 'all', CHOSEN[0]!), path.join(again, 'other name.jpg'));
    const batch = await house.takeIn(again, 'Again');
    expect(await rows()).toHaveLength(CHOSEN.length);
    const { batches } = await house.call('batches', {});
    expect(batches.find((b) => b.id === batch)).toMatchObject({
      state: 'done',
      counts: { total: 1, known: 1, stored: 0 },
      offer: 'open',
    });
    const { albumId } = await house.call('batchAlbum', { params: { id: batch }, body: { name: 'Sent twice' } });
    const { album, ids } = await house.call('album', { params: { id: albumId! } });
    expect([album.name, ids.length]).toEqual(['Sent twice', 1]);
    await house.call('removeAlbum', { params: { id: albumId! } });
    const after = (await house.call('batches', {})).batches.find((b) => b.id === batch)!;
    expect([after.offer, after.albums]).toEqual(['open', []]);
  });

  test('the same file several times in one folder, taken in at the same moment, is kept once and leaves nothing behind', async () => {
    const twins = path.join(source, 'twins');
    const bytes = Buffer.concat([
      readFileSync(path.join(DEMO, 'grans-tablet/photo_2026-08-22_21-18-38.jpg')),
      Buffer.from('t'),
    ]);
    mkdirSync(twins);
    for (const name of ['a.jpg', 'b.jpg', 'c.jpg', 'd.jpg']) writeFileSync(path.join(twins, name), bytes);
    const batch = await house.takeIn(twins, 'Twins');
    const { counts } = (await house.call('batches', {})).batches.find((b) => b.id === batch)!;
    expect(counts).toMatchObject({ stored: 1, known: 3, failed: 0 });
    const kept = readdirSync(path.join(house.app.paths.vault, 'home'), { recursive: true, encoding: 'utf8' });
    expect(kept.filter((name) => /(^|\/)[abcd]( \(\d\))?\.jpg$/.test(name))).toHaveLength(1);
  });

  test('bad files are each named with a reason, kept out or kept aside, and nothing else is harmed', async () => {
    const bad = path.join(source, 'bad');
    cpSync(path.join(DEMO, 'bad'), bad, { recursive: true });
    cpSync(path.join(source, 'all', CHOSEN[4]!), path.join(bad, `${'🪁'.repeat(60)}.jpg`));
    const before = await rows();
    const batch = await house.takeIn(bad, 'Bad things');
    const { counts, leftOut } = (await house.call('batches', {})).batches.find((b) => b.id === batch)!;
    const reason = (name: string) => leftOut.find((one) => path.basename(one.path) === name);
    expect(reason('letter.jpg')).toMatchObject({
      state: 'skipped',
      reason: { code: 'not-by-its-ending', params: { ending: 'jpg' } },
    });
    expect(reason('empty.jpg')).toMatchObject({ state: 'skipped', reason: { code: 'empty', params: {} } });
    expect(reason('cut-short.jpg')?.state).toBe('aside');
    expect(reason('huge.png')?.state).toBe('aside');
    expect(reason('view.ini')?.state).toBe('skipped');
    expect(leftOut.every((one) => one.reason.code in REASONS)).toBe(true);
    expect(counts.failed).toBe(0);
    expect(readdirSync(path.join(house.app.paths.aside, 'home', String(batch)))).toHaveLength(counts.aside);
    expect((await rows()).filter((row) => before.some((b) => b.id === row.id))).toHaveLength(before.length);
  });

  test.each([
    ['brings down the process that opens it', 'damaged', 'prepare'],
    ['keeps whoever reads what it says for ever', 'too-talkative', 'tags'],
  ])('a file that %s, time and again, is kept aside and named', async (how, code, what) => {
    const folder = path.join(source, what);
    mkdirSync(folder);
    writeFileSync(path.join(folder, 'one.jpg'), await jpeg(77 + what.length, '2021:07:01 10:00:00'));
    const { pool } = house.app;
    const run = pool.run.bind(pool);
    let falls = 0;
    const falling =
      what === 'prepare'
        ? jest.spyOn(pool, 'run').mockImplementation((task, asked) => {
            if (asked.name !== what) return run(task, asked);
            falls++;
            return Promise.reject(new Ended('SIGSEGV'));
          })
        : jest.spyOn(exiftool(), 'readRaw').mockImplementation(() => {
            falls++;
            return Promise.reject(new Error('timeout: waited 20000 ms'));
          });
    // Each try waits longer than the last: here it does not.
    const hurry = setInterval(() => void house.app.db('jobs').update({ run_after: '2020-01-01' }).then(), 30);
    try {
      const batch = await house.takeIn(folder, 'Falls');
      const item = (await house.app.db('batch_items').where('batch_id', batch).first('state', 'reason'))!;
      expect([how, item.state, JSON.parse(item.reason!)]).toEqual([how, 'aside', { code, params: {} }]);
      expect(falls).toBe(3);
    } finally {
      clearInterval(hurry);
      falling.mockRestore();
    }
  });

  test('a sidecar that keeps its reader for ever keeps no picture out; it lies beside it, unread', async () => {
    const folder = path.join(source, 'stuck');
    mkdirSync(folder);
    writeFileSync(path.join(folder, 'one.jpg'), await jpeg(91, '2021:07:01 10:00:00'));
    writeFileSync(path.join(folder, 'one.xmp'), '<x:xmpmeta xmlns:x="adobe:ns:meta/">');
    const read = exiftool().readRaw.bind(exiftool());
    const stuck = jest
      .spyOn(exiftool(), 'readRaw')
      .mockImplementation((file, ...more) =>
        readFileSync(file)[0] === 0x3c
          ? Promise.reject(new Error('timeout: waited 20000 ms'))
          : (read as (...all: unknown[]) => ReturnType<typeof read>)(file, ...more),
      );
    const hurry = setInterval(() => void house.app.db('jobs').update({ run_after: '2020-01-01' }).then(), 30);
    try {
      const batch = await house.takeIn(folder, 'Stuck');
      const items = await house.app.db('batch_items').where('batch_id', batch).orderBy('path').select('path', 'state');
      expect(items.map(({ path: at, state }) => [path.basename(at), state])).toEqual([
        ['one.jpg', 'stored'],
        ['one.xmp', 'stored'],
      ]);
    } finally {
      clearInterval(hurry);
      stuck.mockRestore();
    }
  });

  test('names that try to climb out stay inside the vault', async () => {
    const bytes = await jpeg(1);
    const names = ['../../../../escape.jpg', '..', 'a\u0000b\u202egpj.jpg', `${'é'.repeat(400)}.jpg`, 'CON|<>:?.jpg'];
    const files = names.map((name, i) => ({ path: name, bytes: bytes.length + i + 1 }));
    const { id, items } = await house.call('openBatch', { body: { name: 'Climbers', files } });
    for (const [i, item] of items.entries()) {
      const body = Buffer.concat([bytes, Buffer.alloc(i + 1, i)]);
      expect((await house.send(item, body)).status).toBeLessThan(300);
    }
    await house.quiet();
    const stored = (await house.app.db('pictures').where('batch_id', id)) as Row[];
    expect(stored).toHaveLength(names.length);
    for (const row of stored) {
      const file = path.resolve(inVault(row));
      expect(file.startsWith(path.join(house.app.paths.vault, 'home') + path.sep)).toBe(true);
      expect(existsSync(file)).toBe(true);
      expect(Buffer.byteLength(path.basename(file))).toBeLessThanOrEqual(204);
    }
  });

  test('a file that did not arrive whole is asked for again', async () => {
    const { id, items } = await house.call('openBatch', {
      body: { name: 'Cut', files: [{ path: 'x.jpg', bytes: 5000 }] },
    });
    const cut = await house.send(items[0]!, Buffer.alloc(100));
    expect(cut.status).toBe(400);
    expect(((await cut.json()) as { title: string }).title).toBe(
      'The file is not as long as announced. Choose it again.',
    );
    expect((await house.call('batches', {})).batches.find((b) => b.id === id)?.counts).toMatchObject({ waiting: 1 });
    await house.call('stopBatch', { params: { id } });
  });

  test('what people say is written beside the original, and an independent reader agrees', async () => {
    const row = (await rows()).find((p) => p.name === 'IMG_2069.jpg')!;
    const before = createHash('sha256')
      .update(readFileSync(inVault(row)))
      .digest('hex');
    const face = (await house.app.db('faces').where('picture_id', row.id).first('id')) as { id: number } | undefined;
    await house.call('change', {
      body: {
        ids: [row.id],
        change: { rating: 4, title: 'Öland <& "kites">', caption: 'Two\nlines 🪁', addTags: ['kites', 'Sommar'] },
      },
    });
    if (face) await house.call('answerFaces', { body: { faces: [face.id], is: { newPerson: 'Åsa "Kite" O’Neil' } } });
    await house.quiet();
    const at = (await rows()).find((p) => p.id === row.id)!;
    const said = (await exiftool().read(`${inVault(at)}.xmp`, { readArgs: ['-struct'] })) as unknown as Record<
      string,
      unknown
    >;
    expect(said['Rating']).toBe(4);
    expect(said['Title']).toBe('Öland <& "kites">');
    expect(said['Description']).toBe('Two\nlines 🪁');
    expect([said['Subject']].flat().sort()).toEqual(['Sommar', 'kites']);
    if (face) expect(JSON.stringify(said['RegionInfo'] ?? said['Regions'])).toContain('O’Neil');
    expect(
      createHash('sha256')
        .update(readFileSync(inVault(at)))
        .digest('hex'),
    ).toBe(before);
  });

  test('naming an event moves its pictures with their sidecars; a move cut short is finished at the next start', async () => {
    const { events } = await house.call('events', {});
    const event = events.find((e) => e.pictures > 0)!;
    await house.call('nameEvent', { params: { id: event.id }, body: { title: 'Snow: day/1' } });
    await house.quiet();
    const moved = (await house.app.db('pictures').where('event_id', event.id)) as Row[];
    for (const row of moved) {
      expect(row.vault_path).toContain(`${event.start} Snow day 1/`);
      expect(existsSync(inVault(row))).toBe(true);
    }
    // The crash: the intent is written down and the link made, but the database still has the old place.
    const row = moved[0]!;
    const to = path.join('2026', '2026-01-01 Elsewhere', row.name);
    mkdirSync(path.dirname(path.join(house.app.paths.vault, 'home', to)), { recursive: true });
    await house.app
      .db('vault_moves')
      .insert({ picture_id: row.id, library_id: 1, from_path: row.vault_path, to_path: to });
    await replayMoves(house.app, 1);
    await replayMoves(house.app, 1);
    const [after] = (await house.app.db('pictures').where('id', row.id)) as Row[];
    expect(after!.vault_path).toBe(to);
    expect(existsSync(inVault(after!))).toBe(true);
    expect(existsSync(inVault(row))).toBe(false);
    expect(await house.app.db('vault_moves').first('picture_id')).toBeUndefined();
  });

  test('work that was in hand when the process died is taken up again', async () => {
    const folder = path.join(source, 'crash');
    mkdirSync(folder);
    writeFileSync(
      path.join(folder, 'one.jpg'),
      Buffer.concat([readFileSync(path.join(DEMO, 'grans-tablet/photo_2025-12-20_18-09-43.jpg')), Buffer.from('x')]),
    );
    await house.runner.stop();
    const batch = await openBatch(house.app, 1, 'Crash', await walk(folder));
    await house.app
      .db('jobs')
      .where({ kind: 'intake' })
      .update({ state: 'running', taken_by: 'a process that is gone', taken_at: '2020-01-01 00:00:00' });
    house.runner = makeRunner(house.app);
    await house.runner.start();
    await house.quiet();
    expect((await house.call('batches', {})).batches.find((b) => b.id === batch.id)).toMatchObject({
      state: 'done',
      counts: { stored: 1 },
    });
  });
});
