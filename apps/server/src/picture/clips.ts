import path from 'node:path';
import { derivedBase, type App } from '../context';
import { ask, cancel, jobState } from '../jobs/jobs';
import { defineJob, type Job } from '../jobs/kind';
import { isThere, makeMoving, makePlayable, playsAsIs } from '../media/clips';
import { needRoom } from '../intake/space';
import { notFound } from '../problem';
import { libraryFolder } from '../vault/vault';

interface Clip {
  id: number;
  sha256: Buffer;
  format: string;
  codec: string | null;
  seconds: number | null;
  bytes: number;
  vault_path: string;
  slug: string;
}

async function clipOf(app: App, library: number, id: number): Promise<Clip | null> {
  const row = (await app
    .db('pictures as p')
    .join('libraries as l', 'l.id', 'p.library_id')
    .where({ 'p.id': id, 'p.library_id': library, 'p.kind': 'video' })
    .first('p.id', 'p.sha256', 'p.format', 'p.codec', 'p.seconds', 'p.bytes', 'p.vault_path', 'l.slug')) as
    Clip | undefined;
  return row ?? null;
}

/** Where a clip's short silent preview and its playable form lie. */
export const movingFile = (app: App, sha: string): string => `${derivedBase(app, sha)}-moving.mp4`;
const playableFile = (app: App, sha: string): string => `${derivedBase(app, sha)}-play.mp4`;

/** Makes a clip's short silent preview, when it is not there yet. */
export async function moveClip(app: App, { library, about }: Pick<Job, 'library' | 'about'>): Promise<void> {
  const clip = await clipOf(app, library, about);
  if (!clip) return;
  const target = movingFile(app, clip.sha256.toString('hex'));
  if (await isThere(target)) return;
  await makeMoving(path.join(libraryFolder(app, clip.slug), clip.vault_path), clip.seconds ?? 0, target);
}

/** Converts a clip that browsers cannot play into one that they can. The original stays as it is. */
export async function convertClip(app: App, { library, about, report, signal }: Job): Promise<void> {
  const clip = await clipOf(app, library, about);
  if (!clip) return;
  const target = playableFile(app, clip.sha256.toString('hex'));
  if (await isThere(target)) return;
  await needRoom(app, Number(clip.bytes));
  const source = path.join(libraryFolder(app, clip.slug), clip.vault_path);
  await makePlayable(
    source,
    target,
    (seconds) => report(seconds, Math.max(seconds, clip.seconds ?? 2 * seconds)),
    signal,
  );
}

/** How a clip can be played now. */
export type Playable = { state: 'as it is' | 'ready' | 'failed' } | { state: 'making'; share: number };

/** Says how a clip can be played, and has it converted when browsers cannot play it as it is. */
export async function playable(app: App, library: number, id: number): Promise<Playable> {
  const clip = await clipOf(app, library, id);
  if (!clip) throw notFound('clip');
  if (playsAsIs(clip.format, clip.codec)) return { state: 'as it is' };
  if (await isThere(playableFile(app, clip.sha256.toString('hex')))) return { state: 'ready' };
  const job = await jobState(app.db, library, 'transcode', id);
  if (job?.state === 'failed') return { state: 'failed' };
  if (!job) await ask(app.db, library, 'transcode', id);
  const { done, of } = job?.progress ?? { done: 0, of: 1 };
  return { state: 'making', share: Math.min(0.99, done / of) };
}

/** Stops converting a clip. It is converted when somebody wants to see it again. */
export const stopConverting = (app: App, library: number, id: number): Promise<boolean> =>
  cancel(app.db, library, 'transcode', id);

/** The file a browser plays for a clip, made ready or as it came; null while it is not there. */
export async function playFile(app: App, library: number, id: number): Promise<{ file: string; sha: string } | null> {
  const clip = await clipOf(app, library, id);
  if (!clip) throw notFound('clip');
  const sha = clip.sha256.toString('hex');
  const file = playsAsIs(clip.format, clip.codec)
    ? path.join(libraryFolder(app, clip.slug), clip.vault_path)
    : playableFile(app, sha);
  return (await isThere(file)) ? { file, sha } : null;
}

declare module '../jobs/kind' {
  interface JobPayloads {
    moving: null;
    transcode: null;
  }
}

/** Making a short preview of a clip. */
export const movingJob = defineJob({
  kind: 'moving',
  priority: 7,
  run: moveClip,
});

/** Converting a clip so that browsers play it. */
export const transcodeJob = defineJob({
  kind: 'transcode',
  priority: 0,
  topic: 'clips',
  run: convertClip,
});
