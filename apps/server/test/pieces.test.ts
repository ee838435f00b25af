import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdirSync, readdirSync, readFileSync, renameSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { NO_EDITS, PLAIN_BOOK, PLAIN_OUT, PLAIN_SHOW } from '@gemmel/core';
import { derivedBase } from '../src/context';
import { withExiftool } from '../src/media/exiftool';
import { pieceFolder } from '../src/piece/folder';
import { producePiece } from '../src/piece/produce';
import { isJourney, mapOf } from '../src/piece/book/map';
import { isQuiet } from '../src/frame/frames';
import { StandInFrame } from '../src/standin/frame';
import { StandInShop } from '../src/standin/shop';
import { DEMO, openHouse, type House } from './house';
import { LONG, testLong } from './long';

const book = { kind: 'book', ...PLAIN_BOOK } as const;
const tool = (name: string, ...args: string[]): string => execFileSync(name, args, { encoding: 'utf8' });

/** Books, prints, films and more: made from pictures, looked at by independent programs. */
describe('pieces', () => {
  let house: House;
  let ids: number[];
  let few: number;
  let stills: number[];
  let clip: number;

  beforeAll(async () => {
    house = await openHouse();
    await house.takeIn(path.join(DEMO, 'grans-tablet'));
    const made = path.join(house.app.config.data, 'made');
    mkdirSync(made);
    tool(
      'ffmpeg',
      ...['-v', 'error', '-f', 'lavfi', '-i', 'testsrc=s=320x240:d=2:r=30', '-f', 'lavfi', '-i', 'sine=d=2'],
      ...['-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-c:a', 'aac', path.join(made, 'VID_20260516_120000.mp4')],
    );
    await house.takeIn(made);
    const rows = await house.app.db('pictures').orderBy('id').select('id', 'kind');
    ids = rows.map(({ id }) => id);
    stills = rows.filter(({ kind }) => kind === 'photo').map(({ id }) => id);
    clip = rows.find(({ kind }) => kind === 'video')!.id;
    few = (await house.call('makeAlbum', { body: { name: 'A few', ids: ids.slice(0, 9) } })).id;
    await house.call('change', { body: { ids: [ids[0]!], change: { caption: 'Upp i det blå – über den Wolken' } } });
  });
  afterAll(() => house?.stop());

  const begin = async (
    name: string,
    settings: Parameters<House['call']>[1] | object = book,
    source: object = { album: few },
  ) => (await house.call('makePiece', { body: { name, source, settings } as never })).id;
  /** Has the files of a piece made, and answers with where each lies. */
  const made = async (id: number) => {
    await house.call('produce', { params: { id } });
    await house.quiet();
    const piece = await house.call('piece', { params: { id } });
    if (!piece.made) throw new Error(JSON.stringify(piece.making));
    const row = (await house.app.db('piece_files').where('piece_id', id).first())!;
    return {
      piece,
      files: piece.made.files.map(({ name }) => path.join(pieceFolder(house.app, id), row.folder, name)),
    };
  };

  describe('a book', () => {
    test('is a PDF that independent readers find whole, with its fonts in it and pictures in sRGB', async () => {
      const id = await begin('Our year: 2026', book, { ids: ids });
      const { piece, files } = await made(id);
      const layout = await house.call('bookLayout', { params: { id } });
      expect(piece.made!.files.map(({ name }) => name)).toEqual(['Our year 2026.pdf', 'Our year 2026 - cover.pdf']);
      const [pages, cover] = files as [string, string];
      for (const file of files) expect(tool('qpdf', '--check', file)).toMatch(/No syntax or stream encoding errors/);
      const info = tool('pdfinfo', '-box', pages);
      expect(info).toMatch(new RegExp(`Pages: +${layout.pages.length}\\b`));
      expect(info).toMatch(/Title: +Our year: 2026/);
      // 210 mm trimmed, with 3 mm of bleed and room for marks around.
      expect(info).toMatch(/TrimBox: +28\.35 +28\.35 +623\.62 +623\.62/);
      expect(info).toMatch(/BleedBox: +19\.84 +19\.84 +632\.13 +632\.13/);
      for (const line of tool('pdffonts', pages).trim().split('\n').slice(2))
        expect(line).toMatch(/TrueType.* yes yes yes/);
      const images = tool('pdfimages', '-list', pages).trim().split('\n').slice(2);
      expect(images.length).toBe(layout.pages.flatMap((page) => page.pictures).length);
      for (const line of images) expect(line).toMatch(/ image +\d+ +\d+ +(icc|rgb) +3 +8 +jpeg/);
      expect(tool('pdftotext', pages, '-')).toMatch(/Upp i det blå – über den Wolken/);
      expect(tool('pdfinfo', cover)).toMatch(/Pages: +1\b/);
      // Where a picture stands on a page, something is printed.
      const bearing = layout.pages.find((page) => page.kind === 'pictures' && page.pictures.length)!;
      const png = path.join(house.app.config.data, 'page');
      tool(
        'pdftoppm',
        '-r',
        '40',
        '-png',
        '-singlefile',
        '-f',
        String(bearing.number),
        '-l',
        String(bearing.number),
        pages,
        png,
      );
      const { box } = bearing.pictures[0]!;
      const px = (mm: number) => Math.round(((mm + 10) / 25.4) * 40);
      const seen = await sharp(`${png}.png`)
        .extract({
          left: px(box.x) + 2,
          top: px(box.y) + 2,
          width: px(box.w) - px(0) - 4,
          height: px(box.h) - px(0) - 4,
        })
        .stats();
      expect(seen.isOpaque).toBe(true);
      expect(Math.max(...seen.channels.map(({ stdev }) => stdev))).toBeGreaterThan(8);
    });

    test('is sent whole and in part, to who helps and nobody else', async () => {
      const id = await begin('Sent');
      const { piece } = await made(id);
      const at = `/api/pieces/${id}/files/${encodeURIComponent(piece.made!.files[0]!.name)}`;
      const whole = await house.fetch(at);
      expect(whole.headers.get('content-type')).toBe('application/pdf');
      expect((await whole.arrayBuffer()).byteLength).toBe(piece.made!.files[0]!.bytes);
      expect((await house.fetch(at, { headers: { range: 'bytes=0-3' } })).status).toBe(206);
      expect((await house.fetch(at, {}, await house.member('relative'))).status).toBe(403);
      expect((await house.fetch(at, {}, null)).status).toBe(401);
      expect((await house.fetch(`/api/pieces/${id}/files/..%2f..%2fx`)).status).toBe(404);
    });

    test('says when it has changed since it was made, and only then', async () => {
      const id = await begin('Changes');
      expect((await made(id)).piece.made!.changed).toBe(false);
      const said = await house.call('change', { body: { ids: [ids[1]!], change: { caption: 'Something new' } } });
      expect((await house.call('piece', { params: { id } })).made!.changed).toBe(true);
      await house.undo(said);
      expect((await house.call('piece', { params: { id } })).made!.changed).toBe(false);
      const other = await house.call('changePiece', {
        params: { id },
        body: { edits: { ...NO_EDITS, words: { title: 'Otherwise' } } },
      });
      expect((await house.call('piece', { params: { id } })).made!.changed).toBe(true);
      expect((await house.call('bookLayout', { params: { id } })).cover.texts[0]!.lines).toEqual(['Otherwise']);
      await house.undo(other);
      expect((await house.call('piece', { params: { id } })).made!.changed).toBe(false);
    });

    test('changed by two at once: the second is told, and loses nothing of the first', async () => {
      const id = await begin('By two');
      const { seen } = await house.call('bookLayout', { params: { id } });
      const edits = (out: number[]) => ({ ...NO_EDITS, out });
      await house.call('changePiece', { params: { id }, body: { edits: edits([stills[0]!]), seen } });
      await expect(
        house.call('changePiece', { params: { id }, body: { edits: edits([stills[1]!]), seen } }),
      ).rejects.toMatchObject({ status: 409 });
      const now = await house.call('bookLayout', { params: { id } });
      expect(now.edits.out).toEqual([stills[0]]);
      expect(now.out.map((one) => one.id)).toEqual([stills[0]]);
    });

    testLong('draws the map of a journey: land, the way, and its stops', async () => {
      const gotland = [
        [18.295, 57.641, 'Visby'],
        [18.3, 57.642, 'Visby'],
        [18.8, 57.86, 'Slite'],
        [19.06, 57.91, 'Fårö'],
      ] as const;
      expect(isJourney(gotland.map(([x, y]) => [x, y]))).toBe(true);
      // A day in one town is none.
      expect(isJourney(gotland.slice(0, 2).map(([x, y]) => [x, y]))).toBe(false);
      const map = (await mapOf(
        house.app,
        gotland.map(([x, y, place]) => ({ spot: [x, y] as const, place })),
      ))!;
      expect(map.land).toMatch(/^M[\d. L-]+Z/);
      expect(map.stops.map(({ name }) => name)).toEqual(['Visby', 'Slite', 'Fårö']);
      for (const { x, y } of map.stops) {
        expect(x).toBeGreaterThan(50);
        expect(x).toBeLessThan(950);
        expect(y).toBeGreaterThan(30);
        expect(y).toBeLessThan(map.height - 30);
      }
      // East is to the right, north above.
      expect(map.stops[2]!.x).toBeGreaterThan(map.stops[0]!.x);
      expect(map.stops[2]!.y).toBeLessThan(map.stops[0]!.y);
      // Nothing of it is drawn far beyond its edge.
      for (const [, x, y] of map.land.matchAll(/([\d.-]+) ([\d.-]+)/g)) {
        expect(Math.abs(Number(x) - 500)).toBeLessThanOrEqual(501);
        expect(Math.abs(Number(y) - map.height / 2)).toBeLessThanOrEqual(map.height / 2 + 1);
      }
    });

    testLong('that is stopped goes on where it was, and is made once', async () => {
      const id = await begin('Stopped');
      const stop = new AbortController();
      const base = pieceFolder(house.app, id);
      const job = { library: 1, about: id };
      await producePiece(house.app, {
        ...job,
        signal: stop.signal,
        report: (done) => void (done === 5 && stop.abort()),
      });
      expect(await house.app.db('piece_files').where('piece_id', id).first()).toBeUndefined();
      expect(readdirSync(base)).toEqual(['parts']);
      const there = readdirSync(path.join(base, 'parts')).filter((name) => name.endsWith('.jpg'));
      expect(there.length).toBeGreaterThan(3);
      // What is there is taken as it is.
      for (const name of there)
        writeFileSync(
          path.join(base, 'parts', name),
          await sharp({ create: { width: 3, height: 3, channels: 3, background: 'red' } })
            .jpeg()
            .toBuffer(),
        );
      await producePiece(house.app, { ...job, signal: new AbortController().signal, report: () => undefined });
      const folders = readdirSync(base);
      expect(folders.length).toBe(1);
      const [pages] = readdirSync(path.join(base, folders[0]!)).filter((name) => !name.includes('cover'));
      const tiny = tool('pdfimages', '-list', path.join(base, folders[0]!, pages!))
        .split('\n')
        .filter((line) => / image +3 +3 /.test(line));
      expect(tiny.length).toBeGreaterThanOrEqual(there.length);
    });

    test('leaves the place of a picture empty that can’t be read, and names it', async () => {
      const { app } = house;
      const gone = (await app.db('pictures').where('id', ids[2]!).first('name', 'vault_path', 'sha256'))!;
      const file = path.join(app.paths.vault, 'home', gone.vault_path);
      const id = await begin('With a gap', { ...book, chapters: 'none' });
      // Neither the original nor what was made of it.
      const large = `${derivedBase(app, gone.sha256.toString('hex'))}-large.jpg`;
      for (const one of [file, large]) renameSync(one, `${one}.away`);
      const { piece } = await made(id);
      for (const one of [file, large]) renameSync(`${one}.away`, one);
      expect(piece.made!.missing).toEqual([gone.name]);
      expect(
        tool(
          'qpdf',
          '--check',
          path.join(pieceFolder(app, id), readdirSync(pieceFolder(app, id))[0]!, 'With a gap.pdf'),
        ),
      ).toMatch(/No syntax/);
    });

    test('is removed with its files, and brought back without them', async () => {
      const id = await begin('Removed');
      await made(id);
      const did = await house.call('removePiece', { params: { id } });
      expect(readdirSync(path.dirname(pieceFolder(house.app, id)))).not.toContain(String(id));
      await expect(house.call('piece', { params: { id } })).rejects.toThrow();
      await house.undo(did);
      expect((await house.call('piece', { params: { id } })).made).toBeNull();
    });
  });

  describe('a film', () => {
    const film = (more: object = {}, show: object = {}) =>
      ({
        kind: 'film',
        language: 'en',
        lines: 720,
        shape: 'wide',
        sound: true,
        ...more,
        show: { ...PLAIN_SHOW, seconds: 1.2, ...show },
      }) as const;
    interface Probed {
      format: { duration: string };
      streams: {
        codec_type: string;
        codec_name: string;
        width?: number;
        height?: number;
        avg_frame_rate: string;
        pix_fmt?: string;
      }[];
    }
    const probed = (file: string): Probed =>
      JSON.parse(tool('ffprobe', '-v', 'error', '-show_format', '-show_streams', '-of', 'json', file)) as Probed;

    test('is as long as its show, H.264 with AAC, ready to begin before all of it is there', async () => {
      const id = await begin('A “year”: it’s 100 % ours', film({}, { cards: LONG }), {
        ids: [...stills.slice(0, LONG ? 2 : 1), clip],
      });
      const { piece, files } = await made(id);
      const [file] = files as [string];
      const { format, streams } = probed(file);
      const expected = piece.expects!.seconds!;
      expect(piece.made!.missing).toEqual([]);
      expect(Math.abs(Number(format.duration) - expected)).toBeLessThan(0.2);
      expect(streams.map(({ codec_name }) => codec_name)).toEqual(['h264', 'aac']);
      expect(streams[0]).toMatchObject({ width: 1280, height: 720, pix_fmt: 'yuv420p', avg_frame_rate: '25/1' });
      // The index stands before what it speaks of.
      const bytes = readFileSync(file);
      expect(bytes.indexOf('moov')).toBeGreaterThan(0);
      expect(bytes.indexOf('moov')).toBeLessThan(bytes.indexOf('mdat'));
      // Every picture of it can be read.
      expect(
        execFileSync('ffmpeg', ['-v', 'error', '-i', file, '-f', 'null', '-'], {
          encoding: 'utf8',
          stdio: ['ignore', 'pipe', 'pipe'],
        }),
      ).toBe('');
    });

    testLong('shows its pictures, not a dark frame, and two upright ones beside each other', async () => {
      const id = await begin('Upright', film({ shape: 'upright' }, { cards: false, movement: 'still' }), {
        ids: stills.slice(0, 2),
      });
      const { files } = await made(id);
      const { streams } = probed(files[0]!);
      expect(streams[0]).toMatchObject({ width: 720, height: 1280 });
      const png = path.join(house.app.config.data, 'frame.png');
      tool('ffmpeg', '-v', 'error', '-y', '-ss', '0.8', '-i', files[0]!, '-frames:v', '1', png);
      const middle = await sharp(png).extract({ left: 260, top: 540, width: 200, height: 200 }).stats();
      expect(Math.max(...middle.channels.map(({ mean }) => mean))).toBeGreaterThan(50);
    });

    testLong('that is stopped keeps its stretches, and goes on with them', async () => {
      const id = await begin('Stopped film', film({}, { cards: false }), { ids: stills.slice(0, 4) });
      const stop = new AbortController();
      const job = { library: 1, about: id };
      // Four stills, then the first stretches.
      await producePiece(house.app, {
        ...job,
        signal: stop.signal,
        report: (done) => void (done >= 12 && stop.abort()),
      });
      const parts = path.join(pieceFolder(house.app, id), 'parts');
      const before = readdirSync(parts).filter((name) => name.endsWith('.mp4'));
      expect(before.length).toBeGreaterThan(0);
      expect(readdirSync(parts).some((name) => name.includes('half'))).toBe(false);
      const { mtimeMs } = statSync(path.join(parts, before[0]!));
      let again = Infinity;
      await producePiece(house.app, {
        ...job,
        signal: new AbortController().signal,
        report: () => {
          const now = statSync(path.join(parts, before[0]!), { throwIfNoEntry: false });
          if (now) again = now.mtimeMs;
        },
      });
      expect(again).toBe(mtimeMs);
      expect((await house.call('piece', { params: { id } })).made!.files.length).toBe(1);
    });
  });

  describe('copies', () => {
    const out = (more: object = {}) => ({ kind: 'out', ...PLAIN_OUT, ...more }) as const;
    /** What a ZIP holds, unpacked: names, and where each lies. */
    const unpacked = (file: string): { root: string; names: string[] } => {
      const root = path.join(house.app.config.data, `out-${path.basename(file, '.zip')}`);
      tool('python3', '-m', 'zipfile', '-e', file, root);
      return {
        root,
        names: (readdirSync(root, { recursive: true }) as string[])
          .filter((name) => statSync(path.join(root, name)).isFile())
          .sort(),
      };
    };

    test('of originals are byte for byte what is kept, with what was said beside them and in albums', async () => {
      const id = await begin('Originals', out(), { ids: [...stills.slice(0, 5), clip] });
      const { piece, files } = await made(id);
      const { root, names } = unpacked(files[0]!);
      expect(piece.made!.missing).toEqual([]);
      const rows = await house.app
        .db('pictures')
        .whereIn('id', [...stills.slice(0, 5), clip])
        .select('name', 'sha256');
      const shas = names
        .filter((name) => !/\.xmp$|^albums/.test(name))
        .map((name) =>
          createHash('sha256')
            .update(readFileSync(path.join(root, name)))
            .digest('hex'),
        );
      expect(shas.sort()).toEqual(rows.map(({ sha256 }) => sha256.toString('hex')).sort());
      expect(names.filter((name) => name.endsWith('.xmp')).length).toBe(6);
      expect(names.filter((name) => /^albums\/A few \(\d+\)\.(csv|json)$/.test(name)).length).toBe(2);
      expect(Math.abs(piece.expects!.bytes - piece.made!.files[0]!.bytes) / piece.expects!.bytes).toBeLessThan(0.1);
    });

    test('come back the same in an empty library: what was said, and albums', async () => {
      const some = stills.slice(0, 6);
      await house.call('change', {
        body: { ids: some.slice(0, 3), change: { rating: 4, addTags: ['kite', 'wind'], title: 'A title' } },
      });
      await house.call('makeAlbum', { body: { name: 'In order', ids: [some[4]!, some[0]!, some[2]!] } });
      const id = await begin('For elsewhere', out(), { ids: some });
      const { root } = unpacked((await made(id)).files[0]!);
      const other = await openHouse();
      try {
        await other.takeIn(root);
        const told = async ({ app }: House) =>
          (
            await app
              .db('pictures as p')
              .whereIn(
                'p.sha256',
                (await house.app.db('pictures').whereIn('id', some).select('sha256')).map(({ sha256 }) => sha256),
              )
              .orderBy('p.sha256')
              .select(
                'p.sha256',
                'p.name',
                'p.title',
                'p.caption',
                'p.rating',
                'p.favourite',
                'p.taken_local',
                'p.taken_source',
                'p.lat',
                'p.lon',
                'p.id',
              )
          ).map(({ id: one, ...rest }) => ({ one, ...rest }));
        const [here, there] = [await told(house), await told(other)];
        expect(there.map(({ one: _, ...rest }) => rest)).toEqual(here.map(({ one: _, ...rest }) => rest));
        const tags = async ({ app }: House, ids: number[]) =>
          (
            await app
              .db('picture_tags as pt')
              .join('tags as t', 't.id', 'pt.tag_id')
              .join('pictures as p', 'p.id', 'pt.picture_id')
              .whereIn('p.id', ids)
              .orderBy(['p.sha256', 't.name'])
              .select('t.name', 'p.sha256')
          ).map((row) => `${row.sha256.toString('hex').slice(0, 6)} ${row.name}`);
        expect(
          await tags(
            other,
            there.map(({ one }) => one),
          ),
        ).toEqual(
          await tags(
            house,
            here.map(({ one }) => one),
          ),
        );
        const order = async ({ app }: House) => {
          const row = (await app.db('albums').where('name', 'In order').first('id'))!;
          return (
            await app
              .db('album_pictures as ap')
              .join('pictures as p', 'p.id', 'ap.picture_id')
              .where('ap.album_id', row.id)
              .orderBy('ap.position')
              .select('p.sha256')
          ).map(({ sha256 }) => sha256.toString('hex'));
        };
        expect(await order(other)).toEqual(await order(house));
      } finally {
        await other.stop();
      }
    });

    test('are as large, of the kind and under the names that were wished, and say only what they may', async () => {
      const [one] = stills as [number];
      await house.call('change', { body: { ids: [one], change: { caption: 'Words of ours' } } });
      const names = { parts: ['words', 'number'], words: 'Kites', start: 7, digits: 3 };
      for (const [format, says] of [
        ['jpg', 'all'],
        ['webp', 'said'],
        ['avif', 'none'],
        ['png', 'said'],
      ] as const) {
        const id = await begin(
          `Sized ${format}`,
          out({ format, says, long: 400, names, folders: 'none', sidecars: false, albums: false }),
          { ids: [one] },
        );
        const { root, names: found } = unpacked((await made(id)).files[0]!);
        expect(found).toEqual([`Kites 007.${format}`]);
        const file = path.join(root, found[0]!);
        const meta = await sharp(file).metadata();
        expect(Math.max(meta.width, meta.height)).toBe(400);
        expect(meta.format).toBe({ jpg: 'jpeg', avif: 'heif', webp: 'webp', png: 'png' }[format]);
        const said = await withExiftool((exif) => exif.readRaw(file, { readArgs: ['-G0'] }));
        const speaks = JSON.stringify(said);
        expect(speaks.includes('Words of ours')).toBe(says !== 'none');
        expect(/EXIF:(Make|Model|DateTimeOriginal)/.test(speaks)).toBe(says === 'all');
      }
    });

    test('go into a folder of this machine when its keeper says so, and only then', async () => {
      const folder = path.join(house.app.config.data, 'stick');
      const helper = await house.member('helper');
      const body = { name: 'To a stick', source: { ids: stills.slice(0, 2) }, settings: out({ folder }) } as never;
      await expect(house.call('makePiece', { body }, helper)).rejects.toThrow();
      const { id } = await house.call('makePiece', { body });
      await made(id);
      expect(
        (readdirSync(path.join(folder, 'To a stick'), { recursive: true }) as string[]).filter((name) =>
          /\.(jpe?g|png)$/i.test(name),
        ).length,
      ).toBe(2);
      await expect(
        house.call('makePiece', { body: { ...(body as object), settings: out({ folder: 'here' }) } as never }),
      ).rejects.toThrow();
    });
  });

  describe('sheets', () => {
    const prints = (more: object = {}) =>
      ({
        kind: 'prints',
        language: 'en',
        size: '10x15',
        paper: 'own',
        border: false,
        date: true,
        copies: 2,
        as: 'jpg',
        finish: 'matt',
        ...more,
      }) as const;

    test('prints for a shop are pictures of their size, named for it, with a list; the shop takes them and answers with a receipt', async () => {
      const id = await begin('For the shop', prints(), { ids: stills.slice(0, 2) });
      await expect(house.call('orderPrints', { params: { id } })).rejects.toMatchObject({ status: 409 });
      const { piece, files } = await made(id);
      expect(piece.made!.files.map(({ name }) => name)).toEqual([
        expect.stringMatching(/^001 10x15 2x matt .*\.jpg$/),
        expect.stringMatching(/^002 10x15 2x matt .*\.jpg$/),
        'For the shop.csv',
      ]);
      const { width, height } = await sharp(files[0]!).metadata();
      expect([Math.max(width, height), Math.min(width, height)]).toEqual([
        expect.closeTo(1772, -1),
        expect.closeTo(1181, -1),
      ]);
      expect(readFileSync(files[2]!, 'utf8')).toMatch(/^file,size,copies,paper\n001 10x15 2x matt .*,10x15,2,matt\n/);
      const shop = await StandInShop.open(path.join(house.app.config.data, 'shop'));
      try {
        house.app.config.shop = shop.address;
        const receipt = await house.call('orderPrints', { params: { id } });
        expect(receipt).toMatchObject({ prints: 4, shop: 'The made-up print shop' });
        expect(readdirSync(path.join(house.app.config.data, 'shop', receipt.number)).length).toBe(3);
        expect((await house.call('piece', { params: { id } })).receipt).toEqual(receipt);
      } finally {
        await shop.close();
      }
      await expect(house.call('orderPrints', { params: { id } })).rejects.toMatchObject({ status: 502 });
      house.app.config.shop = null;
    });

    test('a collage, a card and a calendar are whole PDFs of their size', async () => {
      for (const [settings, sheets, size] of [
        [
          { kind: 'collage', language: 'en', paper: 'A4 wide', gap: 3, background: '#1c5a50', title: 'Us', as: 'pdf' },
          1,
          /841\.89 x 595\.2/,
        ],
        [
          {
            kind: 'card',
            language: 'en',
            paper: 'A6',
            background: '#ffffff',
            title: 'Dear all',
            words: 'All is well.',
            as: 'pdf',
          },
          2,
          /419\.5\d* x 297\.6/,
        ],
        [
          {
            kind: 'calendar',
            language: 'de',
            paper: 'A4 upright',
            year: 2027,
            country: 'SE',
            birthdays: true,
            title: '',
            as: 'pdf',
          },
          13,
          /595\.2\d* x 841\.89/,
        ],
      ] as const) {
        const id = await begin(`A ${settings.kind}`, settings, { ids: stills });
        const layout = await house.call('sheetsLayout', { params: { id } });
        expect(layout.sheets.length).toBe(sheets);
        const { files } = await made(id);
        expect(tool('qpdf', '--check', files[0]!)).toMatch(/No syntax or stream encoding errors/);
        const info = tool('pdfinfo', files[0]!);
        expect(info).toMatch(new RegExp(`Pages: +${sheets}\\b`));
        expect(info).toMatch(size);
        const text = tool('pdftotext', files[0]!, '-');
        if (settings.kind === 'calendar') {
          expect(text).toMatch(/Dezember 2027/);
          expect(text).toMatch(/Mo\b/);
        }
        if (settings.kind === 'card') expect(text).toMatch(/All is well\./);
      }
    });

    test('a passport picture needs a face', async () => {
      const id = await begin('Passport', prints({ size: '35x45', as: 'pdf' }), { ids: stills.slice(0, 1) });
      const layout = await house.call('sheetsLayout', { params: { id } });
      // Faces are not looked for in this house.
      expect(layout.sheets).toEqual([]);
      expect(layout.left.length).toBe(1);
    });
  });

  describe('pages for a stick', () => {
    test('open from their files alone, and say only what they may', async () => {
      await house.call('change', { body: { ids: [stills[0]!], change: { caption: '<b>Up</b> & "away"' } } });
      const id = await begin(
        'On a stick',
        {
          kind: 'bundle',
          language: 'sv',
          long: 800,
          tells: { caption: true, date: false, place: false, names: false },
          folder: null,
        },
        { ids: [...stills.slice(0, 3), clip] },
      );
      const { piece, files } = await made(id);
      expect(piece.made!.missing).toEqual([]);
      const root = path.join(house.app.config.data, 'stick-pages');
      tool('python3', '-m', 'zipfile', '-e', files[0]!, root);
      const page = readFileSync(path.join(root, 'index.html'), 'utf8');
      expect(page).toMatch(/<html lang="sv">/);
      expect(page).toContain('&lt;b&gt;Up&lt;/b&gt; &amp; &quot;away&quot;');
      expect(page).not.toMatch(/https?:/);
      expect(page).not.toMatch(/2026-|maj 2026/);
      const named = [...page.matchAll(/(?:href|src)="([^"]+)"/g)].map(([, at]) => decodeURIComponent(at!));
      expect(named.length).toBe(8);
      for (const at of named) expect(statSync(path.join(root, at)).size).toBeGreaterThan(0);
      const large = named.filter((at) => at.startsWith('pictures/') && at.endsWith('.jpg'));
      for (const at of large) {
        const meta = await sharp(path.join(root, at)).metadata();
        expect(Math.max(meta.width, meta.height)).toBe(800);
        expect(meta.exif).toBeUndefined();
        expect(meta.xmp).toBeUndefined();
      }
    });
  });

  describe('a frame', () => {
    const settings = { width: 640, height: 400, fit: 'whole', order: 'given', seconds: 30, quiet: null } as const;
    const feed = async (at: string) =>
      (await (await house.fetch(at, {}, null)).json()) as {
        pictures: { id: number; url: string }[];
        next: string;
        quiet: boolean;
      };

    test('is fed what its source holds, each next picture in its turn and in its size', async () => {
      const frame = await house.call('makeFrame', { body: { name: 'Gran’s shelf', source: { album: few }, settings } });
      const told = await feed(frame.path!);
      const ids = (
        await house.app.db('album_pictures').where('album_id', few).orderBy('position').select('picture_id')
      ).map((row) => row.picture_id);
      expect(told.pictures.map(({ id }) => id)).toEqual(ids.filter((id) => id !== clip));
      const next = async () => Buffer.from(await (await house.fetch(told.next, {}, null)).arrayBuffer());
      const [one, two] = [await next(), await next()];
      expect(one.equals(two)).toBe(false);
      const first = Buffer.from(await (await house.fetch(told.pictures[0]!.url, {}, null)).arrayBuffer());
      expect(one.equals(first)).toBe(true);
      const meta = await sharp(one).metadata();
      expect([meta.width, meta.height]).toEqual([640, 400]);
      expect(meta.exif).toBeUndefined();
      expect((await house.call('frames', {})).frames[0]!.seen).not.toBeNull();
      // Nothing else is reached by it.
      const other = (await house.app.db('pictures').whereNotIn('id', ids).where('kind', 'photo').first('id'))?.id;
      if (other) expect((await house.fetch(`${frame.path}/pictures/${other}.jpg`, {}, null)).status).toBe(404);
      const stand = await StandInFrame.open(
        `data:application/json,${encodeURIComponent(JSON.stringify({ name: 'x', seconds: 5, quiet: false, next: '/n', pictures: [] }))}`,
      );
      expect(await (await fetch(stand.address)).text()).toMatch(/content="5"/);
      await stand.close();
    });

    test('follows a question, is dark at night, and is no longer fed once that is said', async () => {
      const frame = await house.call('makeFrame', {
        body: {
          name: 'Stars',
          source: { question: { rating: { min: 5 } } },
          settings: { ...settings, quiet: { from: 0, to: 0 } },
        },
      });
      expect((await feed(frame.path!)).pictures).toEqual([]);
      // Nothing to show is dark, not an error.
      expect((await house.fetch(`${frame.path}/next.jpg`, {}, null)).status).toBe(200);
      await house.call('change', { body: { ids: [stills[1]!], change: { rating: 5 } } });
      await house.call('changeFrame', { params: { id: frame.id }, body: { settings: { ...settings, fit: 'fill' } } });
      expect((await feed(frame.path!)).pictures.map(({ id }) => id)).toEqual([stills[1]]);
      expect(isQuiet({ from: 22, to: 7 }, 23)).toBe(true);
      expect(isQuiet({ from: 22, to: 7 }, 7)).toBe(false);
      expect(isQuiet({ from: 9, to: 12 }, 12)).toBe(false);
      expect(isQuiet(null, 3)).toBe(false);
      await house.call('endFrame', { params: { id: frame.id } });
      expect((await house.fetch(frame.path!, {}, null)).status).toBe(404);
      expect((await house.fetch(`/frame/${'x'.repeat(43)}`, {}, null)).status).toBe(404);
      await expect(house.call('frames', {}, await house.member('helper'))).rejects.toMatchObject({ status: 403 });
    });
  });

  test('what somebody keeps to themselves is in no piece and on no frame, not even in their own', async () => {
    const { db } = house.app;
    const id = await begin('For all', { ...book, chapters: 'none' }, { ids: stills.slice(0, 4) });
    const settings = { width: 640, height: 400, fit: 'whole', order: 'given', seconds: 30, quiet: null } as const;
    const frame = async () => {
      const { path: at } = await house.call('makeFrame', {
        body: { name: 'Hall', source: { ids: stills.slice(0, 4) }, settings },
      });
      const feed = (await (await house.fetch(at!, {}, null)).json()) as { pictures: { id: number }[] };
      return feed.pictures.map((one) => one.id);
    };
    const shown = async () =>
      new Set(
        (await house.call('bookLayout', { params: { id } })).pages.flatMap(({ pictures }) =>
          pictures.map((one) => one.id),
        ),
      );
    const alone = [...(await shown())][0]!;
    const said = await house.call('sayAudience', { body: { of: 'pictures', ids: [alone], audience: 'me' } });
    expect(await shown()).not.toContain(alone);
    expect(await frame()).not.toContain(alone);
    expect(await frame()).toContain(stills.slice(0, 4).find((one) => one !== alone));
    const { piece } = await made(id);
    expect(piece.expects!.pictures).toBe(3);
    await house.undo(said);
    expect(await shown()).toContain(alone);
    expect((await db('pictures').where('id', alone).first('audience'))!.audience).toBeNull();
  });

  test('a piece is only of what is in the library', async () => {
    await expect(begin('Foreign', book, { album: 999 })).rejects.toThrow();
    await expect(begin('Foreign', book, { event: 999 })).rejects.toThrow();
    const id = await begin('Mine');
    await expect(house.call('changePiece', { params: { id: 999 }, body: { name: 'x' } })).rejects.toThrow();
    expect((await house.call('pieces', {})).pieces.map((piece) => piece.id)).toContain(id);
  });
});
