import type { Music } from '@gemmel/contract';
import { numbered, safeFileName, splitExtension } from '@gemmel/core';
import { execFile } from 'node:child_process';
import { createHash, randomUUID } from 'node:crypto';
import { link, mkdir, open, stat, unlink } from 'node:fs/promises';
import path from 'node:path';
import { promisify } from 'node:util';
import { perform, type By } from '../act/perform';
import type { App } from '../context';
import { isFull } from '../intake/space';
import { SAFE } from '../media/clips';
import { notFound, refused } from '../problem';
import { discard, syncFolder } from '../vault/vault';

const run = promisify(execFile);

/** A piece of music is no larger than this. */
const LARGEST = 500_000_000;
/** Containers that are taken, by what ffprobe calls them; their ending, and what they are sent as. */
const KINDS: readonly (readonly [name: RegExp, ending: string, mime: string])[] = [
  [/^mp3$/, 'mp3', 'audio/mpeg'],
  [/mov|mp4|m4a/, 'm4a', 'audio/mp4'],
  [/^ogg$/, 'ogg', 'audio/ogg'],
  [/^flac$/, 'flac', 'audio/flac'],
];
/** What a piece of music is sent as. */
export const musicMime = (format: string): string => KINDS.find(([, ending]) => ending === format)?.[2] ?? 'audio/mpeg';

/** Where the music of a library lies: beside its vault. */
export const musicFolder = (app: App, slug: string): string => path.join(app.config.data, 'music', slug);

interface Heard {
  format: string;
  seconds: number;
  title: string | null;
  artist: string | null;
}

/** Looks at a file that may be music. Null when it is none of the kinds that are taken, has no sound, or moves. */
async function hear(file: string): Promise<Heard | null> {
  const answer = await run(
    'ffprobe',
    [
      ...SAFE,
      '-show_entries',
      'format=format_name,duration:format_tags=title,artist:stream=codec_type:stream_disposition=attached_pic:stream_tags=title,artist',
      '-of',
      'json',
      file,
    ],
    { timeout: 30_000, maxBuffer: 4e6 },
  ).catch(() => null);
  if (!answer) return null;
  type Tags = Record<string, string> | undefined;
  const read = JSON.parse(answer.stdout) as {
    format?: { format_name?: string; duration?: string; tags?: Tags };
    streams?: { codec_type: string; disposition?: { attached_pic?: number }; tags?: Tags }[];
  };
  const kind = KINDS.find(([name]) => name.test(read.format?.format_name ?? ''));
  const sound = read.streams?.find((stream) => stream.codec_type === 'audio');
  // A cover is a picture that is attached; anything else that can be seen makes it a clip.
  const moves = read.streams?.some((stream) => stream.codec_type === 'video' && !stream.disposition?.attached_pic);
  const seconds = Number(read.format?.duration);
  if (!kind || !sound || moves || !(seconds > 0)) return null;
  const tag = (name: string): string | null => {
    for (const tags of [read.format?.tags, sound.tags])
      for (const [key, value] of Object.entries(tags ?? {}))
        if (key.toLowerCase() === name && value.trim())
          return value
            .replace(/\p{Cc}+/gu, ' ')
            .trim()
            .slice(0, 160);
    return null;
  };
  return { format: kind[1], seconds, title: tag('title'), artist: tag('artist') };
}

const toMusic = (row: { id: number; title: string; artist: string | null; seconds: number; bytes: number }): Music => ({
  id: row.id,
  title: row.title,
  artist: row.artist,
  seconds: row.seconds,
  bytes: Number(row.bytes),
});

/** The household's pieces of music, by name. */
export async function listMusic(app: App, library: number): Promise<Music[]> {
  const rows = await app
    .db('music')
    .where('library_id', library)
    .whereNull('removed_at')
    .orderBy(['title', 'id'])
    .select('id', 'title', 'artist', 'seconds', 'bytes');
  return rows.map(toMusic);
}

/** Where a piece of music lies, and what it is sent as. @throws when there is none of that number. */
export async function musicFile(app: App, library: number, id: number) {
  const row = await app
    .db('music as m')
    .join('libraries as l', 'l.id', 'm.library_id')
    .where({ 'm.id': id, 'm.library_id': library })
    .first('m.file', 'm.format', 'm.sha256', 'l.slug');
  if (!row) throw notFound('file');
  const { file, format, sha256, slug } = row as unknown as {
    file: string;
    format: string;
    sha256: Buffer;
    slug: string;
  };
  return {
    file: path.join(musicFolder(app, slug), file),
    mime: musicMime(format),
    etag: `"${sha256.toString('hex').slice(0, 32)}"`,
  };
}

/** Writes what comes into a file of its own while it is hashed; refuses what is too large. */
async function receive(
  app: App,
  body: AsyncIterable<Uint8Array>,
): Promise<{ part: string; sha256: Buffer; bytes: number }> {
  await mkdir(app.paths.incoming, { recursive: true });
  const part = path.join(app.paths.incoming, `music-${randomUUID()}.part`);
  const hash = createHash('sha256');
  const handle = await open(part, 'wx');
  let bytes = 0;
  try {
    for await (const chunk of body) {
      bytes += chunk.length;
      if (bytes > LARGEST) throw refused('too-large');
      hash.update(chunk);
      await handle.write(chunk);
    }
    await handle.sync();
  } catch (error) {
    await handle.close();
    await discard(part);
    throw isFull(error) ? refused('full-disk') : error;
  }
  await handle.close();
  return { part, sha256: hash.digest(), bytes };
}

/**
 * Takes in a piece of music: looked at, kept byte for byte under its own name, never over another. The same piece again is the one that is here, also
 * when it had been removed.
 */
export async function bringMusic(
  app: App,
  by: By,
  name: string,
  body: AsyncIterable<Uint8Array>,
): Promise<{ music: Music; act: number | null }> {
  const { db } = app;
  const { part, sha256, bytes } = await receive(app, body);
  try {
    const heard = await hear(part);
    if (!heard) throw refused('no-music', { name: name.slice(0, 120) });
    const { slug } = (await db('libraries').where('id', by.library).first('slug'))!;
    const folder = musicFolder(app, slug);
    await mkdir(folder, { recursive: true });
    const [stem] = splitExtension(safeFileName(name || 'music'));
    const { music, act } = await perform(
      app,
      by,
      'bring music',
      async ({ trx, library, member, hold, made, words }) => {
        const there = await trx('music').where({ library_id: library, sha256 }).first('id');
        if (there) {
          await hold('music', [there.id]);
          const row = (await trx('music').where('id', there.id).first())!;
          words({ name: row.title });
          await trx('music').where('id', there.id).update({ removed_at: null });
          return { music: toMusic(row) };
        }
        let file = '';
        for (let n = 1; ; n++) {
          file = numbered(`${stem}.${heard.format}`, n);
          try {
            await link(part, path.join(folder, file));
            break;
          } catch (error) {
            if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
            // A try that was cut off may have left this very file.
            if (await same(path.join(folder, file), bytes, sha256)) break;
          }
        }
        await syncFolder(folder);
        const row = {
          library_id: library,
          sha256,
          title: heard.title ?? stem,
          artist: heard.artist,
          seconds: heard.seconds,
          format: heard.format,
          file,
          bytes,
          added_by: member,
        };
        const [id] = (await trx('music').insert(row)) as [number];
        made('music', id);
        words({ name: row.title });
        return { music: toMusic({ ...row, id }) };
      },
    );
    return { music, act };
  } finally {
    await unlink(part).catch(() => undefined);
  }
}

/** Whether a file has these bytes. */
async function same(file: string, bytes: number, sha256: Buffer): Promise<boolean> {
  if ((await stat(file)).size !== bytes) return false;
  const hash = createHash('sha256');
  const handle = await open(file);
  try {
    for await (const chunk of handle.createReadStream({ autoClose: false })) hash.update(chunk as Buffer);
  } finally {
    await handle.close();
  }
  return hash.digest().equals(sha256);
}

/** Gives a piece of music another name. */
export const changeMusic = (app: App, by: By, id: number, title: string): Promise<{ act: number | null }> =>
  perform(app, by, 'change music', async ({ trx, library, hold, words }) => {
    const [row] = await hold('music', [id]);
    if (!row || row['removed_at'] !== null) throw notFound('file');
    await trx('music').where({ id, library_id: library }).update({ title });
    words({ name: String(row['title']), to: title });
  });

/** Removes a piece of music from what there is to choose; its file stays, so that it can come back. */
export const removeMusic = (app: App, by: By, id: number): Promise<{ act: number | null }> =>
  perform(app, by, 'remove music', async ({ trx, library, hold, words }) => {
    const [row] = await hold('music', [id]);
    if (!row || row['removed_at'] !== null) throw notFound('file');
    await trx('music')
      .where({ id, library_id: library })
      .update({ removed_at: trx.raw('UTC_TIMESTAMP(3)') });
    words({ name: String(row['title']) });
  });
