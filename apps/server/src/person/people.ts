import type { Person } from '@gemmel/contract';
import type { App } from '../context';
import { Refused, notFound } from '../problem';
import { markDirty } from '../vault/sidecar';

/** Everybody with a name, those in most pictures first. */
export async function listPeople(app: App, library: number): Promise<Person[]> {
  const { db } = app;
  const people = (await db('people').where('library_id', library)) as {
    id: number;
    name: string;
    nickname: string | null;
    circle: string | null;
    born: string | null;
    portrait_face_id: number | null;
  }[];
  const counts = (await db('faces')
    .where('library_id', library)
    .whereNotNull('person_id')
    .groupBy('person_id')
    .select('person_id', db.raw('COUNT(DISTINCT picture_id) AS n'))) as unknown as { person_id: number; n: number }[];
  const likely = (await db('faces')
    .where({ library_id: library, state: 'waiting' })
    .whereNotNull('likely_person_id')
    .groupBy('likely_person_id')
    .select('likely_person_id as person', db.raw('COUNT(*) AS n'))) as unknown as { person: number; n: number }[];
  const best = (await db('faces')
    .where('library_id', library)
    .whereNotNull('person_id')
    .orderBy('quality')
    .select('id', 'person_id')) as { id: number; person_id: number }[];
  const bestOf = new Map(best.map((f) => [f.person_id, f.id]));
  return people
    .map((p) => ({
      id: p.id,
      name: p.name,
      nickname: p.nickname,
      circle: p.circle,
      born: p.born,
      pictures: Number(counts.find((c) => c.person_id === p.id)?.n ?? 0),
      likely: Number(likely.find((l) => l.person === p.id)?.n ?? 0),
      portrait: p.portrait_face_id ?? bestOf.get(p.id) ?? null,
    }))
    .sort((a, b) => b.pictures - a.pictures || a.name.localeCompare(b.name));
}

/** Changes what is known of a person. Names are unique in a library: two of one name would be joined, not kept apart. */
export async function changePerson(
  app: App,
  library: number,
  id: number,
  change: {
    name?: string | undefined;
    nickname?: string | null | undefined;
    circle?: string | null | undefined;
    born?: string | null | undefined;
    portrait?: number | undefined;
  },
): Promise<void> {
  const { portrait, ...rest } = change;
  const values: Record<string, unknown> = Object.fromEntries(Object.entries(rest).filter(([, v]) => v !== undefined));
  if (portrait !== undefined) {
    const face = await app.db('faces').where({ id: portrait, library_id: library, person_id: id }).first('id');
    if (!face) throw new Refused(409, 'This portrait does not show this person.');
    values['portrait_face_id'] = portrait;
  }
  if (Object.keys(values).length === 0) return;
  try {
    const n = await app.db('people').where({ id, library_id: library }).update(values);
    if (!n) throw notFound('This person');
  } catch (error) {
    if ((error as { code?: string }).code === 'ER_DUP_ENTRY')
      throw new Refused(409, 'Somebody of this name is known already.');
    throw error;
  }
  if (change.name) {
    const rows = (await app.db('faces').where({ library_id: library, person_id: id }).distinct('picture_id')) as {
      picture_id: number;
    }[];
    await markDirty(
      app.db,
      library,
      rows.map((r) => r.picture_id),
    );
  }
  app.changed(library, 'people');
}
