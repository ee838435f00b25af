import type { BatchItem } from '@gemmel/contract';
import type { MessageDescriptor } from '@lingui/core';
import { msg } from '@lingui/core/macro';
import contentDisposition from 'content-disposition';
import { stringify } from 'csv-stringify/sync';
import { fold, splitExtension, withEnding } from '@gemmel/core';
import type { Hono } from 'hono';
import { mkdir, rename, stat, writeFile } from 'node:fs/promises';
import path from 'node:path';
import type { App } from '../context';
import { fileOnCard } from '../gather/listing';
import { listItems } from '../intake/list';
import { isThere } from '../media/clips';
import { moveClip, movingFile, playFile } from '../picture/clips';
import { mimeOf } from '../media/sniff';
import { streetMapFile } from '../place/streetMaps';
import { notFound } from '../problem';
import { libraryFolder } from '../vault/vault';
import { speechFor } from '../words/reader';
import { sayReason } from '../words/speech';
import { guard, type Vars } from './guard';
import { sendFile } from '../files/send';

const FOREVER = 'private, max-age=31536000, immutable';
const FATES: Record<BatchItem['state'], MessageDescriptor> = {
  stored: msg`stored`,
  known: msg`already here`,
  skipped: msg`left out`,
  aside: msg`damaged, kept aside`,
  failed: msg`failed`,
  opened: msg`opened`,
  waiting: msg`not arrived yet`,
  received: msg`coming in`,
};

/** Routes about gathering that carry files. */
export function addGatherFiles(http: Hono<Vars>, app: App): void {
  const { db } = app;
  const idOf = (text: string | undefined): number => {
    const id = Number(text);
    if (!Number.isSafeInteger(id) || id < 1) throw notFound('page');
    return id;
  };

  http.get('/api/batches/:id/report', async (c) => {
    const session = guard(c, 'helper');
    const id = idOf(c.req.param('id'));
    const batch = await db('batches').where({ id, library_id: session.library }).first('name');
    if (!batch) throw notFound('batch');
    const speech = await speechFor(app, { ...session, wishes: c.req.header('accept-language') });
    const lines: (string | number)[][] = [
      [msg`file`, msg`bytes`, msg`what became of it`, msg`reason`].map((word) => speech._(word)),
    ];
    for (let after: number | null = 0; after !== null;) {
      const page: Awaited<ReturnType<typeof listItems>> = await listItems(app, session.library, id, 'all', after, 5000);
      for (const item of page.items)
        lines.push([
          item.path,
          item.bytes,
          speech._(FATES[item.state]),
          item.reason ? sayReason(speech, item.reason) : '',
        ]);
      after = page.after;
    }
    // What a spreadsheet would run as a formula is told to be text.
    const csv = stringify(lines, { bom: true, record_delimiter: 'windows', escape_formulas: true });
    return c.body(csv, 200, {
      'content-type': 'text/csv; charset=utf-8',
      'content-disposition': contentDisposition(
        `${
          fold(batch.name)
            .replace(/[^\p{L}\p{N}]+/gu, ' ')
            .trim() || 'batch'
        }.csv`,
      ),
    });
  });

  http.get('/api/map/street/:name', async (c) => {
    guard(c, 'relative');
    const file = await streetMapFile(app, c.req.param('name'));
    const info = file && (await stat(file).catch(() => null));
    if (!file || !info) throw notFound('map');
    return sendFile(c, file, {
      mime: 'application/octet-stream',
      etag: `"map-${info.size}-${Math.round(info.mtimeMs)}"`,
      // A keeper may put a newer map under the same name at any time.
      cache: 'private, no-cache',
    });
  });

  http.get('/api/sources/:id/files/:file/thumb', async (c) => {
    const session = guard(c, 'helper');
    const [source, id] = [idOf(c.req.param('id')), idOf(c.req.param('file'))];
    const { file, name } = await fileOnCard(app, session.library, source, id);
    const info = await stat(file).catch(() => null);
    if (!info) throw notFound('file');
    const target = path.join(
      app.paths.derived,
      'cards',
      String(source),
      `${id}-${info.size}-${Math.round(info.mtimeMs)}.webp`,
    );
    if (!(await isThere(target))) {
      const small = (await app.pool.run({ file, name }, { name: 'glance' })) as Uint8Array | null;
      if (!small) throw notFound('file');
      await mkdir(path.dirname(target), { recursive: true });
      await writeFile(`${target}.${process.pid}.part`, small);
      await rename(`${target}.${process.pid}.part`, target);
    }
    return sendFile(c, target, {
      mime: 'image/webp',
      etag: `"card-${id}-${info.size}"`,
      cache: 'private, max-age=3600',
    });
  });

  http.get('/api/derived/:sha/moving', async (c) => {
    const session = guard(c, 'relative');
    const sha = c.req.param('sha');
    if (!/^[0-9a-f]{64}$/.test(sha)) throw notFound('clip');
    const row = await c
      .get('seen')
      .db('pictures')
      .where({ library_id: session.library, kind: 'video', sha256: Buffer.from(sha, 'hex') })
      .first('id');
    if (!row) throw notFound('clip');
    const file = movingFile(app, sha);
    if (!(await isThere(file))) await moveClip(app, { library: session.library, about: row.id });
    return sendFile(c, file, { mime: 'video/mp4', etag: `"${sha.slice(0, 32)}-moving"`, cache: FOREVER });
  });

  http.get('/api/pictures/:id/play', async (c) => {
    const session = guard(c, 'relative');
    const found = await playFile(c.get('seen'), session.library, idOf(c.req.param('id')));
    if (!found) throw notFound('clip');
    const mime = mimeOf(splitExtension(found.file)[1].slice(1).toLowerCase());
    return sendFile(c, found.file, {
      // QuickTime's box is the same as MP4's, and browsers play it by that name.
      mime: mime === 'video/webm' ? mime : 'video/mp4',
      etag: `"${found.sha.slice(0, 32)}-play"`,
      cache: 'private, max-age=3600',
    });
  });

  http.get('/api/pictures/:id/files/:file', async (c) => {
    const session = guard(c, 'relative');
    const row = (await c
      .get('seen')
      .db('picture_files as f')
      .join('libraries as l', 'l.id', 'f.library_id')
      .where({
        'f.id': idOf(c.req.param('file')),
        'f.picture_id': idOf(c.req.param('id')),
        'f.library_id': session.library,
      })
      .first('f.vault_path', 'f.name', 'f.format', 'f.sha256', 'f.role', 'l.slug')) as
      { vault_path: string; name: string; format: string; sha256: Buffer; role: string; slug: string } | undefined;
    if (!row) throw notFound('file');
    const sent = {
      mime: row.role === 'clip' ? 'video/mp4' : mimeOf(row.format),
      etag: `"${row.sha256.toString('hex').slice(0, 32)}"`,
      cache: 'private, max-age=3600',
    };
    const file = path.join(libraryFolder(app, row.slug), row.vault_path);
    return sendFile(
      c,
      file,
      c.req.query('save') === undefined
        ? sent
        : { ...sent, saveAs: row.role === 'clip' ? withEnding(row.name, row.format) : row.name },
    );
  });
}
