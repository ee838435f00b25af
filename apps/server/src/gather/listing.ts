import { offsetAt, localAt, pairFiles } from '@gemmel/core';
import path from 'node:path';
import { chunks, type App } from '../context';
import type { SourceFilesRow } from '../db/tables';
import { openBatch, walk, type Announced } from '../intake/announce';
import { roomLeft } from '../intake/space';
import { whenTaken } from '../intake/when';
import { ask } from '../jobs/jobs';
import { defineJob, type Job } from '../jobs/kind';
import type { Numbering } from '@gemmel/core';
import { readMetadata } from '../media/metadata';
import { refused } from '../problem';
import { homeOf } from '../time/home';
import { hashFile } from '../vault/vault';
import { knownWhole } from '../vault/whole';
import { looksLikePicture } from './cards';
import { meetDevice } from './devices';
import { sourceOf, type Source } from './sources';

/** A card holds no more files than this. */
const MOST = 60_000;

/** Heads of files that are read at once. */
const AT_ONCE = 8;

interface Seen {
  taken: string;
  make: string | null;
  model: string | null;
}

/** A file of a card: what was noted of it before, whether it still is the same, and the sidecars that speak of it. */
interface Lying {
  file: string;
  relative: string;
  bytes: number;
  modified: number;
  before: SourceFilesRow | undefined;
  same: boolean;
  sidecars: string[];
}

/** The files of a card as they lie there. */
function lyingIn(root: string, files: readonly Announced[], old: ReadonlyMap<string, SourceFilesRow>): Lying[] {
  const lying = files.map((file): Lying => {
    const relative = path.relative(root, file.source!);
    const before = old.get(relative);
    const modified = Math.round(file.modified ?? 0);
    const same = before !== undefined && Number(before.bytes) === file.bytes && Number(before.modified) === modified;
    return { file: file.source!, relative, bytes: file.bytes, modified, before, same, sidecars: [] };
  });
  for (const [i, { role, main }] of pairFiles(lying.map((one) => one.relative)).entries())
    if (role === 'said' && main !== null) lying[main]!.sidecars.push(lying[i]!.file);
  return lying;
}

/** The time and the device of a file, read and decided as for a picture that is taken in; else the time the file was changed. */
async function headOf(app: App, library: number, one: Lying, times: readonly number[]): Promise<Seen> {
  const { file, relative, modified } = one;
  const changed = localAt(modified, offsetAt(await homeOf(app.db, library), modified) ?? 0);
  if (!looksLikePicture(relative)) return { taken: changed, make: null, model: null };
  const metadata = await readMetadata(file, relative, CLIP.test(relative), one.sidecars);
  const taken = await whenTaken(app, library, metadata, modified, async () => times);
  return { taken: taken?.local ?? changed, make: metadata.make, model: metadata.model };
}

/** How far the listing of a source is: files looked at and all of them. */
export const listing = new Map<number, { done: number; total: number }>();

/**
 * Lists what a card or phone holds: each file's size, time and device, and the fingerprint of every file whose size is that
 * of something in the library. A size nothing here has is a file that cannot be here.
 */
export async function listSource(app: App, { library, about }: Job): Promise<void> {
  const { db } = app;
  const source = await db('sources').where({ id: about, library_id: library }).first();
  if (!source?.path || !source.present) return;
  const files = await walk(source.path, MOST);
  const old = new Map((await db('source_files').where('source_id', source.id)).map((row) => [row.path, row]));
  const devices = new Map<string, number>();
  const lying = lyingIn(source.path, files, old).filter((one) => one.relative.length <= 700);
  const seen = new Set(lying.map((one) => one.relative));
  const times = lying.slice(0, 5000).map((one) => one.modified);
  let done = 0;
  try {
    for (const some of chunks(lying, AT_ONCE)) {
      listing.set(source.id, { done, total: lying.length });
      if (done % (6 * AT_ONCE) === 0) app.changed(library, 'sources');
      const heads = await Promise.all(
        some.map((one) => (one.same && one.before?.taken_local ? null : headOf(app, library, one, times))),
      );
      for (const [i, { file, relative, bytes, modified, before, same }] of some.entries()) {
        let sha256 = same ? before!.sha256 : null;
        if (!sha256 && (await sizeIsHere(app, library, bytes))) sha256 = await hashFile(file).catch(() => null);
        // What is damaged or gone here is noted, so that the card offers it again.
        if (sha256) await knownWhole(app, library, sha256);
        const head = heads[i];
        const row = {
          bytes,
          modified,
          sha256,
          listed: true,
          ...(head
            ? { taken_local: head.taken.replace('T', ' '), device_id: await deviceOf(app, library, head, devices) }
            : {}),
        };
        if (before)
          await db('source_files')
            .where('id', before.id)
            .update(same ? row : { ...row, item_id: null });
        else await db('source_files').insert({ library_id: library, source_id: source.id, path: relative, ...row });
      }
      done += some.length;
    }
    const gone = [...old.values()].filter((row) => !seen.has(row.path)).map((row) => row.id);
    for (const some of chunks(gone, 500)) await db('source_files').whereIn('id', some).update({ listed: false });
    // One that is still being filled is listed again.
    if ((await walk(source.path, MOST)).length !== files.length) await ask(db, library, 'list', source.id);
    await db.raw(
      `UPDATE sources SET listed_at = UTC_TIMESTAMP(3), device_id = COALESCE(
         (SELECT device_id FROM source_files WHERE source_id = ? AND listed AND device_id IS NOT NULL GROUP BY device_id ORDER BY COUNT(*) DESC LIMIT 1), device_id)
       WHERE id = ?`,
      [source.id, source.id],
    );
  } finally {
    listing.delete(source.id);
    app.changed(library, 'sources');
  }
}

async function sizeIsHere(app: App, library: number, bytes: number): Promise<boolean> {
  for (const table of ['pictures', 'picture_files', 'binned_files', 'binned'])
    if (await app.db(table).where({ library_id: library, bytes }).first('id')) return true;
  return false;
}

/** The device of a head's make and model, made when it is met for the first time. */
async function deviceOf(
  app: App,
  library: number,
  { make, model }: Seen,
  met: Map<string, number>,
): Promise<number | null> {
  if (!make && !model) return null;
  const key = `${make}|${model}`;
  const known = met.get(key);
  if (known) return known;
  const id = await meetDevice(app.db, library, make ?? '', model ?? '');
  met.set(key, id);
  return id;
}

/** A listing older than this is made anew when somebody looks at the card, in seconds. */
const STALE = 15;

/** Lists a card again when its listing is not fresh: files may have come to it since it was put in. */
export async function lookAgain(app: App, library: number, source: Source): Promise<void> {
  if (source.kind !== 'card' || !source.present || listing.has(source.id)) return;
  const old = await app
    .db('sources')
    .where('id', source.id)
    .whereRaw('listed_at < UTC_TIMESTAMP(3) - INTERVAL ? SECOND', [STALE])
    .first('id');
  if (old) await ask(app.db, library, 'list', source.id);
}

/** A file on a card as it is shown: pictures, with what belongs to them counted in. */
export interface ListedFile {
  id: number;
  path: string;
  bytes: number;
  taken: string | null;
  kind: 'photo' | 'video';
  /** In the bin, or binned and gone for good: nobody need take it again. */
  state: 'new' | 'here' | 'coming' | 'binned';
  /** Files that go with it: negatives, clips, sidecars. */
  beside: number[];
}

const CLIP = /\.(mp4|mov|m4v|webm|mkv|avi|mts|m2ts|3gp)$/i;

/** What a card holds, in the order of time, each with whether the library has it. */
export async function listedFiles(app: App, library: number, id: number): Promise<ListedFile[]> {
  const rows = (await app
    .db('source_files as f')
    .leftJoin('batch_items as i', 'i.id', 'f.item_id')
    .leftJoin('pictures as r', 'r.id', 'i.picture_id')
    .where({ 'f.source_id': id, 'f.library_id': library, 'f.listed': true })
    .orderBy('f.taken_local')
    .orderBy('f.path')
    .select(
      'f.id',
      'f.path',
      'f.bytes',
      'f.taken_local',
      'i.state',
      'i.picture_id',
      app.db.raw('r.broken_at IS NOT NULL AS broken'),
      app.db.raw(
        `(EXISTS (SELECT 1 FROM pictures p WHERE p.library_id = f.library_id AND p.sha256 = f.sha256 AND p.broken_at IS NULL)
          OR EXISTS (SELECT 1 FROM picture_files q WHERE q.library_id = f.library_id AND q.sha256 = f.sha256 AND q.broken_at IS NULL)) AS here`,
      ),
      app.db.raw(
        `(EXISTS (SELECT 1 FROM binned b WHERE b.library_id = f.library_id AND b.sha256 = f.sha256)
          OR EXISTS (SELECT 1 FROM binned_files q WHERE q.library_id = f.library_id AND q.sha256 = f.sha256)) AS binned`,
      ),
    )) as {
    id: number;
    path: string;
    bytes: number;
    taken_local: string | null;
    state: string | null;
    binned: number;
    picture_id: number | null;
    here: number;
    broken: number;
  }[];
  const pairs = pairFiles(rows.map((row) => row.path));
  const shown = new Map<number, ListedFile>();
  rows.forEach((row, i) => {
    if (pairs[i]!.main !== null || !looksLikePicture(row.path)) return;
    const coming = row.state === 'waiting' || row.state === 'received';
    shown.set(i, {
      id: row.id,
      path: row.path,
      bytes: Number(row.bytes),
      taken: row.taken_local?.replace(' ', 'T') ?? null,
      kind: CLIP.test(row.path) ? 'video' : 'photo',
      state: row.binned ? 'binned' : row.here || (row.picture_id && !row.broken) ? 'here' : coming ? 'coming' : 'new',
      beside: [],
    });
  });
  rows.forEach((row, i) => {
    const main = pairs[i]!.main;
    const file = main === null ? undefined : shown.get(main);
    if (!file) return;
    file.beside.push(row.id);
    file.bytes += Number(row.bytes);
    // A negative that is not here yet makes its picture worth taking.
    if (file.state === 'here' && !row.here && (!row.picture_id || row.broken)) file.state = 'new';
  });
  return [...shown.values()];
}

/** Where a listed file lies now; refused when its card has gone. */
export async function fileOnCard(
  app: App,
  library: number,
  source: number,
  file: number,
): Promise<{ file: string; name: string }> {
  const from = await sourceOf(app, library, source);
  const row = await app.db('source_files').where({ id: file, source_id: source }).first('path');
  if (!row || !from.path || !from.present) throw refused('card-gone');
  return { file: path.join(from.path, row.path), name: row.path };
}

/** Takes the ticked files of a card, with what belongs to them. The card itself is only read. */
export async function takeFromCard(
  app: App,
  library: number,
  id: number,
  files: readonly number[],
  numbering?: Numbering,
): Promise<{ batch: number }> {
  const source = await sourceOf(app, library, id);
  if (!source.path || !source.present) throw refused('source-gone', { name: source.name });
  const wanted = new Set(files);
  for (const file of await listedFiles(app, library, id))
    if (wanted.has(file.id)) file.beside.forEach((b) => wanted.add(b));
  const rows = (await app.db('source_files').where({ source_id: id, listed: true }).orderBy('path')).filter((row) =>
    wanted.has(row.id),
  );
  if (rows.length === 0) throw refused('nothing-ticked');
  const needed = rows.reduce((sum, row) => sum + Number(row.bytes), 0);
  const { left } = await roomLeft(app);
  if (needed > left) throw refused('no-room');
  const announced = rows.map((row): Announced => ({
    path: `${source.name}/${row.path}`,
    bytes: Number(row.bytes),
    modified: Number(row.modified),
    source: path.join(source.path!, row.path),
  }));
  const batch = await openBatch(app, library, source.name, announced, {
    bySource: true,
    way: 'card',
    source: id,
    numbering,
  });
  for (const [i, row] of rows.entries())
    await app.db('source_files').where('id', row.id).update({ item_id: batch.items[i]! });
  return { batch: batch.id };
}

declare module '../jobs/kind' {
  interface JobPayloads {
    list: null;
  }
}

/** Looking at a card. */
export const listJob = defineJob({
  kind: 'list',
  priority: 0,
  run: listSource,
});
