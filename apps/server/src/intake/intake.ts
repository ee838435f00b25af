import { reason, type Saying } from '@gemmel/contract';
import { isMedia } from '@gemmel/core';
import { mkdir, rename, stat } from 'node:fs/promises';
import path from 'node:path';
import { Ended } from '../apart/pool';
import { metInBin } from '../bin/met';
import { derivedBase, type App } from '../context';
import { defineJob, type Job } from '../jobs/kind';
import { answers, readMetadata, ToolTrouble } from '../media/metadata';
import { placeColumns } from '../place/places';
import type { Prepared } from '../media/prepare';
import { talksWithoutEnd } from '../media/png';
import { pictureInside } from '../media/raw';
import { Closed } from '../media/damaged';
import { headOf, isClosed, isZip, sniff } from '../media/sniff';
import { holdForPhone } from '../gather/heldFile';
import { discard, hashFile, receiveFile } from '../vault/vault';
import { openArchive } from './archive';
import { joinMain } from './companions';
import { keepManifest } from './albumsSaid';
import { keepAlbumList } from './follow';
import { afterItem, finishItem, incomingFile, itemOf, pictureOf, settleBatch, type Item } from './items';
import { needRoom } from './space';
import { knownWhole } from '../vault/whole';
import { alreadyHere, leaveInBin } from './known';
import { lookIn, takeLook } from './looks';
import { store } from './store';
import { fileTimes, whenTaken } from './when';

/** A file of this machine that cannot be read any more. */
class Gone extends Error {}

/** Makes sure an item's bytes are in our care and answers with their fingerprint. */
async function fetched(app: App, library: number, item: Item, file: string): Promise<Buffer> {
  const there = await stat(file).catch(() => null);
  if (there && item.sha256) return item.sha256;
  // Stored already, before a sudden end kept that from being noted: its bytes are in the vault.
  if (!there && item.sha256 && (await knownWhole(app, library, item.sha256)) !== null) return item.sha256;
  if (there && !item.source) item.sha256 = await hashFile(file);
  else {
    if (!item.source) throw new Error('its bytes are not here');
    await needRoom(app, Number(item.bytes));
    try {
      item.sha256 = (await receiveFile(item.source, file)).sha256;
    } catch (error) {
      const code = (error as NodeJS.ErrnoException).code ?? '';
      if (['ENOENT', 'EACCES', 'EIO', 'ENXIO', 'ENODEV', 'ESTALE'].includes(code)) throw new Gone();
      throw error;
    }
  }
  await app.db('batch_items').where('id', item.id).update({ sha256: item.sha256 });
  return item.sha256;
}

interface Sidecars {
  files: string[];
  /** False while one of them has not arrived. */
  whole: boolean;
}

/** Where the sidecars that came with a file can be read now. */
async function sidecarsOf(app: App, item: Item): Promise<Sidecars> {
  const rows = await app
    .db('batch_items')
    .where({ main_id: item.id, role: 'said' })
    .orderBy('id')
    .select('id', 'source', 'state');
  const files: string[] = [];
  for (const row of rows) {
    if (row.state !== 'received') continue;
    const came = incomingFile(app, row.id);
    if (await stat(came).catch(() => null)) files.push(came);
    else if (row.source) files.push(row.source);
  }
  return { files, whole: rows.every((row) => row.state !== 'waiting') };
}

/** Takes one file in: everything from its bytes to a stored picture, or a reason why not. Safe to repeat. */
export async function intake(app: App, job: Job): Promise<void> {
  const { db } = app;
  const library = job.library;
  const item = await itemOf(db, library, job.about);
  if (!item || item.batch_state === 'stopped') return;
  // It ended already: a process that died may have left undone what follows.
  if (item.state !== 'received') return afterItem(app, library, item);
  const file = incomingFile(app, item.id);
  const fetch = () => fetched(app, library, item, file);
  try {
    if (item.role !== 'main' && (await joinMain(app, library, item, file, fetch)) !== 'alone') return;
    const sidecars = await sidecarsOf(app, item);
    if (!sidecars.whole) return; // it is asked for again when the last of them has arrived
    await fetch();
    await takeIn(app, library, item, file, sidecars.files, job.tries);
  } catch (error) {
    if (!(error instanceof Gone)) throw error;
    await finishItem(app, library, item, 'skipped', { reason: reason('gone-or-locked') });
  }
}

/** How often what reads a file may fall over it, or get stuck, before it is the file that is to blame. */
const FALLS = 2;

async function takeIn(
  app: App,
  library: number,
  item: Item,
  file: string,
  sidecars: string[],
  tries: number,
): Promise<void> {
  const { db } = app;
  const sha256 = item.sha256!;
  const known = await pictureOf(db, library, sha256);
  if (known) return alreadyHere(app, library, item, file, known);
  const met = await metInBin(db, library, sha256);
  if (met) return leaveInBin(app, library, item, file, met);
  if ((await stat(file)).size === 0) {
    await discard(file);
    return finishItem(app, library, item, 'skipped', { reason: reason('empty') });
  }
  const head = await headOf(file);
  if (isZip(head)) return openArchive(app, library, item, file);
  if (await keepAlbumList(app, library, item, file)) return;
  if (await keepManifest(app, library, item, file)) return;
  const of = await lookIn(file);
  if (of) return takeLook(app, library, item, file, of, sidecars);
  const kind = sniff(head, item.path);
  if (!kind && isClosed(head, item.path)) return setAside(app, library, item, file, new Closed().saying);
  if (!kind) {
    if (!(await holdForPhone(app, item.id, file))) await discard(file);
    return finishItem(app, library, item, 'skipped', { reason: notAPicture(item.path) });
  }
  if (kind.format === 'png' && (await talksWithoutEnd(file)))
    return setAside(app, library, item, file, reason('text-bomb'));
  const inside = kind.raw ? await pictureInside(file, `${file}.inside`) : null;
  try {
    const preparing = app.pool.run(
      {
        file,
        kind,
        derived: derivedBase(app, sha256.toString('hex')),
        models: app.config.models,
        faces: Boolean(item.recognise),
        inside,
      },
      { name: 'prepare' },
    ) as Promise<{ ok: true; prepared: Prepared } | { ok: false; reason: Saying }>;
    const [metadata, result] = await Promise.all([
      readMetadata(file, item.path, kind.kind === 'video', sidecars),
      preparing,
    ]);
    if (!result.ok) return await setAside(app, library, item, file, result.reason);
    const { lat, lon } = metadata.said;
    const where = await placeColumns(app, library, lat === null || lon === null ? null : { lat, lon });
    const taken = await whenTaken(app, library, metadata, item.modified, () => fileTimes(app, item.batch_id));
    const { prepared } = result;
    const picture = await store(app, library, item, { file, sha256, kind, metadata, prepared, taken, where });
    await discard(file);
    await finishItem(app, library, item, 'stored', { picture_id: picture });
    app.worked(library, 'people', 'events');
  } catch (error) {
    const why = tries < FALLS ? null : await faultOf(error);
    if (!why) throw error;
    // Sidecars may be to blame: the picture comes in without their words, and they are kept beside it as they are.
    if (error instanceof ToolTrouble && sidecars.length) return await takeIn(app, library, item, file, [], tries);
    await setAside(app, library, item, file, why);
  } finally {
    if (inside) await discard(inside.file);
  }
}

/** What is wrong with a file over which what reads it has fallen or got stuck time and again; null when it may be something else. */
async function faultOf(error: unknown): Promise<Saying | null> {
  if (error instanceof Ended) return error.fell ? reason('damaged') : null;
  // A reader that is stuck altogether is no file's fault.
  return error instanceof ToolTrouble && (await answers()) ? reason('too-talkative') : null;
}

function notAPicture(name: string): Saying {
  const extension = name.split('.').pop()?.toLowerCase() ?? '';
  return isMedia(extension) ? reason('not-by-its-ending', { ending: extension }) : reason('not-a-picture');
}

/** Damaged files are kept, out of the way, so that nothing somebody had is thrown away. */
async function setAside(app: App, library: number, item: Item, file: string, why: Saying): Promise<void> {
  const folder = path.join(app.paths.aside, item.slug, String(item.batch_id));
  await mkdir(folder, { recursive: true });
  await rename(file, path.join(folder, `${item.id}`)).catch(async (error: NodeJS.ErrnoException) => {
    if (error.code !== 'ENOENT') throw error;
  });
  await finishItem(app, library, item, 'aside', { reason: why });
}

declare module '../jobs/kind' {
  interface JobPayloads {
    intake: null;
  }
}

/** Taking in a file. */
export const intakeJob = defineJob({
  kind: 'intake',
  answers: true,
  priority: 1,
  run: intake,
  gaveUp: async (app, job, why) => {
    const item = await app.db('batch_items').where({ id: job.about, state: 'received' }).first('batch_id');
    if (!item) return;
    await app
      .db('batch_items')
      .where('id', job.about)
      .update({
        state: 'failed',
        reason: JSON.stringify(why),
        finished_at: app.db.raw('UTC_TIMESTAMP(3)'),
      });
    await settleBatch(app, job.library, item.batch_id);
  },
});
