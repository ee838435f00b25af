import type { FaceAnswer, FacesBefore, Introduction } from '@gemmel/contract';
import type { Candidate, Gathered, LibraryFace } from '@gemmel/core';
import { list } from '@gemmel/core';
import { chunks, type App } from '../context';
import type { Db } from '../db/open';
import { ask, type Job } from '../jobs/jobs';
import { notFound, Refused } from '../problem';
import { markDirty } from '../vault/sidecar';

type State = FacesBefore['faces'][number]['state'];

interface FaceRow {
  id: number;
  picture_id: number;
  height_px: number;
  quality: number;
  vector_a: Buffer;
  vector_b: Buffer;
  state: State;
  person_id: number | null;
  named_by: 'hand' | 'machine' | null;
}

const floats = (b: Buffer): Float32Array => new Float32Array(b.buffer.slice(b.byteOffset, b.byteOffset + b.byteLength));

/** Looks at all faces of a library again: files the sure ones, keeps offers for the likely ones, groups the rest. */
export async function refreshFaces(app: App, { library }: Job): Promise<void> {
  const { db } = app;
  const rows = (await db('faces')
    .where('library_id', library)
    .whereIn('state', ['waiting', 'named'])
    // A face that was only marked by somebody has no description to go by.
    .whereRaw('LENGTH(vector_a) > 0')
    .orderBy('id')
    .select(
      'id',
      'picture_id',
      'height_px',
      'quality',
      'vector_a',
      'vector_b',
      'state',
      'person_id',
      'named_by',
    )) as FaceRow[];
  if (rows.length === 0) return;
  const faces = rows.map((r): LibraryFace => ({
    id: r.id,
    picture: r.picture_id,
    height: r.height_px,
    quality: r.quality,
    a: floats(r.vector_a),
    b: floats(r.vector_b),
    person: r.named_by === 'hand' ? r.person_id : null,
    byHand: r.named_by === 'hand',
  }));
  const refused = (
    (await db('face_refusals').where('library_id', library)) as { face_id: number; person_id: number }[]
  ).map((r) => `${r.face_id}|${r.person_id}`);
  const found = (await app.pool.run({ faces, refused }, { name: 'gather' })) as Gathered;
  const before = new Map(rows.map((r) => [r.id, r]));
  const filed = new Map(found.filed.map((f) => [f.face, f]));
  const likely = new Map(found.likely.map((l) => [l.face, l.candidates]));
  const group = new Map(found.groups.map((g) => [g.face, g.key]));
  const dirty: number[] = [];
  const updates = rows
    .filter((r) => r.named_by !== 'hand')
    .map((r) => {
      const mine = filed.get(r.id);
      const first: Candidate | undefined = likely.get(r.id)?.[0];
      if ((mine?.person ?? null) !== r.person_id) dirty.push(r.picture_id);
      return [
        r.id,
        mine?.person ?? null,
        first?.person ?? null,
        first?.score ?? mine?.score ?? null,
        first?.support ?? mine?.support ?? null,
        group.get(r.id) ?? null,
      ] as const;
    });
  // Whoever answered meanwhile has the last word: only faces that still stand as they were read are touched.
  for (const some of chunks(updates, 200))
    await db.transaction(async (trx) => {
      for (const [id, person, likelyPerson, score, support, key] of some) {
        const old = before.get(id)!;
        await trx('faces')
          .where({ id, state: old.state })
          .where((q) => (old.named_by ? q.where('named_by', old.named_by) : q.whereNull('named_by')))
          .update({
            state: person ? 'named' : 'waiting',
            person_id: person,
            named_by: person ? 'machine' : null,
            likely_person_id: likelyPerson,
            likely_score: score,
            likely_support: support,
            group_key: key,
          });
      }
    });
  await markDirty(db, library, [...new Set(dirty)]);
  app.changed(library, 'people', 'pictures', 'library');
}

interface WaitingFace {
  id: number;
  picture: number;
  day: string | null;
  key: number;
  person: number | null;
  score: number | null;
  support: number | null;
  quality: number;
}

const closeness = (score: number): Introduction['candidates'][number]['closeness'] =>
  score >= 0.6 ? 'Very close' : score >= 0.46 ? 'Close' : 'Perhaps';

/** Groups of faces nobody has named, those that can be answered for the most pictures first. Single strangers come last. */
export async function introductions(app: App, library: number): Promise<{ groups: Introduction[]; faces: number }> {
  const { db } = app;
  const rows = (await db('faces as f')
    .join('pictures as p', 'p.id', 'f.picture_id')
    .where({ 'f.library_id': library, 'f.state': 'waiting' })
    .whereNotNull('f.group_key')
    .where((q) => q.whereNull('f.later_until').orWhere('f.later_until', '<', db.raw('UTC_TIMESTAMP(3)')))
    .orderBy('f.quality', 'desc')
    .select(
      'f.id',
      'f.picture_id as picture',
      'p.day',
      'f.group_key as key',
      'f.likely_person_id as person',
      'f.likely_score as score',
      'f.likely_support as support',
      'f.quality',
    )) as WaitingFace[];
  const people = new Map(
    (
      (await db('people').where('library_id', library).select('id', 'name', 'portrait_face_id')) as {
        id: number;
        name: string;
        portrait_face_id: number | null;
      }[]
    ).map((p) => [p.id, p]),
  );
  const companions = await oftenWith(db, library, rows);
  const groups = new Map<number, WaitingFace[]>();
  for (const row of rows) groups.set(row.key, [...(groups.get(row.key) ?? []), row]);
  const result = [...groups.values()].map((faces): Introduction => {
    const votes = new Map<number, { sum: number; n: number; best: number; support: number }>();
    for (const f of faces)
      if (f.person !== null && people.has(f.person)) {
        const v = votes.get(f.person) ?? { sum: 0, n: 0, best: 0, support: 0 };
        votes.set(f.person, {
          sum: v.sum + (f.score ?? 0),
          n: v.n + 1,
          best: Math.max(v.best, f.score ?? 0),
          support: Math.max(v.support, f.support ?? 0),
        });
      }
    const days = faces
      .map((f) => f.day)
      .filter((d): d is string => d !== null)
      .sort();
    const beside = companions.get(faces[0]!.key) ?? [];
    return {
      key: faces[0]!.key,
      faces: faces.map((f) => ({ id: f.id, picture: f.picture, taken: f.day })),
      pictures: new Set(faces.map((f) => f.picture)).size,
      from: days[0] ?? null,
      to: days[days.length - 1] ?? null,
      candidates: [...votes]
        .sort((a, b) => b[1].sum - a[1].sum)
        .slice(0, 3)
        .map(([person, v]) => {
          const { name, portrait_face_id } = people.get(person)!;
          const like = `Like ${v.support === 1 ? 'one named picture' : `${v.support} named pictures`}`;
          const why = beside.length ? `${like}; beside ${list(beside.slice(0, 2))}` : like;
          return { person, name, portrait: portrait_face_id, closeness: closeness(v.best), why };
        }),
    };
  });
  // Two look-alikes close behind each other deserve a second look.
  for (const group of result)
    if (group.candidates.length > 1)
      group.candidates[1]!.why = `${group.candidates[1]!.why}. Look twice: close to ${group.candidates[0]!.name}`;
  result.sort(
    (a, b) =>
      Number(b.faces.length > 1) - Number(a.faces.length > 1) ||
      b.faces.length - a.faces.length ||
      Number(b.candidates.length > 0) - Number(a.candidates.length > 0) ||
      a.key - b.key,
  );
  return { groups: result, faces: rows.length };
}

/** Whom the faces of each group are most often beside, by first name. */
async function oftenWith(db: Db, library: number, rows: readonly WaitingFace[]): Promise<Map<number, string[]>> {
  const pictures = [...new Set(rows.map((r) => r.picture))];
  const names = new Map<number, string[]>();
  for (const some of chunks(pictures, 2000))
    for (const { picture_id, name } of (await db('faces as f')
      .join('people as n', 'n.id', 'f.person_id')
      .where('f.library_id', library)
      .whereIn('f.picture_id', some)
      .select('f.picture_id', db.raw("COALESCE(n.nickname, SUBSTRING_INDEX(n.name, ' ', 1)) AS name"))) as unknown as {
      picture_id: number;
      name: string;
    }[])
      names.set(picture_id, [...(names.get(picture_id) ?? []), name]);
  const counts = new Map<number, Map<string, number>>();
  for (const row of rows) {
    const count = counts.get(row.key) ?? new Map<string, number>();
    for (const name of names.get(row.picture) ?? []) count.set(name, (count.get(name) ?? 0) + 1);
    counts.set(row.key, count);
  }
  return new Map(
    [...counts].map(([key, count]) => [
      key,
      [...count]
        .filter(([, n]) => n > 1)
        .sort((a, b) => b[1] - a[1])
        .map(([name]) => name),
    ]),
  );
}

/** Faces that may be one person, the likeliest first. */
export async function likelyFaces(
  app: App,
  library: number,
  person: number,
): Promise<{ id: number; picture: number; why: string }[]> {
  const rows = (await app
    .db('faces')
    .where({ library_id: library, state: 'waiting', likely_person_id: person })
    .orderBy('likely_score', 'desc')
    .limit(200)
    .select('id', 'picture_id as picture', 'likely_score', 'likely_support')) as {
    id: number;
    picture: number;
    likely_score: number;
    likely_support: number;
  }[];
  return rows.map((r) => ({
    id: r.id,
    picture: r.picture,
    why: `${closeness(r.likely_score)}: like ${r.likely_support} named ${r.likely_support === 1 ? 'picture' : 'pictures'}`,
  }));
}

/** Files an answer about faces. Answers with the faces as they were, so that it can be undone. */
export async function answerFaces(app: App, library: number, answer: FaceAnswer): Promise<FacesBefore> {
  const { db } = app;
  const { faces, odd, is } = answer;
  const mine = faces.filter((id) => !odd.includes(id));
  const rows = (await db('faces')
    .where('library_id', library)
    .whereIn('id', faces)
    .select('id', 'picture_id', 'state', 'person_id', 'named_by', 'likely_person_id', 'quality')) as (FaceRow & {
    likely_person_id: number | null;
  })[];
  if (rows.length < new Set(faces).size) throw notFound('One of these faces');
  const before: FacesBefore = {
    faces: rows.map((r) => ({ id: r.id, state: r.state, person: r.person_id, namedBy: r.named_by })),
    newPerson: null,
    said: '',
    rejected: [],
  };
  const known = new Set(
    ((await db('face_refusals').whereIn('face_id', faces)) as { face_id: number; person_id: number }[]).map(
      (r) => `${r.face_id}|${r.person_id}`,
    ),
  );
  const refuse = (trx: Db, pairs: [number, number][]) => {
    const fresh = pairs.filter(([face, person]) => !known.has(`${face}|${person}`));
    before.rejected.push(...fresh);
    return fresh.length
      ? trx('face_refusals')
          .insert(fresh.map(([face_id, person_id]) => ({ library_id: library, face_id, person_id })))
          .onConflict()
          .ignore()
      : null;
  };
  await db.transaction(async (trx) => {
    if (typeof is === 'object') {
      let person: number;
      if ('newPerson' in is) {
        const name = is.newPerson.trim();
        const there = (await trx('people').where({ library_id: library, name }).first('id')) as
          { id: number } | undefined;
        if (there) person = there.id;
        else {
          [person] = (await trx('people').insert({ library_id: library, name })) as [number];
          before.newPerson = person;
        }
        before.said = name;
      } else {
        const row = (await trx('people').where({ library_id: library, id: is.person }).first('name')) as
          { name: string } | undefined;
        if (!row) throw notFound('This person');
        person = is.person;
        before.said = row.name;
      }
      const chosen = rows.filter((r) => mine.includes(r.id));
      await refuseDoubles(trx, library, person, chosen);
      await trx('faces').whereIn('id', mine).update({
        state: 'named',
        person_id: person,
        named_by: 'hand',
        group_key: null,
        likely_person_id: null,
        later_until: null,
      });
      await trx('face_refusals').whereIn('face_id', mine).where('person_id', person).delete();
      await refuse(
        trx,
        odd.filter((id) => faces.includes(id)).map((id) => [id, person]),
      );
      const best = [...chosen].sort((a, b) => b.quality - a.quality)[0];
      if (best)
        await trx('people')
          .where({ id: person, library_id: library })
          .whereNull('portrait_face_id')
          .update({ portrait_face_id: best.id });
    } else if (is === 'later') {
      before.said = 'later';
      await trx('faces')
        .whereIn('id', mine)
        .update({ later_until: trx.raw('UTC_TIMESTAMP(3) + INTERVAL 1 DAY') });
    } else if (is === 'unnamed') {
      before.said = 'not them';
      await refuse(
        trx,
        rows
          .filter((r) => mine.includes(r.id))
          .flatMap((r): [number, number][] =>
            [r.person_id, r.likely_person_id].filter((p) => p !== null).map((p) => [r.id, p]),
          ),
      );
      await trx('faces')
        .whereIn('id', mine)
        .update({ state: 'waiting', person_id: null, named_by: null, likely_person_id: null });
    } else {
      before.said = is;
      await trx('faces')
        .whereIn('id', mine)
        .update({ state: is, person_id: null, named_by: 'hand', group_key: null, likely_person_id: null });
    }
  });
  await afterAnswer(
    app,
    library,
    rows.map((r) => r.picture_id),
  );
  return before;
}

/** Nobody stands twice in one picture: a second face of a person is refused unless the machine put the first there. */
async function refuseDoubles(trx: Db, library: number, person: number, chosen: readonly FaceRow[]): Promise<void> {
  const pictures = chosen.map((r) => r.picture_id);
  if (new Set(pictures).size < pictures.length)
    throw new Refused(
      409,
      'Two of these faces are in one picture, so they cannot both be the same person. Tap one away first.',
    );
  const there = (await trx('faces')
    .where({ library_id: library, person_id: person })
    .whereIn('picture_id', pictures)
    .whereNotIn(
      'id',
      chosen.map((r) => r.id),
    )
    .select('id', 'named_by')) as { id: number; named_by: string }[];
  if (there.some((f) => f.named_by === 'hand'))
    throw new Refused(409, 'This person is already named in one of these pictures, and nobody is in a picture twice.');
  if (there.length)
    await trx('faces')
      .whereIn(
        'id',
        there.map((f) => f.id),
      )
      .update({ state: 'waiting', person_id: null, named_by: null });
}

async function afterAnswer(app: App, library: number, pictures: readonly number[]): Promise<void> {
  await markDirty(app.db, library, [...new Set(pictures)]);
  await ask(app.db, library, 'faces', 0, 1200);
  app.changed(library, 'people', 'pictures', 'library');
}

/** Undoes an answer: every face as it was, and a person made by it gone again when nothing else hangs on them. */
export async function restoreFaces(app: App, library: number, before: FacesBefore): Promise<void> {
  const { db } = app;
  const ids = before.faces.map((f) => f.id);
  const rows = (await db('faces').where('library_id', library).whereIn('id', ids).select('id', 'picture_id')) as {
    id: number;
    picture_id: number;
  }[];
  if (rows.length < ids.length) throw notFound('One of these faces');
  await db.transaction(async (trx) => {
    for (const face of before.faces)
      await trx('faces')
        .where('id', face.id)
        .update({ state: face.state, person_id: face.person, named_by: face.namedBy, later_until: null });
    for (const [face, person] of before.rejected)
      await trx('face_refusals').where({ library_id: library, face_id: face, person_id: person }).delete();
    if (before.newPerson) {
      const used = await trx('faces').where({ library_id: library, person_id: before.newPerson }).first('id');
      if (!used) await trx('people').where({ library_id: library, id: before.newPerson }).delete();
    }
  });
  await afterAnswer(
    app,
    library,
    rows.map((r) => r.picture_id),
  );
}
