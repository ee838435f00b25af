import { isDue, offsetOfLocal } from '@gemmel/core';
import { stat } from 'node:fs/promises';
import path from 'node:path';
import type { App } from '../context';
import type { SafePlacesRow } from '../db/tables';
import { ask } from '../jobs/jobs';
import { inRounds } from '../rounds';
import { dayIn, homeOf } from '../time/home';
import { askBackup } from './backup';
import { askCheck } from './check';
import { seen } from './places';

/** How often it is looked what is due, in ms. */
const ROUND = 60_000;
const HOUR = 60 * ROUND;
/** A part of a place is read so often. */
const PART_DAYS = 7;

const ms = (at: string | null): number | null => (at === null ? null : Date.parse(`${at.replace(' ', 'T')}Z`));

/** Whether a folder place has shown up again: its own repository is there, and it was not. Tells others what it saw. */
async function showsUp(app: App, row: SafePlacesRow): Promise<{ there: boolean; back: boolean }> {
  if (row.kind !== 'folder' || row.repository === null) return { there: Boolean(row.there), back: false };
  const there = (await stat(path.join(row.location, 'config')).catch(() => null)) !== null;
  const back = there && !row.there;
  if (there !== Boolean(row.there)) await seen(app, row, there);
  return { there, back };
}

/** Asks for whatever is due at a moment. Any number of processes may: asking twice is one piece of work. */
export async function askDue(app: App, now = Date.now()): Promise<void> {
  const { db } = app;
  for (const row of await db('safe_places').orderBy('id')) {
    const { there, back } = await showsUp(app, row);
    const done = await db('safe_runs')
      .where({ place_id: row.id, kind: 'backup', state: 'done' })
      .orderBy('id', 'desc')
      .first('began_at');
    const zone = await homeOf(db, row.library_id);
    const day = `${dayIn(zone, now)}T00:00:00`;
    const midnight = Date.parse(`${day}Z`) - (offsetOfLocal(zone, day) ?? 0) * 60_000;
    const { often, hour } = row;
    // One that waits for its key to be let in, or for whoever set it up, is begun by hand.
    const known = row.repository !== null;
    if (
      known &&
      isDue({ often, hour, done: ms(done?.began_at ?? null), tried: ms(row.tried_at), there, back }, midnight, now)
    )
      await askBackup(app, row.library_id, row.id);
    const part = await db('safe_runs')
      .where({ place_id: row.id, kind: 'part' })
      .orderBy('id', 'desc')
      .first('began_at', 'state');
    const since = ms(part?.began_at ?? null) ?? ms(done?.began_at ?? null);
    const days = part && part.state !== 'done' ? 1 : PART_DAYS;
    if (done && row.there && since !== null && now - since > days * 24 * HOUR)
      await askCheck(app, row.library_id, row.id);
  }
}

/** Looks after the timetable for as long as it is not stopped: places, and reading originals back. */
export function watchSafe(app: App): { stop: () => Promise<void> } {
  let read = Date.now();
  return inRounds(ROUND, 'safekeeping', async () => {
    await askDue(app);
    if (Date.now() - read < HOUR) return;
    read = Date.now();
    for (const { id } of await app.db('libraries').select('id')) await ask(app.db, id, 'readBack');
  });
}
