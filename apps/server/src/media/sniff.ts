import { RAW_EXTENSIONS } from '@gemmel/core';
import { open } from 'node:fs/promises';

/** What kinds of files are taken in. Negatives of cameras share one way of being opened, by the picture inside them. */
export interface FileKind {
  format: string;
  kind: 'photo' | 'video';
  mime: string;
  raw?: true;
  /** Opened by decoders of its own; browsers do not show it. */
  rare?: true;
}

const photo = (format: string, mime = `image/${format}`): FileKind => ({ format, kind: 'photo', mime });
const video = (format: string, mime = `video/${format}`): FileKind => ({ format, kind: 'video', mime });
const rare = (format: string, mime = `image/${format}`): FileKind => ({ format, kind: 'photo', mime, rare: true });
const raw = (format: string): FileKind => ({ format, kind: 'photo', mime: `image/x-${format}`, raw: true });

const KINDS = {
  jpg: photo('jpg', 'image/jpeg'),
  png: photo('png'),
  webp: photo('webp'),
  gif: photo('gif'),
  tif: photo('tif', 'image/tiff'),
  avif: photo('avif'),
  heic: photo('heic'),
  bmp: rare('bmp'),
  psd: rare('psd', 'image/vnd.adobe.photoshop'),
  jp2: rare('jp2'),
  j2k: rare('j2k', 'image/jp2'),
  jxl: rare('jxl'),
  mp4: video('mp4'),
  m4v: video('m4v', 'video/mp4'),
  mov: video('mov', 'video/quicktime'),
  '3gp': video('3gp', 'video/3gpp'),
  webm: video('webm'),
  mkv: video('mkv', 'video/x-matroska'),
  avi: video('avi', 'video/x-msvideo'),
  mts: video('mts', 'video/mp2t'),
  mpg: video('mpg', 'video/mpeg'),
  vob: video('vob', 'video/mpeg'),
  wmv: video('wmv', 'video/x-ms-wmv'),
  flv: video('flv', 'video/x-flv'),
  ogv: video('ogv', 'video/ogg'),
  dv: video('dv'),
};

/** Whether browsers do not show pictures of a stored format, so that others are given another. */
export const isRare = (format: string): boolean => (KINDS as Record<string, FileKind>)[format]?.rare ?? false;

/** The media type of a stored format. */
export const mimeOf = (format: string): string =>
  (KINDS as Record<string, FileKind>)[format]?.mime ??
  (RAW_EXTENSIONS.has(format) ? `image/x-${format}` : 'application/octet-stream');

/** Whether these bytes begin an archive whose files are to come in one by one. */
export const isZip = (head: Uint8Array): boolean =>
  head[0] === 0x50 && head[1] === 0x4b && ((head[2] === 3 && head[3] === 4) || (head[2] === 5 && head[3] === 6));

/** How many bytes {@link sniff} looks at. */
export const HEAD = 400;

/**
 * Tells a file's kind from its first bytes; its name may lie. Only among negatives, which mostly are TIFF inside, does the
 * name tell whose they are. Null when it is nothing that is taken in.
 */
export function sniff(head: Uint8Array, name = ''): FileKind | null {
  const ascii = (from: number, to: number) => String.fromCharCode(...head.subarray(from, to));
  const extension = name.split('.').pop()?.toLowerCase() ?? '';
  const negative = RAW_EXTENSIONS.has(extension) ? raw(extension) : null;
  if (head[0] === 0xff && head[1] === 0xd8 && head[2] === 0xff) return KINDS.jpg;
  if (head[0] === 0x89 && ascii(1, 8) === 'PNG\r\n\x1a\n') return KINDS.png;
  if (ascii(0, 4) === 'RIFF' && ascii(8, 12) === 'WEBP') return KINDS.webp;
  if (ascii(0, 4) === 'RIFF' && ascii(8, 12) === 'AVI ') return KINDS.avi;
  if (ascii(0, 6) === 'GIF87a' || ascii(0, 6) === 'GIF89a') return KINDS.gif;
  if (ascii(0, 4) === 'II*\0' || ascii(0, 4) === 'MM\0*')
    return ascii(8, 10) === 'CR' ? raw('cr2') : (negative ?? KINDS.tif);
  // TIFF for files of more than 4 GB.
  if (ascii(0, 4) === 'II+\0' || ascii(0, 4) === 'MM\0+') return KINDS.tif;
  if (ascii(0, 4) === '8BPS') return KINDS.psd;
  if (ascii(0, 2) === 'BM' && head[14]! >= 12 && head[14]! <= 124 && head[15] === 0) return KINDS.bmp;
  if (ascii(4, 12) === 'jP  \r\n\x87\n') return KINDS.jp2;
  if (head[0] === 0xff && head[1] === 0x4f && head[2] === 0xff && head[3] === 0x51) return KINDS.j2k;
  if ((head[0] === 0xff && head[1] === 0x0a) || ascii(4, 12) === 'JXL \r\n\x87\n') return KINDS.jxl;
  if (['IIRO', 'IIRS', 'MMOR'].includes(ascii(0, 4))) return raw('orf');
  if (ascii(0, 4) === 'IIU\0') return raw('rw2');
  if (ascii(0, 15) === 'FUJIFILMCCD-RAW') return raw('raf');
  if (ascii(0, 4) === 'FOVb') return raw('x3f');
  if (ascii(0, 4) === '\0MRM') return raw('mrw');
  if (ascii(4, 8) === 'ftyp') {
    const brand = ascii(8, 12);
    if (['heic', 'heix', 'heim', 'heis', 'hevc', 'mif1', 'msf1'].includes(brand)) {
      const size = Math.min((head[2]! << 8) | head[3]!, 64);
      return ascii(16, size).includes('avif') ? KINDS.avif : KINDS.heic;
    }
    if (['avif', 'avis'].includes(brand)) return KINDS.avif;
    if (brand === 'crx ') return raw('cr3');
    if (brand.startsWith('3g')) return KINDS['3gp'];
    if (brand.startsWith('M4V')) return KINDS.m4v;
    return brand === 'qt  ' ? KINDS.mov : KINDS.mp4;
  }
  if (['moov', 'mdat', 'wide', 'free'].includes(ascii(4, 8))) return KINDS.mov;
  if (head[0] === 0x1a && head[1] === 0x45 && head[2] === 0xdf && head[3] === 0xa3)
    return ascii(0, 64).includes('webm') ? KINDS.webm : KINDS.mkv;
  if (ascii(0, 3) === 'FLV') return KINDS.flv;
  if (head[0] === 0x30 && head[1] === 0x26 && head[2] === 0xb2 && head[3] === 0x75) return KINDS.wmv;
  if (ascii(0, 4) === 'OggS' && /theora/.test(ascii(28, 36))) return KINDS.ogv;
  if (head[0] === 0 && head[1] === 0 && head[2] === 1 && (head[3] === 0xba || head[3] === 0xb3))
    return extension === 'vob' ? KINDS.vob : KINDS.mpg;
  if (head[0] === 0x1f && head[1] === 0x07 && head[2] === 0 && extension === 'dv') return KINDS.dv;
  // Transport streams repeat their mark every packet: 188 bytes, or 192 with a time stamp before each.
  if (head[0] === 0x47 && head[188] === 0x47 && head[376] === 0x47) return KINDS.mts;
  if (head[4] === 0x47 && head[196] === 0x47 && head[388] === 0x47) return KINDS.mts;
  return null;
}

/**
 * Whether a file is a picture or clip of a kind that is not opened here: by its first bytes, or by a name that only such files
 * have, as long as it is no text.
 */
export function isClosed(head: Uint8Array, name: string): boolean {
  const ascii = (from: number, to: number) => String.fromCharCode(...head.subarray(from, to));
  if (ascii(0, 9) === 'gimp xcf ' || ascii(0, 4) === '.RMF' || ascii(0, 4) === 'AT&T') return true;
  if (ascii(0, 4) === '\x06\x0e\x2b\x34' || ascii(0, 2) === 'II\xbc') return true;
  if (head[0] === 0x76 && head[1] === 0x2f && head[2] === 0x31 && head[3] === 0x01) return true;
  const extension = name.split('.').pop()?.toLowerCase() ?? '';
  return CLOSED.has(extension) && head.subarray(0, 64).some((byte) => byte < 9);
}

/** Names of pictures, clips and negatives that say more than their first bytes do. */
const CLOSED = new Set([
  ...'tga pcx pict pct dpx exr jxr wdp hdp xcf rm rmvb mxf m2v tod bpg flif'.split(' '),
  ...RAW_EXTENSIONS,
]);

/** The first bytes of a file, at most {@link HEAD}. */
export async function headOf(file: string): Promise<Uint8Array> {
  const handle = await open(file);
  try {
    const { buffer, bytesRead } = await handle.read(Buffer.alloc(HEAD), 0, HEAD, 0);
    return buffer.subarray(0, bytesRead);
  } finally {
    await handle.close();
  }
}

/** {@link sniff} for a file on disk; `name` is what it was called where it came from. */
export const sniffFile = async (file: string, name = ''): Promise<FileKind | null> => sniff(await headOf(file), name);
