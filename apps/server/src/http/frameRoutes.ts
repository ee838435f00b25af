import type { Hono } from 'hono';
import type { App } from '../context';
import { sendFile } from '../files/send';
import { notFound } from '../problem';
import { feedOf, framePicture, nextPicture } from '../frame/frames';
import type { Vars } from './guard';

/** What digital frames ask for, by their secret alone. */
export function addFrameRoutes(http: Hono<Vars>, app: App): void {
  http.get('/frame/:token', async (c) =>
    c.json(await feedOf(app, c.req.param('token')), 200, { 'cache-control': 'no-store' }),
  );
  http.get('/frame/:token/next.jpg', async (c) => {
    const next = await nextPicture(app, c.req.param('token'));
    if ('dark' in next)
      return c.body(new Uint8Array(next.dark), 200, { 'content-type': 'image/jpeg', 'cache-control': 'no-store' });
    return sendFile(c, next.file, { mime: 'image/jpeg', etag: `"${Date.now().toString(36)}"`, cache: 'no-store' });
  });
  http.get('/frame/:token/pictures/:id', async (c) => {
    const id = Number(/^(\d+)\.jpg$/.exec(c.req.param('id'))?.[1]);
    if (!Number.isSafeInteger(id)) throw notFound('picture');
    const file = await framePicture(app, c.req.param('token'), id);
    return sendFile(c, file, { mime: 'image/jpeg', etag: `"${file.slice(-44, -4)}"`, cache: 'private, max-age=3600' });
  });
}
