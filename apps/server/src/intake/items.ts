import type { BatchName, Saying } from '@gemmel/contract';
import type { FileRole, Language, VaultLayout } from '@gemmel/core';
import path from 'node:path';
import type { App } from '../context';
import type { Db } from '../db/open';
import { ask } from '../jobs/jobs';
import { askLooks } from '../observe/kinds';

/** A batch item with what intake needs of its batch and library. */
export interface Item {
  id: number;
  batch_id: number;
  path: string;
  source: string | null;
  bytes: number;
  modified: number | null;
  role: FileRole;
  main_id: number | null;
  state: string;
  sha256: Buffer | null;
  batch_state: string;
  batch_name: string;
  batch_named: BatchName['named'];
  batch_created: string;
  language: Language;
  slug: string;
  layout: VaultLayout;
  recognise: number;
}

export type Outcome = 'stored' | 'known' | 'skipped' | 'aside' | 'opened';

/** Where an item's bytes wait until they have their place in the vault. */
export const incomingFile = (app: App, item: number): string => path.join(app.paths.incoming, String(item));

/** One item, if it is this library's. */
export async function itemOf(db: Db, library: number, id: number): Promise<Item | null> {
  const row = (await db('batch_items as i')
    .join('batches as b', 'b.id', 'i.batch_id')
    .join('libraries as l', 'l.id', 'i.library_id')
    .where({ 'i.id': id, 'i.library_id': library })
    .first(
      'i.id',
      'i.batch_id',
      'i.path',
      'i.source',
      'i.bytes',
      'i.modified',
      'i.role',
      'i.main_id',
      'i.state',
      'i.sha256',
      'b.state as batch_state',
      'b.name as batch_name',
      'b.named as batch_named',
      'b.created_at as batch_created',
      'l.language',
      'l.slug',
      'l.layout',
      'l.recognise',
    )) as Item | undefined;
  return row ?? null;
}

/** Notes how an item ended, asks for the files that waited for it, and once all items have ended, that the batch is done. */
export async function finishItem(
  app: App,
  library: number,
  item: { id: number; batch_id: number },
  outcome: Outcome,
  { reason, ...more }: { reason?: Saying; picture_id?: number; sha256?: Buffer; mended?: boolean } = {},
): Promise<void> {
  const { db } = app;
  await db('batch_items')
    .where({ id: item.id, library_id: library })
    .update({
      ...more,
      ...(reason ? { reason: JSON.stringify(reason) } : {}),
      state: outcome,
      finished_at: db.raw('UTC_TIMESTAMP(3)'),
    });
  await afterItem(app, library, item);
}

/**
 * What follows when an item has ended: the files that waited for it, and the batch. Safe to repeat, and repeated when a
 * process died between the two.
 */
export async function afterItem(app: App, library: number, item: { id: number; batch_id: number }): Promise<void> {
  const { db } = app;
  const waiting = await db('batch_items').where({ main_id: item.id, state: 'received' }).select('id');
  if (waiting.length)
    await ask(
      db,
      library,
      'intake',
      waiting.map((w) => w.id),
    );
  await settleBatch(app, library, item.batch_id);
}

/** Closes a batch none of whose items waits any more, and asks for what follows from a batch. */
export async function settleBatch(app: App, library: number, batch: number): Promise<void> {
  const open = await app
    .db('batch_items')
    .where('batch_id', batch)
    .whereIn('state', ['waiting', 'received'])
    .first('id');
  if (!open) {
    const coming = await app.db('batches').where({ id: batch, state: 'coming' }).first('id');
    if (coming) {
      // Asked for before the batch is closed: a sudden end in between asks again, and forgets nothing.
      await ask(app.db, library, 'follow', batch);
      await ask(app.db, library, 'events');
      await ask(app.db, library, 'faces');
      await ask(app.db, library, 'clocks', 0, 4000);
      await ask(app.db, library, 'alike');
      await ask(app.db, library, 'verify');
      await ask(app.db, library, 'observe', 0, 3000);
      await askLooks(app.db, library);
      await app
        .db('batches')
        .where({ id: batch, state: 'coming' })
        .update({ state: 'done', finished_at: app.db.raw('UTC_TIMESTAMP(3)') });
      app.changed(library, 'sources');
    }
  }
  app.worked(library, 'batches', 'pictures', 'library');
}

/** The picture these very bytes belong to, as its original or as a file beside it. */
export async function pictureOf(db: Db, library: number, sha256: Buffer): Promise<number | null> {
  const row = await db('pictures').where({ library_id: library, sha256 }).first('id');
  if (row) return row.id;
  const beside = await db('picture_files').where({ library_id: library, sha256 }).first('picture_id as id');
  return beside?.id ?? null;
}

/** Whether a path of the vault belongs to something already, or is kept for something that is being moved there. */
export const pathTaken = (db: Db, library: number) => async (vault_path: string) =>
  Boolean(
    (await db('pictures').where({ library_id: library, vault_path }).first('id')) ??
    (await db('picture_files').where({ library_id: library, vault_path }).first('id')) ??
    (await db('binned_files').where({ library_id: library, vault_path }).first('id')) ??
    (await db('vault_moves').where({ library_id: library, to_path: vault_path }).first('id')),
  );
