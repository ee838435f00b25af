import { reason } from '@gemmel/contract';
import { Failed } from '../problem';
import path from 'node:path';
import type { App } from '../context';
import { defineJob, type Job } from '../jobs/kind';
import { needDisk } from '../keep/home';
import { damaged } from '../safe/mend';
import { hashFile, libraryFolder } from './vault';

const AT_ONCE = 50;

/**
 * Reads what was stored back from the disk and compares fingerprints, so that "stored" is proven and not believed. A file
 * that differs is fetched from a place of safekeeping; where none holds it, it is left unproven and told among the troubles.
 */
export async function verifyStored(app: App, { library }: Job): Promise<void> {
  const { db } = app;
  const { slug } = (await db('libraries').where('id', library).first('slug'))!;
  await needDisk(app, slug);
  const wrong: string[] = [];
  for (const table of ['pictures', 'picture_files', 'binned_files'] as const) {
    for (let after = 0; ;) {
      const rows = (await db(table)
        .where('library_id', library)
        .whereNull('verified_at')
        .where('id', '>', after)
        .orderBy('id')
        .limit(AT_ONCE)
        .select('id', 'vault_path', 'bytes', 'sha256')) as {
        id: number;
        vault_path: string;
        bytes: number;
        sha256: Buffer;
      }[];
      if (rows.length === 0) break;
      for (const row of rows) {
        after = row.id;
        const found = await hashFile(path.join(libraryFolder(app, slug), row.vault_path)).catch(() => null);
        if (found?.equals(row.sha256))
          await db(table)
            .where('id', row.id)
            .update({ verified_at: db.raw('UTC_TIMESTAMP(3)') });
        else {
          // It may have moved to its event's folder in this moment.
          const now = (await db(table).where('id', row.id).first('vault_path')) as { vault_path: string } | undefined;
          if (now && now.vault_path === row.vault_path) {
            if (!(await damaged(app, library, table, row))) wrong.push(row.vault_path);
          } else after = row.id - 1;
        }
      }
      app.changed(library, 'sources');
    }
  }
  if (wrong.length)
    throw new Failed(
      reason('not-as-stored', { paths: `${wrong.slice(0, 3).join(', ')}${wrong.length > 3 ? ' …' : ''}` }),
    );
}

declare module '../jobs/kind' {
  interface JobPayloads {
    verify: null;
  }
}

/** Proving that what is stored is whole. */
export const verifyJob = defineJob({
  kind: 'verify',
  priority: 8,
  run: verifyStored,
});
