import type { ClockOffer } from '@gemmel/contract';
import { halves, type ClockShift, type ClockShot } from '@gemmel/core';
import { perform, type By } from '../act/perform';
import { chunks, type App } from '../context';
import type { Db } from '../db/open';
import { defineJob, type Job } from '../jobs/kind';
import { notFound, refused } from '../problem';

interface Row {
  id: number;
  device_id: number;
  taken_local: string;
  offset_minutes: number | null;
  taken_source: string;
  likeness: string | null;
}

/** A device sets its own clock when nearly all of its pictures say which zone they were taken in, as phones do. */
const SETS_ITSELF = 0.8;

const msOf = (local: string) => Date.parse(`${local.replace(' ', 'T')}Z`);
const localOf = (ms: number) => new Date(ms).toISOString().slice(0, -1).replace('T', ' ');

/** Compares the clocks of devices that were at the same occasions, and keeps what there is to offer. */
export async function findClocks(app: App, { library }: Job): Promise<void> {
  const { db } = app;
  const rows = (await db('pictures')
    .where('library_id', library)
    .whereNotNull('device_id')
    .whereIn('taken_source', ['camera', 'mended', 'gps'])
    .orderBy('taken_local')
    .select(
      'id',
      'device_id',
      'taken_local',
      'offset_minutes',
      'taken_source',
      db.raw('CAST(likeness AS CHAR) AS likeness'),
    )) as Row[];
  const faces = await db('faces')
    .where('library_id', library)
    .whereIn('state', ['named', 'waiting'])
    .whereRaw('(person_id IS NOT NULL OR group_key IS NOT NULL)')
    .select('picture_id', 'person_id', 'group_key');
  const people = new Map<number, number[]>();
  // A group of alike faces without a name tells as much as a name; its number must not be that of a person.
  for (const face of faces)
    people.set(face.picture_id, [...(people.get(face.picture_id) ?? []), face.person_id ?? -face.group_key!]);
  const devices = new Map<number, { all: number; zoned: number }>();
  for (const row of rows) {
    const device = devices.get(row.device_id) ?? { all: 0, zoned: 0 };
    device.all++;
    if (row.offset_minutes !== null && row.taken_source !== 'mended') device.zoned++;
    devices.set(row.device_id, device);
  }
  const trusted = [...devices].filter(([, d]) => d.zoned >= SETS_ITSELF * d.all).map(([id]) => id);
  const { high, low } = halves(rows.map((row) => row.likeness ?? '0'));
  const shots = rows.map((row, i): ClockShot => ({
    id: row.id,
    at: msOf(row.taken_local),
    device: row.device_id,
    people: people.get(row.id) ?? [],
    scene: row.likeness === null ? null : [high[i]!, low[i]!],
  }));
  const found = (await app.pool.run({ shots, trusted }, { name: 'clocks' })) as ClockShift[];
  await db.transaction(async (trx) => {
    const before = (await trx('clock_offers')
      .where({ library_id: library })
      .whereIn('state', ['open', 'declined'])
      .forUpdate()) as Omit<Offer, 'device'>[];
    const like = (state: Offer['state'], shift: ClockShift) =>
      before.find(
        (d) =>
          d.state === state &&
          d.device_id === shift.device &&
          Math.abs(d.shift_seconds - Math.round(shift.shift / 1000)) < 180 &&
          msOf(d.from_local) <= shift.to &&
          msOf(d.to_local) >= shift.from,
      );
    const standing = new Set<number>();
    for (const shift of found) {
      // A no stands, for this device and about this shift in these days.
      if (like('declined', shift)) continue;
      const row = {
        library_id: library,
        device_id: shift.device,
        from_local: localOf(shift.from),
        to_local: localOf(shift.to),
        reach_from: localOf(shift.reach.from),
        reach_to: localOf(shift.reach.to),
        shift_seconds: Math.round(shift.shift / 1000),
        pairs: shift.pairs,
        occasions: shift.occasions,
        spread_seconds: Math.round(shift.spread / 1000),
        kind: shift.kind,
      };
      // What was offered before stays the same offer, so that an answer given to it meanwhile finds it.
      const same = like('open', shift);
      let id: number;
      if (same && !standing.has(same.id)) {
        id = same.id;
        await trx('clock_offers').where({ id }).update(row);
        await trx('clock_examples').where('offer_id', id).delete();
      } else [id] = (await trx('clock_offers').insert(row)) as [number];
      standing.add(id);
      const examples = shift.examples.map(([picture_id, other_id], position) => ({
        offer_id: id,
        library_id: library,
        position,
        picture_id,
        other_id,
      }));
      if (examples.length) await trx('clock_examples').insert(examples);
    }
    const over = before.filter(({ id, state }) => state === 'open' && !standing.has(id)).map(({ id }) => id);
    if (over.length) await trx('clock_offers').whereIn('id', over).delete();
  });
  app.changed(library, 'clocks', 'library');
}

interface Offer {
  id: number;
  device_id: number;
  device: string;
  from_local: string;
  to_local: string;
  reach_from: string | null;
  reach_to: string | null;
  shift_seconds: number;
  pairs: number;
  occasions: number;
  spread_seconds: number;
  kind: ClockOffer['kind'];
  state: 'open' | 'mended' | 'declined';
}

/** The device's pictures whose time is still the camera's own. */
const ownTime = (db: Db, library: number, { device_id }: Pick<Offer, 'device_id'>) =>
  db('pictures').where({ library_id: library, device_id, taken_source: 'camera' });

/** The pictures a clock's mending is about: those in the span. */
const inSpan = (db: Db, library: number, offer: Offer) =>
  ownTime(db, library, offer).whereBetween('taken_local', [offer.from_local, offer.to_local]);

/** Those before it, as far as nothing speaks against them. */
const earlierThan = (db: Db, library: number, offer: Offer) =>
  ownTime(db, library, offer)
    .where('taken_local', '>=', offer.reach_from ?? offer.from_local)
    .where('taken_local', '<', offer.from_local);

/** Those after it, as far as nothing speaks against them; nothing was taken in the future. */
const laterThan = (db: Db, library: number, offer: Offer) =>
  ownTime(db, library, offer)
    .where('taken_local', '>', offer.to_local)
    .where('taken_local', '<=', offer.reach_to ?? offer.to_local)
    .whereRaw('taken_local + INTERVAL ? SECOND <= UTC_TIMESTAMP() + INTERVAL 1 DAY', [offer.shift_seconds]);

/** Clocks that disagree, with the pictures that say so. */
export async function clockOffers(app: App, library: number): Promise<ClockOffer[]> {
  const offers = (await app
    .db('clock_offers as c')
    .join('devices as d', 'd.id', 'c.device_id')
    .where({ 'c.library_id': library, 'c.state': 'open' })
    .orderBy('c.from_local')
    .select('c.*', 'd.name as device')) as Offer[];
  return Promise.all(
    offers.map(async (offer) => {
      const [{ n }] = (await inSpan(app.db, library, offer).count('* as n')) as unknown as [{ n: number }];
      const [earlier] = (await earlierThan(app.db, library, offer).select(
        app.db.raw('COUNT(*) AS n, MIN(day) AS day'),
      )) as unknown as [{ n: number; day: string | null }];
      const [later] = (await laterThan(app.db, library, offer).select(
        app.db.raw('COUNT(*) AS n, MAX(day) AS day'),
      )) as unknown as [{ n: number; day: string | null }];
      const examples = (await app
        .db('clock_examples as e')
        .join('pictures as p', 'p.id', 'e.picture_id')
        .join('pictures as o', 'o.id', 'e.other_id')
        .where('e.offer_id', offer.id)
        .orderBy('e.position')
        .select('p.shown as sha', 'o.shown as other', 'p.taken_local as taken', 'o.taken_local as otherTaken')) as {
        sha: Buffer;
        other: Buffer;
        taken: string;
        otherTaken: string;
      }[];
      return {
        id: offer.id,
        device: offer.device,
        from: offer.from_local.slice(0, 10),
        to: offer.to_local.slice(0, 10),
        shiftSeconds: offer.shift_seconds,
        pairs: offer.pairs,
        occasions: offer.occasions,
        spreadSeconds: offer.spread_seconds,
        kind: offer.kind,
        pictures: Number(n),
        earlier: earlier.day ? { pictures: Number(earlier.n), from: earlier.day } : null,
        later: later.day ? { pictures: Number(later.n), to: later.day } : null,
        examples: examples.map((e) => ({
          sha: e.sha.toString('hex'),
          other: e.other.toString('hex'),
          taken: e.taken.replace(' ', 'T'),
          otherTaken: e.otherTaken.replace(' ', 'T'),
        })),
      };
    }),
  );
}

/**
 * Answers a clock: mends all of the device's pictures in the span, and what lies before and after it if wished; or lets it be.
 * Answers with how many were mended.
 */
export function answerClock(
  app: App,
  by: By,
  id: number,
  { mend, earlier, later }: { mend: boolean; earlier?: boolean | undefined; later?: boolean | undefined },
): Promise<{ mended: number; act: number | null }> {
  return perform(app, by, mend ? 'mend clock' : 'keep clock', async ({ trx, library, hold, words }) => {
    await hold('clock_offers', [id]);
    const offer = (await trx('clock_offers as c')
      .join('devices as d', 'd.id', 'c.device_id')
      .where({ 'c.id': id, 'c.library_id': library })
      .first('c.*', 'd.name as device')) as Offer | undefined;
    if (!offer) throw notFound('clock');
    if (offer.state !== 'open') throw refused('clock-answered');
    words({ name: offer.device, n: offer.shift_seconds });
    await trx('clock_offers')
      .where('id', id)
      .update({ state: mend ? 'mended' : 'declined' });
    if (!mend) return { mended: 0 };
    const wanted = [inSpan, ...(earlier ? [earlierThan] : []), ...(later ? [laterThan] : [])];
    const ids: number[] = [];
    for (const some of wanted)
      ids.push(...((await some(trx, library, offer).select('id')) as { id: number }[]).map((row) => row.id));
    await hold('pictures', ids);
    for (const some of chunks(ids, 1000))
      await trx('pictures')
        .where('library_id', library)
        .whereIn('id', some)
        .update({
          // MariaDB works out assignments from left to right, so that the day already follows the new time.
          taken_local: trx.raw('taken_local + INTERVAL ? SECOND', [offer.shift_seconds]),
          day: trx.raw('DATE(taken_local)'),
          taken_source: 'mended',
          clock_id: id,
        });
    return { mended: ids.length };
  });
}

declare module '../jobs/kind' {
  interface JobPayloads {
    clocks: null;
  }
}

/** Comparing clocks. */
export const clocksJob = defineJob({
  kind: 'clocks',
  answers: true,
  priority: 4,
  alone: true,
  run: findClocks,
});
