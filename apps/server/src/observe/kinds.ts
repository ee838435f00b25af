import { LOOKS, NOTICED, THING_NAMES, type Look, type Noticed, type Observed } from '@gemmel/core';
import type { Db } from '../db/open';
import { ask } from '../jobs/jobs';

/** How a library's pictures are looked at: the column that says by which version of it, and that version. */
export const LOOKED = {
  measured: { column: 'observed_by', version: 3 },
  things: { column: 'seen_by', version: 1 },
  words: { column: 'read_by', version: 1 },
} as const satisfies Record<Look | 'measured', { column: string; version: number }>;
export type Looked = keyof typeof LOOKED;

/** The kind of work that does each look. */
export const WORK_OF = { things: 'things', words: 'reading' } as const satisfies Record<Look, string>;

const parts = (list: string): string[] => list.split(',').filter(Boolean);

/** What a library has looked for: kinds the machine measures, and the looks that were asked for. */
export async function observesOf(
  db: Db,
  library: number,
): Promise<{ noticed: Noticed[]; looks: Look[]; paused: Look[]; again: Looked[] }> {
  const row = (await db('libraries')
    .where('id', library)
    .first('observes', 'observes_again as again', 'observes_paused as paused'))!;
  const wanted = new Set(parts(row.observes));
  return {
    noticed: NOTICED.filter((kind) => wanted.has(kind)),
    looks: LOOKS.filter((look) => wanted.has(look)),
    paused: LOOKS.filter((look) => parts(row.paused).includes(look)),
    again: (Object.keys(LOOKED) as Looked[]).filter((look) => parts(row.again).includes(look)),
  };
}

/** Every kind that may stand in a library that has so much looked for. */
const kindsOf = (observes: string): Observed[] => {
  const wanted = new Set(parts(observes));
  return [...NOTICED.filter((kind) => wanted.has(kind)), ...(wanted.has('things') ? THING_NAMES : [])];
};

/**
 * What follows, in the same transaction, when a library has other things looked for: what is no longer looked for is gone, and
 * what pictures are to be looked at for once more, or what is to be forgotten of each, is noted for the work that follows.
 */
export async function observeAsSaid(trx: Db, library: number, observes: string, measureAgain: boolean): Promise<void> {
  await trx('picture_observations').where('library_id', library).whereNotIn('kind', kindsOf(observes)).delete();
  const { again } = await observesOf(trx, library);
  const now = new Set<Looked>(again);
  if (measureAgain) now.add('measured');
  for (const look of LOOKS) if (!parts(observes).includes(look)) now.add(look);
  await trx('libraries')
    .where('id', library)
    .update({ observes_again: [...now].join(',') });
}

/** Keeps what was noticed of a picture, as far as the library has it looked for and nobody has said it is not so. */
export async function keepNoticed(
  trx: Db,
  library: number,
  picture: number,
  noticed: readonly { kind: Observed; sure: number }[],
): Promise<void> {
  if (noticed.length === 0) return;
  // Whoever switches a kind off meanwhile waits until this is written, and then takes it away again.
  const { observes } = (await trx('libraries').where('id', library).forShare().first('observes'))!;
  const wanted = new Set<Observed>(kindsOf(observes));
  // Whoever says meanwhile that it is not so waits, too, and then takes away what was written.
  const denied = new Set(
    (await trx('observation_denied').where('picture_id', picture).forShare().select('kind')).map((row) => row.kind),
  );
  const rows = noticed.filter(({ kind }) => wanted.has(kind) && !denied.has(kind));
  if (rows.length)
    await trx('picture_observations')
      .insert(rows.map(({ kind, sure }) => ({ library_id: library, picture_id: picture, kind, sure })))
      .onConflict()
      .ignore();
}

/** Has new pictures seen and read where that was asked for. */
export async function askLooks(db: Db, library: number, observes?: string): Promise<void> {
  const wanted = observes ?? (await db('libraries').where('id', library).first('observes'))?.observes ?? '';
  for (const look of LOOKS) if (wanted.split(',').includes(look)) await ask(db, library, WORK_OF[look], 0, 3000);
}
