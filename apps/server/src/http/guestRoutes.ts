import { orAgain } from '../media/again';
import { msg } from '@lingui/core/macro';
import { safeFileName, withEnding } from '@gemmel/core';
import contentDisposition from 'content-disposition';
import type { Context, Hono } from 'hono';
import { derivedBase, type App } from '../context';
import { sendHot } from '../files/hot';
import { readRange, sendFile } from '../files/send';
import { isFull } from '../intake/space';
import { mimeOf } from '../media/sniff';
import { MISSING } from '../picture/zip';
import { notFound, Refused, refused } from '../problem';
import { guestCopy, guestPlay, screenCopy, type GuestCopy } from '../share/guestCopy';
import { guestPicture, guestPictures } from '../share/guestView';
import { readyZip, tagOf, wholeZip, type ZipPlan } from '../share/guestZip';
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
    return orAgain(app, picture.library_id, picture.shown, () =>
      brief
        ? sendHot(c, `${base}-small.webp`, { mime: 'image/webp', etag: tag(size), cache })
        : sendFile(c, `${base}-large.jpg`, { mime: 'image/jpeg', etag: tag(size), cache }),
    );
  });

  http.get('/api/guest/:token/zip', async (c) => {
    const at = await guestAt(app, c, c.req.param('token'));
    await mayLook(app, at);
    const { save } = mayIn(at.share);
    needs(save !== 'nothing');
    const wanted = c.req.query('ids');
    const ids = wanted ? new Set(wanted.split(',').slice(0, MOST_IN_ADDRESS).map(Number)) : null;
    const pictures = (await guestPictures(app, at.share)).filter((p) => !ids || ids.has(p.id));
    if (pictures.length === 0) throw refused('share-empty');
    const speech = await speechFor(app, { library: at.share.library_id, wishes: c.req.header('accept-language') });
    const plan: ZipPlan = {
      pictures,
      copyOf: (p) => (save === 'full' ? guestCopy(app, p) : screenCopy(app, p)),
      missing: {
        name: `${speech._(MISSING)}.txt`,
        why: speech._(
          msg`These files are missing because they can’t be shared without what is written inside them. Ask whoever sent you the link:`,
        ),
      },
      day: new Date(`${at.share.created_at.replace(' ', 'T')}Z`),
    };
    const etag = tagOf(plan, save);
    const headers: Record<string, string> = {
      'content-type': 'application/zip',
      'content-disposition': contentDisposition(`${safeFileName(at.share.title)}.zip`),
      'cache-control': 'private, no-cache',
      'accept-ranges': 'bytes',
      etag,
    };
    // One that was broken off goes on where it was, as long as it is the same (RFC 9110, 13.1.5).
    const wantedPart = c.req.header('range');
    if (wantedPart && (c.req.header('if-range') ?? etag) === etag) {
      const { length, from } = await readyZip(plan);
      const range = readRange(wantedPart, length);
      if (range === 'bad') return c.body(null, 416, { 'content-range': `bytes */${length}` });
      if (range) {
        if (range.from === 0) await noteSaved(app, at, pictures.length);
        headers['content-range'] = `bytes ${range.from}-${range.to}/${length}`;
        headers['content-length'] = String(range.to - range.from + 1);
        return new Response(from(range.from, range.to), { status: 206, headers });
      }
    }
    await noteSaved(app, at, pictures.length);
    return new Response(wholeZip(plan), { headers });
  });
}
