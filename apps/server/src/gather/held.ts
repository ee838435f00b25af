import { rename, stat } from 'node:fs/promises';
import type { App } from '../context';
import { incomingFile } from '../intake/items';
import { discard } from '../vault/vault';
import { heldFile } from './heldFile';
import { deliver, inTurn } from './ongoing';
import type { Source } from './sources';
import { HALF } from './watched';

/** How long a half-written file waits for its name, in days: what has none by then was given up by whoever sent it. */
const PATIENCE = 14;
/** How long what is no picture is held for the application that sent it to read, in days. */
const READABLE = 1;
/** How often what waits is looked at, in ms. */
const ROUND = 6 * 3_600_000;

/** Notes that a phone has a file of a name; what was known under that name is replaced. */
export const remember = (
  { db }: App,
  phone: Source,
  at: string,
  bytes: number,
  modified: number,
  more: object = {},
): PromiseLike<unknown> =>
  db('source_files')
    .insert({ library_id: phone.library_id, source_id: phone.id, path: at, bytes, modified, listed: true, ...more })
    .onConflict(['source_id', 'path'])
    .merge();

/** Takes a whole file of a phone in, which lies in `file`. */
export const takeUp = (
  app: App,
  phone: Source,
  at: string,
  file: string,
  { bytes, modified, sha256 }: { bytes: number; modified: number; sha256: Buffer },
): Promise<void> =>
  inTurn(phone.id, async () => {
    const { items, begin } = await deliver(app, phone.library_id, phone, 'phone', [
      { path: `${phone.name}/${at}`, bytes, modified },
    ]);
    await rename(file, incomingFile(app, items[0]!));
    await app.db('batch_items').where('id', items[0]!).update({ sha256 });
    await remember(app, phone, at, bytes, modified, { sha256, item_id: items[0]! });
    await begin();
  });

interface Held {
  id: number;
  source_id: number;
  path: string;
  bytes: number;
  modified: number;
  sha256: Buffer;
  item_id: number | null;
}

/** Entries of phones whose files are held, with the time since when, in ms. */
async function* held({ db, paths }: App): AsyncGenerator<{ row: Held; file: string; since: number }> {
  const rows = (await db('source_files as f')
    .join('sources as s', 's.id', 'f.source_id')
    .where('s.kind', 'phone')
    .leftJoin('batch_items as i', 'i.id', 'f.item_id')
    .whereNotNull('f.sha256')
    .where((q) => q.whereNull('f.item_id').orWhere('i.state', 'skipped'))
    .select('f.*')) as Held[];
  for (const row of rows) {
    const file = heldFile({ paths }, row.id);
    const info = await stat(file).catch(() => null);
    if (info) yield { row, file, since: info.ctimeMs };
  }
}

/**
 * Takes in what got its name and was not followed, because the process ended in between. To be done before phones are answered
 * again: while they are, whoever gives a file its name takes it in.
 */
export async function takeUpNamed(app: App): Promise<void> {
  for await (const { row, file } of held(app)) {
    if (row.item_id !== null || HALF.test(row.path)) continue;
    const phone = (await app.db('sources').where('id', row.source_id).first()) as Source;
    const { bytes, modified, sha256 } = row;
    await takeUp(app, phone, row.path, file, { bytes: Number(bytes), modified: Number(modified), sha256 });
  }
}

/** Gives up half-written files that have waited too long for their name, and what was held to be read. */
export async function giveUpHeld(app: App, now = Date.now()): Promise<void> {
  for await (const { row, file, since } of held(app)) {
    const days = (now - since) / 86_400_000;
    if (row.item_id !== null) {
      if (days > READABLE) await discard(file);
    } else if (HALF.test(row.path) && days > PATIENCE) {
      // One that has just got its name has another path, and stays.
      const gone = await app.db('source_files').where({ id: row.id, path: row.path }).whereNull('item_id').delete();
      if (gone) await discard(file);
    }
  }
}

/** Looks at what is held now and every few hours, until stopped. */
export function watchHeld(app: App): { stop: () => Promise<void> } {
  let turn: Promise<void> = Promise.resolve();
  const look = () => {
    turn = turn.then(() => giveUpHeld(app)).catch((error: unknown) => console.error('held files:', error));
  };
  look();
  const timer = setInterval(look, ROUND);
  return {
    stop: () => {
      clearInterval(timer);
      return turn;
    },
  };
}
