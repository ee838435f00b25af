import { execFileSync } from 'node:child_process';
import { readdirSync, renameSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { NO_EDITS, PLAIN_BOOK } from '@gemmel/core';
import { derivedBase } from '../src/context';
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

  beforeAll(async () => {
    house = await openHouse();
    await house.takeIn(path.join(DEMO, 'grans-tablet'));
    const rows = await house.app.db('pictures').orderBy('id').select('id', 'kind');
    ids = rows.map(({ id }) => id);
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
      const id = await begin('Our year: 2026', book, { ids: ids.slice(0, 24) });
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

  test('a piece is only of what is in the library', async () => {
    await expect(begin('Foreign', book, { album: 999 })).rejects.toThrow();
    await expect(begin('Foreign', book, { event: 999 })).rejects.toThrow();
    const id = await begin('Mine');
    await expect(house.call('changePiece', { params: { id: 999 }, body: { name: 'x' } })).rejects.toThrow();
    expect((await house.call('pieces', {})).pieces.map((piece) => piece.id)).toContain(id);
  });
});
