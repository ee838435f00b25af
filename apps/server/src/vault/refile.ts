import { reason } from '@gemmel/contract';
import { Failed } from '../problem';
import { stat } from 'node:fs/promises';
import path from 'node:path';
import type { App } from '../context';
import { addressIn } from '../db/open';
import { ask } from '../jobs/jobs';
import { defineJob, type Job } from '../jobs/kind';
import type { Misfiled } from './filingTask';
import { withFiles } from './lock';
import { freePath, replayMoves, type Stuck } from './moves';
import { libraryFolder } from './vault';

/** Keeps folders and names on disk in step with days, events and names: every file that lies elsewhere moves, by journal. */
export async function refile(app: App, { library, report }: Job): Promise<void> {
  const { db } = app;
  const stuck = new Map<string, Stuck>();
  const replay = async () => {
    for (const one of await replayMoves(app, library)) stuck.set(one.path, one);
  };
  await withFiles(app, library, replay);
  const { slug, layout, language } = (await db('libraries').where('id', library).first('slug', 'layout', 'language'))!;
  const root = libraryFolder(app, slug);
  const misfiled = (await app.pool.run(
    { library, layout, language, address: addressIn(db) },
    { name: 'filing' },
  )) as Misfiled[];
  for (const [i, { picture, file, from, folder, name }] of misfiled.entries()) {
    await withFiles(app, library, async () => {
      // A missing file is for the check to report, not for a move; one whose move is stuck is tried again later.
      if (stuck.has(from) || !(await stat(path.join(root, from)).catch(() => null))) return;
      await db('vault_moves').insert({
        picture_id: picture,
        file_id: file,
        library_id: library,
        from_path: from,
        to_path: await freePath(app, library, root, folder, name),
      });
      await replay();
    });
    report(i + 1, misfiled.length);
  }
  if (misfiled.length) {
    // Where pictures lie is told in the manifests of their albums.
    await db('albums').where('library_id', library).increment('unwritten', 1);
    await ask(db, library, 'manifests', 0, 1000);
    app.worked(library, 'pictures');
  }
  const [first] = stuck.values();
  if (first) throw new Failed(reason('files-stuck', { n: stuck.size, path: first.path, why: first.why }));
}

declare module '../jobs/kind' {
  interface JobPayloads {
    refile: null;
  }
}

/** Moving pictures to the folder of their event. */
export const refileJob = defineJob({
  kind: 'refile',
  priority: 4,
  alone: true,
  topic: 'filing',
  run: refile,
});
