import { chooseTaken, localAt, offsetAt, offsetOfLocal, takenFromFileTime, type Taken } from '@gemmel/core';
import type { App } from '../context';
import type { Instant, Metadata } from '../media/metadata';
import { homeOf } from '../time/home';

/** The offset of the picture taken nearest to an instant, within half a day, whose own offset is known. */
async function neighbourOffset(app: App, library: number, at: number): Promise<number | null> {
  const utc = new Date(at).toISOString().slice(0, -1).replace('T', ' ');
  const row = await app
    .db('pictures')
    .where('library_id', library)
    .whereRaw('taken_local BETWEEN ? - INTERVAL 26 HOUR AND ? + INTERVAL 26 HOUR', [utc, utc])
    .whereNotNull('offset_minutes')
    .whereIn('taken_source', ['camera', 'hand', 'gps'])
    .whereRaw('ABS(TIMESTAMPDIFF(MINUTE, ?, taken_local) - offset_minutes) <= 720', [utc])
    .orderByRaw('ABS(TIMESTAMPDIFF(SECOND, ?, taken_local) - offset_minutes * 60)', [utc])
    .first('offset_minutes');
  return row?.offset_minutes ?? null;
}

/** An instant on the wall clock of its place, else of its neighbours, else of home, less sure each time. */
async function placed(app: App, library: number, instant: Instant, zone: string | null): Promise<Taken> {
  const there = zone ? offsetAt(zone, instant.at) : null;
  const near = there ?? (await neighbourOffset(app, library, instant.at));
  const offset = near ?? offsetAt(await homeOf(app.db, library), instant.at) ?? 0;
  const doubt = there !== null ? 0 : near !== null ? 0.05 : 0.15;
  return { local: localAt(instant.at, offset), offset, source: instant.source, certainty: instant.certainty - doubt };
}

/** When the files of a batch were changed on their devices, as many as tell enough. */
export async function fileTimes(app: App, batch: number): Promise<number[]> {
  const rows = await app
    .db('batch_items')
    .where('batch_id', batch)
    .whereNotNull('modified')
    .limit(5000)
    .select('modified');
  return rows.map((row) => Number(row.modified));
}

/**
 * The time a picture was taken, from everything that speaks of it. When the file was `modified` on its device counts last, and
 * only where it can be the time of the shot, which the times of its `others` tell: see core's `takenFromFileTime`.
 */
export async function whenTaken(
  app: App,
  library: number,
  metadata: Metadata,
  modified: number | null,
  others: () => Promise<readonly number[]>,
): Promise<Taken | null> {
  const { lat, lon } = metadata.said;
  const zone =
    lat !== null && lon !== null ? ((await app.lookups.run({ lat, lon }, { name: 'zone' })) as string | null) : null;
  const clues: (Taken | null)[] = [...metadata.clues];
  for (const instant of metadata.instants) clues.push(await placed(app, library, instant, zone));
  const arrived = new Date().toISOString().slice(0, 10);
  let taken = chooseTaken(clues, arrived);
  if (modified && (!taken || taken.certainty < 0.12)) {
    const offset = offsetAt(await homeOf(app.db, library), modified) ?? 0;
    taken = chooseTaken([taken, takenFromFileTime(Number(modified), Date.now(), await others(), offset)], arrived);
  }
  if (taken && taken.offset === null && zone) return { ...taken, offset: offsetOfLocal(zone, taken.local) };
  return taken;
}
