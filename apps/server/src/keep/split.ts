import path from 'node:path';
import { stat } from 'node:fs/promises';
import type { SplitState } from '@gemmel/contract';
import { perform, type By } from '../act/perform';
import { restore } from '../bin/acts';
import { binPictures } from '../bin/bin';
import { chunks, type App } from '../context';
import type { Db } from '../db/open';
import { openBatch } from '../intake/announce';
import { ask } from '../jobs/jobs';
import { defineJob, type Job } from '../jobs/kind';
import { refuseForeign } from '../library/own';
import { notFound, refused } from '../problem';
import { withFiles } from '../vault/lock';
import { libraryFolder } from '../vault/vault';
import { bringChapters, bringRefusals } from './along';
import { sayAs } from '../safe/earlier';
import { markDirty, saidOf, writeBeside, type Said } from '../vault/sidecar';

/** How long others are let go first before it is looked again whether all has arrived, in ms. */
const LOOK = 1500;

/**
 * Has pictures go to another library of the same account, with what was said of them: they are given there, and binned here once they are there whole.
 * Until then both have them, and from the bin here they can be brought back.
 */
export async function splitOff(
  app: App,
  by: By & { account: number },
  ids: readonly number[],
  to: string,
): Promise<{ id: number }> {
  const { db } = app;
  await refuseForeign(db, by.library, 'pictures', ids, 'picture');
  const target = (await db('libraries as l')
    .join('members as m', 'm.library_id', 'l.id')
    .where({ 'l.slug': to, 'm.account_id': by.account, 'm.part': 'keeper' })
    .whereNull('m.left_at')
    .whereNull('l.removed_at')
    .first('l.id')) as { id: number } | undefined;
  if (!target) throw notFound('library');
  if (target.id === by.library) throw refused('same-library');
  const id = await db.transaction(async (trx) => {
    const [made] = await trx('splits').insert({
      library_id: by.library,
      to_library: target.id,
      member_id: by.member,
    });
    for (const some of chunks([...new Set(ids)], 1000))
      await trx.raw(
        `INSERT INTO split_pictures (split_id, library_id, picture_id, sha256) SELECT ?, library_id, id, sha256 FROM pictures
         WHERE library_id = ? AND id IN (${some.map(() => '?').join(',')})`,
        [made!, by.library, ...some],
      );
    return made!;
  });
  await ask(db, by.library, 'split', id);
  app.changed(by.library, 'library');
  return { id };
}

/** Rows of one library made in another by name, with what is said of them; answers with which is which. */
async function bring(
  trx: Db,
  table: 'people' | 'marks' | 'own_places' | 'circles',
  name: string,
  columns: readonly string[],
  rows: readonly Record<string, unknown>[],
  to: number,
): Promise<Map<number, number>> {
  const same = new Map<number, number>();
  for (const row of rows) {
    const there = (await trx(table as string)
      .where('library_id', to)
      .where(name, row[name] as string)
      .first('id')) as { id: number } | undefined;
    if (there) same.set(Number(row['id']), there.id);
    else {
      const [made] = (await trx(table as string).insert({
        library_id: to,
        ...Object.fromEntries(columns.map((column) => [column, row[column]])),
      })) as [number];
      same.set(Number(row['id']), made);
    }
  }
  return same;
}

/** Makes in the other library what pictures speak of and no sidecar says: people with births and circles, events, own places, marks. */
async function bringAlong(trx: Db, split: number, from: number, to: number): Promise<void> {
  const pictures = () => trx('split_pictures').where('split_id', split).select('picture_id');
  const people = await trx('people')
    .where('library_id', from)
    .whereIn('id', trx('faces').whereIn('picture_id', pictures()).whereNotNull('person_id').distinct('person_id'));
  const who = await bring(
    trx,
    'people',
    'name',
    ['name', 'nickname', 'born', 'favourite', 'hidden', 'recognised'],
    people as never,
    to,
  );
  const inCircles = await trx('circle_people')
    .where('library_id', from)
    .whereIn('person_id', [...who.keys()])
    .select('circle_id', 'person_id');
  const circles = await trx('circles')
    .where('library_id', from)
    .whereIn(
      'id',
      inCircles.map(({ circle_id }) => circle_id),
    );
  const round = await bring(trx, 'circles', 'name', ['name', 'position'], circles as never, to);
  for (const { circle_id, person_id } of inCircles)
    await trx('circle_people')
      .insert({ library_id: to, circle_id: round.get(circle_id)!, person_id: who.get(person_id)! })
      .onConflict()
      .ignore();
  const own = await trx('own_places')
    .where('library_id', from)
    .whereIn('id', trx('pictures').whereIn('id', pictures()).whereNotNull('own_place_id').distinct('own_place_id'));
  await bring(trx, 'own_places', 'name', ['name', 'lat', 'lon', 'metres', 'hidden'], own as never, to);
  const marks = await trx('marks')
    .where('library_id', from)
    .whereIn('id', trx('pictures').whereIn('id', pictures()).whereNotNull('mark_id').distinct('mark_id'));
  await bring(trx, 'marks', 'meaning', ['meaning', 'colour', 'shape', 'position'], marks as never, to);
  for (const event of await trx('events')
    .where('library_id', from)
    .whereNotNull('title')
    .whereIn('id', trx('pictures').whereIn('id', pictures()).whereNotNull('event_id').distinct('event_id'))) {
    const { title, start_day, end_day, place } = event;
    if (!(await trx('events').where({ library_id: to, title, start_day }).first('id')))
      await trx('events').insert({
        library_id: to,
        title,
        start_day,
        end_day,
        place,
        made_by: 'hand',
        span_by_hand: true,
      });
  }
}

/** Brings back what lies in the bin of the other library: it came from there, or was there before. */
async function outOfBin(app: App, split: number, to: number): Promise<void> {
  const { db } = app;
  const rows = await db('split_pictures as s')
    .join('binned as b', (on) => on.on('b.sha256', 's.sha256').andOnVal('b.library_id', to).andOnVal('b.state', 'in'))
    .where('s.split_id', split)
    .select('b.id', 's.picture_id');
  if (rows.length === 0) return;
  for (const some of chunks(rows, 1000))
    await db('split_pictures')
      .where('split_id', split)
      .whereIn(
        'picture_id',
        some.map((row) => row.picture_id as number),
      )
      .update({ restored: true });
  await restore(app, { library: to, member: null }, { ids: rows.map((row) => row.id as number) });
}

/** Says of pictures that came out of the bin there what is said of them here. */
async function sayThere(app: App, split: number, from: number, to: number): Promise<void> {
  const rows = (await app
    .db('split_pictures as s')
    .join('pictures as t', (on) => on.on('t.sha256', 's.sha256').andOnVal('t.library_id', to))
    .where({ 's.split_id': split, 's.restored': true })
    .select('s.picture_id', 't.id')) as { picture_id: number; id: number }[];
  for (const some of chunks(rows, 200)) {
    const said = await saidOf(
      app.db,
      from,
      some.map((row) => row.picture_id),
    );
    for (const { picture_id, id } of some) {
      const words = said.get(picture_id);
      if (words) await sayAs(app, { library: to, member: null }, id, inPaths(words));
    }
  }
}

/** Tags as ways from the widest word, as a sidecar that is read tells them. */
function inPaths(said: Said) {
  const ways = new Map(said.paths.map((one) => [one.at(-1)!, one]));
  return { ...said, tags: said.tags.map((name) => ways.get(name) ?? [name]) };
}

/** What no file says: hearts of members who belong to both libraries, other spellings of tags, whose a face is not, and headings of albums. */
async function bringAfter(trx: Db, split: number, from: number, to: number): Promise<void> {
  await trx.raw(
    `INSERT IGNORE INTO hearts (library_id, picture_id, member_id, at)
     SELECT t.library_id, t.id, o.id, h.at FROM split_pictures s
       JOIN hearts h ON h.picture_id = s.picture_id JOIN members m ON m.id = h.member_id
       JOIN members o ON o.library_id = ? AND o.account_id = m.account_id
       JOIN pictures t ON t.library_id = o.library_id AND t.sha256 = s.sha256
     WHERE s.split_id = ?`,
    [to, split],
  );
  await trx.raw(
    `INSERT IGNORE INTO tag_names (library_id, tag_id, name, folded)
     SELECT t.library_id, t.id, n.name, n.folded FROM tag_names n JOIN tags f ON f.id = n.tag_id
       JOIN tags t ON t.library_id = ? AND t.folded = f.folded WHERE n.library_id = ?`,
    [to, from],
  );
  await bringRefusals(trx, split, to);
  await bringChapters(trx, split, from, to);
}

/** The files of pictures that go: each original, what is written beside it, and what is kept with it. */
async function filesOf(app: App, split: number, root: string) {
  const { db } = app;
  const files: { path: string; bytes: number; modified: number; source: string }[] = [];
  const add = async (at: string) => {
    const source = path.join(root, at);
    const info = await stat(source).catch(() => null);
    if (info?.isFile()) files.push({ path: at, bytes: info.size, modified: info.mtimeMs, source });
  };
  const rows = await db('pictures as p')
    .join('split_pictures as s', 's.picture_id', 'p.id')
    .where('s.split_id', split)
    .orderBy('p.id')
    .select('p.id', 'p.vault_path');
  for (const { id, vault_path } of rows) {
    await add(vault_path as string);
    await add(`${vault_path as string}.xmp`);
    for (const beside of await db('picture_files').where('picture_id', id).select('vault_path'))
      await add(beside.vault_path);
  }
  return files;
}

/** Gives the pictures to the other library, as a batch that is called like this one. */
async function give(app: App, id: number, from: number, to: number): Promise<void> {
  const { db } = app;
  const { slug, name } = (await db('libraries').where('id', from).first('slug', 'name'))!;
  const ids = (await db('split_pictures').where('split_id', id).select('picture_id')).map((row) => row.picture_id);
  await withFiles(app, from, async () => {
    for (const some of chunks(ids, 100)) {
      await markDirty(db, from, some);
      await writeBeside(app, from, some);
    }
  });
  await db.transaction((trx) => bringAlong(trx, id, from, to));
  await outOfBin(app, id, to);
  const files = await filesOf(app, id, libraryFolder(app, slug));
  const batch = await openBatch(app, to, name, files, { way: 'folder' });
  await db('splits').where({ id, state: 'giving' }).update({ batch_id: batch.id });
}

/** One look at how far pictures are that go to another library. */
async function split(app: App, { library, about: id, report, signal }: Job): Promise<void> {
  const { db } = app;
  const row = await db('splits').where({ id, library_id: library }).first();
  if (!row || row.state === 'done' || row.state === 'stopped') return;
  if (row.batch_id === null) await give(app, id, library, row.to_library);
  const now = (await db('splits').where('id', id).first())!;
  const batch = await db('batches').where('id', now.batch_id!).first('state');
  const [{ n }] = (await db('split_pictures').where('split_id', id).count('* as n')) as unknown as [{ n: number }];
  const arrived = async () =>
    (await db('split_pictures as s')
      .join('pictures as t', (on) => on.on('t.sha256', 's.sha256').andOnVal('t.library_id', now.to_library))
      .where('s.split_id', id)
      .whereNotNull('t.verified_at')
      .select('s.picture_id')) as { picture_id: number }[];
  if (signal.aborted || !batch || batch.state === 'stopped') {
    await db('splits').where('id', id).update({ state: 'stopped' });
    return;
  }
  const there = await arrived();
  report(there.length, Number(n));
  // What is there is read back first: only then it leaves here.
  if (
    batch.state !== 'done' ||
    (await db('jobs')
      .where({ library_id: now.to_library, kind: 'verify' })
      .whereIn('state', ['ready', 'running'])
      .first('id'))
  )
    return ask(db, library, 'split', id, LOOK);
  if (there.length < Number(n) && now.state === 'giving') {
    await db('splits').where('id', id).update({ state: 'binning' });
    await ask(db, now.to_library, 'verify');
    return ask(db, library, 'split', id, LOOK);
  }
  await sayThere(app, id, library, now.to_library);
  await db.transaction((trx) => bringAfter(trx, id, library, now.to_library));
  const { name } = (await db('libraries').where('id', now.to_library).first('name'))!;
  if (there.length)
    await perform(app, { library, member: now.member_id }, 'to another library', async (act) => {
      const went = await binPictures(
        act,
        there.map((one) => one.picture_id),
      );
      act.words({ to: name, n: went.length });
    });
  await db('splits')
    .where('id', id)
    .update({ state: 'done', left_here: Number(n) - there.length });
  app.changed(library, 'library', 'pictures');
}

declare module '../jobs/kind' {
  interface JobPayloads {
    split: null;
  }
}

/** Pictures going to another library. */
export const splitJob = defineJob({ kind: 'split', priority: 5, topic: 'library', run: split });

/** The pictures that went to other libraries lately, and how far those are that go. */
export async function listSplits({ db }: App, library: number): Promise<SplitState[]> {
  const rows = (await db('splits as s')
    .join('libraries as l', 'l.id', 's.to_library')
    .where('s.library_id', library)
    .orderBy('s.id', 'desc')
    .limit(10)
    .select(
      's.id',
      'l.name as to',
      's.state',
      's.left_here as leftHere',
      db.raw('(SELECT COUNT(*) FROM split_pictures p WHERE p.split_id = s.id) AS pictures'),
      db.raw(
        `(SELECT COUNT(*) FROM split_pictures p JOIN pictures t ON t.library_id = s.to_library AND t.sha256 = p.sha256 WHERE p.split_id = s.id) AS arrived`,
      ),
      's.created_at',
    )) as unknown as (Omit<SplitState, 'at'> & { created_at: string })[];
  return rows.map(({ created_at, ...row }) => ({
    ...row,
    pictures: Number(row.pictures),
    arrived: Number(row.arrived),
    leftHere: Number(row.leftHere),
    at: `${created_at.replace(' ', 'T')}Z`,
  }));
}
