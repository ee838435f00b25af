import { MOST_IDS, type ActKind, type ActWords, type Topic } from '@gemmel/contract';
import { allBelow } from '@gemmel/core';
import { chunks, type App } from '../context';
import type { Db } from '../db/open';
import { wholly } from '../db/turn';
import { ask, nudgeRunners } from '../jobs/jobs';
import type { JobKind } from '../jobs/kind';
import { tell } from '../feed/feed';
import { forgetLately } from '../share/lately';
import { markDirty } from '../vault/sidecar';
import { noteOnce } from './once';
import { groupsOf, pack, pictureOf, Watch, type Change, type Key } from './record';
import type { Group, Row, Table } from './kept';
import { TABLES } from './tables';

/** Who does something, in which library; nobody for what the machine does of its own accord. */
export interface By {
  library: number;
  member: number | null;
}

/** An act while it is done: its transaction, and the rows it says it is going to change. */
export interface Act {
  trx: Db;
  library: number;
  member: number | null;
  /** Locks and reads rows that are about to change or go; of tables that link rows, also those that come. See {@link Watch.hold}. */
  hold: (table: Table, values: Iterable<string | number | null>) => Promise<Row[]>;
  /** Locks and reads the very rows of a table that links two others. See {@link Watch.holdRows}. */
  holdRows: (table: Table, keys: readonly Key[]) => Promise<Row[]>;
  /** Notes a row that was made. */
  made: (table: Table, id: number) => void;
  /** Notes a picture that was made as one that left the bin: undone, it goes there. */
  born: (id: number) => void;
  /** A held row as it was. */
  row: Watch['row'];
  /** Says what the act's sentence speaks of. */
  words: (words: ActWords) => void;
  /** Has the act written down although nothing of it can be taken back. */
  final: () => void;
  /** Asks for work that follows, gathered for so many milliseconds. */
  then: (job: JobKind, delay?: number) => void;
}

/** How long changes of albums are gathered before they are written into the open, in ms. */
const MANIFESTS = 3000;

/** Tables whose names are written beside the pictures that bear them, and the columns that are written. */
const WRITES_NAMES: Readonly<Record<Renaming, readonly string[]>> = {
  people: ['name'],
  marks: ['meaning'],
  tags: ['name', 'parent_id'],
  albums: ['name', 'removed_at'],
};
type Renaming = 'people' | 'marks' | 'tags' | 'albums';
interface Renamed {
  table: Renaming;
  id: number;
}

/** The pictures beside which names are written that have changed: of a tag, of those below it too. */
async function bearing(trx: Db, library: number, renamed: readonly Renamed[]): Promise<number[]> {
  const of = (table: Renaming) => renamed.filter((one) => one.table === table).map((one) => one.id);
  const [people, marks, tags, albums] = [of('people'), of('marks'), of('tags'), of('albums')];
  const found: number[] = [];
  if (people.length)
    for (const row of await trx('faces')
      .where('library_id', library)
      .whereIn('person_id', people)
      .distinct('picture_id'))
      found.push(row.picture_id);
  if (albums.length)
    for (const row of await trx('album_pictures').whereIn('album_id', albums).distinct('picture_id'))
      found.push(row.picture_id);
  if (marks.length)
    for (const row of await trx('pictures').where('library_id', library).whereIn('mark_id', marks).select('id'))
      found.push(row.id);
  if (tags.length) {
    const rows = await trx('tags').where('library_id', library).select('id', 'parent_id');
    const parents = new Map(rows.map((row) => [row.id, row.parent_id]));
    const below = [...new Set(tags.flatMap((tag) => allBelow(tag, parents)))];
    for (const row of await trx('picture_tags')
      .where('library_id', library)
      .whereIn('tag_id', below)
      .distinct('picture_id'))
      found.push(row.picture_id);
  }
  return found;
}

/** The album a change is about; null for none, or for what may be about several. */
function albumOf({ table, key, before, after }: Change): number | null {
  if (['albums', 'album_pictures', 'album_hand'].includes(table)) return Number(key[0]);
  const album = table === 'album_chapters' ? (after ?? before)?.['album_id'] : null;
  return typeof album === 'number' ? album : null;
}

/** What follows from changes: news, work, and pictures whose words are to be written beside them. */
function followsFrom(changes: readonly Change[]) {
  const topics = new Map<Topic, Set<number> | null>();
  const jobs = new Map<JobKind, number>();
  const written = new Set<number>();
  const pictures = new Set<number>();
  const renamed: Renamed[] = [];
  for (const change of changes) {
    const kept = TABLES[change.table];
    const picture = pictureOf(change);
    if (picture !== null) pictures.add(picture);
    const groups = groupsOf(change);
    // A row that came or went is news to all its groups.
    const sides: readonly Pick<Group, 'topics' | 'jobs' | 'written'>[] = groups.length
      ? groups
      : [...kept.groups.map((group) => ({ topics: group.topics })), kept];
    for (const side of sides) {
      for (const topic of side.topics) {
        const id = topic === 'said' || topic === 'pictures' ? picture : topic === 'albums' ? albumOf(change) : null;
        const there = topics.get(topic);
        if (there === null) continue;
        if (!id) topics.set(topic, null);
        else topics.set(topic, (there ?? new Set<number>()).add(id));
      }
      for (const [job, delay] of side.jobs ?? []) jobs.set(job, Math.min(jobs.get(job) ?? Infinity, delay));
      if (side.written && picture !== null) written.add(picture);
    }
    if (
      change.table in WRITES_NAMES &&
      groups.some((group) => WRITES_NAMES[change.table as Renaming].includes(group.columns[0]!))
    )
      renamed.push({ table: change.table as Renaming, id: Number(change.key[0]) });
  }
  return { topics, jobs, written, pictures, renamed };
}

/**
 * Does what somebody asks for, wholly or not at all: the change, what is noted of it so that it can be taken back, the words
 * that are to be written beside pictures, the work that follows and the news of it are one transaction. `change` may be run
 * again from its start when two get into each other's way. `undoes` is the act that this one takes back. Answers with what the change answers, and the act's number, or null
 * when it changed nothing.
 */
export async function perform<T extends object | void>(
  app: App,
  by: By,
  kind: ActKind,
  change: (act: Act) => Promise<T>,
  undoes?: number,
): Promise<T & { act: number | null }> {
  const { library, member } = by;
  const done = await wholly(app.db, async (trx) => {
    const record = new Watch(trx, library);
    const asked: [JobKind, number][] = [];
    let words: ActWords = {};
    let final = false;
    const answer = await change({
      trx,
      library,
      member,
      hold: (table, values) => record.hold(table, values),
      holdRows: (table, keys) => record.holdRows(table, keys),
      made: (table, id) => record.made(table, id),
      born: (id) => record.left('binned', id),
      row: (table, key) => record.row(table, key),
      words: (more) => void (words = { ...words, ...more }),
      final: () => void (final = true),
      then: (job, delay = 0) => void asked.push([job, delay]),
    });
    const changes = await record.changes();
    const { topics, jobs, written, pictures, renamed } = followsFrom(changes);
    for (const id of await bearing(trx, library, renamed)) written.add(id);
    let act: number | null = null;
    // What albums hold is counted anew where it changed, and written into the open.
    const albums = topics.get('albums');
    if (albums !== undefined) {
      await trx('albums')
        .where('library_id', library)
        .where((q) => void (albums && q.whereIn('id', [...albums])))
        .update({ version: trx.raw('version + 1'), unwritten: trx.raw('unwritten + 1') });
      jobs.set('manifests', Math.min(jobs.get('manifests') ?? Infinity, MANIFESTS));
    }
    if (changes.length || final) {
      [act] = (await trx('acts').insert({
        library_id: library,
        member_id: member,
        kind,
        words: JSON.stringify(words),
        pictures: pictures.size,
        changes: changes.length ? await pack(changes) : null,
        undoes_id: undoes ?? null,
      })) as [number];
      // Those that have gone into the bin are not told of it: what was done to them is packed with them.
      for (const some of chunks([...pictures], 2000))
        await trx.raw(
          `INSERT INTO act_pictures (library_id, picture_id, act_id)
           SELECT library_id, id, ? FROM pictures WHERE library_id = ? AND id IN (${some.map(() => '?').join(',')})`,
          [act, library, ...some],
        );
      if (undoes !== undefined) {
        const undone = (await trx('acts').where('id', undoes).first('undoes_id'))!;
        await trx('acts').where('id', undoes).update({ undone_by: act });
        // What undoes an undoing does the first act again, which can be undone again.
        if (undone.undoes_id !== null) await trx('acts').where('id', undone.undoes_id).update({ undone_by: null });
      }
      topics.set('acts', null);
    }
    await noteOnce(trx, library, act);
    await markDirty(trx, library, [...written]);
    for (const [job, delay] of [...jobs, ...asked]) await ask(trx, library, job, 0, delay);
    await tell(
      trx,
      library,
      new Map([...topics].map(([topic, ids]) => [topic, ids && ids.size <= MOST_IDS ? [...ids] : null])),
    );
    return { ...answer, act } as T & { act: number | null };
  });
  forgetLately(app);
  app.feed.nudge();
  nudgeRunners();
  return done;
}
