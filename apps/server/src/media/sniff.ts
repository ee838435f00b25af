import { open } from 'node:fs/promises';

/** What kinds of files are taken in. */
export interface FileKind {
  format: 'jpg' | 'png' | 'webp' | 'gif' | 'tif' | 'avif' | 'heic' | 'mp4' | 'mov';
  kind: 'photo' | 'video';
  mime: string;
}

const KINDS: Record<FileKind['format'], FileKind> = {
  jpg: { format: 'jpg', kind: 'photo', mime: 'image/jpeg' },
  png: { format: 'png', kind: 'photo', mime: 'image/png' },
  webp: { format: 'webp', kind: 'photo', mime: 'image/webp' },
  gif: { format: 'gif', kind: 'photo', mime: 'image/gif' },
  tif: { format: 'tif', kind: 'photo', mime: 'image/tiff' },
  avif: { format: 'avif', kind: 'photo', mime: 'image/avif' },
  heic: { format: 'heic', kind: 'photo', mime: 'image/heic' },
  mp4: { format: 'mp4', kind: 'video', mime: 'video/mp4' },
  mov: { format: 'mov', kind: 'video', mime: 'video/quicktime' },
};

/** The media type of a stored format. */
export const mimeOf = (format: string): string =>
  KINDS[format as FileKind['format']]?.mime ?? 'application/octet-stream';

/** Tells a file's kind from its first bytes alone; its name may lie. Null when it is nothing that is taken in. */
export function sniff(head: Uint8Array): FileKind | null {
  const ascii = (from: number, to: number) => String.fromCharCode(...head.subarray(from, to));
  if (head[0] === 0xff && head[1] === 0xd8 && head[2] === 0xff) return KINDS.jpg;
  if (head[0] === 0x89 && ascii(1, 8) === 'PNG\r\n\x1a\n') return KINDS.png;
  if (ascii(0, 4) === 'RIFF' && ascii(8, 12) === 'WEBP') return KINDS.webp;
  if (ascii(0, 6) === 'GIF87a' || ascii(0, 6) === 'GIF89a') return KINDS.gif;
  if (ascii(0, 4) === 'II*\0' || ascii(0, 4) === 'MM\0*') return KINDS.tif;
  if (ascii(4, 8) === 'ftyp') {
    const brand = ascii(8, 12);
    if (['heic', 'heix', 'heim', 'heis', 'hevc', 'mif1', 'msf1'].includes(brand)) return KINDS.heic;
    if (['avif', 'avis'].includes(brand)) return KINDS.avif;
    return brand === 'qt  ' ? KINDS.mov : KINDS.mp4;
  }
  if (['moov', 'mdat', 'wide', 'free'].includes(ascii(4, 8))) return KINDS.mov;
  return null;
}

/** {@link sniff} for a file on disk. */
export async function sniffFile(file: string): Promise<FileKind | null> {
  const handle = await open(file);
  try {
    const { buffer, bytesRead } = await handle.read(Buffer.alloc(32), 0, 32, 0);
    return sniff(buffer.subarray(0, bytesRead));
  } finally {
    await handle.close();
  }
}
