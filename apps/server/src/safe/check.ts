import { AwsClient } from 'aws4fetch';
import { execFile } from 'node:child_process';
import { chmod, readdir, rm } from 'node:fs/promises';
import path from 'node:path';
import { promisify } from 'node:util';
import type { App } from '../context';
import type { SafePlacesRow } from '../db/tables';
import { defineJob, type Job } from '../jobs/kind';
import { ask } from '../jobs/jobs';
import { Refused, refused } from '../problem';
import { hashFile } from '../vault/vault';
import { askBackup, whyOf } from './backup';
import { folderOf, machineIn, openPlace, placeRow, secretsIn } from './places';
import { tidyFolder, restic, ResticError, type Way } from './restic';
import { beginRun, endRun } from './runs';

const run = promisify(execFile);

/** A place is read through whole in so many weekly parts: each part within a quarter. */
const PARTS = 13;
const WEEK = 7 * 24 * 60 * 60_000;
/** Folders of a repository whose files are called by the fingerprint of what is in them (restic's design, “Repository Layout”). */
const NAMED = ['index', 'snapshots', 'keys'] as const;

/** Which part is read at a moment. */
export const partAt = (now: number): number => Math.floor(now / WEEK) % PARTS;

/** Files of a repository in a folder that are not what their names say, below it. `part` of {@link PARTS}, or null for all. */
async function rottenIn(folder: string, part: number | null, signal: AbortSignal): Promise<string[]> {
  const rotten: string[] = [];
  const look = async (below: string) => {
    for (const name of await readdir(path.join(folder, below)).catch(() => [])) {
      signal.throwIfAborted();
      const at = path.join(below, name);
      if (!/^[0-9a-f]{64}$/.test(name)) continue;
      if ((await hashFile(path.join(folder, at)).catch(() => null))?.toString('hex') !== name) rotten.push(at);
    }
  };
  for (const below of NAMED) await look(below);
  for (let two = 0; two < 256; two++)
    if (part === null || two % PARTS === part) await look(path.join('data', two.toString(16).padStart(2, '0')));
  return rotten;
}

/** Has restic read a part, or all, and answers which packs it found damaged. */
async function rottenBy(way: Way, part: number | null, signal: AbortSignal): Promise<string[]> {
  try {
    await restic(way, ['check', part === null ? '--read-data' : `--read-data-subset=${part + 1}/${PARTS}`], { signal });
    return [];
  } catch (error) {
    if (!(error instanceof ResticError) || error.fault === 'away') throw error;
    const packs = [...error.said.matchAll(/pack (?:ID does not match, want )?([0-9a-f]{64})/gi)].map(([, id]) => id!);
    if (packs.length === 0) throw error;
    return [...new Set(packs)].map((id) => path.join('data', id.slice(0, 2), id));
  }
}

/** Removes a file of a bucket, signed as S3 wants it; one that is not there is not missed. Answers whether the bucket let it go. */
async function removeFrom(app: App, row: SafePlacesRow, at: string, signal: AbortSignal): Promise<boolean> {
  const { access = '', secret = '', region = 'us-east-1' } = secretsIn(app, row);
  const bucket = new AwsClient({ accessKeyId: access, secretAccessKey: secret, region, service: 's3' });
  const { ok, status } = await bucket.fetch(`${row.location.replace(/\/+$/, '')}/${at}`, { method: 'DELETE', signal });
  return ok || status === 404;
}

/** Removes damaged files of a repository. Answers false when the place does not let them go, as a bucket that only takes. */
async function removeRotten(
  app: App,
  row: SafePlacesRow,
  rotten: readonly string[],
  signal: AbortSignal,
): Promise<boolean> {
  if (row.kind === 'folder') {
    for (const at of rotten) {
      const file = path.join(row.location, at);
      await chmod(file, 0o600).catch(() => undefined);
      await rm(file, { force: true });
    }
    return true;
  }
  if (row.kind === 'bucket') {
    for (const at of rotten) if (!(await removeFrom(app, row, at, signal))) return false;
    return true;
  }
  const { who, port, at: root } = machineIn(row.location);
  const folder = folderOf(app, row.id);
  const child = run('sftp', [
    ...['-b', '-', '-q', '-F', '/dev/null', '-P', String(port), '-i', path.join(folder, 'key')],
    ...[
      '-o',
      'IdentitiesOnly=yes',
      '-o',
      'StrictHostKeyChecking=yes',
      '-o',
      `UserKnownHostsFile=${path.join(folder, 'known_hosts')}`,
    ],
    who,
  ]);
  // A minus before a command: what is not there is not missed.
  child.child.stdin!.end(rotten.map((at) => `-rm "${root}/${at}"`).join('\n') + '\n');
  await child;
  return true;
}

/** Reads what a place holds: this week's part, or `whole`. What has rotted there is removed and copied again from the originals. */
export async function checkPlace(
  app: App,
  { library, about: place, signal }: Pick<Job, 'library' | 'about' | 'signal'>,
  { whole = false } = {},
): Promise<void> {
  const row = await placeRow(app, place).catch(() => null);
  if (!row) return;
  const id = await beginRun(app, row, 'part');
  try {
    const way = await openPlace(app, row, signal);
    await tidyFolder(way.folder);
    await restic(way, ['unlock'], { signal });
    const part = whole ? null : partAt(Date.now());
    const rotten =
      row.kind === 'folder' ? await rottenIn(row.location, part, signal) : await rottenBy(way, part, signal);
    if (rotten.length) {
      if (!(await removeRotten(app, row, rotten, signal))) throw refused('safe-rotten', { n: rotten.length });
      // The rings part at once, not only when it is copied again.
      await app.db('safe_copies').where('place_id', place).update({ read_at: null });
    } else if (row.kind === 'folder')
      // Whether all that is listed is there. What is missing is copied again, as what has rotted is.
      await restic(way, ['check'], { signal }).catch((error: unknown) => {
        if (!(error instanceof ResticError) || error.fault === 'away') throw error;
        rotten.push('');
      });
    if (rotten.length) {
      await restic(way, ['rebuild-index'], { signal });
      await askBackup(app, library, place, true);
    }
    await endRun(app, id, 'done', null, { wrong: rotten.length });
  } catch (error) {
    await endRun(app, id, signal.aborted ? 'stopped' : 'failed', signal.aborted ? null : whyOf(error));
    if (!signal.aborted && !(error instanceof Refused) && !(error instanceof ResticError)) throw error;
  } finally {
    app.changed(library, 'safe', 'copied');
  }
}

declare module '../jobs/kind' {
  interface JobPayloads {
    safePart: { whole: boolean } | null;
  }
}

/** Reading what a place holds, part by part. */
export const safePartJob = defineJob({
  kind: 'safePart',
  priority: 9,
  topic: 'safe',
  run: (app, job) => checkPlace(app, job, job.payload ?? {}),
});

/** Has a place read, this week's part or whole. */
export const askCheck = (app: App, library: number, place: number, whole = false): Promise<void> =>
  ask(app.db, library, 'safePart', place, 0, whole ? { whole } : null);
