import { execFileSync } from 'node:child_process';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';

/** Orange at the left, blue at the right, white at the top: tells whether a picture is upright. */
export const PATTERN = (width: number, height: number) =>
  sharp(
    Buffer.from(
      `<svg width="${width}" height="${height}"><rect width="${width}" height="${height}" fill="#d08020"/><rect x="${width / 2}" width="${width / 2}" height="${height}" fill="#2050b0"/><rect width="${width}" height="${height / 4}" fill="#f8f8f8"/></svg>`,
    ),
  );

/** A negative as a camera writes it: a TIFF that says how it is to be turned, with a JPEG inside. */
function negative(jpeg: Buffer, orientation: number): Buffer {
  const ascii = (text: string) => Buffer.from(`${text}\0`);
  const extra: Buffer[] = [];
  const entries: [tag: number, type: number, count: number, value: number | Buffer][] = [
    [254, 4, 1, 1],
    [256, 4, 1, 96],
    [257, 4, 1, 64],
    [258, 3, 1, 8],
    [259, 3, 1, 7],
    [262, 3, 1, 6],
    [271, 2, 10, ascii('Oldenberg')],
    [272, 2, 7, ascii('Quint2')],
    [273, 4, 1, 0],
    [274, 3, 1, orientation],
    [277, 3, 1, 3],
    [278, 4, 1, 64],
    [279, 4, 1, jpeg.length],
    [306, 2, 20, ascii('2026:05-16 14:07:09'.replace('-', ':'))],
    [50706, 1, 4, Buffer.from([1, 4, 0, 0])],
  ];
  const head = 8 + 2 + entries.length * 12 + 4;
  let at = head;
  for (const [, , , value] of entries)
    if (Buffer.isBuffer(value) && value.length > 4) at += value.length + (value.length % 2);
  const strip = at;
  const ifd = Buffer.alloc(2 + entries.length * 12 + 4);
  ifd.writeUInt16LE(entries.length, 0);
  at = head;
  entries.forEach(([tag, type, count, value], i) => {
    const o = 2 + i * 12;
    ifd.writeUInt16LE(tag, o);
    ifd.writeUInt16LE(type, o + 2);
    ifd.writeUInt32LE(count, o + 4);
    if (Buffer.isBuffer(value)) {
      if (value.length <= 4) value.copy(ifd, o + 8);
      else {
        ifd.writeUInt32LE(at, o + 8);
        extra.push(value, Buffer.alloc(value.length % 2));
        at += value.length + (value.length % 2);
      }
    } else if (tag === 273) ifd.writeUInt32LE(strip, o + 8);
    else if (type === 3) ifd.writeUInt16LE(value, o + 8);
    else ifd.writeUInt32LE(value, o + 8);
  });
  return Buffer.concat([Buffer.from('II*\0\u0008\0\0\0', 'latin1'), ifd, ...extra, jpeg]);
}

export const ffmpeg = (...args: string[]) => execFileSync('ffmpeg', ['-v', 'error', '-y', ...args]);
const MOVING = ['-f', 'lavfi', '-i', 'testsrc=size=160x96:rate=25:duration=2'];
const SOUND = ['-f', 'lavfi', '-i', 'sine=frequency=440:duration=2'];
export const CLIPS: [name: string, args: string[], direct: boolean][] = [
  ['a.mp4', ['-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-c:a', 'aac'], true],
  ['b.mov', ['-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-c:a', 'aac'], true],
  ['c.m4v', ['-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-an', '-f', 'ipod'], true],
  ['d.webm', ['-c:v', 'libvpx', '-an'], true],
  ['e.avi', ['-c:v', 'mjpeg', '-pix_fmt', 'yuvj420p', '-c:a', 'pcm_s16le'], false],
  ['f.mts', ['-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-c:a', 'ac3', '-f', 'mpegts', '-mpegts_m2ts_mode', '1'], false],
  ['g.3gp', ['-s', '176x144', '-c:v', 'h263', '-an'], false],
  ['h.ts.mts', ['-c:v', 'mpeg2video', '-an', '-f', 'mpegts'], false],
  ['i.mkv', ['-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-an'], false],
  ['j.mpg', ['-c:v', 'mpeg1video', '-c:a', 'mp2'], false],
  ['k.vob', ['-c:v', 'mpeg2video', '-c:a', 'ac3'], false],
  ['l.wmv', ['-c:v', 'wmv2', '-c:a', 'wmav2'], false],
  ['m.flv', ['-c:v', 'flv', '-an'], false],
  ['n.ogv', ['-c:v', 'libtheora', '-an'], false],
  ['o.dv', ['-s', '720x576', '-pix_fmt', 'yuv420p', '-r', '25', '-an'], false],
];

/** A flattened picture of 8 bits as layered files hold it: a head, three empty parts, then one colour after another. */
function layered(pixels: Buffer, width: number, height: number): Buffer {
  const head = Buffer.alloc(26 + 12 + 2);
  head.write('8BPS');
  head.writeUInt16BE(1, 4);
  head.writeUInt16BE(3, 12);
  head.writeUInt32BE(height, 14);
  head.writeUInt32BE(width, 18);
  head.writeUInt16BE(8, 22);
  head.writeUInt16BE(3, 24);
  const plane = (c: number) => Buffer.from(Array.from({ length: width * height }, (_, i) => pixels[i * 3 + c]!));
  return Buffer.concat([head, plane(0), plane(1), plane(2)]);
}

/** A TIFF of 12 bits a colour, as some scanners write it. */
function twelveBits(pixels: Buffer, width: number, height: number): Buffer {
  const data = Buffer.alloc(pixels.length * 1.5);
  for (let i = 0; i < pixels.length; i += 2) {
    const [a, b] = [pixels[i]! << 4, pixels[i + 1]! << 4];
    data.set([a >> 4, ((a & 15) << 4) | (b >> 8), b & 255], i * 1.5);
  }
  const entries = [
    [256, 4, 1, width],
    [257, 4, 1, height],
    [258, 3, 1, 12],
    [259, 3, 1, 1],
    [262, 3, 1, 2],
    [273, 4, 1, 0],
    [277, 3, 1, 3],
    [278, 4, 1, height],
    [279, 4, 1, data.length],
  ] as const;
  const head = Buffer.alloc(8 + 2 + entries.length * 12 + 4 + 6);
  head.write('II*\0\u0008', 'latin1');
  head.writeUInt16LE(entries.length, 8);
  const bits = 8 + 2 + entries.length * 12 + 4;
  entries.forEach(([tag, type, count, value], i) => {
    const o = 10 + i * 12;
    head.writeUInt16LE(tag, o);
    head.writeUInt16LE(type, o + 2);
    head.writeUInt32LE(tag === 258 ? 3 : count, o + 4);
    head.writeUInt32LE(tag === 258 ? bits : tag === 273 ? head.length : value, o + 8);
  });
  for (let i = 0; i < 3; i++) head.writeUInt16LE(12, bits + 2 * i);
  return Buffer.concat([head, data]);
}

/** Writes a file of every kind that is taken in: stills, stills held in all eight ways, a negative, clips. */
export async function everyKind(folder: string, clips: readonly (typeof CLIPS)[number][] = CLIPS): Promise<void> {
  const at = (name: string) => path.join(folder, name);
  mkdirSync(folder);
  for (const format of ['png', 'webp', 'gif', 'tiff', 'avif'] as const)
    await PATTERN(96, 64)
      .toFormat(format)
      .toFile(at(`still.${format}`));
  for (const ending of ['bmp', 'jp2', 'jxl']) ffmpeg('-i', at('still.png'), at(`rare.${ending}`));
  const pixels = await PATTERN(96, 64).removeAlpha().raw().toBuffer();
  writeFileSync(at('rare.psd'), layered(pixels, 96, 64));
  writeFileSync(at('twelve.tif'), twelveBits(pixels, 96, 64));
  // Stored the eight ways a camera can be held, each with the mark that puts it right.
  for (let orientation = 1; orientation <= 8; orientation++) {
    let image = sharp(await PATTERN(96, 64).png().toBuffer());
    const undo = {
      1: [0, false],
      2: [0, true],
      3: [180, false],
      4: [180, true],
      5: [270, true],
      6: [270, false],
      7: [90, true],
      8: [90, false],
    } as const;
    const [turn, mirror] = undo[orientation as keyof typeof undo];
    if (mirror) image = sharp(await image.flop().png().toBuffer());
    await image
      .rotate(turn)
      .withMetadata({ orientation })
      .jpeg({ quality: 92 })
      .toFile(at(`held-${orientation}.jpg`));
  }
  await PATTERN(2400, 300).jpeg().toFile(at('panorama.jpg'));
  const frames = ['#d08020', '#2050b0', '#f8f8f8'].map((background) =>
    sharp({ create: { width: 40, height: 30, channels: 3, background } })
      .png()
      .toBuffer(),
  );
  writeFileSync(
    at('moves.gif'),
    await sharp(await Promise.all(frames), { join: { animated: true } })
      .gif({ delay: [90, 90, 90] })
      .toBuffer(),
  );
  writeFileSync(at('negative.dng'), negative(await PATTERN(96, 64).rotate(270).jpeg().toBuffer(), 6));
  for (const name of ['deep-with-thumbnail.heic', 'turned.heic'])
    writeFileSync(at(name), readFileSync(path.join(__dirname, 'fixtures', name)));
  for (const [name, args] of clips)
    ffmpeg(...MOVING, ...(args.includes('-an') ? [] : SOUND), '-shortest', ...args, at(name));
  if (clips.some(([name]) => name === 'a.mp4'))
    ffmpeg('-i', at('a.mp4'), '-c', 'copy', '-metadata:s:v:0', 'rotate=90', at('tilted.mp4'));
}
