import contentDisposition from 'content-disposition';
import type { Context, Hono } from 'hono';
import { mkdir, rename, stat, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { boxIn, withEnding } from '@gemmel/core';
import sharp from 'sharp';
import { derivedBase, type App } from '../context';
import { deriveAgain, orAgain } from '../media/again';
import { mimeOf } from '../media/sniff';
import { zipOf } from '../picture/zip';
import { notFound, refused } from '../problem';
import { withWords } from '../touchup/export';
import { isTurned, recipeIn, wholeSize } from '../touchup/key';
import { originalOf, takenSha } from '../touchup/original';
import { viewReady } from '../touchup/views';
import { madeFile } from '../piece/pieces';
import { bringMusic, musicFile } from '../show/music';
import { reach } from '../show/walls';
import { playsAsIs } from '../media/clips';
import { speechFor } from '../words/reader';
import { guard, type Vars } from './guard';
import { sendFile } from '../files/send';
import { addProgress } from './progress';
import type { Told } from './told';

const FOREVER = 'private, max-age=31536000, immutable';

const derivedFile = (app: App, sha: string, size: 'small' | 'large') => ({
  file: `${derivedBase(app, sha)}-${size === 'small' ? 'small.webp' : 'large.jpg'}`,
  mime: size === 'small' ? 'image/webp' : 'image/jpeg',
});

function sizeOf(text: string | undefined): 'small' | 'large' {
  if (text !== 'small' && text !== 'large') throw notFound('page');
  return text;
}

const idOf = (c: Context, name: string): number => {
  const id = Number(c.req.param(name));
  if (!Number.isSafeInteger(id) || id < 1) throw notFound('page');
  return id;
};

/** A face cut out of the large size as an upright portrait of 240 x 300, made when first asked for. */
async function portraitFile(
  app: App,
  face: { id: number; library: number; x: number; y: number; w: number; h: number; sha: string },
): Promise<string> {
  const folder = path.join(app.paths.derived, 'portraits', String(face.id % 100));
  const file = path.join(folder, `${face.id}.webp`);
  if (await stat(file).catch(() => null)) return file;
  const source = derivedFile(app, face.sha, 'large').file;
  if (!(await stat(source).catch(() => null))) await deriveAgain(app, face.library, Buffer.from(face.sha, 'hex'));
  const { width, height } = await sharp(source).metadata();
  // Head and some neck: the face fills a little over half of the height, and the oval keeps to 4:5.
  const tall = Math.min(face.h * height * 1.75, height, width * 1.25);
  const wide = tall * 0.8;
  const left = Math.max(0, Math.min(width - wide, (face.x + face.w / 2) * width - wide / 2));
  const top = Math.max(0, Math.min(height - tall, (face.y + face.h * 0.48) * height - tall / 2));
  // A face that was drawn as a mere dot has a portrait of one pixel, also at the very edge.
  const [across, down] = [Math.max(1, Math.floor(wide)), Math.max(1, Math.floor(tall))];
  const data = await sharp(source)
    .extract({
      left: Math.min(Math.round(left), width - across),
      top: Math.min(Math.round(top), height - down),
      width: across,
      height: down,
    })
    .resize(240, 300, { fit: 'cover' })
    .webp({ quality: 80, effort: 2 })
    .toBuffer();
  await mkdir(folder, { recursive: true });
  await writeFile(`${file}.${process.pid}.part`, data);
  await rename(`${file}.${process.pid}.part`, file);
  return file;
}

/** What files of pieces are sent as. */
const MADE: Readonly<Record<string, string>> = {
  '.pdf': 'application/pdf',
  '.jpg': 'image/jpeg',
  '.mp4': 'video/mp4',
  '.zip': 'application/zip',
  '.csv': 'text/csv; charset=utf-8',
};

/** Routes that carry files and streams. */
export function addFileRoutes(http: Hono<Vars>, app: App, told: Told): void {
  const { db } = app;

  http.get('/api/derived/:sha/:size', async (c) => {
    const session = guard(c, 'relative');
    const { db } = c.get('seen');
    const sha = c.req.param('sha');
    const size = sizeOf(c.req.param('size'));
    if (!/^[0-9a-f]{64}$/.test(sha)) throw notFound('picture');
    if (!told.has(db, session.library, sha)) {
      const theirs = { library_id: session.library, sha256: Buffer.from(sha, 'hex') };
      if (await db('pictures').where(theirs).first('id')) told.add(db, session.library, sha);
      else if (await db('pictures').where({ library_id: session.library, view: theirs.sha256 }).first('id')) {
        await viewReady(app, session.library, theirs.sha256);
        told.add(db, session.library, sha);
      } else if (await db('pictures').where({ library_id: session.library, of_sha: theirs.sha256 }).first('id'))
        told.add(db, session.library, sha);
      // What is in the bin is shown to those who look after it.
      else if (
        session.part === 'relative' ||
        !(await db('binned')
          .where({ library_id: session.library, state: 'in' })
          .where((q) => void q.where('sha256', theirs.sha256).orWhere('view', theirs.sha256))
          .first('id'))
      )
        throw notFound('picture');
    }
    const { file, mime } = derivedFile(app, sha, size);
    return orAgain(app, session.library, Buffer.from(sha, 'hex'), () =>
      sendFile(c, file, { mime, etag: `"${sha.slice(0, 32)}-${size}"`, cache: FOREVER }),
    );
  });

  http.get('/api/pictures/:id/original', async (c) => {
    const session = guard(c, 'relative');
    const find = () => originalOf(c.get('seen'), session.library, idOf(c, 'id'));
    const found = await find();
    if (!found) throw notFound('picture');
    const sent = {
      mime: mimeOf(found.format),
      etag: `"${found.sha256.toString('hex').slice(0, 32)}"`,
      cache: 'private, max-age=3600',
    };
    let first: typeof found | null = found;
    return sendFile(
      c,
      async () => {
        const now = first ?? (await find());
        first = null;
        return now && now.file;
      },
      c.req.query('save') === undefined ? sent : { ...sent, saveAs: withEnding(found.name, found.format) },
    );
  });

  http.get('/api/pictures/:id/shown', async (c) => {
    const session = guard(c, 'relative');
    const id = idOf(c, 'id');
    const picture = await c
      .get('seen')
      .db('pictures')
      .where({ id, library_id: session.library, kind: 'photo' })
      .first();
    if (!picture) throw notFound('picture');
    const file = await withWords(app, picture);
    const format = picture.recipe ? 'jpg' : picture.format;
    const saveAs = withEnding(picture.name, format);
    return sendFile(c, file, {
      mime: mimeOf(format),
      etag: `"${picture.shown.toString('hex').slice(0, 32)}-full"`,
      cache: 'private, no-cache',
      saveAs,
    });
  });

  http.post('/api/music', async (c) => {
    const session = guard(c, 'helper');
    const body = c.req.raw.body;
    if (!body) throw refused('unreadable', { where: 'body', why: 'empty' });
    return c.json(
      await bringMusic(app, session, c.req.query('name') ?? '', body as unknown as AsyncIterable<Uint8Array>),
    );
  });

  http.get('/api/music/:id/file', async (c) => {
    const session = guard(c, 'relative');
    const { file, mime, etag } = await musicFile(app, session.library, idOf(c, 'id'));
    return sendFile(c, file, { mime, etag, cache: 'private, max-age=86400' });
  });

  http.get('/api/pieces/:id/files/:name', async (c) => {
    const session = guard(c, 'helper');
    const name = c.req.param('name');
    const file = await madeFile(app, session.library, idOf(c, 'id'), name);
    const { mtimeMs, size } = await stat(file).catch(() => Promise.reject(notFound('file')));
    const mime = MADE[path.extname(name).toLowerCase()] ?? 'application/octet-stream';
    const sent = {
      mime,
      etag: `"${Math.round(mtimeMs).toString(36)}-${size.toString(36)}"`,
      cache: 'private, no-cache',
    };
    return sendFile(c, file, c.req.query('save') === undefined ? sent : { ...sent, saveAs: name });
  });

  http.get('/api/wall/:token/pictures/:id/:size', async (c) => {
    const id = idOf(c, 'id');
    const library = await reach(app, c.req.param('token'), { picture: id });
    const picture = await db('pictures')
      .where({ id, library_id: library })
      .first('shown', 'view', 'kind', 'format', 'codec');
    if (!picture) throw notFound('picture');
    if (c.req.param('size') === 'play' && picture.kind === 'video') {
      const made = `${derivedBase(app, picture.shown.toString('hex'))}-play.mp4`;
      const asIs = playsAsIs(picture.format, picture.codec);
      const found = asIs ? await originalOf(app, library, id) : null;
      return sendFile(c, found ? found.file : made, {
        mime: asIs ? mimeOf(picture.format) : 'video/mp4',
        etag: `"${picture.shown.toString('hex').slice(0, 32)}-play"`,
        cache: 'private, max-age=3600',
      });
    }
    if (c.req.param('size') !== 'large') throw notFound('page');
    if (picture.view) await viewReady(app, library, picture.view);
    const { file, mime } = derivedFile(app, picture.shown.toString('hex'), 'large');
    return sendFile(c, file, {
      mime,
      etag: `"${picture.shown.toString('hex').slice(0, 32)}-large"`,
      cache: 'private, max-age=3600',
    });
  });

  http.get('/api/wall/:token/music/:id', async (c) => {
    const id = idOf(c, 'id');
    const library = await reach(app, c.req.param('token'), { music: id });
    const { file, mime, etag } = await musicFile(app, library, id);
    return sendFile(c, file, { mime, etag, cache: 'private, max-age=3600' });
  });

  http.get('/api/faces/:id/portrait', async (c) => {
    const session = guard(c, 'relative');
    const { db } = c.get('seen');
    const id = idOf(c, 'id');
    const face = await db('faces').where({ id, library_id: session.library }).first('picture_id', 'x', 'y', 'w', 'h');
    const row = face && (await db('pictures').where('id', face.picture_id).first());
    if (!row) throw notFound('face');
    // On a print that lay upside down a face stands upright in what is shown.
    const recipe = recipeIn(row.recipe);
    const turned = isTurned(recipe) ? row.view : null;
    if (turned) await viewReady(app, session.library, turned);
    const [x, y, w, h] = turned
      ? boxIn(recipe!, ...wholeSize(row), [face.x, face.y, face.w, face.h])
      : [face.x, face.y, face.w, face.h];
    const file = await portraitFile(app, {
      id,
      library: session.library,
      x,
      y,
      w,
      h,
      sha: (turned ?? takenSha(row)).toString('hex'),
    });
    return sendFile(c, file, { mime: 'image/webp', etag: `"face-${id}"`, cache: FOREVER });
  });

  http.get('/api/zip/:token', async (c) => {
    const session = guard(c, 'relative');
    const speech = await speechFor(app, { ...session, wishes: c.req.header('accept-language') });
    const { name, body } = zipOf(app, session, c.req.param('token'), speech);
    return new Response(body, {
      headers: {
        'content-type': 'application/zip',
        'content-disposition': contentDisposition(name),
        'cache-control': 'no-store',
      },
    });
  });

  addProgress(http, app);
}
