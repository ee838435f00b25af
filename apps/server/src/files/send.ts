import contentDisposition from 'content-disposition';
import type { Context } from 'hono';
import { createReadStream } from 'node:fs';
import { readFile, stat } from 'node:fs/promises';
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

/** Sends a file: not modified, in part (RFC 9110, one range), or whole. */
export async function sendFile(c: Context, file: string, sent: Sent): Promise<Response> {
  const info = await stat(file).catch(() => null);
  if (!info) throw notFound('This file');
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
  const range = readRange(c.req.header('range'), info.size);
  if (range === 'bad') return c.body(null, 416, { 'content-range': `bytes */${info.size}` });
  const { from, to } = range ?? { from: 0, to: info.size - 1 };
  headers['content-length'] = String(info.size === 0 ? 0 : to - from + 1);
  if (range) headers['content-range'] = `bytes ${from}-${to}/${info.size}`;
  // Small files go out in one piece: opening a stream for each picture of a grid costs more than reading it.
  if (!range && info.size > 0 && info.size <= 262_144)
    return new Response(new Uint8Array(await readFile(file)), { status: 200, headers });
  const body =
    info.size === 0 ? null : (Readable.toWeb(createReadStream(file, { start: from, end: to })) as ReadableStream);
  return new Response(body, { status: range ? 206 : 200, headers });
}
