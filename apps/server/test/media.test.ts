import exiftoolPath from 'exiftool-vendored.pl';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { Damaged } from '../src/media/damaged';
import { decode } from '../src/media/decode';
import { endMetadata, exiftool, readMetadata, ToolTrouble, withExiftool } from '../src/media/metadata';
import { mimeOf, sniff, sniffFile } from '../src/media/sniff';
import { saidOf } from '../src/media/said';
import { toXmp } from '../src/vault/sidecar';
import { DEMO } from './house';

describe('files', () => {
  let folder: string;
  beforeAll(() => (folder = mkdtempSync(path.join(tmpdir(), 'gemmel-media-'))));
  afterAll(async () => {
    await endMetadata();
    rmSync(folder, { recursive: true, force: true });
  });
  const at = (name: string) => path.join(folder, name);
  const patch = (width = 60, height = 40) =>
    sharp({ create: { width, height, channels: 3, background: { r: 200, g: 90, b: 20 } } });

  test('are told by their bytes, whatever their name', async () => {
    for (const format of ['jpeg', 'png', 'webp', 'gif', 'tiff', 'avif'] as const) {
      await patch()
        .toFormat(format)
        .toFile(at(`${format}.bin`));
      const kind = await sniffFile(at(`${format}.bin`));
      expect(kind?.format).toBe({ jpeg: 'jpg', tiff: 'tif' }[format as string] ?? format);
    }
    const heic = await sniffFile(path.join(DEMO, 'martens-phone/DCIM/20260221_120246.heic'));
    expect(heic).toMatchObject({ format: 'heic', kind: 'photo' });
    expect(await sniffFile(path.join(DEMO, 'martens-phone/DCIM/20260221_143929.mp4'))).toMatchObject({ kind: 'video' });
    expect(await sniffFile(path.join(DEMO, 'bad/letter.jpg'))).toBeNull();
    expect(sniff(new Uint8Array())).toBeNull();
    expect(sniff(Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"/>'))).toBeNull();
    expect(sniff(Buffer.from('%PDF-1.7 …'))).toBeNull();
    expect([mimeOf('jpg'), mimeOf('mov'), mimeOf('exe')]).toEqual([
      'image/jpeg',
      'video/quicktime',
      'application/octet-stream',
    ]);
  });

  test('PNG and WebP are decoded; stored turned, they come out upright', async () => {
    for (const format of ['png', 'webp'] as const) {
      await patch()
        .toFormat(format)
        .toFile(at(`plain.${format}`));
      const { pixels } = await decode(at(`plain.${format}`), (await sniffFile(at(`plain.${format}`)))!);
      expect([pixels.width, pixels.height]).toEqual([60, 40]);
      expect(Math.abs(pixels.data[0]! - 200)).toBeLessThan(6);
    }
    await patch().withMetadata({ orientation: 6 }).jpeg().toFile(at('turned.jpg'));
    const turned = await decode(at('turned.jpg'), (await sniffFile(at('turned.jpg')))!);
    expect([turned.pixels.width, turned.pixels.height]).toEqual([40, 60]);
  });

  test('damage is an answer in words, never a crash', async () => {
    const whole = readFileSync(path.join(DEMO, 'grans-tablet/photo_2026-05-16_13-02-39.jpg'));
    writeFileSync(at('cut.jpg'), whole.subarray(0, 400));
    await expect(decode(at('cut.jpg'), sniff(whole)!)).rejects.toBeInstanceOf(Damaged);
    const huge = path.join(DEMO, 'bad/huge.png');
    await expect(decode(huge, (await sniffFile(huge))!)).rejects.toBeInstanceOf(Damaged);
    // A corpus of files with flipped bytes: each is decoded or refused with a reason.
    let refused = 0;
    let state = 12345;
    for (let n = 0; n < 60; n++) {
      const bytes = Buffer.from(whole);
      for (let k = 0; k < 1 + (n % 20); k++) {
        state = (Math.imul(state, 1103515245) + 12345) >>> 0;
        bytes[2 + (state % (bytes.length - 2))] = state >>> 24;
      }
      writeFileSync(at('mutant.jpg'), n % 3 ? bytes : bytes.subarray(0, state % bytes.length));
      const kind = await sniffFile(at('mutant.jpg'));
      if (!kind) continue;
      try {
        await decode(at('mutant.jpg'), kind);
      } catch (error) {
        expect(error).toBeInstanceOf(Damaged);
        expect((error as Error).message.length).toBeGreaterThan(5);
        refused++;
      }
    }
    expect(refused).toBeGreaterThan(5);
  });

  test('time and place: the camera first, then names; a sidecar’s words are taken over', async () => {
    const phone = path.join(DEMO, 'ilses-phone/DCIM/100/IMG_2069.jpg');
    const told = await readMetadata(phone, 'DCIM/100/IMG_2069.jpg', false);
    expect(told.clues[0]).toMatchObject({ source: 'camera' });
    expect(told.clues[0]!.certainty).toBeGreaterThan(0.8);
    expect(told.said.lat).toBeCloseTo(59.8, 0);
    await patch().jpeg().toFile(at('bare.jpg'));
    expect((await readMetadata(at('bare.jpg'), '2019-07-04 lake.jpg', false)).clues[0]?.local).toBe(
      '2019-07-04T12:00:00.000',
    );
    expect((await readMetadata(at('bare.jpg'), 'Summer 1988/bare.jpg', false)).clues[0]).toMatchObject({
      source: 'folder name',
    });
    writeFileSync(
      at('bare.jpg.xmp'),
      toXmp({
        title: 'Boat & oars',
        caption: '“Ready?” <she said>\n\n\tThe second line',
        rating: 4,
        favourite: true,
        tags: ['lake', 'Åland', 'either|or', 'a long word '.repeat(18).trim()],
        label: 'to print',
        paths: [['outdoors', 'lake']],
        position: { lat: 59.8, lon: -18.05 },
        taken: { local: '1988-07-02T15:30:00.000', offset: 120, source: 'mended', certainty: 0.93 },
        span: null,
        width: 60,
        height: 40,
        faces: [
          { name: 'Kai "68" Wend', x: 0.1, y: 0.2, w: 0.25, h: 0.5 },
          { name: 'Noor', byMachine: true, x: 0.5, y: 0.2, w: 0.2, h: 0.4 },
          { name: '', is: 'passer-by', x: 0.8, y: 0.2, w: 0.1, h: 0.2 },
          { name: '', is: 'not a face', x: 0.8, y: 0.6, w: 0.1, h: 0.2 },
        ],
        comments: [{ author: 'Ilse "H"', at: '2026-11-27T14:00:00Z', text: '[1] “Two\nlines” & <more>' }],
      }),
    );
    const read = await readMetadata(at('bare.jpg'), 'bare.jpg', false, [at('bare.jpg.xmp')]);
    expect(read.said).toMatchObject({
      title: 'Boat & oars',
      caption: '“Ready?” <she said>\n\n\tThe second line',
      rating: 4,
      favourite: true,
      label: 'to print',
    });
    expect(read.said.comments).toEqual([
      { author: 'Ilse "H"', at: '2026-11-27T14:00:00Z', text: '[1] “Two\nlines” & <more>' },
    ]);
    expect([read.said.lat, read.said.lon]).toEqual([59.8, -18.05]);
    expect(read.clues[0]).toEqual({
      local: '1988-07-02T15:30:00.000',
      offset: 120,
      source: 'mended',
      certainty: 0.93,
    });
    expect(read.said.faces.map(({ name, is, byMachine }) => [name, is, byMachine])).toEqual([
      ['Kai "68" Wend', undefined, undefined],
      ['Noor', undefined, true],
      ['', 'passer-by', undefined],
      ['', 'not a face', undefined],
    ]);
    expect(read.said.faces[3]!.y).toBeCloseTo(0.6, 5);
    expect(read.said.tags).toHaveLength(4);
    expect(read.said.tags).toEqual(
      expect.arrayContaining([['outdoors', 'lake'], ['Åland'], ['either|or'], ['a long word '.repeat(18).trim()]]),
    );
  });

  test('a day is a day: it hides no hour of the same day, and is not taken for noon', async () => {
    await patch().jpeg().toFile(at('day.jpg'));
    const write = (...words: string[]) =>
      execFileSync(exiftoolPath as unknown as string, ['-q', '-overwrite_original', ...words, at('day.jpg')]);
    write('-IPTC:DateCreated=1988:07:02', '-EXIF:DateTimeOriginal=1988:07:02 15:30:00');
    const [first, second] = (await readMetadata(at('day.jpg'), 'day.jpg', false)).clues;
    expect(first).toMatchObject({ local: '1988-07-02T15:30:00.000', source: 'camera' });
    expect(second).toMatchObject({ source: 'written', span: { exact: 'day', from: '1988-07-02' } });
    write('-EXIF:DateTimeOriginal=');
    const [only] = (await readMetadata(at('day.jpg'), 'day.jpg', false)).clues;
    expect(only).toMatchObject({ source: 'written', certainty: 0.5, span: { exact: 'day', from: '1988-07-02' } });
  });

  test('what was said inside a GIF and an AVI is read', async () => {
    const said = {
      title: 'Kites',
      caption: null,
      rating: 0,
      favourite: false,
      label: null,
      tags: [],
      paths: [],
      position: null,
      taken: null,
      span: null,
      width: 4,
      height: 3,
      faces: [],
      comments: [],
    };
    await patch().gif().toFile(at('said.gif'));
    writeFileSync(at('said.xmp'), toXmp(said));
    execFileSync(exiftoolPath as unknown as string, [
      ...['-q', '-overwrite_original', '-tagsfromfile', at('said.xmp'), '-xmp:all', at('said.gif')],
    ]);
    expect((await readMetadata(at('said.gif'), 'said.gif', false)).said.title).toBe('Kites');
    execFileSync('ffmpeg', [
      ...['-v', 'error', '-y', '-f', 'lavfi', '-i', 'testsrc=size=64x48:rate=10:duration=1', '-c:v', 'mjpeg'],
      at('plain.avi'),
    ]);
    const packet = Buffer.from(toXmp(said));
    const chunk = Buffer.alloc(8);
    chunk.write('_PMX');
    chunk.writeUInt32LE(packet.length, 4);
    const avi = Buffer.concat([readFileSync(at('plain.avi')), chunk, packet, Buffer.alloc(packet.length % 2)]);
    avi.writeUInt32LE(avi.length - 8, 4);
    writeFileSync(at('said.avi'), avi);
    expect((await readMetadata(at('said.avi'), 'said.avi', true)).said.title).toBe('Kites');
  });

  test('trees of tags are read from every field that others write, and words as they were written', () => {
    expect(
      saidOf({
        HierarchicalSubject: ['outdoors|AC/DC'],
        TagsList: ['people of old/Kai', 'outdoors/lake'],
        Categories:
          '<Categories><Category Assigned="0">house<Category Assigned="1">attic &amp; roof</Category></Category></Categories>',
        Keywords: ['Ã–lberg', 'house|attic & roof'],
        XPKeywords: 'boat;oars',
      }).tags,
    ).toEqual([
      ['outdoors', 'AC/DC'],
      ['people of old', 'Kai'],
      ['outdoors', 'lake'],
      ['house', 'attic & roof'],
      ['Ölberg'],
      ['boat'],
      ['oars'],
    ]);
    expect(saidOf({ 'Caption-Abstract': 'GrÃ¼ÃŸe an Gran' }).caption).toBe('Grüße an Gran');
    expect(saidOf({ 'Caption-Abstract': 'Ã ist ein Buchstabe' }).caption).toBe('Ã ist ein Buchstabe');
  });

  test('a caption keeps its lines; what cameras and programs write there nobody said', () => {
    const caption = (Description: string) => saidOf({ Description }).caption;
    expect(caption('One\r\ntwo\tthree\u0007')).toBe('One\ntwo\tthree');
    for (const nobodys of ['OLYMPUS DIGITAL CAMERA', 'SONY DSC', 'Created with Paintbrush', 'untitled'])
      expect(caption(nobodys)).toBeNull();
    for (const somebodys of ['My new digital camera', 'Made with love by Gran', 'Created with my own hands'])
      expect(caption(somebodys)).toBe(somebodys);
  });

  test('a reader that does not answer is given up and replaced, and no date is lost by it', async () => {
    const stuck = exiftool();
    await expect(withExiftool(() => new Promise(() => undefined), 30)).rejects.toBeInstanceOf(ToolTrouble);
    expect(exiftool()).not.toBe(stuck);
    const phone = path.join(DEMO, 'ilses-phone/DCIM/100/IMG_2069.jpg');
    expect((await readMetadata(phone, 'IMG_2069.jpg', false)).clues[0]).toMatchObject({ source: 'camera' });
  });

  test('a sidecar is read back the same by an independent reader', async () => {
    const faces = [{ name: 'Kai "68" Wend', x: 0.1, y: 0.2, w: 0.25, h: 0.5 }];
    writeFileSync(
      at('alone.xmp'),
      toXmp({
        title: null,
        caption: null,
        rating: 0,
        favourite: false,
        tags: [],
        label: null,
        paths: [],
        position: null,
        taken: null,
        span: null,
        width: 60,
        height: 40,
        faces,
      }),
    );
    const seen = (await exiftool().read(at('alone.xmp'), { readArgs: ['-struct'] })) as unknown as {
      Rating: number;
      Title?: string;
      RegionInfo: { AppliedToDimensions: { W: number }; RegionList: { Name: string; Area: Record<string, number> }[] };
    };
    expect(seen.Rating).toBe(0);
    expect(seen.Title).toBeUndefined();
    expect(seen.RegionInfo.AppliedToDimensions.W).toBe(60);
    expect(seen.RegionInfo.RegionList[0]).toMatchObject({
      Name: 'Kai "68" Wend',
      Area: { X: 0.225, Y: 0.45, W: 0.25, H: 0.5 },
    });
  });
});
