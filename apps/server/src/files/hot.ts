import type { Context } from 'hono';
import { LRUCache } from 'lru-cache';
import { readFile } from 'node:fs/promises';
import { notFound } from '../problem';
import type { Sent } from './send';

/** Small files that many ask for at one moment, in bytes kept at most. A file is named by what is in it, so it is never another. */
const kept = new LRUCache<string, Promise<Buffer>>({
  maxSize: 32_000_000,
  sizeCalculation: () => 20_000,
  max: 4000,
});

/** Sends a small file that never changes, from memory where it has been asked for lately. */
export async function sendHot(c: Context, file: string, { mime, etag, cache }: Sent): Promise<Response> {
  const headers = {
    'content-type': mime,
    etag,
    'cache-control': cache,
    'content-security-policy': "default-src 'none'; sandbox",
  };
  if (c.req.header('if-none-match') === etag) return new Response(null, { status: 304, headers });
  let bytes = kept.get(file);
  if (!bytes) {
    bytes = readFile(file);
    kept.set(file, bytes);
    bytes.catch(() => kept.delete(file));
  }
  const body = await bytes.catch((error: NodeJS.ErrnoException) => {
    throw error.code === 'ENOENT' ? notFound('file') : error;
  });
  return new Response(new Uint8Array(body), { status: 200, headers });
}
