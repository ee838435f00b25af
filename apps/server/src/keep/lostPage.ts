import { plural, t } from '@lingui/core/macro';
import { i18n } from '@lingui/core';
import { randomBytes, timingSafeEqual } from 'node:crypto';
import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import type { Config } from '../config';
import { librariesIn, rebuild, sayRebuilt, type Rebuilt } from './rebuild';

const escaped = (text: string): string => text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);

const STYLE = `:root{color-scheme:light dark;--paper:#F6F1E7;--card:#FFFBF3;--line:#E0D6C3;--ink:#1E2C2B;--soft:#5B6965;--juniper:#1C5A50;--bright:#FFFBF3}
@media(prefers-color-scheme:dark){:root{--paper:#131A19;--card:#1B2423;--line:#2C3937;--ink:#F0EADD;--soft:#A7B3AD;--juniper:#7CC2AC;--bright:#131A19}}
body{margin:0;background:var(--paper);color:var(--ink);font:1rem/1.5 system-ui,sans-serif}
main{max-width:38rem;margin:0 auto;padding:2rem 1.25rem}
h1{font:600 1.75rem/1.25 Georgia,serif;margin:0 0 .75rem}h2{font-size:1rem;margin:1.75rem 0 .25rem}
p{margin:.5rem 0}.soft{color:var(--soft)}code{display:block;background:var(--card);border:1px solid var(--line);border-radius:.5rem;padding:.625rem .75rem;overflow-wrap:anywhere}
button{font:600 1rem system-ui,sans-serif;min-height:2.75rem;padding:0 1.25rem;border:0;border-radius:1.375rem;background:var(--juniper);color:var(--bright);margin-top:.5rem;cursor:pointer}
button:focus-visible{outline:3px solid var(--ink);outline-offset:2px}li{margin:.25rem 0}`;

/** Looks whether Gemmel is there, or rebuilding has ended, and only then asks for the page anew: in between nobody answers for a moment. */
const LOOKS = `setInterval(async()=>{try{const r=await fetch('/healthz');if(r.status!==503||!(await r.json()).working)location.reload()}catch{}},1000)`;

const page = (title: string, body: string, nonce = ''): string =>
  `<!DOCTYPE html><html lang="${i18n.locale}"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1">
<meta name="robots" content="noindex"><title>${escaped(title)}</title><style>${STYLE}</style></head>
<body><main><h1>${escaped(title)}</h1>${body}</main>${nonce ? `<script nonce="${nonce}">${LOOKS}</script>` : ''}</body></html>`;

const paragraph = (text: string, soft = false): string => `<p${soft ? ' class="soft"' : ''}>${escaped(text)}</p>`;

/** Whether a request comes from this machine itself, and through nobody in between. */
const isHere = ({ socket, headers }: IncomingMessage): boolean =>
  /^(::ffff:)?127\.|^::1$/.test(socket.remoteAddress ?? '') && !headers['x-forwarded-for'] && !headers['forwarded'];

/** What is asked in a form of ours, as far as it is short. */
async function formOf(request: IncomingMessage): Promise<URLSearchParams> {
  let text = '';
  for await (const chunk of request) if ((text += String(chunk)).length > 1000) break;
  return new URLSearchParams(text);
}

/**
 * Stands in for Gemmel while its database is lost: says what is the matter and what brings everything back, and rebuilds the database when
 * somebody at this machine asks for it. Nothing else is answered. `there` is called once the page is. Resolves once it has been rebuilt, with
 * the port free again.
 */
export async function standIn(config: Config, why: string, there: () => void): Promise<Rebuilt> {
  const token = randomBytes(24).toString('base64url');
  const nonce = randomBytes(16).toString('base64');
  const found = await librariesIn(config.data);
  const told: string[] = [];
  let working = false;
  let wrong = '';
  let done: (rebuilt: Rebuilt) => void = () => undefined;
  const rebuilt = new Promise<Rebuilt>((resolve) => (done = resolve));
  const begin = () => {
    working = true;
    wrong = '';
    void rebuild(config, true, (line) => told.push(line)).then(
      (result) => {
        told.push(...sayRebuilt(result));
        // Whoever waits for it sees the end once more.
        setTimeout(() => done(result), 2500).unref();
      },
      (error: unknown) => {
        working = false;
        wrong = error instanceof Error ? error.message : String(error);
      },
    );
  };
  const first = (here: boolean): string => {
    const title = t`The database is lost. Your pictures are not.`;
    const libraries = found
      .map(({ slug, book }) =>
        book
          ? t`${book.name}: everything that was said is in its book, as of ${i18n.date(new Date(book.written), { dateStyle: 'long', timeStyle: 'short' })}`
          : t`${slug}: there is no book; what is written beside each picture comes back`,
      )
      .map((line) => `<li>${escaped(line)}</li>`)
      .join('');
    const body = [
      paragraph(
        plural(found.length, {
          one: 'All originals are in place, and with them what was said about them. From these the database can be made anew:',
          other:
            'All originals of # libraries are in place, and with them what was said about them. From these the database can be made anew:',
        }),
      ),
      `<ul>${libraries}</ul>`,
      wrong ? paragraph(wrong) : '',
      here
        ? `<form method="post" action="/rebuild"><input type="hidden" name="token" value="${token}"><button>${escaped(t`Rebuild from the files`)}</button></form>`
        : paragraph(t`Whoever sits at the computer Gemmel runs on can do that on this page, or by this command:`),
      `<h2>${escaped(t`By hand`)}</h2><code>./gemmel rebuild</code>`,
      `<h2>${escaped(t`From a second copy`)}</h2>`,
      paragraph(
        t`If there is one, it knows everything up to the last time it was brought up to date. The recovery sheet says where it is.`,
        true,
      ),
      `<code>./gemmel restore PLACE --over</code>`,
      paragraph(t`Nothing is removed either way: the damaged database is put aside.`, true),
      `<h2>${escaped(t`What happened`)}</h2>`,
      paragraph(why, true),
    ];
    return page(title, body.join(''));
  };
  const answer = async (request: IncomingMessage, response: ServerResponse): Promise<void> => {
    const say = (status: number, html: string) =>
      response
        .writeHead(status, {
          'content-type': 'text/html; charset=utf-8',
          'content-security-policy': `default-src 'none'; style-src 'unsafe-inline'; script-src 'nonce-${nonce}'; connect-src 'self'; form-action 'self'; frame-ancestors 'none'; base-uri 'none'`,
          'referrer-policy': 'no-referrer',
          'x-content-type-options': 'nosniff',
          'cache-control': 'no-store',
        })
        .end(html);
    const at = new URL(request.url ?? '/', 'http://here').pathname;
    if (at === '/healthz') {
      response
        .writeHead(503, { 'content-type': 'application/json' })
        .end(JSON.stringify({ ok: false, database: 'lost', working }));
      return;
    }
    if (at.startsWith('/api/') || at.startsWith('/dav/')) {
      response
        .writeHead(503, { 'content-type': 'application/problem+json', 'retry-after': '30' })
        .end(JSON.stringify({ type: 'about:blank', title: why, status: 503, code: 'database-away', params: {} }));
      return;
    }
    if (request.method === 'POST' && at === '/rebuild') {
      const given = Buffer.from((await formOf(request)).get('token') ?? '');
      const own = Buffer.from(token);
      if (!isHere(request) || given.length !== own.length || !timingSafeEqual(given, own))
        return void say(403, first(false));
      if (!working) begin();
      response.writeHead(303, { location: '/' }).end();
      return;
    }
    if (working)
      return void say(
        200,
        page(
          t`Rebuilding …`,
          `<ul>${told.map((line) => `<li>${escaped(line)}</li>`).join('')}</ul>${paragraph(t`Gemmel opens here by itself when it’s ready. Small pictures and faces are made again while you look around.`, true)}`,
          nonce,
        ),
      );
    say(503, first(isHere(request)));
  };
  const server = createServer((request, response) => {
    answer(request, response).catch(() => response.destroy());
  });
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(config.port, config.host, resolve);
  });
  there();
  try {
    return await rebuilt;
  } finally {
    server.closeAllConnections();
    await new Promise<void>((resolve) => server.close(() => resolve()));
  }
}
