import { UNDO_DAYS, type Act, type ActKind, type ActWords } from '@gemmel/contract';
import type { App } from '../context';

/** Acts a page of the diary tells, and pictures shown with each. */
const PAGE = 60;
const SHOWN = 4;

interface Row {
  id: number;
  kind: ActKind;
  words: string;
  member_id: number | null;
  name: string | null;
  at: string;
  pictures: number;
  undone_by: number | null;
  undoable: number;
  undone_at: string | null;
  undone_name: string | null;
}

const iso = (at: string): string => `${at.replace(' ', 'T')}Z`;

/** A few pictures of each of some acts. */
async function picturesOf(app: App, acts: readonly number[]): Promise<Map<number, Act['shown']>> {
  const shown = new Map<number, Act['shown']>();
  if (acts.length === 0) return shown;
  const [rows] = (await app.db.raw(
    `SELECT n.act_id AS act, p.id, p.shown AS sha256 FROM (
       SELECT act_id, picture_id, ROW_NUMBER() OVER (PARTITION BY act_id ORDER BY picture_id) AS nth FROM act_pictures WHERE act_id IN (${acts.map(() => '?').join(',')})
     ) n JOIN pictures p ON p.id = n.picture_id WHERE n.nth <= ${SHOWN} ORDER BY n.act_id, n.nth`,
    [...acts],
  )) as [{ act: number; id: number; sha256: Buffer }[]];
  for (const { act, id, sha256 } of rows) {
    const list = shown.get(act) ?? [];
    list.push({ id, sha: sha256.toString('hex') });
    shown.set(act, list);
  }
  return shown;
}

/** What was done in a library, newest first, a page at a time: of everybody, of one member, or to one picture. */
export async function diary(
  app: App,
  library: number,
  of: {
    before?: number | undefined;
    member?: number | undefined;
    picture?: number | undefined;
    until?: string | undefined;
  },
): Promise<{ acts: Act[]; before: number | null; members: { id: number; name: string }[] }> {
  const { db } = app;
  const rows = (await db('acts as a')
    .leftJoin('members as m', 'm.id', 'a.member_id')
    .leftJoin('acts as u', 'u.id', 'a.undone_by')
    .leftJoin('members as n', 'n.id', 'u.member_id')
    .where('a.library_id', library)
    .whereNull('a.undoes_id')
    .where((q) => {
      if (of.before !== undefined) void q.where('a.id', '<', of.before);
      if (of.member !== undefined) void q.where('a.member_id', of.member);
      if (of.until !== undefined) void q.where('a.at', '<', db.raw('? + INTERVAL 1 DAY', [of.until]));
      if (of.picture !== undefined)
        void q.whereIn('a.id', db('act_pictures').where('picture_id', of.picture).select('act_id'));
    })
    .orderBy('a.id', 'desc')
    .limit(PAGE + 1)
    .select(
      'a.id',
      'a.kind',
      'a.words',
      'a.member_id',
      'm.name',
      'a.at',
      'a.pictures',
      'a.undone_by',
      'u.at as undone_at',
      'n.name as undone_name',
      db.raw('(a.changes IS NOT NULL AND a.at > UTC_TIMESTAMP(3) - INTERVAL ? DAY) AS undoable', [UNDO_DAYS]),
    )) as Row[];
  const page = rows.slice(0, PAGE);
  const shown = await picturesOf(
    app,
    page.map((row) => row.id),
  );
  return {
    acts: page.map((row) => ({
      id: row.id,
      kind: row.kind,
      words: JSON.parse(row.words) as ActWords,
      by: row.member_id === null ? null : { id: row.member_id, name: row.name ?? '' },
      at: iso(row.at),
      pictures: row.pictures,
      shown: shown.get(row.id) ?? [],
      undoable: row.undone_by === null && Boolean(row.undoable),
      undone: row.undone_at === null ? null : { act: row.undone_by!, by: row.undone_name, at: iso(row.undone_at) },
    })),
    before: rows.length > PAGE ? page[page.length - 1]!.id : null,
    members: await db('members').where('library_id', library).orderBy('name').select('id', 'name'),
  };
}

/** Forgets what acts that are too old to be taken back did; that they were done stays written. */
export async function forgetOldActs(app: App): Promise<void> {
  await app
    .db('acts')
    .whereNotNull('changes')
    .where('at', '<', app.db.raw('UTC_TIMESTAMP(3) - INTERVAL ? DAY', [UNDO_DAYS + 1]))
    .update({ changes: null });
}
