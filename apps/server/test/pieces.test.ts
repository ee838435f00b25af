import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdirSync, readdirSync, readFileSync, renameSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { NO_EDITS, PLAIN_BOOK, PLAIN_OUT, PLAIN_SHOW } from '@gemmel/core';
import { derivedBase } from '../src/context';
import { withExiftool } from '../src/media/exiftool';
import { pieceFolder } from '../src/piece/pieces';
import { producePiece } from '../src/piece/produce';
import { DEMO, openHouse, type House } from './house';

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

    test('that is stopped goes on where it was, and is made once', async () => {
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
      const id = await begin('A “year”: it’s 100 % ours', film(), { ids: [...stills.slice(0, 3), clip] });
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

    test('shows its pictures, not a dark frame, and two upright ones beside each other', async () => {
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

    test('that is stopped keeps its stretches, and goes on with them', async () => {
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

  test('a piece is only of what is in the library', async () => {
    await expect(begin('Foreign', book, { album: 999 })).rejects.toThrow();
    await expect(begin('Foreign', book, { event: 999 })).rejects.toThrow();
    const id = await begin('Mine');
    await expect(house.call('changePiece', { params: { id: 999 }, body: { name: 'x' } })).rejects.toThrow();
    expect((await house.call('pieces', {})).pieces.map((piece) => piece.id)).toContain(id);
  });
});
