import { mkdir, stat } from 'node:fs/promises';
import path from 'node:path';
import type { App } from '../context';
import { ask } from '../jobs/jobs';
import { withFiles } from './lock';
import { markDirty } from './sidecar';
import { hashFile, libraryFolder, linkTo, moveFile } from './vault';

/** Days after which a stored file is read again before it is said to be here. */
const FRESH_DAYS = 30;

const TABLES = ['pictures', 'picture_files', 'binned_files'] as const;

/** A stored file: an original, or one beside it, in the bin too. */
interface Stored {
  table: (typeof TABLES)[number];
  id: number;
  picture: number;
  vault_path: string;
  bytes: number;
  sha256: Buffer;
  fresh: number;
  broken: number;
}

const slugOf = async ({ db }: App, library: number): Promise<string> =>
  (await db('libraries').where('id', library).first('slug'))!.slug;

/** Every file of a library with these bytes. */
async function storedOf({ db }: App, library: number, sha256: Buffer): Promise<Stored[]> {
  const all: Stored[] = [];
  for (const table of TABLES)
    all.push(
      ...(
        (await db(table)
          .where({ library_id: library, sha256 })
          .select(
            'id',
            table === 'pictures' ? 'id as picture' : 'picture_id as picture',
            'vault_path',
            'bytes',
            'sha256',
            db.raw(`COALESCE(verified_at > UTC_TIMESTAMP(3) - INTERVAL ${FRESH_DAYS} DAY, 0) AS fresh`),
            db.raw('broken_at IS NOT NULL AS broken'),
          )) as Omit<Stored, 'table'>[]
      ).map((row) => ({ ...row, table })),
    );
  return all;
}

/** Where a stored file's row says it lies now. */
async function placeOf({ db }: App, one: Stored): Promise<string> {
  return ((await db(one.table).where('id', one.id).first('vault_path')) as { vault_path: string }).vault_path;
}

/**
 * Whether a stored file is there and as long as it was; one that was not read back of late is read. What is found is written
 * down. One that just moves to another folder is looked for there.
 */
async function isWhole(app: App, library: number, root: string, one: Stored): Promise<boolean> {
  const { db } = app;
  let at = one.vault_path;
  for (;;) {
    const file = path.join(root, at);
    const info = await stat(file).catch(() => null);
    const right = info?.size === Number(one.bytes);
    const read = right && (!one.fresh || one.broken);
    if (right && (!read || (await hashFile(file).catch(() => null))?.equals(one.sha256))) {
      if (read)
        await db(one.table)
          .where('id', one.id)
          .update({ verified_at: db.raw('UTC_TIMESTAMP(3)'), broken_at: null });
      return true;
    }
    const now = await placeOf(app, one);
    if (now === at) break;
    at = now;
  }
  if (!one.broken) {
    await db(one.table)
      .where('id', one.id)
      .update({ verified_at: null, broken_at: db.raw('UTC_TIMESTAMP(3)') });
    // It is told among the troubles until it is put right.
    await ask(db, library, 'verify');
    app.changed(library, 'library', 'sources');
  }
  return false;
}

/** The picture these bytes belong to and are stored whole with; null when they are not here, or not as they were stored. */
export async function knownWhole(app: App, library: number, sha256: Buffer): Promise<number | null> {
  const all = await storedOf(app, library, sha256);
  if (all.length === 0) return null;
  const root = libraryFolder(app, await slugOf(app, library));
  for (const one of all) if (!(await isWhole(app, library, root, one))) return null;
  return all[0]!.picture;
}

/**
 * Puts right what is stored under a fingerprint with a copy of the very same bytes that came again. What lies damaged in its
 * place is kept aside. Safe to repeat. Answers with how many files were put right.
 */
export async function mendWith(app: App, library: number, sha256: Buffer, copy: string): Promise<number> {
  const all = await storedOf(app, library, sha256);
  const slug = await slugOf(app, library);
  const root = libraryFolder(app, slug);
  let mended = 0;
  for (const one of all) {
    if (await isWhole(app, library, root, one)) continue;
    await withFiles(app, library, async () => {
      const file = path.join(root, await placeOf(app, one));
      if (await stat(file).catch(() => null)) {
        const aside = path.join(app.paths.aside, slug, 'damaged');
        await mkdir(aside, { recursive: true });
        await moveFile(file, path.join(aside, `${Date.now()}-${one.table}-${one.id}`));
      }
      if (!(await linkTo(copy, file))) throw new Error(`${file} is in use; it is tried again`);
      await app
        .db(one.table)
        .where('id', one.id)
        .update({ verified_at: app.db.raw('UTC_TIMESTAMP(3)'), broken_at: null });
    });
    // What was said beside it may be gone with it.
    if (one.table !== 'binned_files') await markDirty(app.db, library, [one.picture]);
    mended++;
  }
  if (mended) await ask(app.db, library, 'verify');
  return mended;
}
