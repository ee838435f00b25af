import type { Context } from 'hono';
import { createHash } from 'node:crypto';
import { readFile, stat } from 'node:fs/promises';
import path from 'node:path';

const MIME: Record<string, string> = {
  '.html': 'text/html; charset=utf-8',
  '.js': 'text/javascript; charset=utf-8',
  '.css': 'text/css; charset=utf-8',
  '.json': 'application/json',
  '.ttf': 'font/ttf',
  '.woff2': 'font/woff2',
  '.png': 'image/png',
  '.svg': 'image/svg+xml',
  '.ico': 'image/x-icon',
  '.webmanifest': 'application/manifest+json',
};

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

/** Serves the built web application: hashed files for ever, compressed ahead of time; every other path is the page. */
export function webFiles(root: string) {
  return async (c: Context): Promise<Response> => {
    const said = decoded(new URL(c.req.url).pathname);
    if (said === null) return c.text('This address cannot be read.', 400);
    const wanted = path.normalize(said).replace(/^[/\\]+/, '');
    const file = path.join(root, wanted);
    const inside = file.startsWith(root + path.sep) && path.extname(file) !== '.br';
    const info = inside ? await stat(file).catch(() => null) : null;
    if (info?.isFile()) {
      const hashed = /[.-][0-9a-f]{8,}\./.test(wanted);
      const headers: Record<string, string> = {
        'content-type': MIME[path.extname(file)] ?? 'application/octet-stream',
        'cache-control': hashed ? 'public, max-age=31536000, immutable' : 'no-cache',
        vary: 'accept-encoding',
      };
      if (c.req.header('accept-encoding')?.includes('br') && (await stat(`${file}.br`).catch(() => null))) {
        headers['content-encoding'] = 'br';
        return c.body(new Uint8Array(await readFile(`${file}.br`)), 200, headers);
      }
      return c.body(new Uint8Array(await readFile(file)), 200, headers);
    }
    if (path.extname(wanted) && !wanted.startsWith('s/')) return c.text('Not here.', 404);
    const html = await readFile(path.join(root, 'index.html'), 'utf8').catch(() => null);
    if (html === null) return c.text('The application is not built yet. Run ./gemmel start.', 503);
    return c.html(html, 200, { 'content-security-policy': contentPolicy(html), 'cache-control': 'no-cache' });
  };
}
