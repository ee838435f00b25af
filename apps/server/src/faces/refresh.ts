import { chunks, type App } from '../context';
import { addressIn, type Db } from '../db/open';
import { ask } from '../jobs/jobs';
import { defineJob, type Job } from '../jobs/kind';
import { markDirty } from '../vault/sidecar';

/** How long after faces were filed clocks are compared again, in ms: people answer many groups in a row. */
const AFTERWARDS = 20_000;

/** Whether nothing is known of faces in a library, so that there is nothing to look at again, nor anything to be forgotten. */
async function hasNone(db: Db, library: number): Promise<boolean> {
  const found = await Promise.all(
    (['faces', 'look_alikes', 'face_perhaps'] as const).map((table) =>
      db(table).where('library_id', library).first('library_id'),
    ),
  );
  return found.every((row) => !row);
}

/** Looks at all faces of a library again: files the sure ones, keeps offers for the likely ones, groups the rest. */
export async function refreshFaces(app: App, { library }: Job): Promise<void> {
  const { dirty } = (await hasNone(app.db, library))
    ? { dirty: [] }
    : ((await app.recogniser.run({ library, address: addressIn(app.db) }, { name: 'refreshFaces' })) as {
        dirty: number[];
      });
  for (const some of chunks(dirty, 2000)) await markDirty(app.db, library, some);
  app.worked(library, 'people', 'library');
  if (dirty.length) app.worked(library, 'said');
  // Who is in pictures tells which of them show one moment.
  await ask(app.db, library, 'clocks', 0, AFTERWARDS);
}

/** Has the thread that looks at faces forget what describes those of a library, when it is running at all. */
export function forgetDescriptions({ recogniser }: App, library: number): void {
  if (recogniser.pids.length) recogniser.run(library, { name: 'forgetDescriptions' }).catch(() => undefined);
}

declare module '../jobs/kind' {
  interface JobPayloads {
    faces: null;
  }
}

/** Gathering faces. */
export const facesJob = defineJob({
  kind: 'faces',
  answers: true,
  priority: 3,
  alone: true,
  run: refreshFaces,
});
