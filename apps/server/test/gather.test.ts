import { execFileSync } from 'node:child_process';
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
  utimesSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { lookForCards } from '../src/gather/cards';
import { openBatch, walk } from '../src/intake/announce';
import { exiftool } from '../src/media/metadata';
import { DEMO, openHouse, type House } from './house';
import { LONG } from './long';

interface Row {
  id: number;
  name: string;
  original_name: string | null;
  vault_path: string;
  title: string | null;
  rating: number;
  taken_local: string | null;
  taken_source: string | null;
  lat: number | null;
  alike_id: number | null;
  bytes: number;
}
interface Beside {
  role: string;
  name: string;
  vault_path: string;
  sha256: Buffer;
}
interface Words {
  rating: number;
  title: string;
  description: string;
  subjects: string[];
  hierarchical: string[];
  faces: [string, number[]][];
  gps: [number, number] | null;
}

const PHONE = 'later/noors-phone/DCIM/100';
const sha = (file: string) => createHash('sha256').update(readFileSync(file)).digest('hex');
const seconds = Math.floor(Date.parse('2026-03-01T12:00:00Z') / 1000);

describe('gathering', () => {
  let house: House;
  let folder: string;
  const root = () => path.join(house.app.paths.vault, 'home');
  const put = (from: string, to: string) => {
    const target = path.join(folder, to);
    mkdirSync(path.dirname(target), { recursive: true });
    cpSync(path.join(DEMO, from), target);
    return target;
  };
  const pictures = (batch: number) =>
    house.app.db('pictures').where('batch_id', batch).orderBy('id') as unknown as Promise<Row[]>;
  const beside = (picture: number) =>
    house.app.db('picture_files').where('picture_id', picture).orderBy('id') as unknown as Promise<Beside[]>;

  beforeAll(async () => {
    house = await openHouse();
    folder = mkdtempSync(path.join(tmpdir(), 'gemmel-gather-'));
  });
  afterAll(async () => {
    await house?.stop();
    rmSync(folder, { recursive: true, force: true });
  });

  /** Faces are looked for only where names are to be put to them. */
  const recognise = (on: boolean) => async () => {
    await house.app.db('libraries').where('id', 1).update({ recognise: on });
  };
  describe('files that belong together', () => {
    test('a still and the clip of its moment, a negative and its JPEG, notes and an edited shot are one picture each', async () => {
      put('ilses-phone/DCIM/100/IMG_2024.heic', 'pairs/IMG_2024.heic');
      put('ilses-phone/DCIM/100/IMG_2024.mov', 'pairs/IMG_2024.mov');
      put('ilses-phone/DCIM/100/IMG_2061V.mp4', 'pairs/IMG_2061V.mp4');
      put(`${PHONE}/IMG_0811.jpg`, 'pairs/IMG_0811.jpg');
      put(`${PHONE}/IMG_0812.jpg`, 'pairs/IMG_E0811.jpg');
      writeFileSync(path.join(folder, 'pairs/IMG_0811.AAE'), '<plist>edits</plist>');
      put(`${PHONE}/IMG_0813.jpg`, 'pairs/DSC0005.jpg');
      await sharp({ create: { width: 80, height: 60, channels: 3, background: '#456' } })
        .tiff()
        .toFile(path.join(folder, 'pairs/DSC0005.nef'));
      const batch = await house.takeIn(path.join(folder, 'pairs'));
      const rows = await pictures(batch);
      expect(rows.map((r) => r.name).sort()).toEqual([
        'DSC0005.jpg',
        'IMG_2024.heic',
        'IMG_2061V.mp4',
        'IMG_E0811.jpg',
      ]);
      const roles = async (name: string) =>
        (await beside(rows.find((r) => r.name === name)!.id)).map((b) => [b.role, b.name]).sort();
      expect(await roles('IMG_2024.heic')).toEqual([['clip', 'IMG_2024.mov']]);
      expect(await roles('DSC0005.jpg')).toEqual([['raw', 'DSC0005.nef']]);
      expect(await roles('IMG_E0811.jpg')).toEqual([
        ['before', 'IMG_0811.jpg'],
        ['notes', 'IMG_0811.AAE'],
      ]);
      const { counts } = await house.call('batch', { params: { id: batch } });
      expect(counts).toMatchObject({ total: 8, stored: 4, beside: 4, skipped: 0, failed: 0 });
      for (const row of rows)
        for (const file of await beside(row.id)) {
          expect(path.dirname(file.vault_path)).toBe(
            path.dirname((await pictures(batch)).find((r) => r.id === row.id)!.vault_path),
          );
          expect(sha(path.join(root(), file.vault_path))).toBe(file.sha256.toString('hex'));
        }
      const shown = await house.call('picture', { params: { id: rows.find((r) => r.name === 'IMG_2024.heic')!.id } });
      expect(shown.beside).toHaveLength(1);
      const clip = await house.fetch(`/api/pictures/${shown.id}/files/${shown.beside[0]!.id}`);
      expect([clip.status, clip.headers.get('content-type')]).toEqual([200, 'video/mp4']);
      expect(
        createHash('sha256')
          .update(Buffer.from(await clip.arrayBuffer()))
          .digest('hex'),
      ).toBe(sha(path.join(folder, 'pairs/IMG_2024.mov')));
      const again = await house.takeIn(path.join(folder, 'pairs'), 'Pairs again');
      expect((await house.call('batch', { params: { id: again } })).counts).toMatchObject({
        stored: 0,
        known: 4,
        beside: 4,
      });
    });

    test('they stay together when they are numbered and refiled, and numbering can be undone', async () => {
      const batch = (await house.app.db('batches').where('name', 'pairs').first('id')) as { id: number };
      const numbering = { base: 'Harvest', start: 9, digits: 3, day: 'before' as const };
      const { names } = await house.call('previewNumbers', { body: { batch: batch.id, numbering } });
      const before = await house.call('numberFiles', { body: { batch: batch.id, numbering } });
      await house.quiet();
      const rows = await pictures(batch.id);
      expect(rows.map((r) => r.name).sort()).toEqual(names.map((n) => n.to).sort());
      expect(rows.every((r) => /^\d{4}-\d\d-\d\d Harvest 0(09|1\d)\.\w+$/.test(r.name))).toBe(true);
      for (const row of rows) {
        expect(path.basename(row.vault_path)).toBe(row.name);
        for (const file of await beside(row.id)) {
          expect(existsSync(path.join(root(), file.vault_path))).toBe(true);
          expect(path.dirname(file.vault_path)).toBe(path.dirname(row.vault_path));
        }
      }
      const live = rows.find((r) => r.original_name === 'IMG_2024.heic')!;
      expect(path.basename((await beside(live.id))[0]!.vault_path)).toBe(live.name.replace('.heic', '.mov'));
      await house.undo(before);
      await house.quiet();
      expect((await pictures(batch.id)).map((r) => path.basename(r.vault_path)).sort()).toEqual([
        'DSC0005.jpg',
        'IMG_2024.heic',
        'IMG_2061V.mp4',
        'IMG_E0811.jpg',
      ]);
    });
  });

  describe('an older library', () => {
    beforeAll(recognise(true));
    afterAll(recognise(false));
    const truth = (
      JSON.parse(readFileSync(path.join(DEMO, 'truth.json'), 'utf8')) as { files: { path: string; words?: Words }[] }
    ).files
      .filter((f) => f.path.startsWith('older-library/') && f.words)
      // The short form has every fifth of it.
      .filter((_, i) => LONG || i % 5 === 0);
    const from = () => {
      if (LONG) return path.join(DEMO, 'older-library');
      for (const { path: file } of truth)
        for (const one of [file, `${file}.xmp`, file.replace(/\.jpg$/, '.xmp')])
          if (existsSync(path.join(DEMO, one))) put(one, one);
      return path.join(folder, 'older-library');
    };

    test('everything people said comes in, sidecars are kept as they came, and read back the same', async () => {
      const batch = await house.takeIn(from(), 'Older library');
      expect((await house.call('batch', { params: { id: batch } })).counts).toMatchObject({
        stored: truth.length,
        beside: LONG ? 16 : 4,
        skipped: 0,
      });
      const tree = new Map(
        (
          (await house.app.db('tags').select('id', 'name', 'parent_id')) as {
            id: number;
            name: string;
            parent_id: number | null;
          }[]
        ).map((t) => [t.id, t]),
      );
      for (const { path: from, words } of truth) {
        const row = (await pictures(batch)).find((r) => r.name === path.basename(from))!;
        const shown = await house.call('picture', { params: { id: row.id } });
        expect([shown.title, shown.caption, shown.rating]).toEqual([words!.title, words!.description, words!.rating]);
        const wanted = new Set(
          [...words!.subjects, ...words!.hierarchical].map((w) => w.split('|').pop()!.toLowerCase()),
        );
        const folded = new Set(shown.tags.map((t) => t.name.toLowerCase()));
        for (const w of wanted)
          expect([
            from,
            w,
            folded.has(w) ||
              [...words!.subjects, ...words!.hierarchical].some((p) =>
                p.toLowerCase().split('|').slice(0, -1).includes(w),
              ),
          ]).toEqual([from, w, true]);
        expect(
          shown.faces
            .filter((f) => f.namedBy === 'hand')
            .map((f) => f.person!.name)
            .sort(),
        ).toEqual(words!.faces.map(([name]) => name).sort());
        if (words!.gps) expect(shown.position!.lat).toBeCloseTo(words!.gps[0], 4);
      }
      const uppsala = [...tree.values()].find((t) => t.name === 'Uppsala')!;
      expect(tree.get(tree.get(uppsala.parent_id!)!.parent_id!)!.name).toBe('Places');
      await house.quiet();
      for (const { path: from, words } of truth.slice(0, 6)) {
        const row = (await pictures(batch)).find((r) => r.name === path.basename(from))!;
        const [kept] = await beside(row.id);
        const original = [`${from}.xmp`, from.replace(/\.jpg$/, '.xmp')]
          .map((f) => path.join(DEMO, f))
          .find(existsSync)!;
        expect(sha(path.join(root(), kept!.vault_path))).toBe(sha(original));
        const ours = (await exiftool().readRaw(path.join(root(), `${row.vault_path}.xmp`), {
          readArgs: ['-struct', '-n'],
        })) as Record<string, unknown>;
        expect([ours['Title'], ours['Description'], ours['Rating']]).toEqual([
          words!.title,
          words!.description,
          words!.rating,
        ]);
        expect(
          ((ours['RegionInfo'] as { RegionList: { Name: string }[] }).RegionList ?? []).map((r) => r.Name).sort(),
        ).toEqual(words!.faces.map(([name]) => name).sort());
      }
    });

    test('what is here already keeps its words; what was said elsewhere is listed, and can be taken with an undo', async () => {
      const [row] = (await house.app.db('pictures').where('name', '02-13_01.jpg')) as Row[];
      await house.call('change', { body: { ids: [row!.id], change: { title: 'Ours', caption: null, rating: 0 } } });
      put('older-library/2023/02-13_01.jpg', 'words/02-13_01.jpg');
      put('older-library/2023/02-13_01.xmp', 'words/02-13_01.xmp');
      // The very same sidecar would be known; another program wrote one word more.
      const xmp = path.join(folder, 'words/02-13_01.xmp');
      writeFileSync(
        xmp,
        readFileSync(xmp, 'utf8').replace('<rdf:li>lake</rdf:li>', '<rdf:li>lake</rdf:li><rdf:li>jetty</rdf:li>'),
      );
      const batch = await house.takeIn(path.join(folder, 'words'));
      const shown = await house.call('picture', { params: { id: row!.id } });
      expect([shown.title, shown.caption, shown.rating]).toEqual(['Ours', 'Taken just before the rain.', 3]);
      expect(shown.tags.map((t) => t.name)).toContain('jetty');
      const { conflicts } = await house.call('conflicts', { params: { id: batch } });
      expect(conflicts).toMatchObject([{ what: 'title', kept: 'Ours', other: 'A Sunday' }]);
      const { id } = conflicts[0]!;
      const taken = await house.call('settleConflict', { params: { id }, body: { take: 'other' } });
      expect((await house.call('picture', { params: { id: row!.id } })).title).toBe('A Sunday');
      expect((await house.call('conflicts', { params: { id: batch } })).conflicts).toEqual([]);
      await house.undo(taken);
      expect((await house.call('picture', { params: { id: row!.id } })).title).toBe('Ours');
      expect((await house.call('conflicts', { params: { id: batch } })).conflicts).toHaveLength(1);
    });

    test('a ZIP is opened file by file; its list of albums is followed; archives inside it are named', async () => {
      const at = path.join(folder, 'zipped/Trip');
      mkdirSync(path.join(at, 'hill'), { recursive: true });
      for (const n of [14, 15, 16])
        cpSync(path.join(DEMO, PHONE, `IMG_08${n}.jpg`), path.join(at, 'hill', `IMG_08${n}.jpg`));
      writeFileSync(
        path.join(at, 'albums.csv'),
        'File,Album\nhill/IMG_0814.jpg,Best of\nTrip/hill/IMG_0815.jpg,Best of|Wall\nnone.jpg,Wall\n',
      );
      writeFileSync(path.join(at, 'notes.txt'), 'nothing to see');
      writeFileSync(path.join(at, 'inner.zip'), 'PK\u0003\u0004');
      execFileSync('python3', ['-c', ZIP, path.join(folder, 'zip/Trip.zip'), path.join(folder, 'zipped')]);
      const batch = await house.takeIn(path.join(folder, 'zip'), 'A ZIP');
      const { items } = await house.call('batchItems', { params: { id: batch }, body: {} });
      const fate = Object.fromEntries(items.map((i) => [path.basename(i.path), [i.state, i.reason?.code ?? null]]));
      expect(fate).toMatchObject({
        'Trip.zip': ['opened', 'archive-opened'],
        'IMG_0814.jpg': ['stored', null],
        'IMG_0816.jpg': ['stored', null],
        'albums.csv': ['opened', 'list-read'],
        'notes.txt': ['skipped', 'not-a-picture'],
        'inner.zip': ['skipped', 'archive-inside'],
        'climb.jpg': ['skipped', 'archive-leads-out'],
      });
      const { albums } = await house.call('albums', {});
      expect(Object.fromEntries(albums.map((a) => [a.name, a.pictures]))).toMatchObject({ 'Best of': 2, Wall: 1 });
      const report = await (await house.fetch(`/api/batches/${batch}/report`)).text();
      expect(report.split('\r\n')).toHaveLength(items.length + 2);
      expect(report).toContain('inner.zip');
    });
  });

  describe('uploads', () => {
    const tus = { 'tus-resumable': '1.0.0' };
    const head = async (item: number) => {
      const response = await house.fetch(`/api/uploads/${item}`, { method: 'HEAD', headers: tus });
      return [response.status, Number(response.headers.get('upload-offset'))];
    };

    test('one that was cut goes on where it stopped, for its own library alone, and never becomes half a picture', async () => {
      const bytes = readFileSync(path.join(DEMO, PHONE, 'IMG_0817.jpg'));
      const { id, items } = await house.call('openBatch', {
        body: { name: 'Cut', files: [{ path: 'IMG_0817.jpg', bytes: bytes.length }] },
      });
      const item = items[0]!;
      const made = await house.fetch('/api/uploads', {
        method: 'POST',
        headers: {
          ...tus,
          'upload-length': String(bytes.length),
          'upload-metadata': `item ${Buffer.from(String(item)).toString('base64')}`,
        },
      });
      expect([made.status, made.headers.get('location')]).toEqual([201, `/api/uploads/${item}`]);
      const patch = (from: number, to: number, as = house.keeper) =>
        house.fetch(
          `/api/uploads/${item}`,
          {
            method: 'PATCH',
            body: new Uint8Array(bytes.subarray(from, to)),
            headers: { ...tus, 'upload-offset': String(from), 'content-type': 'application/offset+octet-stream' },
          },
          as,
        );
      expect((await patch(0, 4000)).status).toBe(204);
      expect(await head(item)).toEqual([200, 4000]);
      expect((await patch(9000, 12_000)).status).toBe(409);
      expect((await patch(4000, 9000, await house.member('relative'))).status).toBe(410);
      await house.quiet();
      expect(await pictures(id)).toEqual([]);
      expect((await patch(4000, bytes.length)).status).toBe(204);
      await house.quiet();
      expect((await pictures(id)).map((r) => r.name)).toEqual(['IMG_0817.jpg']);
      expect((await head(item))[0]).toBe(410);
      expect(readdirSync(house.app.paths.uploads)).toEqual([]);
    });

    test('fingerprints told before sending spare what is here; it still goes into the album', async () => {
      const file = path.join(DEMO, PHONE, 'IMG_0817.jpg');
      const { id, items } = await house.call('openBatch', {
        body: {
          name: 'Known',
          files: [
            { path: 'Known/a.jpg', bytes: statSync(file).size },
            { path: 'Known/b.jpg', bytes: 10 },
          ],
        },
      });
      const prints = [
        { item: items[0]!, sha256: sha(file) },
        { item: items[1]!, sha256: 'ab'.repeat(32) },
      ];
      expect(await house.call('fingerprints', { params: { id }, body: { prints } })).toEqual({ known: [items[0]] });
      await house.call('giveUpWaiting', { params: { id } });
      const batch = await house.call('batch', { params: { id } });
      expect(batch).toMatchObject({ state: 'done', counts: { known: 1, skipped: 1 } });
      expect(batch.leftOut.map((l) => l.reason.code)).toContain('never-arrived');
      const { albumId } = await house.call('batchAlbum', { params: { id }, body: { name: 'Known' } });
      expect((await house.call('album', { params: { id: albumId! } })).ids).toHaveLength(1);
    });

    test('a sidecar that arrives after its picture is waited for', async () => {
      const jpg = readFileSync(path.join(DEMO, PHONE, 'IMG_0818.jpg'));
      const xmp = readFileSync(path.join(DEMO, 'older-library/2023/03-02_02.jpg.xmp'));
      const { id, items } = await house.call('openBatch', {
        body: {
          name: 'Late words',
          files: [
            { path: 'IMG_0818.jpg', bytes: jpg.length },
            { path: 'IMG_0818.xmp', bytes: xmp.length },
          ],
        },
      });
      expect((await house.send(items[0]!, jpg)).status).toBeLessThan(300);
      await house.quiet();
      expect(await pictures(id)).toEqual([]);
      expect((await house.send(items[1]!, xmp)).status).toBeLessThan(300);
      await house.quiet();
      expect(await pictures(id)).toMatchObject([{ title: 'After lunch', rating: 5 }]);
    });

    test('a full disk stops cleanly and goes on by itself when there is room', async () => {
      const bytes = readFileSync(path.join(DEMO, PHONE, 'IMG_0819.jpg'));
      const { id, items } = await house.call('openBatch', {
        body: { name: 'Full', files: [{ path: 'IMG_0819.jpg', bytes: bytes.length }] },
      });
      house.app.config.reserve = 1e15;
      try {
        const refused = await house.send(items[0]!, bytes);
        expect(refused.status).toBe(507);
        expect(((await refused.json()) as { title: string }).title).toMatch(/^The disk is full\./);
        put(`${PHONE}/IMG_0820.jpg`, 'full/IMG_0820.jpg');
        const local = await openBatch(house.app, 1, 'Full too', await walk(path.join(folder, 'full')));
        for (let i = 0; i < 100 && !house.app.full.has(1); i++) await new Promise((resolve) => setTimeout(resolve, 50));
        expect((await house.call('library', {})).full).toBe(true);
        expect((await house.call('room', {})).left).toBe(0);
        expect(await pictures(local.id)).toEqual([]);
        house.app.config.reserve = 0;
        await house.app.db('jobs').update({ run_after: house.app.db.raw('UTC_TIMESTAMP(3)') });
        expect((await house.send(items[0]!, bytes)).status).toBeLessThan(300);
        await house.quiet();
        expect([(await pictures(id)).length, (await pictures(local.id)).length]).toEqual([1, 1]);
        expect((await house.call('library', {})).full).toBe(false);
      } finally {
        house.app.config.reserve = 0;
      }
    });
  });

  describe('a card', () => {
    const inbox = () => path.join(house.app.config.data, 'inbox');

    test('is listed by day with what is here already, is taken from as ticked, and is never written to', async () => {
      const card = path.join(inbox(), 'card-autumn');
      // The short form has half of the card.
      const most = LONG ? 24 : 12;
      for (const name of readdirSync(path.join(DEMO, 'later/card-autumn/DCIM/102')).slice(0, most))
        cpSync(path.join(DEMO, 'later/card-autumn/DCIM/102', name), path.join(card, 'DCIM/102', name));
      put('later/card-autumn/DCIM/102/DSC0503.jpg', 'early/DSC0503.jpg');
      await house.takeIn(path.join(folder, 'early'));
      const before = listing(card);
      await lookForCards(house.app, 1);
      await house.quiet();
      const { cards } = await house.call('cards', {});
      expect(cards).toMatchObject([{ name: 'card-autumn', files: most, fresh: most - 1, listing: null }]);
      const { id } = cards[0]!;
      expect((await house.call('library', {})).cards).toBe(1);
      const { files, room } = await house.call('card', { params: { id } });
      expect(room.left).toBeGreaterThan(0);
      expect(files.filter((f) => f.state === 'here').map((f) => path.basename(f.path))).toEqual(['DSC0503.jpg']);
      expect(files.every((f) => f.taken!.startsWith('2026-11-21'))).toBe(true);
      const view = await house.fetch(`/api/sources/${id}/files/${files[0]!.id}/thumb`);
      expect([view.status, view.headers.get('content-type')]).toEqual([200, 'image/webp']);
      const ticked = files.filter((f) => f.state === 'new').slice(0, most - 4);
      const { batch } = await house.call('takeCard', { params: { id }, body: { files: ticked.map((f) => f.id) } });
      await house.quiet();
      expect(await pictures(batch)).toHaveLength(most - 4);
      expect((await house.call('card', { params: { id } })).files.filter((f) => f.state === 'new')).toHaveLength(3);
      expect(listing(card)).toEqual(before);
      const { devices } = await house.call('ledger', {});
      const camera = devices.find((d) => d.sources.some((s) => s.id === id))!;
      const first = files.filter((f) => f.state === 'new' && !ticked.includes(f))[0]!;
      expect(camera.notHere).toBe(3);
      expect(camera.missingSince).toBe(first.taken!.slice(0, 10));
      expect(camera.clearUntil === null || camera.clearUntil < camera.missingSince!).toBe(true);
      const rest = (await house.call('card', { params: { id } })).files
        .filter((f) => f.state === 'new')
        .map((f) => f.id);
      await house.call('takeCard', { params: { id }, body: { files: rest } });
      await house.quiet();
      const after = (await house.call('ledger', {})).devices.find((d) => d.device === camera.device)!;
      expect(after).toMatchObject({ notHere: 0, gaps: [], missingSince: null });
      expect(after.clearUntil).toBe(files[files.length - 1]!.taken!.slice(0, 10));
      expect(after.proven).toBe(after.stored);
      // A file that came to the card since it was put in is found when somebody looks.
      writeFileSync(
        path.join(card, 'DCIM/102/DSC0525.jpg'),
        Buffer.concat([readFileSync(path.join(DEMO, 'later/card-autumn/DCIM/102/DSC0524.jpg')), Buffer.from('later')]),
      );
      await house.app.db('sources').where('id', id).update({ listed_at: '2020-01-01' });
      await house.call('card', { params: { id } });
      await house.quiet();
      expect((await house.call('card', { params: { id } })).files.filter((f) => f.state === 'new')).toHaveLength(1);
      rmSync(card, { recursive: true });
      await lookForCards(house.app, 1);
      expect((await house.call('cards', {})).cards).toEqual([]);
      await expect(house.call('takeCard', { params: { id }, body: { files: rest } })).rejects.toThrow(
        /no longer there/,
      );
    });

    test('says of every file the time the library will say: of its head, its name, its sidecar, a clip', async () => {
      const card = path.join(inbox(), 'card-odd');
      const dcim = path.join(card, 'DCIM/100');
      mkdirSync(dcim, { recursive: true });
      const plain = (name: string, tone: number) =>
        sharp({ create: { width: 64, height: 48, channels: 3, background: { r: tone, g: 90, b: 40 } } })
          .jpeg()
          .toFile(path.join(dcim, name));
      await plain('IMG_20190304_210000.jpg', 10);
      await plain('SCAN0001.jpg', 90);
      writeFileSync(
        path.join(dcim, 'SCAN0001.jpg.xmp'),
        `<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">
         <rdf:Description rdf:about="" xmlns:exif="http://ns.adobe.com/exif/1.0/"><exif:DateTimeOriginal>1987-06-01T10:20:30</exif:DateTimeOriginal></rdf:Description></rdf:RDF></x:xmpmeta>`,
      );
      cpSync(path.join(DEMO, 'later/card-autumn/DCIM/102/DSC0504.jpg'), path.join(dcim, 'DSC0504.jpg'));
      await lookForCards(house.app, 1);
      await house.quiet();
      const { id } = (await house.call('cards', {})).cards.find((one) => one.name === 'card-odd')!;
      const { files } = await house.call('card', { params: { id } });
      const listed = Object.fromEntries(files.map((f) => [path.basename(f.path), f.taken!.replace('T', ' ')]));
      expect(listed).toMatchObject({
        'IMG_20190304_210000.jpg': expect.stringMatching(/^2019-03-04 21:00:00/) as string,
        'SCAN0001.jpg': expect.stringMatching(/^1987-06-01 10:20:30/) as string,
      });
      const wanted = files.filter((f) => f.state === 'new').map((f) => f.id);
      const { batch } = await house.call('takeCard', { params: { id }, body: { files: wanted } });
      await house.quiet();
      for (const row of await pictures(batch))
        expect([row.name, listed[row.name]?.slice(0, 19)]).toEqual([row.name, row.taken_local?.slice(0, 19)]);
      rmSync(card, { recursive: true });
      await lookForCards(house.app, 1);
    });

    test('missing numbers are named until somebody says they are gone', async () => {
      for (const n of ['01', '02', '06']) put(`good-camera/DCIM/101/DSC01${n}.jpg`, `gaps/DSC01${n}.jpg`);
      await house.takeIn(path.join(folder, 'gaps'));
      await house.app.db('sources').update({ listed_at: null });
      const find = async () =>
        (await house.call('ledger', {})).devices.find((d) => d.gaps.some((g) => g.from === 'DSC0103'));
      const camera = (await find())!;
      expect(camera.gaps[0]).toMatchObject({ from: 'DSC0103', to: 'DSC0105', missing: 3 });
      const settled = await house.call('settleGap', { params: { id: camera.device! }, body: { from: ['DSC0103'] } });
      expect(await find()).toBeUndefined();
      await house.undo(settled);
      expect(await find()).toBeDefined();
      // They had come in from elsewhere under other names; the camera delivers them, and they are known.
      for (const n of ['03', '04', '05'])
        put(`good-camera/DCIM/101/DSC01${n}.jpg`, `elsewhere/from Aunt Vera ${n}x.jpg`);
      await house.takeIn(path.join(folder, 'elsewhere'));
      expect(await find()).toBeDefined();
      for (const n of ['03', '04', '05']) put(`good-camera/DCIM/101/DSC01${n}.jpg`, `gaps again/DSC01${n}.jpg`);
      await house.takeIn(path.join(folder, 'gaps again'));
      expect(await find()).toBeUndefined();
    });
  });

  test('a clip’s own clock runs in UTC: it is read by the pictures taken around it', async () => {
    const still = put(`${PHONE}/IMG_0811.jpg`, 'zone/far.jpg');
    await exiftool().write(
      still,
      {
        DateTimeOriginal: '2019:03-04 20:58:00'.replace('-', ':'),
        OffsetTimeOriginal: '+09:00',
        GPSLatitude: null,
        GPSLongitude: null,
      } as never,
      { writeArgs: ['-overwrite_original'] },
    );
    await house.takeIn(path.join(folder, 'zone'));
    mkdirSync(path.join(folder, 'zone2'));
    execFileSync('ffmpeg', [
      '-v',
      'error',
      '-f',
      'lavfi',
      '-i',
      'testsrc=size=96x64:rate=12:duration=1',
      '-metadata',
      'creation_time=2019-03-04T12:00:00Z',
      path.join(folder, 'zone2/clip.mp4'),
    ]);
    const [clip] = await pictures(await house.takeIn(path.join(folder, 'zone2')));
    expect(clip).toMatchObject({ taken_local: '2019-03-04 21:00:00.000', taken_source: 'camera' });
  });

  test('pictures that nearly show the same come in and are marked', async () => {
    const source = put(`${PHONE}/IMG_0821.jpg`, 'alike/IMG_0821.jpg');
    await sharp(source)
      .modulate({ brightness: 1.04 })
      .jpeg({ quality: 70 })
      .toFile(path.join(folder, 'alike/brighter.jpg'));
    utimesSync(source, seconds, seconds);
    const batch = await house.takeIn(path.join(folder, 'alike'));
    const rows = await pictures(batch);
    expect(rows).toHaveLength(2);
    expect(rows.filter((r) => r.alike_id !== null)).toHaveLength(1);
    const { items } = await house.call('batchItems', { params: { id: batch }, body: { fate: 'stored' } });
    expect(items.filter((i) => i.alike)).toHaveLength(1);
  });

  test('of those that nearly show the same the best is kept, whatever came first', async () => {
    const source = put('grans-tablet/photo_2026-05-16_13-02-39.jpg', 'burst/IMG_0829.jpg');
    const small = path.join(folder, 'burst first/from a friend.jpg');
    mkdirSync(path.dirname(small), { recursive: true });
    await sharp(source).resize(500).jpeg({ quality: 60 }).toFile(small);
    await house.takeIn(path.join(folder, 'burst first'));
    // A shaken shot, with all its camera says, and then the sharp original.
    await sharp(source).blur(3).withMetadata().jpeg({ quality: 95 }).toFile(path.join(folder, 'burst/shaken.jpg'));
    await house.takeIn(path.join(folder, 'burst'));
    const rows = await house.app
      .db('pictures')
      .whereIn('name', ['from a friend.jpg', 'shaken.jpg', 'IMG_0829.jpg'])
      .orWhereIn('original_name', ['from a friend.jpg', 'shaken.jpg', 'IMG_0829.jpg'])
      .select('id', 'width', 'sharpness', 'alike_id');
    expect(rows).toHaveLength(3);
    const [kept] = [...rows].sort((a, b) => b.width - a.width || b.sharpness! - a.sharpness!);
    expect(rows.map((r) => r.alike_id)).toEqual(rows.map((r) => (r.id === kept!.id ? null : kept!.id)));
  });

  test('several folders of a batch become an album each, told apart by the folder above', async () => {
    put(`${PHONE}/IMG_0822.jpg`, 'trips/2025/Lake/a.jpg');
    put(`${PHONE}/IMG_0823.jpg`, 'trips/2026/Lake/b.jpg');
    put(`${PHONE}/IMG_0824.jpg`, 'trips/2026/Hill/deep/c.jpg');
    const batch = await house.takeIn(path.join(folder, 'trips'));
    expect((await house.call('batch', { params: { id: batch } })).folders.map((f) => f.folder)).toEqual([
      'trips/2025/Lake',
      'trips/2026/Hill/deep',
      'trips/2026/Lake',
    ]);
    const { albumIds } = await house.call('folderAlbums', { params: { id: batch } });
    const { albums } = await house.call('albums', {});
    expect(albumIds.map((id) => albums.find((a) => a.id === id)!.name)).toEqual(['2025, Lake', 'deep', '2026, Lake']);
    await expect(house.call('folderAlbums', { params: { id: batch } })).rejects.toThrow(/already been made/);
  });
});

/** Every file below a folder with its size and time of change. */
function listing(at: string): string[] {
  return readdirSync(at).flatMap((name) => {
    const full = path.join(at, name);
    const info = statSync(full);
    return info.isDirectory() ? listing(full) : [`${full} ${info.size} ${info.mtimeMs}`];
  });
}

/** Packs a folder as a ZIP, and a file whose name leads out of it. */
const ZIP = `
import os, sys, zipfile
os.makedirs(os.path.dirname(sys.argv[1]), exist_ok=True)
with zipfile.ZipFile(sys.argv[1], 'w') as z:
    for base, _, names in os.walk(sys.argv[2]):
        for name in names:
            full = os.path.join(base, name)
            z.write(full, os.path.relpath(full, sys.argv[2]))
    z.writestr('../../climb.jpg', b'x')
`;
