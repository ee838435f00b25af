import { msg } from '@lingui/core/macro';
import type { Context, Hono } from 'hono';
import { readFile } from 'node:fs/promises';
import path from 'node:path';
import type { App } from '../context';
import { guestPicture, guestPictures } from '../share/guestView';
import { atShare } from '../share/visits';
import { speechFor } from '../words/reader';
import { fromOf } from './from';
import type { Vars } from './guard';
import { contentPolicy } from './web';

const escaped = (text: string): string =>
  text.replace(/[&<>"']/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' })[c]!);

/** What the files of the guest's page are called: each by what is in it. */
type Files = Record<'page' | 'style' | `words-${string}`, string>;

/** What is shown before anything is asked for: title and first picture; null where they are not for everybody with the link. */
interface Head {
  title: string;
  from: string;
  first: { id: number; width: number; height: number } | null;
}

/**
 * What a link shows at once. A share that asks for a word, is opened so many times only, or is not open says nothing here: whoever looks
 * at a link from outside, a messenger among them, counts as no visit and learns nothing.
 */
async function headOf(app: App, token: string): Promise<Head | null> {
  try {
    const { share, guest } = await atShare(app, token);
    if ((share.word_hash !== null && !guest) || share.visits_most !== null) return null;
    const [first] = await guestPictures(app, share, 1);
    const shown = first && (await guestPicture(app, share, first.id));
    const from = (await app.db('members').where('id', share.created_by).first('name'))!.name;
    return {
      title: share.title,
      from,
      first: shown ? { id: shown.id, width: shown.width, height: shown.height } : null,
    };
  } catch {
    return null;
  }
}

/**
 * Brings the page's scripts once the first picture has been drawn: whoever opens a link looks at it while the rest is got ready. On a slow
 * telephone they would otherwise keep it from the screen for as long as they run.
 */
const begins = (scripts: readonly string[]): string =>
  `(function(){var begun=false;function begin(){if(begun)return;begun=true;requestAnimationFrame(function(){setTimeout(function(){` +
  `${JSON.stringify(scripts)}.forEach(function(src){var one=document.createElement('script');one.src=src;one.async=false;document.body.appendChild(one)})})})}` +
  `var first=document.querySelector('.hero');if(!first||!first.decode)return begin();first.decode().then(begin,begin);setTimeout(begin,2000)})()`;

function pageOf(
  head: Head | null,
  files: Files,
  locale: string,
  at: { token: string; origin: string },
  by: string,
): string {
  const title = escaped(head?.title ?? 'Gemmel');
  const large = head?.first ? `/api/guest/${encodeURIComponent(at.token)}/pictures/${head.first.id}/large` : null;
  const scripts = [files[`words-${locale}`] ?? files['words-en'], files.page].map((name) => `/guest/${name}`);
  return `<!DOCTYPE html>
<html lang="${locale}">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1, viewport-fit=cover">
<meta name="robots" content="noindex, nofollow">
<title>${title}</title>
<meta property="og:title" content="${title}">
<meta property="og:type" content="website">
${large ? `<meta property="og:image" content="${escaped(at.origin + large)}">\n<link rel="preload" as="image" href="${large}" fetchpriority="high">` : ''}
<link rel="icon" href="/favicon.ico">
<link rel="stylesheet" href="/guest/${files.style}">
${scripts.map((src) => `<link rel="preload" as="script" href="${src}">`).join('\n')}
</head>
<body>
<div id="first"><main>${large ? `<img class="hero" src="${large}" alt="" decoding="sync" width="${head!.first!.width}" height="${head!.first!.height}">` : ''}${
    head ? `<div class="head"><h1>${title}</h1><p class="soft">${escaped(by)}</p></div>` : ''
  }</main></div>
<div id="page"></div>
<script>${begins(scripts)}</script>
</body>
</html>
`;
}

/** The page of a share: its head is there at once, and a small script brings the rest. */
export function addGuestPage(http: Hono<Vars>, app: App): void {
  const { web } = app.config;
  http.get('/s/:token', async (c: Context<Vars>) => {
    const files = await readFile(path.join(web, 'guest/files.json'), 'utf8').then(
      (text) => JSON.parse(text) as Files,
      () => null,
    );
    if (!files) return c.text('The application is not built yet. Run ./gemmel start.', 503);
    const token = c.req.param('token')!;
    const head = await headOf(app, token);
    const speech = await speechFor(app, { library: 0, wishes: c.req.header('accept-language') });
    const html = pageOf(
      head,
      files,
      speech.locale,
      { token, origin: `${fromOf(c).secure ? 'https' : 'http'}://${fromOf(c).host}` },
      head ? speech._(msg`from ${{ name: head.from }}`) : '',
    );
    return c.html(html, 200, {
      'content-security-policy': contentPolicy(html),
      'cache-control': 'private, no-store',
      'referrer-policy': 'no-referrer',
    });
  });
}
