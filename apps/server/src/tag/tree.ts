import type { Twin } from '@gemmel/contract';
import { findTwins, fold, type Language, type Question } from '@gemmel/core';
import { perform, type Act, type By } from '../act/perform';
import { chunks, type App } from '../context';
import type { Db } from '../db/open';
import { notFound, refused } from '../problem';
import { idsOf } from '../picture/pictures';
import { namesOf } from '../question/named';
import { branchOf, isAbove, listTags, tagBelow } from './tags';

/** Makes a tag by its path from the widest word on. */
export const makeTag = (app: App, by: By, path: readonly string[]): Promise<{ id: number; act: number | null }> =>
  perform(app, by, 'make tag', async ({ trx, library, made, words }) => {
    let parent: number | null = null;
    for (const word of path) {
      const id: number | null = await tagBelow(trx, library, parent, word, (fresh) => made('tags', fresh));
      if (id !== null) parent = id;
    }
    if (parent === null) throw refused('does-not-fit');
    words({ name: path.join(' › ') });
    return { id: parent };
  });

async function theTag({ hold }: Act, id: number) {
  const [row] = await hold('tags', [id]);
  if (!row) throw notFound('tag');
  return { name: String(row['name']), folded: String(row['folded']), parent: row['parent_id'] as number | null };
}

/** The words that name a tag besides its own. */
async function setSpellings({ trx, library, hold, made }: Act, id: number, own: string, names: readonly string[]) {
  await hold(
    'tag_names',
    (await trx('tag_names').where('tag_id', id).select('id')).map((row) => row.id),
  );
  const wanted = new Map(names.map((name) => [fold(name).slice(0, 500), name]));
  wanted.delete(own);
  wanted.delete('');
  const there = await trx('tag_names').where('tag_id', id).select('id', 'folded');
  const gone = there.filter((row) => !wanted.has(row.folded)).map((row) => row.id);
  if (gone.length) await trx('tag_names').whereIn('id', gone).delete();
  for (const [folded, name] of wanted) {
    if (there.some((row) => row.folded === folded)) continue;
    const other = await trx('tag_names').where({ library_id: library, folded }).whereNot('tag_id', id).first('tag_id');
    if (other) throw refused('spelling-taken', { name });
    const [fresh] = (await trx('tag_names').insert({ library_id: library, tag_id: id, name, folded })) as [number];
    made('tag_names', fresh);
  }
}

/** Renames a tag everywhere, moves it below another or to the top, says its other spellings. */
export const changeTag = (
  app: App,
  by: By,
  id: number,
  change: { name?: string | undefined; parent?: number | null | undefined; spellings?: readonly string[] | undefined },
): Promise<{ act: number | null }> =>
  perform(app, by, 'change tag', async (act) => {
    const { trx, library, words } = act;
    const tag = await theTag(act, id);
    const parent = change.parent === undefined ? tag.parent : change.parent;
    const name = change.name?.trim() ?? tag.name;
    const folded = fold(name).slice(0, 500);
    if (!folded) throw refused('does-not-fit');
    if (parent !== null) {
      const above = await trx('tags').where({ id: parent, library_id: library }).forUpdate().first('name');
      if (!above) throw notFound('tag');
      if (await isAbove(trx, library, id, parent)) throw refused('tag-in-itself');
      if (change.parent !== undefined) words({ to: above.name });
    }
    const branch = branchOf(parent, folded);
    const taken = await trx('tags').where({ library_id: library, branch }).whereNot('id', id).first('id');
    if (taken) throw refused('tag-taken', { name });
    words({
      name: tag.name,
      what: Object.keys(change),
      ...(change.name === undefined ? {} : { to: name }),
    });
    if (change.name !== undefined || change.parent !== undefined)
      await trx('tags').where({ id, library_id: library }).update({ name, folded, parent_id: parent, branch });
    if (change.spellings) await setSpellings(act, id, folded, change.spellings);
  });

/** What a tag was said not to be goes with it. */
async function forgetApart({ trx, library, hold }: Act, id: number): Promise<void> {
  const apart = await trx('tag_apart')
    .where('tag_id', id)
    .orWhere({ other: `tag ${id}`, library_id: library })
    .select('tag_id');
  await hold(
    'tag_apart',
    apart.map((row) => row.tag_id),
  );
  await trx('tag_apart').where('tag_id', id).delete();
  await trx('tag_apart')
    .where({ library_id: library, other: `tag ${id}` })
    .delete();
}

/** The pictures that bear a tag. */
const bearing = async (db: Db, id: number): Promise<number[]> =>
  (await db('picture_tags').where('tag_id', id).select('picture_id')).map((row) => row.picture_id);

/** Joins a tag into another: its pictures, what is below it and its spellings go along, and its word becomes a spelling. */
export const joinTags = (app: App, by: By, id: number, to: number): Promise<{ act: number | null; pictures: number }> =>
  perform(app, by, 'join tags', async (act) => {
    const { trx, library, hold, made, words } = act;
    if (id === to) throw refused('tag-in-itself');
    const tag = await theTag(act, id);
    const target = await theTag(act, to);
    if (await isAbove(trx, library, id, to)) throw refused('tag-in-itself');
    const pictures = await bearing(trx, id);
    words({ name: tag.name, to: target.name, n: pictures.length });
    await hold('picture_tags', pictures);
    for (const some of chunks(pictures, 1000)) {
      await trx('picture_tags')
        .insert(some.map((picture_id) => ({ library_id: library, picture_id, tag_id: to })))
        .onConflict()
        .ignore();
      await trx('picture_tags').where('tag_id', id).whereIn('picture_id', some).delete();
    }
    for (const child of await trx('tags').where('parent_id', id).select('id', 'name', 'folded')) {
      const branch = branchOf(to, child.folded);
      if (await trx('tags').where({ library_id: library, branch }).first('id'))
        throw refused('tag-taken', { name: child.name });
      await hold('tags', [child.id]);
      await trx('tags').where('id', child.id).update({ parent_id: to, branch });
    }
    const spellings = await trx('tag_names').where('tag_id', id).select('id', 'folded', 'name');
    await hold(
      'tag_names',
      spellings.map((row) => row.id),
    );
    await trx('tag_names').where('tag_id', id).delete();
    const there = new Set((await trx('tag_names').where('tag_id', to).select('folded')).map((row) => row.folded));
    await forgetApart(act, id);
    await trx('tags').where({ id, library_id: library }).delete();
    for (const word of [...spellings, tag]) {
      if (word.folded === target.folded || there.has(word.folded)) continue;
      there.add(word.folded);
      const [fresh] = (await trx('tag_names').insert({
        library_id: library,
        tag_id: to,
        name: word.name,
        folded: word.folded,
      })) as [number];
      made('tag_names', fresh);
    }
    return { pictures: pictures.length };
  });

/** Takes a tag off all pictures, or off some of them; the word stays. */
export const clearTag = (
  app: App,
  by: By,
  id: number,
  where?: Question,
): Promise<{ act: number | null; pictures: number }> =>
  perform(app, by, 'clear tag', async (act) => {
    const { trx, library, hold, words } = act;
    const tag = await theTag(act, id);
    const all = await bearing(trx, id);
    const asked = where && new Set(await idsOf(app, library, { all: [where, { tag: id }] }));
    const pictures = asked ? all.filter((one) => asked.has(one)) : all;
    words({ name: tag.name, n: pictures.length });
    await hold('picture_tags', pictures);
    for (const some of chunks(pictures, 1000))
      await trx('picture_tags').where({ library_id: library, tag_id: id }).whereIn('picture_id', some).delete();
    return { pictures: pictures.length };
  });

/** Removes a tag, off all pictures; what is below it moves up to where it stood. */
export const removeTag = (app: App, by: By, id: number): Promise<{ act: number | null; pictures: number }> =>
  perform(app, by, 'remove tag', async (act) => {
    const { trx, library, hold, words } = act;
    const tag = await theTag(act, id);
    const pictures = await bearing(trx, id);
    words({ name: tag.name, n: pictures.length });
    await hold('picture_tags', pictures);
    for (const some of chunks(pictures, 1000))
      await trx('picture_tags').where({ library_id: library, tag_id: id }).whereIn('picture_id', some).delete();
    for (const child of await trx('tags').where('parent_id', id).select('id', 'folded', 'name')) {
      const branch = branchOf(tag.parent, child.folded);
      if (await trx('tags').where({ library_id: library, branch }).first('id'))
        throw refused('tag-taken', { name: child.name });
      await hold('tags', [child.id]);
      await trx('tags').where('id', child.id).update({ parent_id: tag.parent, branch });
    }
    await hold(
      'tag_names',
      (await trx('tag_names').where('tag_id', id).select('id')).map((row) => row.id),
    );
    await trx('tag_names').where('tag_id', id).delete();
    await forgetApart(act, id);
    await trx('tags').where({ id, library_id: library }).delete();
    return { pictures: pictures.length };
  });

/** How something else is written in the list of what is different. */
const otherKey = (other: Twin['other']): string =>
  'tag' in other
    ? `tag ${other.tag}`
    : 'person' in other
      ? `person ${other.person}`
      : 'place' in other
        ? `place ${other.place}`.slice(0, 60)
        : `year ${other.year}`;

/** Says for good that a tag and what it looks like are different. */
export const keepApart = (app: App, by: By, id: number, other: Twin['other']): Promise<{ act: number | null }> =>
  perform(app, by, 'keep tags apart', async (act) => {
    const { trx, library, hold, words } = act;
    const tag = await theTag(act, id);
    await hold('tag_apart', [id]);
    const name =
      'tag' in other
        ? (await trx('tags').where({ id: other.tag, library_id: library }).first('name'))?.name
        : 'person' in other
          ? other.name
          : 'place' in other
            ? other.place
            : `${other.year}`;
    if (name === undefined) throw notFound('tag');
    words({ name: tag.name, to: name });
    await trx('tag_apart')
      .insert({ library_id: library, tag_id: id, other: otherKey(other) })
      .onConflict()
      .ignore();
  });

/** Words of a library that may say the same. */
export async function listTwins(app: App, library: number): Promise<Twin[]> {
  const { db } = app;
  const tags = (await listTags(db, library)).filter((tag) => tag.pictures > 0);
  const { vocabulary } = await namesOf(db, library);
  const { language } = (await db('libraries').where('id', library).first('language'))! as { language: Language };
  const apart = new Set(
    (await db('tag_apart').where('library_id', library).select('tag_id', 'other')).map(
      (row) => `${row.tag_id} ${row.other}`,
    ),
  );
  const found = findTwins(
    tags,
    {
      people: vocabulary.people ?? [],
      places: [...(vocabulary.places ?? []), ...(vocabulary.own ?? [])].map(({ name }) => name),
    },
    language,
    (tag, other) => apart.has(`${tag} ${other.slice(0, 60)}`),
  );
  // Who gives both words to one picture means both.
  const pairs = found.flatMap(({ tag, other }) => ('tag' in other ? [[tag, other.tag] as const] : []));
  const both = new Set<string>();
  for (const some of chunks(pairs, 200)) {
    const [rows] = (await db.raw(
      `SELECT a.tag_id AS a, b.tag_id AS b, COUNT(*) AS n FROM picture_tags a JOIN picture_tags b ON b.picture_id = a.picture_id
       WHERE (a.tag_id, b.tag_id) IN (${some.map(() => '(?,?)').join(',')}) GROUP BY a.tag_id, b.tag_id`,
      some.flat(),
    )) as [{ a: number; b: number; n: number }[]];
    for (const row of rows) if (Number(row.n) > 0) both.add(`${row.a} ${row.b}`);
  }
  return found.filter(
    ({ tag, other, why }) => !('tag' in other) || why !== 'letters' || !both.has(`${tag} ${other.tag}`),
  );
}

/** Tags that are often given together with one. */
export async function tagsBeside(
  app: App,
  library: number,
  id: number,
): Promise<{ id: number; name: string; pictures: number }[]> {
  const rows = (await app
    .db('picture_tags as a')
    .join('picture_tags as b', 'b.picture_id', 'a.picture_id')
    .join('tags as t', 't.id', 'b.tag_id')
    .where({ 'a.library_id': library, 'a.tag_id': id })
    .whereNot('b.tag_id', id)
    .groupBy('t.id')
    .orderByRaw('pictures DESC, t.folded')
    .limit(12)
    .select('t.id', 't.name', app.db.raw('COUNT(*) AS pictures'))) as unknown as {
    id: number;
    name: string;
    pictures: number;
  }[];
  return rows.map((row) => ({ ...row, pictures: Number(row.pictures) }));
}

/** The likeliest tags for some pictures, the likeliest first: of the same event, people and place, and those given last. */
export async function likelyTags(
  app: App,
  { library, member }: By,
  ids: readonly number[],
): Promise<{ id: number; name: string; why: 'last' | 'event' | 'people' | 'place' }[]> {
  const { db } = app;
  const marks = ids.map(() => '?').join(',');
  const score = new Map<number, { n: number; why: 'last' | 'event' | 'people' | 'place' }>();
  const add = (
    rows: readonly { tag: number; n: number | string }[],
    weight: number,
    why: 'last' | 'event' | 'people' | 'place',
  ) => {
    const most = Math.max(1, ...rows.map((row) => Number(row.n)));
    for (const { tag, n } of rows) {
      const worth = (weight * Number(n)) / most;
      const there = score.get(tag);
      score.set(tag, { n: (there?.n ?? 0) + worth, why: there && there.n >= worth ? there.why : why });
    }
  };
  const ask = async (sql: string, values: unknown[]) =>
    ((await db.raw(sql, values as number[])) as [{ tag: number; n: number }[]])[0];
  add(
    await ask(
      `SELECT pt.tag_id AS tag, COUNT(*) AS n FROM pictures p JOIN pictures q ON q.library_id = p.library_id AND q.event_id = p.event_id
       JOIN picture_tags pt ON pt.picture_id = q.id WHERE p.library_id = ? AND p.id IN (${marks}) GROUP BY pt.tag_id ORDER BY n DESC LIMIT 12`,
      [library, ...ids],
    ),
    3,
    'event',
  );
  add(
    await ask(
      `SELECT pt.tag_id AS tag, COUNT(*) AS n FROM (SELECT DISTINCT f.person_id FROM faces f WHERE f.picture_id IN (${marks}) AND f.person_id IS NOT NULL LIMIT 6) w
       JOIN faces g ON g.person_id = w.person_id JOIN picture_tags pt ON pt.picture_id = g.picture_id AND pt.library_id = ?
       GROUP BY pt.tag_id ORDER BY n DESC LIMIT 8`,
      [...ids, library],
    ),
    1,
    'people',
  );
  add(
    await ask(
      `SELECT pt.tag_id AS tag, COUNT(*) AS n FROM (SELECT DISTINCT p.country, p.place FROM pictures p WHERE p.library_id = ? AND p.id IN (${marks}) AND p.place IS NOT NULL LIMIT 3) w
       JOIN pictures q ON q.library_id = ? AND q.country = w.country AND q.place = w.place JOIN picture_tags pt ON pt.picture_id = q.id
       GROUP BY pt.tag_id ORDER BY n DESC LIMIT 8`,
      [library, ...ids, library],
    ),
    1,
    'place',
  );
  // The words somebody gave last, the latest first.
  const acts = (await db('acts')
    .where({ library_id: library, kind: 'tag' })
    .where((q) => void (member === null ? q : q.where('member_id', member)))
    .orderBy('id', 'desc')
    .limit(30)
    .select('words')) as { words: string }[];
  const last = [...new Set(acts.flatMap(({ words }) => (JSON.parse(words) as { what?: string[] }).what ?? []))].slice(
    0,
    8,
  );
  if (last.length) {
    const rows = await db('tags').where('library_id', library).whereIn('folded', last.map(fold)).select('id', 'folded');
    for (const [i, word] of last.entries()) {
      const row = rows.find((one) => one.folded === fold(word));
      if (row) add([{ tag: row.id, n: 1 }], 2.2 - i * 0.2, 'last');
    }
  }
  const best = [...score].sort((a, b) => b[1].n - a[1].n || a[0] - b[0]).slice(0, 10);
  const names = new Map(
    (
      await db('tags')
        .where('library_id', library)
        .whereIn(
          'id',
          best.map(([id]) => id),
        )
        .select('id', 'name')
    ).map((row) => [row.id, row.name]),
  );
  return best.flatMap(([id, { why }]) => (names.has(id) ? [{ id, name: names.get(id)!, why }] : []));
}
