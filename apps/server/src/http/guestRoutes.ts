import { msg } from '@lingui/core/macro';
import { safeFileName, withEnding } from '@gemmel/core';
import contentDisposition from 'content-disposition';
import { downloadZip } from 'client-zip';
import type { Context, Hono } from 'hono';
import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { derivedBase, type App } from '../context';
import { sendHot } from '../files/hot';
import { sendFile } from '../files/send';
import { isFull } from '../intake/space';
import { mimeOf } from '../media/sniff';
import { freeNames, MISSING } from '../picture/zip';
import { notFound, Refused, refused } from '../problem';
import { guestCopy, guestPlay, screenCopy, type GuestCopy } from '../share/guestCopy';
import { guestPicture, guestPictures, type GuestPictureRow } from '../share/guestView';
import { mayIn } from '../share/row';
import { mayLook, needs, noteSaved } from '../share/visits';
import { viewReady } from '../touchup/views';
import { speechFor } from '../words/reader';
import type { Vars } from './guard';
import { guestAt } from './shareHandlers';

const idOf = (c: Context, name: string): number => {
  const id = Number(c.req.param(name));
  if (!Number.isSafeInteger(id) || id < 1) throw notFound('page');
  return id;
};

/** Gives a copy to save, or says in kind words why there is none. */
const given = (copy: Promise<GuestCopy>): Promise<GuestCopy> =>
  copy.catch((error: unknown) => {
    if (error instanceof Refused) throw error;
    if (isFull(error)) throw refused('no-room-now');
    console.error('a copy for guests:', error instanceof Error ? error.message : error);
    throw refused('not-cleanable');
  });

/** How much one answer may list of a ZIP's pictures. */
const MOST_IN_ADDRESS = 2000;

/** Files for guests: their link is their key, and what they are given says nothing on the side. */
export function addGuestRoutes(http: Hono<Vars>, app: App): void {
  http.get('/api/guest/:token/pictures/:id/:size', async (c) => {
    const size = c.req.param('size');
    const brief = size === 'small';
    const at = await guestAt(app, c, c.req.param('token'), { brief });
    await mayLook(app, at);
    const picture = await guestPicture(app, at.share, idOf(c, 'id'), brief);
    if (!picture) throw notFound('picture');
    const sha = picture.shown.toString('hex');
    const saving = c.req.query('save') !== undefined;
    const may = mayIn(at.share);
    const tag = (what: string) => `"${sha.slice(0, 32)}-${what}"`;
    const cache = 'private, no-cache';
    if (size === 'original' || size === 'screen') {
      needs(size === 'original' ? may.save === 'full' : may.save !== 'nothing');
      const { file, format } = await given(size === 'original' ? guestCopy(app, picture) : screenCopy(app, picture));
      if (saving) await noteSaved(app, at, 1);
      const sent = { mime: mimeOf(format), etag: tag(`guest-${size}`), cache };
      return sendFile(c, file, saving ? { ...sent, saveAs: withEnding(picture.name, format) } : sent);
    }
    if (size === 'play') {
      const { file, format } = await given(guestPlay(app, picture));
      return sendFile(c, file, {
        mime: format === 'webm' ? 'video/webm' : 'video/mp4',
        etag: tag('guest-play'),
        cache,
      });
    }
    if (size !== 'small' && size !== 'large') throw notFound('page');
    if (picture.view) await viewReady(app, picture.library_id, picture.view);
    const base = derivedBase(app, sha);
    return brief
      ? sendHot(c, `${base}-small.webp`, { mime: 'image/webp', etag: tag(size), cache })
      : sendFile(c, `${base}-large.jpg`, { mime: 'image/jpeg', etag: tag(size), cache });
  });

  http.get('/api/guest/:token/zip', async (c) => {
    const at = await guestAt(app, c, c.req.param('token'));
    await mayLook(app, at);
    const { save } = mayIn(at.share);
    needs(save !== 'nothing');
    const wanted = c.req.query('ids');
    const ids = wanted ? new Set(wanted.split(',').slice(0, MOST_IN_ADDRESS).map(Number)) : null;
    const pictures = (await guestPictures(app, at.share)).filter((p) => !ids || ids.has(p.id)).sort(byTime);
    if (pictures.length === 0) throw refused('share-empty');
    await noteSaved(app, at, pictures.length);
    const speech = await speechFor(app, { library: at.share.library_id, wishes: c.req.header('accept-language') });
    const name = `${safeFileName(at.share.title)}.zip`;
    const copyOf = (p: GuestPictureRow) => (save === 'full' ? guestCopy(app, p) : screenCopy(app, p));
    const zip = downloadZip(
      filesOf(
        pictures,
        copyOf,
        `${speech._(MISSING)}.txt`,
        speech._(
          msg`These files are missing because they can’t be shared without what is written inside them. Ask whoever sent you the link:`,
        ),
      ),
    );
    return new Response(zip.body, {
      headers: {
        'content-type': 'application/zip',
        'content-disposition': contentDisposition(name),
        'cache-control': 'no-store',
      },
    });
  });
}

/** The earliest first; what has no date comes last, by name. */
const byTime = (a: GuestPictureRow, b: GuestPictureRow): number =>
  (a.taken_local ?? '~').localeCompare(b.taken_local ?? '~') || a.name.localeCompare(b.name) || a.id - b.id;

/** The files of a ZIP, one after another: names stand in the order of time; what cannot be given is named at its end. */
async function* filesOf(
  pictures: readonly GuestPictureRow[],
  copyOf: (picture: GuestPictureRow) => Promise<GuestCopy>,
  list: string,
  why: string,
) {
  const free = freeNames();
  const missing: string[] = [];
  const digits = String(pictures.length).length;
  for (const [i, p] of pictures.entries()) {
    const copy = await copyOf(p).catch((error: unknown) => {
      console.error('a copy for guests:', error instanceof Error ? error.message : error);
      return null;
    });
    const info = copy && (await stat(copy.file).catch(() => null));
    if (!copy || !info) {
      missing.push(p.name);
      continue;
    }
    yield {
      name: free(`${String(i + 1).padStart(digits, '0')} ${withEnding(p.name, copy.format)}`),
      lastModified: info.mtime,
      size: info.size,
      input: Readable.toWeb(createReadStream(copy.file)) as ReadableStream<Uint8Array>,
    };
  }
  if (missing.length)
    yield { name: free(list), lastModified: new Date(), input: `${why}\r\n\r\n${missing.join('\r\n')}\r\n` };
}
