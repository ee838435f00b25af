import type { Sureness } from '@gemmel/contract';
import { perform, type By } from '../act/perform';
import type { App } from '../context';
import type { Db } from '../db/open';
import { notFound } from '../problem';
import { UNDESCRIBED } from './answers';
import { forgetDescriptions } from './refresh';

interface Settings {
  recognise: number;
  ask_from: number;
  file_from: number;
}

const settingsOf = async (app: App, library: number): Promise<Settings> =>
  await app.db('libraries').where('id', library).first('recognise', 'ask_from', 'file_from');

/** How sure recognition must be in a library, and what that means on its own faces. */
export async function surenessOf(app: App, library: number): Promise<Sureness> {
  const { db } = app;
  const settings = await settingsOf(app, library);
  const rows = (await db('face_offers as o')
    .join('faces as f', 'f.id', 'o.face_id')
    .where({ 'o.library_id': library, 'o.nth': 0 })
    .where((q) => q.where('f.state', 'waiting').orWhere('f.named_by', 'machine'))
    .groupByRaw('step, o.may_file')
    .select(db.raw('FLOOR(o.certainty * 100) AS step, o.may_file AS may, COUNT(*) AS n'))) as unknown as {
    step: number;
    may: number;
    n: number;
  }[];
  const faces = new Array<number>(101).fill(0);
  const mayFile = new Array<number>(101).fill(0);
  for (const { step, may, n } of rows) {
    faces[Number(step)]! += Number(n);
    if (may) mayFile[Number(step)]! += Number(n);
  }
  const alike = (await db('look_alikes as l')
    .join('people as a', 'a.id', 'l.person_id')
    .join('people as b', 'b.id', 'l.other_id')
    .where('l.library_id', library)
    .orderBy('a.name')
    .select('a.name as a', 'b.name as b')) as { a: string; b: string }[];
  const [[{ open, every, answers }]] = (await db.raw(
    `SELECT (SELECT COUNT(*) FROM pictures WHERE library_id = l.id AND NOT faces_sought) AS open,
       (SELECT COUNT(*) FROM pictures WHERE library_id = l.id) AS every,
       (SELECT COUNT(*) FROM faces WHERE library_id = l.id AND state = 'named' AND named_by = 'hand')
         + (SELECT COUNT(*) FROM face_refusals WHERE library_id = l.id) AS answers
     FROM libraries l WHERE l.id = ?`,
    [library],
  )) as [[{ open: number; every: number; answers: number }]];
  return {
    recognises: Boolean(settings.recognise),
    ask: Number(settings.ask_from.toFixed(2)),
    file: Number(settings.file_from.toFixed(3)),
    answers,
    faces,
    mayFile,
    alike: alike.map(({ a, b }) => [a, b]),
    seeking: settings.recognise && open ? { done: every - open, of: every } : null,
  };
}

/** Sets how sure recognition must be; what is filed follows at once. */
export const setSureness = (
  app: App,
  by: By,
  sureness: { ask: number; file: number },
): Promise<{ act: number | null }> =>
  perform(app, by, 'sureness', async ({ trx, library, hold, words }) => {
    await hold('libraries', [library]);
    await trx('libraries').where('id', library).update({ ask_from: sureness.ask, file_from: sureness.file });
    words({ n: Math.round(sureness.file * 1000) });
  });

/** Deletes what describes the faces of a library, and the marks nobody has named; names stay. Answers how many there were. */
export async function describeNone(trx: Db, library: number): Promise<number> {
  const [{ n }] = (await trx('faces')
    .where('library_id', library)
    .whereRaw('LENGTH(vector_a) > 0')
    .select(trx.raw('COUNT(*) AS n'))) as [{ n: number }];
  await trx('face_offers').where('library_id', library).delete();
  await trx('look_alikes').where('library_id', library).delete();
  await trx('face_perhaps').where('library_id', library).delete();
  await trx('binned').where('library_id', library).whereNotNull('described').update({ described: null });
  await trx('faces').where({ library_id: library, state: 'waiting', drawn: false }).delete();
  await trx('faces')
    .where('library_id', library)
    .update({ ...UNDESCRIBED, likely_person_id: null, group_key: null });
  await trx('pictures').where('library_id', library).update({ faces_sought: false });
  return Number(n);
}

/** Deletes what describes the faces of a person; their names stay. Answers how many there were. */
export async function describePersonNot(trx: Db, library: number, person: number): Promise<number> {
  const mine = { library_id: library, person_id: person };
  await trx('face_offers').where(mine).delete();
  // Who is in the pictures of the bin is packed: none of their faces stays described.
  await trx('binned').where('library_id', library).whereNotNull('described').update({ described: null });
  await trx('faces').where({ library_id: library, likely_person_id: person }).update({ likely_person_id: null });
  return Number(await trx('faces').where(mine).whereRaw('LENGTH(vector_a) > 0').update(UNDESCRIBED));
}

/** Has the pictures of a person looked through anew. */
export const describePersonAgain = (trx: Db, library: number, person: number): Promise<number> =>
  trx('pictures')
    .whereIn(
      'id',
      trx('faces')
        .where({ library_id: library, person_id: person })
        .whereRaw('LENGTH(vector_a) = 0')
        .select('picture_id'),
    )
    .update({ faces_sought: false });

/**
 * Switches recognition of a library off or on. Off: what describes faces (512 and 192 numbers, clothes) is deleted at once,
 * and so are marks nobody has named; names stay. On: faces are looked for again in every picture, behind people's backs.
 * Answers how many descriptions were deleted.
 */
export async function setRecognition(app: App, by: By, on: boolean): Promise<{ deleted: number; act: number | null }> {
  const done = await perform(app, by, 'recognition', async ({ trx, library, hold, words }) => {
    const [before] = await hold('libraries', [library]);
    words({ favourite: on });
    if (Boolean(before!['recognise']) === on) return { deleted: 0 };
    await trx('libraries').where('id', library).update({ recognise: on });
    return { deleted: on ? 0 : await describeNone(trx, library) };
  });
  if (!on) forgetDescriptions(app, by.library);
  return done;
}

/**
 * Never recognises a person, or does again. Never: what describes their faces is deleted at once; their names stay. Again:
 * their pictures are looked through anew. Answers how many descriptions were deleted.
 */
export async function recognisePerson(
  app: App,
  by: By,
  person: number,
  on: boolean,
): Promise<{ deleted: number; act: number | null }> {
  const done = await perform(app, by, 'recognise person', async ({ trx, library, hold, words }) => {
    const [before] = await hold('people', [person]);
    if (!before) throw notFound('person');
    words({ name: String(before['name']), favourite: on });
    if (Boolean(before['recognised']) === on) return { deleted: 0 };
    await trx('people').where('id', person).update({ recognised: on });
    if (!on) return { deleted: await describePersonNot(trx, library, person) };
    await describePersonAgain(trx, library, person);
    return { deleted: 0 };
  });
  if (!on) forgetDescriptions(app, by.library);
  return done;
}
