import contentDisposition from 'content-disposition';
import type { Context } from 'hono';
import { open, type FileHandle } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { notFound } from '../problem';

/** One range of a `Range: bytes=` header, clipped to the file; null when there is none, 'bad' when it cannot be met. */
export function readRange(header: string | undefined, size: number): { from: number; to: number } | null | 'bad' {
  const m = header?.match(/^bytes=(\d*)-(\d*)$/);
  if (!m || (m[1] === '' && m[2] === '')) return null;
  if (m[1] === '') {
    const last = Number(m[2]);
    return last === 0 || size === 0 ? 'bad' : { from: Math.max(0, size - last), to: size - 1 };
  }
  const from = Number(m[1]);
  const to = m[2] === '' ? size - 1 : Math.min(size - 1, Number(m[2]));
  return from >= size || to < from ? 'bad' : { from, to };
}

/** What a file is sent as. */
export interface Sent {
  mime: string;
  etag: string;
  cache: string;
  /** A name to save it under; without one it is shown. */
  saveAs?: string;
}

/** How often a file that moves is looked for anew. */
const LOOKS = 3;

/** Opens a file where it is now: one that moves while it is looked for is found where it has come. */
async function opened(where: string | (() => Promise<string | null>)): Promise<FileHandle> {
  for (let look = 1; ; look++) {
    const file = typeof where === 'string' ? where : await where();
    if (file === null) throw notFound('file');
    try {
      return await open(file);
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error;
      if (look === LOOKS || typeof where === 'string') throw notFound('file');
    }
  }
}

/**
 * Sends a file: not modified, in part (RFC 9110, one range), or whole. It is held open, so that it comes whole even when it is
 * moved meanwhile.
 * @param where the file, or how to find out where it is now; null when it is nowhere.
 */
export async function sendFile(
  c: Context,
  where: string | (() => Promise<string | null>),
  sent: Sent,
): Promise<Response> {
  const file = await opened(where);
  let streaming = false;
  try {
    const { size } = await file.stat();
    const headers: Record<string, string> = {
      'content-type': sent.mime,
      etag: sent.etag,
      'cache-control': sent.cache,
      'accept-ranges': 'bytes',
      // A file somebody brought in is never run as part of this page.
      'content-security-policy': "default-src 'none'; sandbox",
    };
    if (sent.saveAs) headers['content-disposition'] = contentDisposition(sent.saveAs);
    if (c.req.header('if-none-match') === sent.etag) return new Response(null, { status: 304, headers });
    const range = readRange(c.req.header('range'), size);
    if (range === 'bad') return c.body(null, 416, { 'content-range': `bytes */${size}` });
    const { from, to } = range ?? { from: 0, to: size - 1 };
    headers['content-length'] = String(size === 0 ? 0 : to - from + 1);
    if (range) headers['content-range'] = `bytes ${from}-${to}/${size}`;
    if (size === 0) return new Response(null, { status: 200, headers });
    // Small files go out in one piece: opening a stream for each picture of a grid costs more than reading it.
    if (!range && size <= 262_144) return new Response(new Uint8Array(await file.readFile()), { status: 200, headers });
    streaming = true;
    const body = Readable.toWeb(file.createReadStream({ start: from, end: to })) as ReadableStream;
    return new Response(body, { status: range ? 206 : 200, headers });
  } finally {
    if (!streaming) await file.close();
  }
}
