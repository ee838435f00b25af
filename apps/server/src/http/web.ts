import { serveStatic } from '@hono/node-server/serve-static';
import type { Context, Hono } from 'hono';
import { etag } from 'hono/etag';
import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import path from 'node:path';
import type { Vars } from './guard';

/** Hashes of the page's own inline styles and scripts, so that the content policy can allow these and no others. */
export function inlineHashes(html: string, tag: 'style' | 'script'): string[] {
  return [...html.matchAll(new RegExp(`<${tag}(?![^>]*\\ssrc=)[^>]*>([\\s\\S]*?)</${tag}>`, 'g'))]
    .filter((m) => m[1])
    .map((m) => `'sha256-${createHash('sha256').update(m[1]!).digest('base64')}'`);
}

/** The content policy of pages: everything from here, nothing from elsewhere, no inline scripts but the page's own. */
export function contentPolicy(html: string): string {
  return [
    "default-src 'none'",
    `script-src 'self' ${inlineHashes(html, 'script').join(' ')}`.trim(),
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' blob: data:",
    "media-src 'self' blob:",
    "font-src 'self'",
    "connect-src 'self'",
    "worker-src 'self' blob:",
    "manifest-src 'self'",
    "base-uri 'none'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join('; ');
}

/** A path in plain letters; null for one that says nothing, such as `/%`. */
function decoded(at: string): string | null {
  try {
    const plain = decodeURIComponent(at);
    return plain.includes('\0') ? null : plain;
  } catch {
    return null;
  }
}

/** A name that changes with what is in the file. */
const HASHED = /[.-][0-9a-f]{8,}\./;

/**
 * Serves the built web application: its files, compressed ahead of time, those named by what is in them for ever, the others
 * asked about each time; every other path is the page.
 */
export function addWeb(http: Hono<Vars>, root: string): void {
  const page = async (c: Context): Promise<Response> => {
    const said = decoded(new URL(c.req.url).pathname);
    if (said === null) return c.text('This address cannot be read.', 400);
    if (path.extname(said) && said !== '/index.html' && !said.startsWith('/s/')) return c.text('Not here.', 404);
    const html = await readFile(path.join(root, 'index.html'), 'utf8').catch(() => null);
    if (html === null) return c.text('The application is not built yet. Run ./gemmel start.', 503);
    return c.html(html, 200, { 'content-security-policy': contentPolicy(html), 'cache-control': 'no-cache' });
  };
  http.get('/', etag(), page);
  http.get('/index.html', etag(), page);
  http.get(
    '*',
    etag(),
    serveStatic({
      root,
      // A folder is no page.
      index: '.none',
      precompressed: true,
      onFound: (file, c) => {
        c.header(
          'cache-control',
          HASHED.test(path.basename(file)) ? 'public, max-age=31536000, immutable' : 'no-cache',
        );
        c.header('vary', 'accept-encoding');
      },
    }),
    page,
  );
}
