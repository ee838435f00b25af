import type { ActKind, Answer, Api, Audience, AudienceOf, AudienceWhy, Gone, Meant } from '@gemmel/contract';
import { perform, type By } from '../act/perform';
import type { Table } from '../act/kept';
import { chunks, type App } from '../context';
import type { Db } from '../db/open';
import { notFound, refused } from '../problem';
import { AUDIENCES, atLeast, type Said } from './audience';
import { saidIn } from './said';

const KIND: ActKind = 'say audience';

/** Where it is kept for whom things are, and what they are when they are gone. */
const TABLES = {
  person: ['people', 'person'],
  circle: ['circles', 'circle'],
  album: ['albums', 'album'],
  device: ['devices', 'device'],
  place: ['own_places', 'place'],
} as const satisfies Record<Exclude<AudienceOf, 'pictures' | 'library'>, readonly [Table, Gone]>;

/** Says for whom pictures are, or what they belong to; null leaves it to what they belong to. */
export function sayAudience(
  app: App,
  by: By & { member: number },
  said:
    | { of: 'pictures'; ids: readonly number[]; audience: Audience | null }
    | { of: keyof typeof TABLES; id: number; audience: Audience | null }
    | { of: 'library'; audience: Exclude<Audience, 'me'> },
): Promise<{ act: number | null }> {
  return perform(app, by, KIND, async ({ trx, library, hold, words }) => {
    const set = { audience: said.audience, audience_by: said.audience === null ? null : by.member };
    if (said.of === 'library') {
      await hold('libraries', [library]);
      await trx('libraries').where('id', library).update({ audience: said.audience });
      words({ what: ['library', said.audience] });
      return;
    }
    words({ what: [said.of, said.audience ?? 'none'] });
    if (said.of === 'pictures') {
      const rows = await hold('pictures', said.ids);
      if (rows.length < new Set(said.ids).size) throw notFound('pictures');
      // What was said already stays as it was said, and by whom.
      for (const some of chunks(
        rows.filter((row) => row['audience'] !== said.audience).map((row) => Number(row['id'])),
        1000,
      ))
        await trx('pictures').where('library_id', library).whereIn('id', some).update(set);
      return;
    }
    const [table, thing] = TABLES[said.of];
    const [row] = await hold(table, [said.id]);
    const there = (await trx(table).where({ id: said.id, library_id: library }).first('name')) as
      { name: string } | undefined;
    if (!row || !there) throw notFound(thing);
    words({ name: there.name });
    if (row['audience'] !== said.audience) await trx(table).where('id', said.id).update(set);
  });
}

/** All that is said of people, circles, albums, devices and places, by name; and for whom everything else is. */
export async function audiencesOf({ db }: App, library: number): Promise<Answer<Api['audiences']>> {
  const { audience } = (await db('libraries').where('id', library).first('audience'))!;
  const said: Answer<Api['audiences']>['said'] = [];
  for (const [of, [table]] of Object.entries(TABLES) as [keyof typeof TABLES, readonly [Table, Gone]][])
    for (const row of (await db(table)
      .where('library_id', library)
      .whereNotNull('audience')
      .orderBy('name')
      .select('id', 'name', 'audience')) as { id: number; name: string; audience: Audience }[])
      said.push({ of, ...row });
  return { library: audience, said };
}

/** For whom some pictures are, as whoever asks is told. Those of nobody's else are only theirs. */
export async function meantOf(app: App, library: number, member: number, ids: readonly number[]): Promise<Meant> {
  const { db } = app;
  const { said, usual } = await saidIn(db, library);
  const counts = { me: 0, house: 0, family: 0, link: 0 };
  let own = 0;
  let there = 0;
  for (const some of chunks([...new Set(ids)], 5000)) {
    const levels = AUDIENCES.slice(1).map((least) => atLeast(least, { library, member: null, said, usual }));
    const [[row]] = (await db.raw(
      `SELECT COUNT(*) AS n, COALESCE(SUM(p.audience IS NOT NULL), 0) AS own,
         ${levels.map(({ sql }, i) => `COALESCE(SUM(${sql}), 0) AS l${i}`).join(', ')}
       FROM pictures p WHERE p.library_id = ? AND p.id IN (${some.map(() => '?').join(',')})`,
      [...levels.flatMap(({ values }) => values), library, ...some],
    )) as [[Record<'n' | 'own' | 'l0' | 'l1' | 'l2', number>]];
    const [n, house, family, link] = [row.n, row.l0, row.l1, row.l2].map(Number) as [number, number, number, number];
    counts.me += n - house;
    counts.house += house - family;
    counts.family += family - link;
    counts.link += link;
    own += Number(row.own);
    there += n;
  }
  if (there < new Set(ids).size) throw notFound('pictures');
  return { meant: counts, said: own, why: there === 1 ? await whyOf(db, library, ids[0]!, said) : null };
}

/** What makes a picture be for whom it is: what is said of itself, or the narrowest of what is said of what it belongs to. */
async function whyOf(db: Db, library: number, id: number, said: readonly Said[]): Promise<AudienceWhy> {
  const row = (await db('pictures')
    .where({ id, library_id: library })
    .first('audience', 'device_id', 'own_place_id')) as
    { audience: Audience | null; device_id: number | null; own_place_id: number | null } | undefined;
  if (!row) throw refused('unexpected');
  if (row.audience) return { of: 'pictures', name: null };
  const people = (await db('faces').where('picture_id', id).whereNotNull('person_id').distinct('person_id')).map(
    ({ person_id }) => person_id,
  );
  const albums = (await db('album_pictures').where('picture_id', id).select('album_id')).map(
    ({ album_id }) => album_id,
  );
  const mine = said
    .filter(
      (one) =>
        (one.of === 'person' && people.includes(one.id)) ||
        (one.of === 'album' && albums.includes(one.id)) ||
        (one.of === 'device' && row.device_id === one.id) ||
        (one.of === 'place' && row.own_place_id === one.id),
    )
    .sort((a, b) => AUDIENCES.indexOf(a.audience) - AUDIENCES.indexOf(b.audience));
  const first = mine[0];
  if (!first) return { of: 'library', name: null };
  const [table] = TABLES[first.of];
  const named = (await db(table).where('id', first.id).first('name')) as { name: string } | undefined;
  return { of: first.of, name: named?.name ?? null };
}
