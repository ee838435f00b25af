import { ACTS, UNDO_DAYS, type ActKind, type ActWords, type Part, type Undone } from '@gemmel/contract';
import { readAgain } from '../question/words';
import { isAbove } from '../tag/tags';
import { may } from '../account/part';
import { binPictures, restorePictures } from '../bin/bin';
import { chunks, type App } from '../context';
import type { Db } from '../db/open';
import { setMany } from '../db/setMany';
import { describeNone, describePersonAgain, describePersonNot } from '../faces/recognition';
import { observeAsSaid } from '../observe/kinds';
import { refreshOwn, refreshOwnOf } from '../place/own';
import { notFound, refused } from '../problem';
import { perform, type Act, type By } from './perform';
import { equal, groupsOf, pictureOf, unpack, type Change } from './record';
import type { Group, Row, Table, Value } from './kept';
import { ORDER, TABLES } from './tables';

interface ActRow {
  id: number;
  kind: ActKind;
  words: string;
  changes: Buffer | null;
  undoes_id: number | null;
  undone_by: number | null;
  member_id: number | null;
  old: number;
}

const nameOf = ({ table, key }: Pick<Change, 'table' | 'key'>): string => `${table} ${key.join('|')}`;

/** Adds something to the list of a key. */
function listed<K, V>(lists: Map<K, V[]>, key: K, value: V): void {
  const list = lists.get(key);
  if (list) list.push(value);
  else lists.set(key, [value]);
}

/** Whether a group of columns still is as an act left it. */
const standsAs = (group: Group, now: Row, left: Row): boolean =>
  // A column that came later is not one the act could have left.
  group.same ? group.same(now, left) : group.columns.every((c) => left[c] === undefined || equal(now[c], left[c]));

/** Whether a whole row still is as an act left it. */
const untouched = (table: Table, now: Row, left: Row): boolean =>
  TABLES[table].groups.every((group) => standsAs(group, now, left));

/** Which rows that are spoken of are there, of those of one table. */
async function present(db: Db, library: number, table: Table, ids: ReadonlySet<number>): Promise<Set<number>> {
  const there = new Set<number>();
  for (const some of chunks([...ids], 2000))
    for (const { id } of (await db(table)
      .where(TABLES[table].library ?? 'library_id', library)
      .whereIn('id', some)
      .select('id')) as { id: number }[])
      there.add(id);
  return there;
}

/** One taking back: what it has done so far, and what it leaves. */
class Undoing {
  back = 0;
  readonly left = new Set<string>();
  readonly gone: Undone['gone'] = [];
  private readonly trx: Db;
  private readonly library: number;
  private readonly by = new Map<Table, Change[]>();

  constructor(
    private readonly act: Act,
    changes: readonly Change[],
  ) {
    this.trx = act.trx;
    this.library = act.library;
    for (const change of changes) listed(this.by, change.table, change);
  }

  async run(): Promise<void> {
    for (const table of ORDER) {
      const changes = this.by.get(table);
      if (!changes) continue;
      if (TABLES[table].exact) {
        await this.act.holdRows(
          table,
          changes.map((c) => c.key),
        );
        continue;
      }
      const at = TABLES[table].key.indexOf(TABLES[table].by);
      await this.act.hold(table, new Set(changes.map((c) => c.key[at]!)));
    }
    const kept = await this.unitsThatStay();
    // Pictures are there before anything is said of them again, and go after everything was.
    await this.restore();
    for (const table of ORDER) await this.putBack(table);
    for (const table of ORDER) await this.set(table);
    for (const table of [...ORDER].reverse()) await this.takeAway(table, kept);
    await this.bin();
  }

  private changesOf(table: Table, which: 'came' | 'went' | 'changed'): Change[] {
    return (this.by.get(table) ?? []).filter(({ before, after }) =>
      which === 'came' ? !before : which === 'went' ? !after : before && after,
    );
  }

  private leave(change: Change): void {
    const picture = pictureOf(change);
    this.left.add(picture === null ? nameOf(change) : `picture ${picture}`);
  }

  private now = (change: Change): Row | null => this.act.row(change.table, change.key);

  /** Rows that were made with what hangs on them, and that somebody has changed or hung something on since: all of it stays. */
  private async unitsThatStay(): Promise<Set<string>> {
    const stay = new Set<string>();
    for (const table of ORDER) {
      const kept = TABLES[table];
      if (!kept.whole) continue;
      for (const change of this.changesOf(table, 'came')) {
        const now = this.now(change);
        if (!now) continue;
        let asLeft = untouched(table, now, change.after!);
        for (const [other, column, only] of kept.holds ?? []) {
          const ours = new Map(
            this.changesOf(other as Table, 'came')
              .filter((c) => c.after![column] === change.key[0])
              .map((c) => [c.key.join('|'), c]),
          );
          const keys = TABLES[other as Table].key;
          const rows = (await this.trx(other)
            .where(column, change.key[0]!)
            .where((q) => void (only && q.whereRaw(only)))
            .select([...keys, ...TABLES[other as Table].groups.flatMap((g) => g.columns)])) as Row[];
          asLeft &&= rows.every((row) => {
            const our = ours.get(keys.map((k) => row[k]).join('|'));
            return our && untouched(other as Table, row, our.after!);
          });
        }
        if (asLeft) continue;
        stay.add(nameOf(change));
        for (const [other, column] of kept.holds ?? [])
          for (const c of this.changesOf(other as Table, 'came'))
            if (c.after![column] === change.key[0]) stay.add(nameOf(c));
      }
    }
    return stay;
  }

  /** Which of the rows that would be spoken of are there now. */
  private async spokenOf(table: Table, rows: readonly Row[]): Promise<Map<string, Set<number>>> {
    const there = new Map<string, Set<number>>();
    for (const [column, other] of Object.entries(TABLES[table].refers ?? {})) {
      const ids = new Set(rows.map((row) => row[column]).filter((id): id is number => typeof id === 'number'));
      there.set(column, ids.size ? await present(this.trx, this.library, other, ids) : ids);
    }
    return there;
  }

  /** Notes which of some changes were put back, and which could not be. */
  private count(changes: readonly Change[], done: readonly number[]): void {
    const back = new Set(done);
    for (const change of changes) if (!back.has(Number(change.key[0]))) this.leave(change);
    this.back += back.size;
  }

  /** Brings back what went into the bin. */
  private async restore(): Promise<void> {
    const came = this.changesOf('binned', 'came');
    if (came.length) this.count(came, await restorePictures(this.act, keysOf(came).map(Number)));
  }

  /** Moves what left the bin there once more. */
  private async bin(): Promise<void> {
    const went = this.changesOf('binned', 'went');
    if (went.length) this.count(went, await binPictures(this.act, keysOf(went).map(Number)));
  }

  /** Puts rows back that went. */
  private async putBack(table: Table): Promise<void> {
    const kept = TABLES[table];
    const changes = this.changesOf(table, 'went');
    if (changes.length === 0 || table === 'binned') return;
    const there = await this.spokenOf(
      table,
      changes.map((c) => c.before!),
    );
    const rows: Record<string, Value>[] = [];
    const taken = new Set<Value>();
    if (kept.unique)
      for (const some of chunks(changes, 1000))
        for (const row of (await this.trx(table)
          .where('library_id', this.library)
          .whereIn(
            kept.unique,
            some.map((c) => c.before![kept.unique!] as string),
          )
          .select(kept.unique)) as Row[])
          taken.add(String(row[kept.unique]).toLowerCase());
    const twice = table === 'faces' ? await this.doubled(changes, (c) => c.before!) : new Set<string>();
    for (const change of upwardsFirst(table, changes)) {
      const row: Record<string, Value> = { ...change.before! };
      if (this.now(change)) {
        if (!untouched(table, this.now(change)!, change.before!)) this.leave(change);
        continue;
      }
      let fits = !twice.has(nameOf(change));
      if (kept.unique) fits &&= !taken.has(String(row[kept.unique]).toLowerCase());
      for (const column of Object.keys(kept.refers ?? {}))
        if (row[column] !== null && !there.get(column)!.has(row[column] as number)) {
          if (kept.key.includes(column) || column === 'picture_id') fits = false;
          else if (kept.refers![column] === table) {
            // What it hung on has gone for good: it stands at the top, where that is free.
            Object.assign(row, kept.atTop?.(row) ?? { [column]: null });
            if (kept.unique) fits &&= !taken.has(String(row[kept.unique]).toLowerCase());
          } else row[column] = null;
        }
      if (!fits) {
        this.leave(change);
        continue;
      }
      if (kept.key.length === 1) this.act.made(table, Number(change.key[0]));
      // What hangs on it comes after it.
      for (const [column, other] of Object.entries(kept.refers ?? {}))
        if (other === table) there.get(column)!.add(Number(change.key[0]));
      if (kept.unique) taken.add(String(row[kept.unique]).toLowerCase());
      rows.push(table === 'faces' ? { ...row, vector_a: Buffer.alloc(0), vector_b: Buffer.alloc(0) } : row);
      this.back++;
    }
    for (const some of chunks(rows, 500))
      await this.trx(table).insert(some.map((row) => ({ ...row, library_id: this.library })));
    if (table === 'own_places') await refreshOwn(this.trx, this.library, circlesOf(changes));
    if (table === 'faces' && rows.length) await this.describeAgain(rows.map((row) => Number(row['picture_id'])));
  }

  /** What describes a face was not kept: its picture is looked through once more. */
  private async describeAgain(pictures: readonly number[]): Promise<void> {
    await this.trx('pictures')
      .where('library_id', this.library)
      .whereIn('id', [...pictures])
      .update({ faces_sought: false });
    this.act.then('seek');
  }

  /** Sets columns back that still are as the act left them. */
  private async set(table: Table): Promise<void> {
    const changes = this.changesOf(table, 'changed');
    if (changes.length === 0) return;
    const kept = TABLES[table];
    const there = await this.spokenOf(
      table,
      changes.map((c) => c.before!),
    );
    const twice = table === 'faces' ? await this.doubled(changes, (c) => c.before!) : new Set<string>();
    const sets = new Map<Group, { id: number; set: Record<string, Value> }[]>();
    const links: { change: Change; set: Record<string, Value> }[] = [];
    const named = await this.namesTaken(table, changes);
    for (const change of changes) {
      const now = this.now(change);
      for (const group of groupsOf(change)) {
        const speaks = group.columns.every(
          (c) =>
            !(c in (kept.refers ?? {})) || change.before![c] === null || there.get(c)!.has(change.before![c] as number),
        );
        const unique = kept.unique && [...group.columns, ...(group.along ?? [])].includes(kept.unique);
        const free = !(unique && named.has(nameOf(change)));
        const to = speaks ? change.before! : (group.lost?.(change.before!) ?? null);
        const round =
          (table === 'tags' || table === 'shelves') && to && typeof to['parent_id'] === 'number'
            ? await isAbove(this.trx, this.library, Number(change.key[0]), to['parent_id'], table)
            : false;
        if (!now || !to || !free || round || twice.has(nameOf(change)) || !standsAs(group, now, change.after!)) {
          this.leave(change);
          continue;
        }
        const set: Record<string, Value> = {};
        for (const column of group.columns) set[column] = to[column]!;
        for (const column of group.along ?? []) {
          const value = change.before![column]!;
          set[column] =
            column in (kept.refers ?? {}) && value !== null && !there.get(column)!.has(value as number) ? null : value;
        }
        if (kept.key.join() !== 'id') links.push({ change, set });
        else listed(sets, group, { id: Number(change.key[0]), set });
        this.back++;
        if (table === 'albums' && 'removed_at' in set && set['removed_at'] !== null)
          this.gone.push({ what: 'album', id: Number(change.key[0]) });
      }
    }
    for (const list of sets.values())
      if (kept.library === 'id') for (const { id, set } of list) await this.trx(table).where({ id }).update(set);
      else await setMany(this.trx, this.library, table, list);
    for (const { change, set } of links)
      await this.trx(table)
        .where(Object.fromEntries(kept.key.map((column, i) => [column, change.key[i]])))
        .update(set);
    if (table === 'pictures') {
      await this.searchAgain(changes);
      // Places of the household's own may have been made or gone since.
      await refreshOwnOf(
        this.trx,
        this.library,
        changes.filter((c) => 'lat' in c.before!).map((c) => Number(c.key[0])),
      );
    }
    if (table === 'own_places') await refreshOwn(this.trx, this.library, circlesOf(changes));
    await this.describeAsSaid(links.length ? [] : [...sets.values()].flat(), table);
  }

  /** Where recognition is off again, of all or of somebody, nothing that describes a face is kept. */
  private async describeAsSaid(
    rows: readonly { id: number; set: Record<string, Value> }[],
    table: Table,
  ): Promise<void> {
    for (const { id, set } of rows)
      if (table === 'libraries' && 'observes' in set) await observeAsSaid(this.trx, id, String(set['observes']), true);
      else if (table === 'libraries' && 'recognise' in set && !set['recognise']) await describeNone(this.trx, id);
      else if (table === 'people' && 'recognised' in set)
        await (set['recognised'] ? describePersonAgain : describePersonNot)(this.trx, this.library, id);
  }

  /** Rows whose name from before is somebody else's now. */
  private async namesTaken(table: Table, changes: readonly Change[]): Promise<Set<string>> {
    const { unique } = TABLES[table];
    const taken = new Set<string>();
    if (!unique) return taken;
    for (const change of changes)
      if (unique in change.before!) {
        const other = await this.trx(table)
          .where({ library_id: this.library, [unique]: change.before![unique] as string })
          .whereNot('id', change.key[0]!)
          .first('id');
        if (other) taken.add(nameOf(change));
      }
    return taken;
  }

  /** What text search reads follows titles, captions and names. */
  private async searchAgain(changes: readonly Change[]): Promise<void> {
    const ids = changes
      .filter((c) => ['title', 'caption', 'name'].some((column) => column in c.before!))
      .map((c) => Number(c.key[0]));
    await readAgain(this.trx, this.library, ids);
  }

  /**
   * Faces whose putting back would have somebody stand twice in one picture. Where it was the machine that put them there
   * meanwhile, its face waits again; where somebody did, what they said stands.
   */
  private async doubled(changes: readonly Change[], to: (change: Change) => Row): Promise<Set<string>> {
    const coming = changes.filter((c) => typeof to(c)['person_id'] === 'number');
    const doubled = new Set<string>();
    if (coming.length === 0) return doubled;
    const moving = new Set((this.by.get('faces') ?? []).map((c) => Number(c.key[0])));
    const there = new Map<string, { id: number; by: string }>();
    const pictures = [...new Set(coming.map((c) => pictureOf(c)!))];
    for (const some of chunks(pictures, 1000))
      for (const face of (await this.trx('faces')
        .where('library_id', this.library)
        .whereIn('picture_id', some)
        .whereNotNull('person_id')
        .select('id', 'picture_id', 'person_id', 'named_by')) as {
        id: number;
        picture_id: number;
        person_id: number;
        named_by: string;
      }[])
        if (!moving.has(face.id)) there.set(`${face.picture_id} ${face.person_id}`, { id: face.id, by: face.named_by });
    const freed: number[] = [];
    for (const change of coming) {
      const other = there.get(`${pictureOf(change)} ${to(change)['person_id'] as number}`);
      if (!other) continue;
      if (other.by === 'machine') freed.push(other.id);
      else doubled.add(nameOf(change));
    }
    await this.waitAgain(freed);
    return doubled;
  }

  private async waitAgain(faces: readonly number[]): Promise<void> {
    if (faces.length === 0) return;
    await this.act.hold('faces', faces);
    for (const some of chunks(faces, 1000))
      await this.trx('faces').whereIn('id', some).update({ state: 'waiting', person_id: null, named_by: null });
  }

  /** Takes rows away that came, unless somebody has changed them or hung something on them since. */
  private async takeAway(table: Table, staying: ReadonlySet<string>): Promise<void> {
    const kept = TABLES[table];
    const going: Change[] = [];
    // Where rows of a table hang on each other, the last made go first.
    const nested = (kept.holds ?? []).some(([other]) => other === table);
    const came = [...this.changesOf(table, 'came')];
    if (nested) came.sort((a, b) => Number(b.key[0]) - Number(a.key[0]));
    if (table === 'binned') return;
    for (const change of came) {
      const now = this.now(change);
      if (!now) continue;
      let free = !staying.has(nameOf(change)) && untouched(table, now, change.after!);
      if (free && table === 'people') {
        const filed = await this.trx('faces')
          .where({ library_id: this.library, person_id: Number(change.key[0]), named_by: 'machine' })
          .select('id');
        const byHand = await this.trx('faces')
          .where({ library_id: this.library, person_id: Number(change.key[0]), named_by: 'hand' })
          .first('id');
        if (!byHand) await this.waitAgain(filed.map((f) => f.id));
      }
      for (const [other, column, only] of kept.holds ?? [])
        free &&= !(await this.trx(other)
          .where(column, change.key[0]!)
          .where((q) => void (only && q.whereRaw(only)))
          .where((q) => void (other === table && q.whereNotIn('id', keysOf(going))))
          .first(this.trx.raw('1 AS one')));
      if (free) going.push(change);
      else this.leave(change);
    }
    if (going.length === 0) return;
    this.back += going.length;
    const [column, other] = kept.key;
    if (!other)
      for (const some of chunks(going, nested ? 1 : 1000))
        await this.trx(table)
          .where('library_id', this.library)
          .whereIn(
            column!,
            some.map((c) => c.key[0]!),
          )
          .delete();
    else {
      const groups = new Map<Value, (string | number)[]>();
      // The fewer different values a column has, the fewer statements it takes.
      const by = new Set(going.map((c) => c.key[0])).size <= new Set(going.map((c) => c.key[1])).size ? 0 : 1;
      for (const c of going) listed(groups, c.key[by]!, c.key[1 - by]!);
      for (const [value, others] of groups)
        for (const some of chunks(others, 1000))
          await this.trx(table)
            .where({ library_id: this.library, [kept.key[by]!]: value })
            .whereIn(kept.key[1 - by]!, some)
            .delete();
    }
    const what = { albums: 'album', events: 'event', people: 'person', shares: 'share' } as const;
    if (table in what)
      for (const c of going) this.gone.push({ what: what[table as keyof typeof what], id: Number(c.key[0]) });
    if (table === 'own_places') await refreshOwn(this.trx, this.library, circlesOf(going));
  }
}

/** Rows of a table that hang on each other, those first that others hang on. */
function upwardsFirst(table: Table, changes: readonly Change[]): readonly Change[] {
  const [column] = Object.entries(TABLES[table].refers ?? {}).find(([, other]) => other === table) ?? [];
  if (column === undefined) return changes;
  const left = new Map(changes.map((c) => [c.key[0]!, c]));
  const sorted: Change[] = [];
  const take = (change: Change) => {
    if (!left.delete(change.key[0]!)) return;
    const above = left.get(change.before![column] as number);
    if (above) take(above);
    sorted.push(change);
  };
  for (const change of changes) take(change);
  return sorted;
}

/** The numbers of rows. */
const keysOf = (changes: readonly Change[]): (string | number)[] => changes.map((c) => c.key[0]!);

/** Where places of the household's own were and are, as far as changes say it. */
const circlesOf = (changes: readonly Change[]) =>
  changes
    .flatMap((c) => [c.before, c.after])
    .filter((row): row is Row => row !== null && typeof row['lat'] === 'number')
    .map((row) => ({ lat: Number(row['lat']), lon: Number(row['lon']), metres: Number(row['metres']) }));

/**
 * Takes an act back: whatever still is as the act left it becomes what it was before, and what somebody has changed since stays,
 * and is counted. Taking back is an act itself, so that taking it back does the first one again.
 */
export async function undoAct(app: App, by: By & { part: Part }, id: number): Promise<Undone> {
  const row = (await app
    .db('acts')
    .where({ id, library_id: by.library })
    .first(
      'id',
      'kind',
      'words',
      'changes',
      'undoes_id',
      'undone_by',
      'member_id',
      app.db.raw('at < UTC_TIMESTAMP(3) - INTERVAL ? DAY AS old', [UNDO_DAYS]),
    )) as ActRow | undefined;
  if (!row) throw notFound('page');
  if (!may(by.part, ACTS[row.kind])) throw refused('not-allowed');
  // What every member may do is their own: only they take it back, or the keeper.
  if (ACTS[row.kind] === 'relative' && row.member_id !== by.member && by.part !== 'keeper')
    throw refused('not-allowed');
  if (!row.changes || row.old) throw refused('too-old', { days: UNDO_DAYS });
  const changes = await unpack(row.changes);
  const { act, ...undone } = await perform(
    app,
    by,
    row.kind,
    async (undoing) => {
      const now = (await undoing.trx('acts').where('id', id).forUpdate().first('undone_by'))!;
      if (now.undone_by !== null) throw refused('undone-already');
      undoing.words(JSON.parse(row.words) as ActWords);
      const work = new Undoing(undoing, changes);
      await work.run();
      // What search reads follows comments that came back or went.
      await readAgain(
        undoing.trx,
        by.library,
        changes.filter((c) => c.table === 'comments').map((c) => pictureOf(c)!),
      );
      return { back: work.back, left: work.left.size, gone: work.gone };
    },
    id,
  );
  return { act, ...undone };
}
