import type { Introduction, Why } from '@gemmel/contract';
import { introduce } from '@gemmel/core';
import type { App } from '../context';
import type { Db } from '../db/open';
import { bestFaces } from '../person/portraits';
import { closenessOf, NO_REASON, offersOf } from './offers';

/** Groups that are perhaps the same person, shown with one at most. */
const PERHAPS = 3;
/** Groups sent at a time: the next ones are fetched while these are answered. */
const AT_ONCE = 30;

interface Row {
  id: number;
  picture: number;
  day: string | null;
  key: number;
  quality: number;
}

/** Groups of faces nobody has named, those whose answer says most first: the first few of them, and how many there are. */
export async function introductions(
  app: App,
  library: number,
): Promise<{ groups: Introduction[]; total: number; faces: number }> {
  const { db } = app;
  const rows = (await db('faces as f')
    .join('pictures as p', 'p.id', 'f.picture_id')
    .where({ 'f.library_id': library, 'f.state': 'waiting' })
    .whereNotNull('f.group_key')
    .where((q) => q.whereNull('f.later_until').orWhere('f.later_until', '<', db.raw('UTC_TIMESTAMP(3)')))
    .select('f.id', 'f.picture_id as picture', 'p.day', 'f.group_key as key', 'f.quality')) as Row[];
  const certain = new Map<number, { person: number; certainty: number }[]>();
  for (const o of (await db('face_offers as o')
    .join('faces as f', 'f.id', 'o.face_id')
    .join('people as n', 'n.id', 'o.person_id')
    .where({ 'o.library_id': library, 'f.state': 'waiting', 'n.recognised': true })
    .select('o.face_id as face', 'o.person_id as person', 'o.certainty')) as {
    face: number;
    person: number;
    certainty: number;
  }[]) {
    const list = certain.get(o.face);
    if (list) list.push(o);
    else certain.set(o.face, [o]);
  }
  const groups = introduce(rows.map((row) => ({ ...row, offers: certain.get(row.id) ?? [] })));
  const shown = groups.slice(0, AT_ONCE);
  const said = await offersOf(
    db,
    library,
    shown.flatMap((g) => (g.candidates.length ? g.faces.map((f) => f.id) : [])),
  );
  const portraits = await bestFaces(db, library);
  const perhaps = await perhapsOf(db, library, groups);
  const byFace = new Map<string, (typeof said)[number]>(said.map((o) => [`${o.face}|${o.person}`, o]));
  return {
    total: groups.length,
    faces: rows.length,
    groups: shown.map((group): Introduction => {
      const days = group.faces.flatMap((f) => (f.day === null ? [] : [f.day])).sort();
      return {
        key: group.key,
        faces: group.faces.map(told),
        perhaps: (perhaps.get(group.key) ?? [])
          .slice(0, PERHAPS)
          .map((other) => ({ key: other.key, faces: other.faces.map(told) })),
        pictures: group.pictures,
        from: days[0] ?? null,
        to: days[days.length - 1] ?? null,
        candidates: group.candidates.flatMap(({ person, certainty }) => {
          // The surest face of the group says why.
          const best = group.faces
            .flatMap((f) => byFace.get(`${f.id}|${person}`) ?? [])
            .sort((a, b) => b.certainty - a.certainty)[0];
          if (!best) return [];
          const portrait = portraits.get(person) ?? null;
          return [{ person, name: best.name, portrait, closeness: closenessOf(certainty), why: best.why }];
        }),
      };
    }),
  };
}

const told = (face: Row) => ({ id: face.id, picture: face.picture, taken: face.day });

/** For each group the others that are perhaps the same person, the largest first. */
async function perhapsOf<G extends { key: number; faces: readonly unknown[] }>(
  db: Db,
  library: number,
  groups: readonly G[],
): Promise<Map<number, G[]>> {
  const byKey = new Map(groups.map((group) => [group.key, group]));
  const perhaps = new Map<number, G[]>();
  const note = (key: number, other: G) => {
    const list = perhaps.get(key);
    if (list) list.push(other);
    else perhaps.set(key, [other]);
  };
  for (const row of await db('face_perhaps').where('library_id', library)) {
    const [a, b] = [byKey.get(row.group_key), byKey.get(row.other_key)];
    if (!a || !b) continue;
    note(a.key, b);
    note(b.key, a);
  }
  for (const list of perhaps.values()) list.sort((a, b) => b.faces.length - a.faces.length || a.key - b.key);
  return perhaps;
}

/** Faces that may be a person, the likeliest first; only one of each picture, since nobody is in it twice. */
export async function likelyFaces(
  app: App,
  library: number,
  person: number,
): Promise<{ id: number; picture: number; closeness: ReturnType<typeof closenessOf>; why: Why }[]> {
  const { db } = app;
  const rows = (await db('faces as f')
    .join('face_offers as o', (on) => on.on('o.face_id', 'f.id').andOn('o.person_id', 'f.likely_person_id'))
    .where({ 'f.library_id': library, 'f.state': 'waiting', 'f.likely_person_id': person })
    .orderBy([{ column: 'o.certainty', order: 'desc' }, 'f.id'])
    .limit(300)
    .select('f.id', 'f.picture_id as picture')) as { id: number; picture: number }[];
  const pictures = new Set<number>();
  const shown = rows.filter(({ picture }) => !pictures.has(picture) && pictures.add(picture));
  const why = new Map(
    (
      await offersOf(
        db,
        library,
        shown.map((r) => r.id),
      )
    )
      .filter((o) => o.person === person)
      .map((o) => [o.face, { closeness: closenessOf(o.certainty), why: o.why }]),
  );
  return shown.map((r) => ({ ...r, ...(why.get(r.id) ?? { closeness: 'perhaps', why: NO_REASON }) }));
}
