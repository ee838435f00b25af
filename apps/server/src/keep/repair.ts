import { RepairResult } from '@gemmel/contract';
import path from 'node:path';
import type { App } from '../context';
import { addressIn } from '../db/open';
import { ask } from '../jobs/jobs';
import { defineJob, type Job } from '../jobs/kind';
import { damaged } from '../safe/mend';
import { hashFile, libraryFolder } from '../vault/vault';
import { markDirty } from '../vault/sidecar';
import { needDisk } from './home';
import type { Compared } from './compare';
import { adopt } from './settle';

/** Most files that are named. */
const NAMED = 50;

/**
 * Compares a library's folder with its database both ways and puts right what can be: a file that is not there or not as long as it was
 * is fetched from a place of safekeeping, one that nobody knows is taken in, and what was said is written beside pictures where it is not.
 */
export async function repairLibrary(
  app: App,
  { library, signal, report }: Pick<Job, 'library' | 'signal' | 'report'>,
): Promise<RepairResult> {
  const { db } = app;
  const { slug, name } = (await db('libraries').where('id', library).first('slug', 'name'))!;
  await needDisk(app, slug);
  const root = libraryFolder(app, slug);
  const { files, missing, unknown } = (await app.pool.run(
    { root, library, address: addressIn(db) },
    { name: 'compare' },
  )) as Compared;
  const gone: string[] = [];
  let mended = 0;
  for (const [i, { table, id, path: at }] of missing.entries()) {
    signal.throwIfAborted();
    const row = await db(table).where('id', id).first('id', 'vault_path', 'bytes', 'sha256');
    // It may have moved meanwhile.
    if (!row || row.vault_path !== at || (await hashFile(path.join(root, at)).catch(() => null))?.equals(row.sha256))
      continue;
    if (await damaged(app, library, table, row, signal)) mended++;
    else gone.push(at);
    report(i + 1, missing.length);
  }
  const taken = await adopt(app, library, name);
  // A picture of which something was said and whose words lie nowhere beside it.
  const said = await db('sidecars').where('library_id', library).whereNull('dirty_at').select('picture_id');
  const bare: number[] = [];
  const beside = new Set(
    ((await app.pool.run({ root }, { name: 'besides' })) as string[]).map((file) => file.replace(/\.xmp$/, '')),
  );
  for (let i = 0; i < said.length; i += 2000)
    for (const { id, vault_path } of await db('pictures')
      .whereIn(
        'id',
        said.slice(i, i + 2000).map(({ picture_id }) => picture_id),
      )
      .select('id', 'vault_path'))
      if (!beside.has(vault_path)) bare.push(id);
  await markDirty(db, library, bare);
  await ask(db, library, 'verify');
  app.changed(library, 'library', 'pictures', 'sources');
  return RepairResult.parse({
    files,
    mended,
    gone: gone.length,
    named: gone.slice(0, NAMED),
    unknown: unknown.length,
    taken,
    rewritten: bare.length,
    at: new Date().toISOString(),
  });
}

declare module '../jobs/kind' {
  interface JobPayloads {
    repair: null;
  }
}

/** Checking a library's folder against its database. */
export const repairJob = defineJob({
  kind: 'repair',
  priority: 4,
  alone: true,
  topic: 'library',
  keeps: true,
  // Somebody began it and is told at once.
  tries: 1,
  run: repairLibrary,
});
