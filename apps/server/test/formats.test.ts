import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import type { PicturesRow } from '../src/db/tables';
import { playsAsIs } from '../src/media/clips';
import { sniff } from '../src/media/sniff';
import { openHouse, type House } from './house';
import { CLIPS, everyKind, ffmpeg } from './kinds';
import { LONG } from './long';

/** Clips of every kind; in the short form one of each way of being packed and played. */
const MOVING = LONG ? CLIPS : CLIPS.filter(([name]) => /^[aegj]\./.test(name));

describe('every sort of file', () => {
  let house: House;
  let folder: string;
  const row = (name: string) => house.app.db('pictures').where('name', name).first() as Promise<PicturesRow>;
  /** The colours near the corners of a picture's small size: top left, bottom left, bottom right. */
  async function corners(name: string): Promise<string[]> {
    const { sha256 } = await row(name);
    const small = await (await house.fetch(`/api/derived/${sha256.toString('hex')}/small`)).arrayBuffer();
    const { data, info } = await sharp(Buffer.from(small)).removeAlpha().raw().toBuffer({ resolveWithObject: true });
    const at = (x: number, y: number) => {
      const i = (Math.floor(y * info.height) * info.width + Math.floor(x * info.width)) * 3;
      const [r, g, b] = [data[i]!, data[i + 1]!, data[i + 2]!];
      return r > 200 && g > 200 ? 'white' : r > b ? 'orange' : 'blue';
    };
    return [at(0.2, 0.08), at(0.2, 0.8), at(0.8, 0.8)];
  }
  const UPRIGHT = ['white', 'orange', 'blue'];

  beforeAll(async () => {
    house = await openHouse();
    folder = mkdtempSync(path.join(tmpdir(), 'gemmel-formats-'));
    await everyKind(path.join(folder, 'all'), MOVING);
    await house.takeIn(path.join(folder, 'all'));
  });
  afterAll(async () => {
    await house?.stop();
    rmSync(folder, { recursive: true, force: true });
  });

  test('comes in, and nothing is left out', async () => {
    const out = await house.app.db('batch_items').whereNotIn('state', ['stored']).select('path', 'state', 'reason');
    expect(out).toEqual([]);
  });

  test.each([
    ...['still.png', 'still.webp', 'still.gif', 'still.tiff', 'still.avif', 'deep-with-thumbnail.heic'],
    ...['rare.bmp', 'rare.jp2', 'rare.jxl', 'rare.psd', 'twelve.tif'],
  ])('%s shows what it should', async (name) => {
    expect([(await row(name)).width, (await row(name)).height]).toEqual([96, 64]);
    expect(await corners(name)).toEqual(UPRIGHT);
  });

  test.each([1, 2, 3, 4, 5, 6, 7, 8])('held the %sth way, it comes out upright', async (n) => {
    const held = await row(`held-${n}.jpg`);
    expect([held.width, held.height, held.orientation]).toEqual([96, 64, n]);
    expect(await corners(`held-${n}.jpg`)).toEqual(UPRIGHT);
  });

  test('a negative is shown by the picture inside it, turned as the negative says', async () => {
    const raw = await row('negative.dng');
    expect([raw.format, raw.width, raw.height, raw.camera]).toEqual(['dng', 96, 64, 'Oldenberg Quint2']);
    expect(await corners('negative.dng')).toEqual(UPRIGHT);
    expect(raw.taken_local).toBe('2026-05-16 14:07:09.000');
  });

  test('a phone’s turned HEIC comes out upright; a panorama keeps its shape; a moving GIF stays moving', async () => {
    const turned = await row('turned.heic');
    expect([turned.width, turned.height]).toEqual([64, 96]);
    expect(await corners('turned.heic')).toEqual(UPRIGHT);
    const wide = await row('panorama.jpg');
    expect(wide.width / wide.height).toBeCloseTo(8);
    const gif = await row('moves.gif');
    const original = Buffer.from(await (await house.fetch(`/api/pictures/${gif.id}/original`)).arrayBuffer());
    expect((await sharp(original, { pages: -1 }).metadata()).pages).toBe(3);
  });

  test.each(MOVING)('%s has a poster, its length, a silent preview, and plays', async (name, _, direct) => {
    const clip = await row(name);
    expect(clip.kind).toBe('video');
    expect(clip.seconds).toBeGreaterThan(1.7);
    expect(clip.seconds).toBeLessThan(2.5);
    expect(playsAsIs(clip.format, clip.codec)).toBe(direct);
    const sha = clip.sha256.toString('hex');
    const moving = await house.fetch(`/api/derived/${sha}/moving`);
    expect([moving.status, moving.headers.get('content-type')]).toEqual([200, 'video/mp4']);
    writeFileSync(path.join(folder, 'moving.mp4'), Buffer.from(await moving.arrayBuffer()));
    const streams = execFileSync(
      'ffprobe',
      ['-v', 'error', '-show_entries', 'stream=codec_name', '-of', 'csv=p=0', path.join(folder, 'moving.mp4')],
      { encoding: 'utf8' },
    );
    expect(streams.trim()).toBe('h264');
    let answer = await house.call('playable', { params: { id: clip.id } });
    expect(answer.state).toBe(direct ? 'as it is' : 'making');
    await house.quiet();
    answer = await house.call('playable', { params: { id: clip.id } });
    expect(answer.state).toBe(direct ? 'as it is' : 'ready');
    const part = await house.fetch(`/api/pictures/${clip.id}/play`, { headers: { range: 'bytes=0-99' } });
    expect([part.status, (await part.arrayBuffer()).byteLength]).toEqual([206, 100]);
  });

  test('a whole file of a kind that cannot be opened is kept aside under its name, never called damaged or no picture', async () => {
    const odd = path.join(folder, 'odd');
    mkdirSync(odd);
    ffmpeg('-i', path.join(folder, 'all/still.png'), path.join(odd, 'scan.tga'));
    // A negative of a maker nobody knows, and a text that only has the name of one.
    writeFileSync(path.join(odd, 'shot.arw'), Buffer.concat([Buffer.alloc(60, 1), Buffer.alloc(3000, 7)]));
    writeFileSync(path.join(odd, 'words.tga'), 'I am a letter and nothing else, whatever my name says.');
    const batch = await house.takeIn(odd);
    const items = (await house.app
      .db('batch_items')
      .where('batch_id', batch)
      .orderBy('path')
      .select('state', 'reason')) as object[];
    const coded = (code: string) => JSON.stringify({ code, params: {} });
    const closed = { state: 'aside', reason: coded('closed') };
    expect(items).toEqual([closed, closed, { state: 'skipped', reason: coded('not-a-picture') }]);
  });

  test('a clip that is turned says so in its shape', async () => {
    const turned = await row('tilted.mp4');
    expect([turned.width, turned.height]).toEqual([96, 160]);
  });

  test('kinds are told by first bytes; an AVIF under a general brand is none of a phone’s', () => {
    const box = (brands: string) =>
      Buffer.concat([Buffer.from([0, 0, 0, 8 + brands.length]), Buffer.from(`ftyp${brands}`)]);
    expect(sniff(box('mif1\0\0\0\0mif1avif'))?.format).toBe('avif');
    expect(sniff(box('mif1\0\0\0\0mif1heic'))?.format).toBe('heic');
    expect(sniff(box('crx \0\0\0\0'))).toMatchObject({ format: 'cr3', raw: true });
    expect(sniff(Buffer.from('FUJIFILMCCD-RAW 0201'))).toMatchObject({ format: 'raf', raw: true });
    expect(sniff(Buffer.from('II*\0\0\0\0\0'), 'a.arw')).toMatchObject({ format: 'arw', raw: true });
    expect(sniff(Buffer.from('II*\0\0\0\0\0'), 'a.tif')).toMatchObject({ format: 'tif' });
  });
});
