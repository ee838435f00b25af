import { stat } from 'node:fs/promises';
import path from 'node:path';
import { derivedBase, type App } from '../context';
import { keepNoticed, LOOKED } from '../observe/kinds';
import { defineJob, type Job } from '../jobs/kind';
import { Refused } from '../problem';
import { discard, libraryFolder } from '../vault/vault';
import type { Prepared, PrepareTask } from './prepare';
import { headOf, sniff } from './sniff';
import { pictureInside } from './raw';

/** What is being made again in this process, by what it is made of. */
const making = new Map<string, Promise<boolean>>();

interface Source {
  sha256: Buffer;
  name: string;
  vault_path: string;
}

/** Keeps what was made out of a picture where its row knows nothing of it: it was read from a book. */
async function keepMade({ db }: App, library: number, sha256: Buffer, prepared: Prepared): Promise<void> {
  const row = await db('pictures').where({ library_id: library, sha256 }).whereRaw("thumb = ''").first('id');
  if (!row) return;
  await db.transaction(async (trx) => {
    await trx('pictures')
      .where('id', row.id)
      .update({
        likeness: prepared.likeness,
        sharpness: prepared.sharpness,
        thumb: Buffer.from(prepared.thumb),
        observed_by: LOOKED.measured.version,
      });
    await keepNoticed(trx, library, row.id, prepared.noticed);
  });
}

async function make(app: App, library: number, { sha256, name, vault_path }: Source): Promise<boolean> {
  const { slug } = (await app.db('libraries').where('id', library).first('slug'))!;
  const file = path.join(libraryFolder(app, slug), vault_path);
  const kind = sniff(await headOf(file), name);
  if (!kind) return false;
  const derived = derivedBase(app, sha256.toString('hex'));
  const inside = kind.raw ? await pictureInside(file, `${derived}.${process.pid}.inside`) : null;
  try {
    const task: PrepareTask = { file, kind, derived, models: app.config.models, faces: false, inside };
    const made = (await app.pool.run(task, { name: 'prepare' })) as { ok: true; prepared: Prepared } | { ok: false };
    if (made.ok) await keepMade(app, library, sha256, made.prepared);
    return made.ok;
  } finally {
    if (inside) await discard(inside.file);
  }
}

/**
 * Makes the derived sizes of an original again when they are missing: they are in no backup, as they can always be made. Whoever asks
 * for one that is being made waits for it. Answers whether they are there now.
 */
export async function deriveAgain(app: App, library: number, sha256: Buffer): Promise<boolean> {
  const key = sha256.toString('hex');
  const there = making.get(key);
  if (there) return there;
  const work = (async () => {
    const row = ((await app
      .db('pictures')
      .where({ library_id: library, sha256 })
      .first('sha256', 'name', 'vault_path')) ??
      (await app
        .db('binned_files')
        .where({ library_id: library, sha256 })
        .whereNull('file_id')
        .first('sha256', 'name', 'vault_path'))) as Source | undefined;
    return row ? make(app, library, row) : false;
  })()
    .catch(() => false)
    .finally(() => making.delete(key));
  making.set(key, work);
  return work;
}

/** Sends a derived size; one that is missing is made first. */
export async function orAgain(
  app: App,
  library: number,
  sha256: Buffer,
  send: () => Promise<Response>,
): Promise<Response> {
  try {
    return await send();
  } catch (error) {
    if (!(error instanceof Refused && error.status === 404) || !(await deriveAgain(app, library, sha256))) throw error;
    return send();
  }
}

const AT_ONCE = 200;

/** Makes whatever is missing of a library's derived sizes, newest first: after a restore nobody has to wait for each. */
export async function deriveMissing(
  app: App,
  { library, report, signal }: Pick<Job, 'library' | 'report' | 'signal'>,
): Promise<void> {
  const { db } = app;
  const [{ n: of }] = (await db('pictures').where('library_id', library).count('* as n')) as unknown as [{ n: number }];
  let done = 0;
  for (let before = Number.MAX_SAFE_INTEGER; ;) {
    const rows = await db('pictures')
      .where('library_id', library)
      .where('id', '<', before)
      .orderBy('id', 'desc')
      .limit(AT_ONCE)
      .select('id', 'sha256', db.raw("thumb = '' AS bare"));
    if (rows.length === 0) return;
    await Promise.all(
      (rows as unknown as { sha256: Buffer; bare: number }[]).map(async ({ sha256, bare }) => {
        if (signal.aborted) return;
        const base = derivedBase(app, sha256.toString('hex'));
        const there = await Promise.all(
          [`${base}-small.webp`, `${base}-large.jpg`].map((file) => stat(file).catch(() => null)),
        );
        if (bare || there.some((one) => one === null)) await deriveAgain(app, library, sha256);
        report(++done, Number(of));
      }),
    );
    if (signal.aborted) return;
    before = rows.at(-1)!.id;
  }
}

declare module '../jobs/kind' {
  interface JobPayloads {
    derive: null;
  }
}

/** Making derived sizes that are missing. */
export const deriveJob = defineJob({ kind: 'derive', priority: 7, topic: 'library', run: deriveMissing });
