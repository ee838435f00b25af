import { gatherFaces, worthAWord, type FaceWorld, type Gathered, type LibraryFace, type Offer } from '@gemmel/core';
import { pack, unpack, type Change } from '../act/record';
import type { DbAddress } from '../db/mariadb';
import type { Db } from '../db/open';
import type { FacesRow, PicturesRow } from '../db/tables';
import { connectionTo } from '../db/threads';
import { tell } from '../feed/feed';
import { chunks } from '../lists';

/** A face as it is looked at, with the time and the event of its picture. */
interface FaceRow
  extends
    Pick<
      FacesRow,
      'id' | 'picture_id' | 'height_px' | 'quality' | 'person_id' | 'named_by' | 'likely_person_id' | 'group_key'
    >,
    Pick<PicturesRow, 'taken_local' | 'taken_exact' | 'event_id'> {
  /** How many bytes describe it; 0 for one without a description. */
  described: number;
  state: 'waiting' | 'named' | 'passer-by';
}

/** What describes a face, held from one look to the next. */
interface Described {
  a: Float32Array;
  b: Float32Array;
  clothes: Uint8Array | null;
  /** What it was found with: another quality means that it was described anew. */
  quality: number;
}

const NOTHING: Pick<Described, 'a' | 'b' | 'clothes'> = {
  a: new Float32Array(0),
  b: new Float32Array(0),
  clothes: null,
};
/** Descriptions of the libraries this thread looks after: they are large, and seldom change. */
const held = new Map<number, Map<number, Described>>();
/** Faces whose descriptions are read at once. */
const READ = 1000;

const floats = (b: Buffer): Float32Array => new Float32Array(b.buffer.slice(b.byteOffset, b.byteOffset + b.byteLength));
const dayNumber = (day: string): number => Date.parse(`${day}T00:00Z`) / 86_400_000;
const dayText = (day: number | null): string | null =>
  day === null ? null : new Date(day * 86_400_000).toISOString().slice(0, 10);

/** What stands of a face: what people said, and what was filed of one that has no description to be looked at afresh. */
const saidOf = (r: FaceRow): LibraryFace['said'] => {
  if (r.named_by !== 'hand' && r.described > 0) return null;
  return r.state === 'passer-by' ? 'passer-by' : r.person_id === null ? null : { person: r.person_id };
};

async function rowsOf(db: Db, library: number): Promise<FaceRow[]> {
  return (await db('faces as f')
    .join('pictures as p', 'p.id', 'f.picture_id')
    .where('f.library_id', library)
    .whereIn('f.state', ['waiting', 'named', 'passer-by'])
    .orderBy('f.id')
    .select(
      'f.id',
      'f.picture_id',
      'f.height_px',
      'f.quality',
      db.raw('LENGTH(f.vector_a) AS described'),
      'f.state',
      'f.person_id',
      'f.named_by',
      'f.likely_person_id',
      'f.group_key',
      'p.taken_local',
      'p.taken_exact',
      'p.event_id',
    )) as FaceRow[];
}

/** The descriptions of some faces: those that are held, and those that came since. What is no longer described is forgotten. */
async function descriptionsOf(db: Db, library: number, rows: readonly FaceRow[]): Promise<Map<number, Described>> {
  const before = held.get(library);
  const now = new Map<number, Described>();
  const fresh: number[] = [];
  for (const row of rows) {
    if (row.described === 0) continue;
    const known = before?.get(row.id);
    if (known && known.quality === row.quality) now.set(row.id, known);
    else fresh.push(row.id);
  }
  held.set(library, now);
  for (const some of chunks(fresh, READ))
    for (const row of await db('faces')
      .where('library_id', library)
      .whereIn('id', some)
      .select('id', 'quality', 'vector_a', 'vector_b', 'clothes'))
      if (row.vector_a.length)
        now.set(row.id, {
          a: floats(row.vector_a),
          b: floats(row.vector_b),
          clothes: row.clothes && new Uint8Array(row.clothes),
          quality: row.quality,
        });
  return now;
}

/** Everything recognition goes by in a library. */
async function worldOf(db: Db, library: number, rows: readonly FaceRow[]): Promise<FaceWorld> {
  const { ask_from, file_from } = (await db('libraries').where('id', library).first('ask_from', 'file_from'))!;
  const people = await db('people').where('library_id', library).select('id', 'born');
  const refused = await db('face_refusals').where('library_id', library).orderBy(['face_id', 'person_id']);
  const apart = await db('face_apart').where('library_id', library).orderBy(['face_id', 'other_id']);
  const described = await descriptionsOf(db, library, rows);
  return {
    faces: rows.map((r): LibraryFace => ({
      id: r.id,
      picture: r.picture_id,
      height: r.height_px,
      ...(described.get(r.id) ?? NOTHING),
      quality: r.quality,
      at:
        r.taken_local === null || r.taken_exact !== null
          ? null
          : Date.parse(`${r.taken_local.replace(' ', 'T')}Z`) / 60_000,
      event: r.event_id,
      said: saidOf(r),
    })),
    people: people.map((p) => ({ id: p.id, born: p.born === null ? null : dayNumber(p.born) })),
    refused: refused.map((r) => [r.face_id, r.person_id] as const),
    apart: apart.map((r) => [r.face_id, r.other_id] as const),
    sureness: { ask: ask_from, file: file_from },
  };
}

/** An offer as a row; `nth` counts from 0. */
function offerRow(library: number, face: number, nth: number, { person, certainty, mayFile, evidence }: Offer) {
  const words = worthAWord(evidence);
  return {
    library_id: library,
    face_id: face,
    nth,
    person_id: person,
    certainty: Math.fround(certainty),
    may_file: mayFile ? 1 : 0,
    support: evidence.support,
    like_from: dayText(evidence.likeFrom),
    like_to: dayText(evidence.likeTo),
    rival_id: evidence.rival,
    beside_id: words.beside ? evidence.beside : null,
    minutes: evidence.minutes === null ? null : Math.round(evidence.minutes),
    same_clothes: words.clothes ? 1 : 0,
    is_there: words.there ? 1 : 0,
    other_age: words.otherAge ? 1 : 0,
  };
}
type OfferRow = ReturnType<typeof offerRow>;

const sameOffers = (a: readonly OfferRow[], b: readonly OfferRow[]): boolean =>
  a.length === b.length &&
  a.every((x, i) =>
    (Object.keys(x) as (keyof OfferRow)[]).every((key) =>
      key === 'certainty' ? Math.abs(x[key] - b[i]![key]) < 1e-4 : x[key] === b[i]![key],
    ),
  );

/** Writes the offers of every face that has others than before. */
async function keepOffers(db: Db, library: number, offers: Gathered['offers']): Promise<void> {
  const before = new Map<number, OfferRow[]>();
  for (const row of (await db('face_offers').where('library_id', library).orderBy(['face_id', 'nth'])) as OfferRow[]) {
    const list = before.get(row.face_id);
    if (list) list.push(row);
    else before.set(row.face_id, [row]);
  }
  const now = new Map(
    offers.map(({ face, offers: some }) => [face, some.map((o, nth) => offerRow(library, face, nth, o))]),
  );
  const stale = [...before.keys()].filter((face) => !now.has(face));
  const changed = [...now].filter(([face, rows]) => !sameOffers(before.get(face) ?? [], rows));
  for (const some of chunks([...stale, ...changed.map(([face]) => face)], 500))
    await db('face_offers').whereIn('face_id', some).delete();
  for (const some of chunks(changed, 200)) {
    // A face or a person may have gone meanwhile.
    const rows = some.flatMap(([, list]) => list);
    await db('face_offers').insert(rows).onConflict(['face_id', 'nth']).ignore();
  }
}

/** What a face was filed as before and after a look. */
function filing(
  old: FaceRow,
  now: Pick<FaceRow, 'state' | 'person_id' | 'named_by' | 'likely_person_id' | 'group_key'>,
): Change {
  const { picture_id, state, person_id, named_by, likely_person_id, group_key } = old;
  return {
    table: 'faces',
    key: [old.id],
    before: { state, person_id, named_by, likely_person_id, group_key, picture_id },
    after: { ...now, picture_id },
  };
}

/** The last move of how sure recognition must be, when it is not yet noted what was filed after it. */
async function movedBy(db: Db, library: number): Promise<number | null> {
  const { moved, noted } = (await db('libraries')
    .where('id', library)
    .first(
      db.raw("(SELECT MAX(id) FROM acts WHERE library_id = libraries.id AND kind = 'sureness') AS moved"),
      'filed_act as noted',
    )) as { moved: number | null; noted: number | null };
  return moved !== null && moved > (noted ?? 0) ? moved : null;
}

/**
 * Notes what was filed after somebody moved how sure recognition must be, as an act of the machine's own. Taking it back takes
 * the move back with it, since else it would be done again at once. A process that ends before this leaves the move to be
 * taken back by itself.
 */
async function noteFilings(db: Db, library: number, moved: number, filings: readonly Change[]): Promise<void> {
  const { changes } = (await db('acts').where('id', moved).first('changes'))!;
  const packed = filings.length ? await pack([...(changes ? await unpack(changes) : []), ...filings]) : null;
  const pictures = [...new Set(filings.map((f) => Number(f.after!['picture_id'])))];
  await db.transaction(async (trx) => {
    const first = await trx('libraries')
      .where('id', library)
      .where((q) => q.whereNull('filed_act').orWhere('filed_act', '<', moved))
      .update({ filed_act: moved });
    if (!first || !packed) return;
    const [act] = await trx('acts').insert({
      library_id: library,
      member_id: null,
      kind: 'file',
      words: JSON.stringify({
        n: filings.filter((f) => f.after!['person_id'] !== null).length,
        less: filings.filter((f) => f.after!['person_id'] === null).length,
      }),
      pictures: pictures.length,
      changes: packed,
    });
    for (const some of chunks(pictures, 2000))
      await trx('act_pictures').insert(some.map((picture_id) => ({ library_id: library, picture_id, act_id: act })));
    await tell(trx, library, new Map([['acts', null]]));
  });
}

/** Forgets what describes the faces of a library. */
export const forgetDescriptions = (library: number): boolean => held.delete(library);

/**
 * Looks at all faces of a library again, in the thread that holds what describes them: files the sure ones, keeps offers for
 * the likely ones, groups the rest. Reads and writes the database by itself, so that the thread that answers people is never
 * handed what it would only pass on. Answers with the pictures whose words are to be written anew.
 */
export async function refreshTask({
  library,
  address,
}: {
  library: number;
  address: DbAddress;
}): Promise<{ dirty: number[] }> {
  const db = connectionTo(address);
  const rows = await rowsOf(db, library);
  const world = await worldOf(db, library, rows);
  const found = gatherFaces(world);
  const filed = new Map(found.filed.map((f) => [f.face, f.person]));
  const passed = new Set(found.passed);
  const offers = new Map(found.offers.map((o) => [o.face, o.offers]));
  const group = new Map(found.groups.map((g) => [g.face, g.key]));
  const dirty: number[] = [];
  const updates = rows
    // A face without a description stays as it is: nothing new can be known of it.
    .filter((r) => r.named_by !== 'hand' && r.described > 0)
    .flatMap((r) => {
      const person = filed.get(r.id) ?? null;
      const first = offers.get(r.id)?.[0];
      const now = {
        state: person !== null ? ('named' as const) : passed.has(r.id) ? ('passer-by' as const) : ('waiting' as const),
        person_id: person,
        named_by: person !== null || passed.has(r.id) ? ('machine' as const) : null,
        likely_person_id: person === null && first && first.certainty >= world.sureness.ask ? first.person : null,
        group_key: group.get(r.id) ?? null,
      };
      if (person !== r.person_id) dirty.push(r.picture_id);
      const same = (Object.keys(now) as (keyof typeof now)[]).every((key) => now[key] === r[key]);
      return same ? [] : [{ old: r, now }];
    });
  const follows = await movedBy(db, library);
  const filings: Change[] = [];
  // Whoever answered meanwhile has the last word: only faces that still stand as they were read are touched.
  for (const some of chunks(updates, 200))
    await db.transaction(async (trx) => {
      const people = await trx('people').where({ library_id: library, recognised: true }).forShare().select('id');
      // Who has gone meanwhile, or is not to be recognised from now on, gets no face.
      const there = new Set(people.map((p) => p.id));
      for (const { old, now } of some) {
        if (![now.person_id, now.likely_person_id].every((id) => id === null || there.has(id) || id === old.person_id))
          continue;
        const n = Number(
          await trx('faces')
            .where({ id: old.id, state: old.state })
            .where((q) => (old.named_by ? q.where('named_by', old.named_by) : q.whereNull('named_by')))
            .update(now),
        );
        if (n && follows !== null && now.person_id !== old.person_id) filings.push(filing(old, now));
      }
    });
  if (follows !== null) await noteFilings(db, library, follows, filings);
  await keepOffers(db, library, found.offers);
  await db.transaction(async (trx) => {
    await trx('look_alikes').where('library_id', library).delete();
    if (found.alike.length)
      await trx('look_alikes')
        .insert(found.alike.map(([person_id, other_id]) => ({ library_id: library, person_id, other_id })))
        .onConflict()
        .ignore();
    await trx('face_perhaps').where('library_id', library).delete();
    for (const some of chunks(found.perhaps, 1000))
      await trx('face_perhaps')
        .insert(some.map(([group_key, other_key]) => ({ library_id: library, group_key, other_key })))
        .onConflict()
        .ignore();
  });
  return { dirty: [...new Set(dirty)] };
}
