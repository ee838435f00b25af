import { chooseTaken, localAt, offsetAt, offsetOfLocal, takenFromFileTime, type Taken } from '@gemmel/core';
import type { App } from '../context';
import type { Instant, Metadata } from '../media/metadata';
import { HOME } from '../time/home';

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
  const offset = near ?? offsetAt(HOME, instant.at) ?? 0;
  const doubt = there !== null ? 0 : near !== null ? 0.05 : 0.15;
  return { local: localAt(instant.at, offset), offset, source: instant.source, certainty: instant.certainty - doubt };
}

/** When a file was changed on its device, when that can be the time of the shot: see core's `takenFromFileTime`. */
async function fileTime(app: App, item: { batch_id: number; modified: number | null }): Promise<Taken | null> {
  if (!item.modified) return null;
  const rows = await app
    .db('batch_items')
    .where('batch_id', item.batch_id)
    .whereNotNull('modified')
    .limit(5000)
    .select('modified');
  const offset = offsetAt(HOME, item.modified) ?? 0;
  return takenFromFileTime(
    Number(item.modified),
    Date.now(),
    rows.map((r) => Number(r.modified)),
    offset,
  );
}

/** The time a picture was taken, from everything that speaks of it. */
export async function whenTaken(
  app: App,
  library: number,
  item: { batch_id: number; modified: number | null },
  metadata: Metadata,
): Promise<Taken | null> {
  const { lat, lon } = metadata.said;
  const zone =
    lat !== null && lon !== null ? ((await app.pool.run({ lat, lon }, { name: 'zone' })) as string | null) : null;
  const clues: (Taken | null)[] = [...metadata.clues];
  for (const instant of metadata.instants) clues.push(await placed(app, library, instant, zone));
  const arrived = new Date().toISOString().slice(0, 10);
  let taken = chooseTaken(clues, arrived);
  if (!taken || taken.certainty < 0.12) taken = chooseTaken([taken, await fileTime(app, item)], arrived);
  if (taken && taken.offset === null && zone) return { ...taken, offset: offsetOfLocal(zone, taken.local) };
  return taken;
}
