import { AskedNames, BestLimit } from '@gemmel/contract';
import { safeFolderName, SavedQuestion } from '@gemmel/core';
import { stringify } from 'csv-stringify/sync';
import { mkdir, open, readdir, rename, rm } from 'node:fs/promises';
import path from 'node:path';
import { z } from 'zod';
import { chunks, type App } from '../context';
import { defineJob, type Job } from '../jobs/kind';
import { namesAsked } from '../question/names';
import { syncFolder } from '../vault/vault';
import { holdingOf } from './holding';
import { albumColumns, limitOf, questionOf, type AlbumRow } from './row';

const Sha = z.string().regex(/^[0-9a-f]{64}$/);
const Text = (most: number) => z.string().max(most);

/**
 * An album as it is written into the open: JSON, one file an album. Pictures are told by the SHA-256 of their originals, and by where they lie
 * in the vault; chapters stand among them. What a smart album asks for comes with the names of what it speaks of, since numbers mean nothing
 * elsewhere.
 */
export const Manifest = z.object({
  gemmel: z.literal('album'),
  version: z.literal(1),
  name: Text(160),
  kind: z.enum(['plain', 'smart']),
  words: Text(2000).nullable(),
  /** The shelves it stands on, the outermost first. */
  shelves: z.array(Text(160)).max(50),
  days: z.object({ from: Text(10), to: Text(10) }).nullable(),
  order: z.enum(['hand', 'date', 'name', 'stars', 'size']),
  backwards: z.boolean(),
  cover: Sha.nullable(),
  question: SavedQuestion.nullable(),
  names: AskedNames.nullable(),
  best: BestLimit.nullable(),
  /** In the order by hand; of a smart album what it held when this was written. */
  items: z
    .array(
      z.union([
        z.object({ picture: Sha, file: Text(1000), by: Text(160).nullable(), on: Text(30).nullable() }),
        z.object({ heading: Text(160).nullable(), note: Text(4000).nullable() }),
      ]),
    )
    .max(200_000),
  putIn: z.array(Sha).max(200_000),
  keptOut: z.array(Sha).max(200_000),
});
export type Manifest = z.infer<typeof Manifest>;

/** Where the manifests of a library lie: beside its vault. */
export const manifestFolder = (app: App, slug: string): string => path.join(app.config.data, 'albums', slug);

/** How many pictures a smart album's manifest lists at most: it says what it asks for in any case. */
const MOST_OF_SMART = 20_000;

/** What the manifest of an album is called, without its ending: its name, and its number so that two of one name stand side by side. */
const fileName = ({ id, name }: Pick<AlbumRow, 'id' | 'name'>): string => `${safeFolderName(name) || 'Album'} (${id})`;
/** The names manifests bear; nothing else in their folder is touched. */
const OURS = /^.* \(\d+\)\.(json|csv)(\.part)?$/;

/** The shelves above each, by name, the outermost first. */
export async function shelvesOf(app: App, library: number): Promise<(shelf: number | null) => string[]> {
  const rows = await app.db('shelves').where('library_id', library).select('id', 'parent_id', 'name');
  const by = new Map(rows.map((row) => [row.id, row]));
  return (shelf) => {
    const way: string[] = [];
    const seen = new Set<number>();
    for (let at = shelf === null ? undefined : by.get(shelf); at && !seen.has(at.id);) {
      seen.add(at.id);
      way.unshift(at.name);
      at = at.parent_id === null ? undefined : by.get(at.parent_id);
    }
    return way;
  };
}

/** An album as it is written, and its pictures as rows of a table. */
export async function manifestOf(
  app: App,
  library: number,
  row: AlbumRow,
  shelves: (shelf: number | null) => string[],
): Promise<Manifest> {
  const { db } = app;
  const { join, sql, values } = await holdingOf(app, library, row);
  const plain = row.kind === 'plain';
  const [pictures] = (await db.raw(
    `SELECT p.id, LOWER(HEX(p.sha256)) AS sha, p.vault_path AS file, ${plain ? 'ap.position, m.name AS who, ap.added_at AS at' : 'NULL AS position, NULL AS who, NULL AS at'}
     FROM pictures p ${join} ${plain ? 'LEFT JOIN members m ON m.id = ap.added_by' : ''}
     WHERE p.library_id = ? AND (${sql}) ORDER BY ${plain ? 'ap.position, p.id' : `p.taken_local IS NULL, p.taken_local, p.id LIMIT ${MOST_OF_SMART}`}`,
    [library, ...values],
  )) as [{ id: number; sha: string; file: string; position: string | null; who: string | null; at: string | null }[]];
  const chapters = plain
    ? await db('album_chapters')
        .where('album_id', row.id)
        .orderBy(['position', 'id'])
        .select('position', 'heading', 'note')
    : [];
  const items: Manifest['items'] = [];
  let next = 0;
  const upTo = (position: string | null) => {
    for (; next < chapters.length && (position === null || chapters[next]!.position < position); next++)
      items.push({ heading: chapters[next]!.heading, note: chapters[next]!.note });
  };
  for (const one of pictures) {
    if (plain) upTo(one.position);
    items.push({
      picture: one.sha,
      file: one.file,
      by: one.who,
      on: one.at && `${one.at.slice(0, 19).replace(' ', 'T')}Z`,
    });
  }
  upTo(null);
  const hand = (await db('album_hand as h')
    .join('pictures as p', 'p.id', 'h.picture_id')
    .where('h.album_id', row.id)
    .orderBy('p.id')
    .select('h.way', db.raw('LOWER(HEX(p.sha256)) AS sha'))) as unknown as { way: 'in' | 'out'; sha: string }[];
  const by = (way: 'in' | 'out') => hand.filter((one) => one.way === way).map((one) => one.sha);
  const question = questionOf(row);
  const cover =
    row.cover_id === null
      ? null
      : await db('pictures').where({ id: row.cover_id, library_id: library }).first('sha256');
  return {
    gemmel: 'album',
    version: 1,
    name: row.name,
    kind: row.kind,
    words: row.description,
    shelves: shelves(row.shelf_id),
    days: row.from_day && row.to_day ? { from: row.from_day, to: row.to_day } : null,
    order: row.sorted,
    backwards: Boolean(row.backwards),
    cover: cover ? cover.sha256.toString('hex') : null,
    question: question && { v: 1, question },
    names: question && (await namesAsked(db, library, [question]))(question),
    best: limitOf(row),
    items,
    putIn: by('in'),
    keptOut: by('out'),
  };
}

/**
 * The pictures of an album as a table anybody's program reads (RFC 4180). That of an album filled by hand is read back when it comes in; one that
 * fills itself is made by its question again, and names its column so that nobody fills a plain one by it.
 */
export function manifestTable({ name, kind, items }: Manifest): string {
  const album = kind === 'plain' ? 'album' : 'smart album';
  let chapter = '';
  let place = 0;
  const rows = items.flatMap((item) => {
    if (!('picture' in item)) {
      chapter = item.heading ?? chapter;
      return [];
    }
    place++;
    return [[item.file, name.replace(/[|;]/g, ' '), place, chapter, item.by ?? '', item.picture]];
  });
  return stringify([['file', album, 'place', 'chapter', 'by', 'sha256'], ...rows]);
}

/** Writes a file whole or not at all. */
async function writeWhole(file: string, text: string): Promise<void> {
  const handle = await open(`${file}.part`, 'w');
  try {
    await handle.writeFile(text);
    await handle.sync();
  } finally {
    await handle.close();
  }
  await rename(`${file}.part`, file);
}

/** Writes the manifests of all albums that changed, and removes those of albums that are no longer there. Safe to repeat. */
export async function writeManifests(app: App, { library, report }: Pick<Job, 'library' | 'report'>): Promise<void> {
  const { db } = app;
  const { slug } = (await db('libraries').where('id', library).first('slug'))!;
  const folder = manifestFolder(app, slug);
  const waiting = (await db('albums')
    .where('library_id', library)
    .where('unwritten', '>', 0)
    .whereNull('removed_at')
    .orderBy('id')
    .select([...albumColumns(db), 'unwritten', 'manifest'])) as unknown as (AlbumRow & {
    unwritten: number;
    manifest: string | null;
  })[];
  await mkdir(folder, { recursive: true });
  const shelves = await shelvesOf(app, library);
  for (const [i, row] of waiting.entries()) {
    const manifest = await manifestOf(app, library, row, shelves);
    const name = fileName(row);
    await writeWhole(path.join(folder, `${name}.json`), `${JSON.stringify(manifest, null, 1)}\n`);
    await writeWhole(path.join(folder, `${name}.csv`), manifestTable(manifest));
    // What changed while it was written is written once more.
    await db('albums')
      .where({ id: row.id, library_id: library, unwritten: row.unwritten })
      .update({ unwritten: 0, manifest: name });
    report(i + 1, waiting.length);
  }
  const live = new Set(
    (await db('albums').where('library_id', library).whereNull('removed_at').select('id', 'name')).map(fileName),
  );
  const there = (await readdir(folder)).filter((name) => OURS.test(name));
  for (const some of chunks(
    there.filter((name) => name.endsWith('.part') || !live.has(name.replace(/\.(json|csv)$/, ''))),
    100,
  ))
    await Promise.all(some.map((name) => rm(path.join(folder, name), { force: true })));
  await syncFolder(folder);
}

declare module '../jobs/kind' {
  interface JobPayloads {
    manifests: null;
  }
}

/** Writing what albums hold beside the vault. */
export const manifestsJob = defineJob({
  kind: 'manifests',
  priority: 6,
  alone: true,
  run: writeManifests,
});
