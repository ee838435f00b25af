import { readdir, stat } from 'node:fs/promises';
import path from 'node:path';
import { z } from 'zod';
import type { App } from '../context';
import { addressIn } from '../db/open';
import { giveUpWaiting, openBatch } from '../intake/announce';
import { pathTaken } from '../intake/items';
import { received } from '../intake/receive';
import { sayMore } from '../intake/words';
import { defineJob, type Job } from '../jobs/kind';
import { readSidecar } from '../media/metadata';
import { manifestFolder } from '../album/manifest';
import { readAgain } from '../question/words';
import { sayAs } from '../safe/earlier';
import { withFiles } from '../vault/lock';
import { libraryFolder, pruneFolders } from '../vault/vault';
import type { Compared } from './compare';

/** What is carried: the moment the book tells of, in ms; null where there was none. */
const Carried = z.object({ since: z.number().nullable() });

const AT_ONCE = 500;

/** Has search read every picture that it does not know. */
async function readAll(app: App, library: number, signal: AbortSignal): Promise<void> {
  for (let after = 0; ;) {
    signal.throwIfAborted();
    const rows = await app
      .db('pictures')
      .where({ library_id: library, words: '' })
      .where('id', '>', after)
      .orderBy('id')
      .limit(AT_ONCE)
      .select('id');
    if (rows.length === 0) return;
    const ids = rows.map(({ id }) => id);
    await app.db.transaction((trx) => readAgain(trx, library, ids));
    after = ids.at(-1)!;
  }
}

/** Says again what was written beside pictures after the book was. */
async function hearNewer(app: App, library: number, since: number, { signal, report }: Job): Promise<void> {
  const { db } = app;
  const { slug } = (await db('libraries').where('id', library).first('slug'))!;
  const root = libraryFolder(app, slug);
  const [{ n }] = (await db('pictures').where('library_id', library).count('* as n')) as unknown as [{ n: number }];
  let done = 0;
  for (let after = 0; ;) {
    const rows = await db('pictures')
      .where('library_id', library)
      .where('id', '>', after)
      .orderBy('id')
      .limit(AT_ONCE)
      .select('id', 'vault_path');
    if (rows.length === 0) return;
    for (const { id, vault_path } of rows) {
      signal.throwIfAborted();
      const beside = path.join(root, `${vault_path}.xmp`);
      const info = await stat(beside).catch(() => null);
      if (info && info.mtimeMs > since) {
        const { said, marked, taken } = await readSidecar(beside);
        await sayAs(app, { library, member: null }, id, said);
        await sayMore(app, library, { batch_id: 0, path: vault_path }, id, said, [marked], taken);
      }
    }
    report((done += rows.length), Number(n));
    after = rows.at(-1)!.id;
  }
}

/**
 * Has files of the vault that nobody knows taken in, with what lies beside them, as a batch of their own: they leave the vault for that, and come back to
 * where they belong. Ended anywhere, those that are still in the vault are found the next time. Answers with how many.
 */
export async function adopt(app: App, library: number, name: string): Promise<number> {
  const { db } = app;
  const { slug } = (await db('libraries').where('id', library).first('slug'))!;
  const root = libraryFolder(app, slug);
  const { unknown } = (await app.pool.run({ root, library, address: addressIn(db) }, { name: 'compare' })) as Compared;
  // Beside a library that is new here lie the manifests of albums it does not know yet.
  const albums = (await db('albums').where('library_id', library).first('id'))
    ? []
    : (await readdir(manifestFolder(app, slug)).catch(() => [])).filter((file) => /\.(json|csv)$/.test(file));
  const files = [
    ...unknown.map((file) => ({ path: file, at: path.join(root, file) })),
    ...(unknown.length ? albums.map((file) => ({ path: file, at: path.join(manifestFolder(app, slug), file) })) : []),
  ];
  const announced = [];
  for (const file of files) {
    const info = await stat(file.at).catch(() => null);
    if (info?.isFile() && info.size > 0)
      announced.push({ ...file, bytes: info.size, modified: info.mtimeMs, path: `${name}/${file.path}`.slice(-700) });
  }
  if (announced.length === 0) return 0;
  const { id: batch, items } = await openBatch(
    app,
    library,
    name,
    announced.map(({ path: at, bytes, modified }) => ({ path: at, bytes, modified })),
    { way: 'folder' },
  );
  const taken = pathTaken(db, library);
  for (const [i, { at }] of announced.entries())
    await withFiles(app, library, async () => {
      // One that came in, or was moved, while the two were compared has become known.
      if (at.startsWith(`${root}/`) && (await taken(path.relative(root, at).replace(/\.xmp$/, '')))) return;
      await received(app, library, items[i]!, at);
    });
  await giveUpWaiting(app, library, batch);
  for (const { at } of announced)
    if (at.startsWith(`${root}/`)) await pruneFolders(root, path.dirname(path.relative(root, at)));
  return announced.length;
}

/** Brings a library that was rebuilt to where it was: words for search, what was said after its book was written, files nobody knows. */
async function settle(app: App, job: Job): Promise<void> {
  const { library, payload, signal } = job;
  const { since } = Carried.parse(payload);
  await readAll(app, library, signal);
  if (since !== null) await hearNewer(app, library, since, job);
  const { name } = (await app.db('libraries').where('id', library).first('name'))!;
  await adopt(app, library, name);
  app.changed(library, 'pictures', 'people', 'tags', 'albums', 'events', 'library');
}

declare module '../jobs/kind' {
  interface JobPayloads {
    settle: z.infer<typeof Carried>;
  }
}

/** Bringing a rebuilt library to where it was. */
export const settleJob = defineJob({ kind: 'settle', priority: 3, alone: true, topic: 'library', run: settle });
