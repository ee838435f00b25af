import type { I18n } from '@lingui/core';
import { msg } from '@lingui/core/macro';
import { downloadZip } from 'client-zip';
import { randomBytes } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import path from 'node:path';
import { Readable } from 'node:stream';
import { numbered, safeFileName } from '@gemmel/core';
import { ownPictures } from '../album/albums';
import { albumIds } from '../album/holding';
import { chunks, type App } from '../context';
import { notFound, refused } from '../problem';
import { LRUCache } from 'lru-cache';
import { libraryFolder } from '../vault/vault';
import { originalOf } from '../touchup/original';
import { idsOf } from './pictures';

interface Waiting {
  library: number;
  member: number;
  name: string;
  ids: readonly number[];
}

/** ZIPs that were asked for and not fetched yet, for ten minutes. */
const waiting = new LRUCache<string, Waiting>({ max: 500, ttl: 600_000 });

/** Names of files that do not occur twice. */
export function freeNames(): (wanted: string) => string {
  const used = new Set<string>();
  return (wanted) => {
    const safe = safeFileName(wanted);
    let name = safe;
    for (let n = 2; used.has(name.toLowerCase()); n++) name = numbered(safe, n);
    used.add(name.toLowerCase());
    return name;
  };
}

/** What the list of files that could not be put into a ZIP is called. */
export const MISSING = msg`What is missing here`;

/** Readies the originals of some pictures, an album or an event for one member. Answers with where they are fetched. */
export async function readyZip(
  app: App,
  { library, member }: { library: number; member: number },
  what: { ids: readonly number[] } | { album: number } | { event: number },
): Promise<{ path: string; pictures: number; bytes: number }> {
  const { db } = app;
  let ids: number[];
  let name = '';
  if ('ids' in what) ids = await ownPictures(db, library, what.ids);
  else if ('album' in what) {
    ids = await albumIds(app, library, what.album);
    name = (await db('albums').where({ id: what.album, library_id: library }).first('name'))!.name;
  } else {
    const event = await db('events').where({ id: what.event, library_id: library }).first('title', 'start_day');
    if (!event) throw notFound('event');
    ids = await idsOf(app, library, { event: what.event }, true);
    name = event.title ?? event.start_day;
  }
  if (ids.length === 0) throw refused('zip-empty');
  let bytes = 0;
  for (const some of chunks(ids, 2000)) {
    const [row] = (await db('pictures').whereIn('id', some).sum('bytes as bytes')) as [{ bytes: number }];
    bytes += Number(row.bytes);
  }
  const token = randomBytes(18).toString('base64url');
  waiting.set(token, { library, member, name, ids });
  return { path: `/api/zip/${token}`, pictures: ids.length, bytes };
}

/** A ZIP that was readied by this member, as a stream: originals byte for byte; what is missing is named in it. */
export function zipOf(
  app: App,
  { library, member }: { library: number; member: number },
  token: string,
  speech: I18n,
): { name: string; body: ReadableStream<Uint8Array> } {
  const asked = waiting.get(token);
  if (!asked || asked.library !== library || asked.member !== member) throw refused('zip-gone');
  async function* files() {
    const free = freeNames();
    const missing: string[] = [];
    const given = new Set<string>();
    const { slug } = (await app.db('libraries').where('id', library).first('slug'))!;
    const root = libraryFolder(app, slug);
    for (const some of chunks(asked!.ids, 500)) {
      const rows = new Map(
        (
          await app
            .db('pictures')
            .where('library_id', library)
            .whereIn('id', some)
            .select('id', 'name', 'vault_path', 'of_sha')
        ).map((row) => [row.id, row]),
      );
      for (const id of some) {
        const row = rows.get(id);
        if (!row) continue;
        // Looks at one original hold it once.
        const original = row.of_sha ? await originalOf(app, library, id) : null;
        const file = original?.file ?? path.join(root, row.vault_path);
        if (given.has(file)) continue;
        given.add(file);
        const info = await stat(file).catch(() => null);
        if (!info) {
          missing.push(row.name);
          continue;
        }
        yield {
          name: free(original?.name ?? row.name),
          lastModified: info.mtime,
          size: info.size,
          input: Readable.toWeb(createReadStream(file)) as ReadableStream<Uint8Array>,
        };
      }
    }
    if (missing.length)
      yield {
        name: free(`${speech._(MISSING)}.txt`),
        lastModified: new Date(),
        input: `${speech._(msg`These originals couldn’t be read just now:`)}\r\n\r\n${missing.join('\r\n')}\r\n`,
      };
  }
  return { name: `${safeFileName(asked.name || speech._(msg`Pictures`))}.zip`, body: downloadZip(files()).body! };
}
