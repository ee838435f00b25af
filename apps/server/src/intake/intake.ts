import { searchable, vaultFolder, type Taken } from '@gemmel/core';
import { mkdir, rename, stat } from 'node:fs/promises';
import path from 'node:path';
import { derivedBase, type App } from '../context';
import type { Db } from '../db/open';
import { ask, type Job } from '../jobs/jobs';
import { readMetadata, type Metadata } from '../media/metadata';
import type { PlaceNames } from '../media/places';
import type { Prepared } from '../media/prepare';
import { sniffFile, type FileKind } from '../media/sniff';
import { tagIds } from '../tag/tags';
import { markDirty } from '../vault/sidecar';
import { discard, libraryFolder, place, pruneFolders, receiveFile } from '../vault/vault';

/** A batch item with what intake needs of its batch and library. */
interface Item {
  id: number;
  batch_id: number;
  path: string;
  source: string | null;
  state: string;
  sha256: Buffer | null;
  batch_state: string;
  slug: string;
  recognise: number;
}

/** Where an item's bytes wait until they have their place in the vault. */
export const incomingFile = (app: App, item: number): string => path.join(app.paths.incoming, String(item));

type Outcome = 'stored' | 'known' | 'skipped' | 'aside';

/** Notes how an item ended, and once all of a batch's items have, that the batch is done. */
export async function finishItem(
  app: App,
  library: number,
  item: { id: number; batch_id: number },
  outcome: Outcome,
  more: { reason?: string; picture_id?: number; sha256?: Buffer } = {},
): Promise<void> {
  const { db } = app;
  await db('batch_items')
    .where({ id: item.id, library_id: library })
    .update({ ...more, state: outcome, finished_at: db.raw('UTC_TIMESTAMP(3)') });
  await settleBatch(app, library, item.batch_id);
}

/** Closes a batch none of whose items waits any more, and asks for what follows from a batch. */
export async function settleBatch(app: App, library: number, batch: number): Promise<void> {
  const open = await app
    .db('batch_items')
    .where('batch_id', batch)
    .whereIn('state', ['waiting', 'received'])
    .first('id');
  if (!open) {
    const closed = await app
      .db('batches')
      .where({ id: batch, state: 'coming' })
      .update({ state: 'done', finished_at: app.db.raw('UTC_TIMESTAMP(3)') });
    if (closed) {
      await ask(app.db, library, 'events');
      await ask(app.db, library, 'faces');
    }
  }
  app.changed(library, 'batches', 'pictures', 'library');
}

/** The picture of these very bytes, if the library has it. */
export async function pictureOf(db: Db, library: number, sha256: Buffer): Promise<number | null> {
  const row = (await db('pictures').where({ library_id: library, sha256 }).first('id')) as { id: number } | undefined;
  return row?.id ?? null;
}

/** Takes one file in: everything from its bytes to a stored picture, or a reason why not. Safe to repeat. */
export async function intake(app: App, job: Job): Promise<void> {
  const { db } = app;
  const library = job.library;
  const item = (await db('batch_items as i')
    .join('batches as b', 'b.id', 'i.batch_id')
    .join('libraries as l', 'l.id', 'i.library_id')
    .where({ 'i.id': job.about, 'i.library_id': library })
    .first(
      'i.id',
      'i.batch_id',
      'i.path',
      'i.source',
      'i.state',
      'i.sha256',
      'b.state as batch_state',
      'l.slug',
      'l.recognise',
    )) as Item | undefined;
  if (!item || item.state !== 'received' || item.batch_state === 'stopped') return;
  const file = incomingFile(app, item.id);
  if (item.source) {
    const there = await stat(file).catch(() => null);
    if (!there || !item.sha256) {
      try {
        const { sha256 } = await receiveFile(item.source, file);
        item.sha256 = sha256;
      } catch (error) {
        const code = (error as NodeJS.ErrnoException).code;
        if (code === 'ENOENT' || code === 'EACCES')
          return finishItem(app, library, item, 'skipped', { reason: 'could not be read: it has gone or is locked' });
        throw error;
      }
      await db('batch_items').where('id', item.id).update({ sha256: item.sha256 });
    }
  }
  const sha256 = item.sha256!;
  const known = await pictureOf(db, library, sha256);
  if (known) {
    await discard(file);
    return finishItem(app, library, item, 'known', { picture_id: known, reason: 'is already here' });
  }
  if ((await stat(file)).size === 0) {
    await discard(file);
    return finishItem(app, library, item, 'skipped', { reason: 'is empty: it holds no bytes at all' });
  }
  const kind = await sniffFile(file);
  if (!kind) {
    await discard(file);
    return finishItem(app, library, item, 'skipped', { reason: notAPicture(item.path) });
  }
  const sidecar = item.source ? await sidecarOf(item.source) : null;
  const [metadata, result] = await Promise.all([
    readMetadata(file, item.path, kind.kind === 'video', sidecar),
    app.pool.run(
      {
        file,
        kind,
        derived: derivedBase(app, sha256.toString('hex')),
        models: app.config.models,
        faces: Boolean(item.recognise),
      },
      { name: 'prepare' },
    ) as Promise<{ ok: true; prepared: Prepared } | { ok: false; reason: string }>,
  ]);
  if (!result.ok) return setAside(app, library, item, file, result.reason);
  const where =
    metadata.lat === null
      ? null
      : ((await app.pool.run({ lat: metadata.lat, lon: metadata.lon }, { name: 'place' })) as PlaceNames | null);
  const picture = await store(app, library, item, file, sha256, kind, metadata, result.prepared, where);
  await discard(file);
  await finishItem(app, library, item, 'stored', { picture_id: picture });
  app.changed(library, 'people', 'events');
}

function notAPicture(name: string): string {
  const extension = name.split('.').pop()?.toLowerCase() ?? '';
  const looks = ['jpg', 'jpeg', 'png', 'webp', 'heic', 'mp4', 'mov'].includes(extension);
  return looks ? `is not a picture, although its name ends in .${extension}` : 'is not a picture or clip';
}

async function sidecarOf(source: string): Promise<string | null> {
  for (const name of [`${source}.xmp`, source.replace(/\.[^./]+$/, '.xmp')])
    if (await stat(name).catch(() => null)) return name;
  return null;
}

/** Damaged files are kept, out of the way, so that nothing somebody had is thrown away. */
async function setAside(app: App, library: number, item: Item, file: string, reason: string): Promise<void> {
  const folder = path.join(app.paths.aside, item.slug, String(item.batch_id));
  await mkdir(folder, { recursive: true });
  await rename(file, path.join(folder, `${item.id}`)).catch(async (error: NodeJS.ErrnoException) => {
    if (error.code !== 'ENOENT') throw error;
  });
  await finishItem(app, library, item, 'aside', { reason: `${reason}; the file is kept aside` });
}

async function deviceId(db: Db, library: number, { make, model }: Metadata): Promise<number | null> {
  if (!make && !model) return null;
  const row = { library_id: library, make: (make ?? '').slice(0, 120), model: (model ?? '').slice(0, 120) };
  const name = row.model.startsWith(row.make) ? row.model : `${row.make} ${row.model}`.trim();
  await db('devices')
    .insert({ ...row, name: name.slice(0, 160) })
    .onConflict(['library_id', 'make', 'model'])
    .ignore();
  return ((await db('devices').where(row).first('id')) as { id: number }).id;
}

/** The columns a time fills. */
export const takenColumns = (taken: Taken | null) => ({
  taken_local: taken ? taken.local.replace('T', ' ') : null,
  offset_minutes: taken?.offset ?? null,
  taken_source: taken?.source ?? null,
  taken_certainty: taken?.certainty ?? null,
  // Scans that only know their year keep it, but a day nobody knows is not pretended to mean an event.
  day: taken ? taken.local.slice(0, 10) : null,
});

async function store(
  app: App,
  library: number,
  item: Item,
  file: string,
  sha256: Buffer,
  kind: FileKind,
  metadata: Metadata,
  prepared: Prepared,
  where: PlaceNames | null,
): Promise<number> {
  const { db } = app;
  const name =
    [...(item.path.split('/').pop() ?? 'picture').replace(/\p{Cc}/gu, '')].slice(0, 255).join('') || 'picture';
  const day = metadata.taken?.local.slice(0, 10) ?? null;
  const event = await likelyEvent(db, library, day, metadata.taken);
  const device = await deviceId(db, library, metadata);
  const taken = (relative: string) =>
    db('pictures').where({ library_id: library, vault_path: relative }).first('id').then(Boolean);
  const { size } = await stat(file);
  const root = libraryFolder(app, item.slug);
  const vaultPath = await place(root, file, vaultFolder(day, event), name, taken);
  const stored = db.transaction(async (trx) => {
    const [id] = await trx('pictures').insert({
      library_id: library,
      sha256,
      kind: kind.kind,
      format: kind.format,
      name,
      vault_path: vaultPath,
      bytes: size,
      width: prepared.width,
      height: prepared.height,
      orientation: prepared.orientation,
      seconds: prepared.seconds,
      ...takenColumns(metadata.taken),
      event_id: event?.id ?? null,
      batch_id: item.batch_id,
      device_id: device,
      camera: [metadata.make, metadata.model].filter(Boolean).join(' ').slice(0, 200) || null,
      exposure: metadata.exposure?.slice(0, 200) ?? null,
      lat: metadata.lat,
      lon: metadata.lon,
      country: where?.country ?? null,
      region: where?.region ?? null,
      place: where?.place ?? null,
      title: metadata.title,
      caption: metadata.caption,
      words: searchable(metadata.title, metadata.caption, name),
      rating: metadata.rating,
      likeness: prepared.likeness,
      sharpness: prepared.sharpness,
      thumb: Buffer.from(prepared.thumb),
    });
    const picture = id!;
    if (metadata.tags.length) {
      const tags = await tagIds(trx, library, metadata.tags);
      await trx('picture_tags').insert(tags.map((tag_id) => ({ library_id: library, picture_id: picture, tag_id })));
    }
    if (prepared.faces.length)
      await trx('faces').insert(
        prepared.faces.map((f) => ({
          library_id: library,
          picture_id: picture,
          x: f.x,
          y: f.y,
          w: f.w,
          h: f.h,
          height_px: f.heightPx,
          quality: f.quality,
          vector_a: Buffer.from(f.a.buffer, f.a.byteOffset, f.a.byteLength),
          vector_b: Buffer.from(f.b.buffer, f.b.byteOffset, f.b.byteLength),
        })),
      );
    if (metadata.title || metadata.caption || metadata.rating || metadata.tags.length)
      await markDirty(trx, library, [picture]);
    return picture;
  });
  try {
    return await stored;
  } catch (error) {
    // The same file came in twice at one moment and the other was first: its place stays, ours is given back.
    const first = (await db('pictures').where({ library_id: library, sha256 }).first('vault_path')) as
      | { vault_path: string }
      | undefined;
    if (first && first.vault_path !== vaultPath) {
      await discard(path.join(root, vaultPath));
      await pruneFolders(root, path.dirname(vaultPath));
    }
    throw error;
  }
}

/** The event a new picture most likely belongs to until all gaps are looked at again: one that spans its time. */
async function likelyEvent(
  db: Db,
  library: number,
  day: string | null,
  taken: Taken | null,
): Promise<{ id: number; title: string | null; start: string } | null> {
  if (!day || !taken || taken.certainty < 0.35) return null;
  const row = await db('events')
    .where('library_id', library)
    .where('start_day', '<=', day)
    .where('end_day', '>=', day)
    .orderBy('start_day', 'desc')
    .first('id', 'title', 'start_day as start');
  return (row as { id: number; title: string | null; start: string } | undefined) ?? null;
}
