import { RAW_EXTENSIONS } from '@gemmel/core';
import { open } from 'node:fs/promises';

/** What kinds of files are taken in. Negatives of cameras share one way of being opened, by the picture inside them. */
export interface FileKind {
  format: string;
  kind: 'photo' | 'video';
  mime: string;
  raw?: true;
}

const photo = (format: string, mime = `image/${format}`): FileKind => ({ format, kind: 'photo', mime });
const video = (format: string, mime = `video/${format}`): FileKind => ({ format, kind: 'video', mime });
const raw = (format: string): FileKind => ({ format, kind: 'photo', mime: `image/x-${format}`, raw: true });

const KINDS = {
  jpg: photo('jpg', 'image/jpeg'),
  png: photo('png'),
  webp: photo('webp'),
  gif: photo('gif'),
  tif: photo('tif', 'image/tiff'),
  avif: photo('avif'),
  heic: photo('heic'),
  mp4: video('mp4'),
  m4v: video('m4v', 'video/mp4'),
  mov: video('mov', 'video/quicktime'),
  '3gp': video('3gp', 'video/3gpp'),
  webm: video('webm'),
  mkv: video('mkv', 'video/x-matroska'),
  avi: video('avi', 'video/x-msvideo'),
  mts: video('mts', 'video/mp2t'),
};

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
  // Transport streams repeat their mark every packet: 188 bytes, or 192 with a time stamp before each.
  if (head[0] === 0x47 && head[188] === 0x47 && head[376] === 0x47) return KINDS.mts;
  if (head[4] === 0x47 && head[196] === 0x47 && head[388] === 0x47) return KINDS.mts;
  return null;
}

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
