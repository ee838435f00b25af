import { createHash, createHmac } from 'node:crypto';
import type { App } from '../src/context';
import { renewLinks, unseal } from '../src/share/links';
import { execFileSync } from 'node:child_process';
import {
  copyFileSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import yauzl from 'yauzl';
import { recover } from '../src/intake/recover';
import { exiftool } from '../src/media/metadata';
import { openHouse, type House } from './house';
import { LONG } from './long';
import { filesBelow } from './killable';

/** Words that must never reach a guest. */
const SECRET = /Agathe|Hallorin|Uppsala|SN-4711|Private words/;
const SAID = {
  ImageDescription: 'Private words',
  Artist: 'Agathe Wend',
  Make: 'Hallorin',
  Model: 'Hallorin 1',
  Copyright: 'Agathe Wend',
  SerialNumber: 'SN-4711',
  GPSLatitude: 59.86,
  GPSLongitude: 17.64,
  GPSLatitudeRef: 'N',
  GPSLongitudeRef: 'E',
};

describe('what guests are given', () => {
  let house: House;
  let folder: string;
  let token: string;
  const ids = new Map<string, number>();

  const clip = (name: string, args: string[]) =>
    execFileSync('ffmpeg', [
      ...['-v', 'error', '-y', '-f', 'lavfi', '-i', 'testsrc=size=96x64:rate=12:duration=1'],
      ...[
        '-f',
        'lavfi',
        '-i',
        'sine=duration=1',
        '-metadata',
        'title=Private words',
        '-metadata',
        'artist=Agathe Wend',
      ],
      ...['-metadata', 'comment=Uppsala', '-metadata:s:v', 'title=Private words', ...args, path.join(folder, name)],
    ]);

  beforeAll(async () => {
    house = await openHouse();
    folder = mkdtempSync(path.join(tmpdir(), 'gemmel-guests-'));
    const picture = (hue: number) =>
      sharp({ create: { width: 60, height: 40, channels: 3, background: { r: hue, g: 90, b: 160 } } });
    await picture(10).tiff({ compression: 'lzw' }).toFile(path.join(folder, 'plain.tif'));
    execFileSync('ffmpeg', [
      ...['-v', 'error', '-f', 'lavfi', '-i', 'testsrc=size=60x40:duration=1'],
      ...['-frames:v', '1', '-pix_fmt', 'rgb48le', path.join(folder, 'deep.tif')],
    ]);
    for (const [n, format] of (['jpeg', 'png', 'webp', 'gif'] as const).entries())
      await picture(40 * n + 20)
        .toFormat(format)
        .toFile(path.join(folder, `still.${format === 'jpeg' ? 'jpg' : format}`));
    // A page by its name, a picture by what it is.
    await picture(200).jpeg().toFile(path.join(folder, 'evil.jpg'));
    for (const name of ['plain.tif', 'deep.tif', 'still.jpg', 'evil.jpg', 'still.png', 'still.webp'])
      await exiftool().write(path.join(folder, name), SAID as never, {
        writeArgs: ['-overwrite_original', '-XMP-dc:Creator=Agathe Wend', '-XMP-iptcCore:Location=Uppsala'],
      });
    renameSync(path.join(folder, 'evil.jpg'), path.join(folder, 'evil.html'));
    clip('a.avi', ['-c:v', 'mjpeg', '-c:a', 'pcm_s16le']);
    clip('b.webm', ['-c:v', 'libvpx', '-c:a', 'libvorbis']);
    clip('c.mts', [
      '-c:v',
      'libx264',
      '-pix_fmt',
      'yuv420p',
      '-x264-params',
      'keyint=6',
      '-c:a',
      'ac3',
      '-f',
      'mpegts',
    ]);
    clip('d.mp4', ['-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-c:a', 'aac', '-movflags', 'use_metadata_tags']);
    clip('e.mov', ['-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-c:a', 'aac']);
    clip('f.mkv', ['-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-c:a', 'aac']);
    await house.takeIn(folder);
    for (const row of (await house.app.db('pictures').select('id', 'name')) as { id: number; name: string }[])
      ids.set(row.name, row.id);
    const { share } = await house.call('openShare', {
      body: { title: 'All', of: { ids: [...ids.values()] }, reach: 'house', until: null },
    });
    token = share.path!.split('/').pop()!;
  }, 120_000);
  afterAll(async () => {
    await house?.stop();
    rmSync(folder, { recursive: true, force: true });
  });

  const original = (name: string) =>
    house.fetch(`/api/guest/${token}/pictures/${ids.get(name)}/original?save`, {}, null);
  /** Neither the bytes nor exiftool find anything in it that was said. */
  const saysNothing = async (file: string, bytes: Buffer, name: string) => {
    expect(bytes.toString('latin1')).not.toMatch(SECRET);
    writeFileSync(file, bytes);
    const tags = JSON.stringify(await exiftool().readRaw(file, { readArgs: ['-ee', '-a', '-G1'] }));
    expect(tags.replace(JSON.stringify(file), '').replaceAll(name, '')).not.toMatch(SECRET);
    expect(tags).not.toMatch(/GPSLatitude|SerialNumber|Artist/);
  };
  const derived = () => filesBelow(house.app.paths.derived).filter((file) => !/-(small|large|moving)\./.test(file));

  test('every kind of file came in', () => {
    expect([...ids.keys()].sort()).toEqual(readdirSync(folder).sort());
  });

  const ALL = [
    'plain.tif',
    'deep.tif',
    'still.jpg',
    'still.png',
    'still.webp',
    'still.gif',
    'evil.html',
    'a.avi',
    'b.webm',
    'c.mts',
    'd.mp4',
    'e.mov',
    'f.mkv',
  ];
  // The short form leaves out what is cleaned as another of them is.
  test.each(ALL.filter((name) => LONG || !/deep|webp|mov|mkv/.test(name)))(
    '%s: nothing is said on the side, and it can still be seen',
    async (name) => {
      const before = name === 'still.gif' ? 'Private words' : readFileSync(path.join(folder, name)).toString('latin1');
      expect(before).toMatch(SECRET);
      const response = await original(name);
      expect(response.status).toBe(200);
      const bytes = Buffer.from(await response.arrayBuffer());
      const file = path.join(house.app.config.data, `seen-${name}`);
      await saysNothing(file, bytes, name);
      // Nor does any other size of it.
      const clip = /^[a-f]\./.test(name);
      for (const size of ['small', 'large', 'screen', 'play']) {
        const ask = () => house.fetch(`/api/guest/${token}/pictures/${ids.get(name)}/${size}`, {}, null);
        let other = await ask();
        // A clip that browsers do not play is converted first.
        if (other.status === 503) await house.quiet();
        if (other.status === 503) other = await ask();
        expect([size, other.status]).toEqual([size, size === 'play' && !clip ? 404 : 200]);
        if (other.ok) await saysNothing(file, Buffer.from(await other.arrayBuffer()), name);
      }
      writeFileSync(file, bytes);
      if (/tif|jpg|png|webp|gif|html/.test(name)) {
        const [mine, theirs] = await Promise.all(
          [path.join(folder, name), file].map((at) => sharp(at).raw().toBuffer({ resolveWithObject: true })),
        );
        expect([theirs!.info.width, theirs!.info.height]).toEqual([mine!.info.width, mine!.info.height]);
        expect(theirs!.data.equals(mine!.data)).toBe(true);
        if (name === 'deep.tif') expect((await sharp(file).metadata()).depth).toBe('ushort');
      } else {
        const frames = (at: string) =>
          execFileSync('ffprobe', [
            ...[
              '-v',
              'error',
              '-count_frames',
              '-select_streams',
              'v:0',
              '-show_entries',
              'stream=nb_read_frames,codec_name',
            ],
            ...['-of', 'csv=p=0', at],
          ]).toString();
        expect(frames(file)).toBe(frames(path.join(folder, name)));
      }
      rmSync(file);
    },
  );

  test('links are random, the database alone opens none, a new one ends the old, and a lost key gives new ones', async () => {
    const { app, call, fetch } = house;
    const opened = await call('openShare', {
      body: { title: 'Linked', of: { ids: [[...ids.values()][0]!] }, reach: 'house', until: null },
    });
    const { id } = opened.share;
    const tokenIn = (at: string | null) => at!.split('/').pop()!;
    const status = async (token: string) => (await fetch(`/api/guest/${token}`, {}, null)).status;
    const first = tokenIn(opened.share.path);
    expect(first).toMatch(/^[\w-]{43}$/);
    expect(tokenIn((await call('shares', {})).shares.find((share) => share.id === id)!.path)).toBe(first);
    const row = (await app.db('shares').where('id', id).first())!;
    expect(`${row.sealed!.toString('latin1')} ${JSON.stringify(row)}`).not.toContain(first);
    expect(unseal({ config: { secrets: { links: 'another' } } } as App, row.sealed)).toBeNull();
    const second = tokenIn((await call('renewLink', { params: { id } })).share.path);
    expect([await status(first), await status(second)]).toEqual([404, 200]);
    // As after an update from links that were made in an earlier way, and then with a key that was lost.
    const earlier = createHmac('sha256', app.config.secrets.links).update(`share ${id}`).digest('base64url');
    const hash = createHash('sha256').update(earlier).digest();
    await app.db('shares').where('id', id).update({ token_hash: hash, sealed: null });
    expect([await renewLinks(app), await renewLinks(app), await status(earlier)]).toEqual([false, false, 200]);
    expect(tokenIn((await call('shares', {})).shares.find((share) => share.id === id)!.path)).toBe(earlier);
    await app
      .db('shares')
      .where('id', id)
      .update({ sealed: Buffer.alloc(80, 3) });
    expect([await renewLinks(app), await renewLinks(app), await status(earlier)]).toEqual([true, false, 404]);
    const found = tokenIn((await call('shares', {})).shares.find((share) => share.id === id)!.path);
    expect(await status(found)).toBe(200);
    // Taken back and done again, it is the same share.
    await house.undo(opened);
    expect(await status(found)).toBe(404);
  });

  test('pictures of newer kinds are given, too', async () => {
    const newer = path.join(house.app.config.data, 'inbox/newer');
    mkdirSync(newer, { recursive: true });
    copyFileSync(path.join(__dirname, 'fixtures/turned.heic'), path.join(newer, 'turned.heic'));
    await sharp({ create: { width: 64, height: 48, channels: 3, background: '#486' } })
      .withExif({ IFD0: { Artist: 'Agathe Wend' } })
      .avif()
      .toFile(path.join(newer, 'new.avif'));
    const batch = await house.takeIn(newer);
    const rows = (await house.app.db('pictures').where('batch_id', batch).select('id')) as { id: number }[];
    expect(rows).toHaveLength(2);
    const { share } = await house.call('openShare', {
      body: { title: 'Newer', of: { ids: rows.map((r) => r.id) }, reach: 'house', until: null },
    });
    for (const { id } of rows) {
      const at = `/api/guest/${share.path!.split('/').pop()}/pictures/${id}/original?save`;
      const given = await house.fetch(at, {}, null);
      expect(given.status).toBe(200);
      expect(Buffer.from(await given.arrayBuffer()).toString('latin1')).not.toMatch(SECRET);
    }
  });

  test('a file named like a page is handed out with the ending of what it is, to guests and members', async () => {
    expect((await original('evil.html')).headers.get('content-disposition')).toContain('filename="evil.html.jpg"');
    const member = await house.fetch(`/api/pictures/${ids.get('evil.html')}/original?save`);
    expect(member.headers.get('content-disposition')).toContain('filename="evil.html.jpg"');
    expect((await original('still.jpg')).headers.get('content-disposition')).toContain('filename="still.jpg"');
  });

  test('a ZIP that was broken off goes on where it was, as long as it is the same', async () => {
    const get = (headers: Record<string, string> = {}) => house.fetch(`/api/guest/${token}/zip`, { headers }, null);
    const bytes = async (response: Response) => Buffer.from(await response.arrayBuffer());
    const first = await get();
    const etag = first.headers.get('etag')!;
    expect([first.headers.get('accept-ranges'), first.headers.get('content-range')]).toEqual(['bytes', null]);
    const whole = await bytes(first);
    const half = Math.floor(whole.length / 2);
    const rest = await get({ range: `bytes=${half}-`, 'if-range': etag });
    expect([rest.status, rest.headers.get('content-range'), rest.headers.get('content-length')]).toEqual([
      206,
      `bytes ${half}-${whole.length - 1}/${whole.length}`,
      String(whole.length - half),
    ]);
    expect((await bytes(rest)).equals(whole.subarray(half))).toBe(true);
    const middle = await get({ range: `bytes=7-${half}` });
    expect((await bytes(middle)).equals(whole.subarray(7, half + 1))).toBe(true);
    expect((await get({ range: `bytes=${whole.length}-` })).status).toBe(416);
    // What is another one by now comes whole.
    const other = await get({ range: `bytes=${half}-`, 'if-range': '"zip-of-before"' });
    expect([other.status, (await bytes(other)).length]).toEqual([200, whole.length]);
  });

  test('the ZIP holds every one of them, and says what it could not hold', async () => {
    const names = async () => {
      const zip = Buffer.from(await (await house.fetch(`/api/guest/${token}/zip`, {}, null)).arrayBuffer());
      return new Promise<Map<string, string>>((resolve, reject) => {
        yauzl.fromBuffer(zip, { lazyEntries: true }, (error, file) => {
          if (error) return reject(error);
          const found = new Map<string, string>();
          file.on('entry', (entry: yauzl.Entry) => {
            file.openReadStream(entry, (wrong, stream) => {
              if (wrong) return reject(wrong);
              const parts: Buffer[] = [];
              stream.on('data', (part: Buffer) => parts.push(part));
              stream.on('end', () => {
                // Names stand in the order of time, by a number before each.
                found.set(entry.fileName.replace(/^\d+ /, ''), Buffer.concat(parts).toString('latin1'));
                file.readEntry();
              });
            });
          });
          file.on('end', () => resolve(found));
          file.readEntry();
        });
      });
    };
    expect([...(await names()).keys()].sort()).toEqual(
      [...ids.keys()].map((n) => (n === 'evil.html' ? 'evil.html.jpg' : n)).sort(),
    );
    // One of them can no longer be cleaned.
    const row = (await house.app.db('pictures').where('id', ids.get('a.avi')!).first('vault_path', 'sha256')) as {
      vault_path: string;
      sha256: Buffer;
    };
    rmSync(path.join(house.app.paths.vault, 'home', row.vault_path));
    rmSync(
      path.join(
        house.app.paths.derived,
        row.sha256.toString('hex').slice(0, 2),
        `${row.sha256.toString('hex')}-guest2.avi`,
      ),
    );
    const kept = derived().length;
    jest.spyOn(console, 'error').mockImplementation(() => undefined);
    const left = await names();
    expect(left.has('a.avi')).toBe(false);
    expect(left.get('What is missing here.txt')).toMatch(/^These files are missing because.*\r\n\r\na\.avi\r\n$/s);
    const refused = await original('a.avi');
    expect([refused.status, ((await refused.json()) as { title: string }).title]).toEqual([
      422,
      'This file cannot be shared without what is written inside it, so it is not shared. Ask whoever sent you the link.',
    ]);
    // However often it is asked for, nothing piles up.
    for (let i = 0; i < 3; i++) await original('a.avi');
    expect(derived().length).toBe(kept);
    expect(readdirSync(path.join(house.app.paths.derived, 'guest-parts'))).toEqual([]);
  });

  test('what a sudden end left half made is gone at the next start', async () => {
    const stray = path.join(house.app.paths.derived, 'guest-parts/1-x/copy.avi');
    mkdirSync(path.dirname(stray), { recursive: true });
    writeFileSync(stray, 'half');
    const old = path.join(house.app.paths.derived, 'ab', `${'ab'.repeat(32)}-guest-99-x1.avi`);
    mkdirSync(path.dirname(old), { recursive: true });
    writeFileSync(old, 'a stray copy of before');
    await recover(house.app);
    expect([existsSync(stray), existsSync(old)]).toEqual([false, false]);
  });
});
