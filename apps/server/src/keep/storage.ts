import type { StoragePage } from '@gemmel/contract';
import type { App } from '../context';
import { roomLeft } from '../intake/space';
import { refused } from '../problem';
import { filesBelow } from '../vault/below';

/** Most lines of each kind. */
const LINES = 12;
/** Growth is told by what came in over so many days. */
const GROWTH_DAYS = 90;

type Line = { id: number | null; name: string; pictures: number; bytes: number };

const lines = (rows: readonly Record<string, unknown>[]): Line[] =>
  rows.map((row) => ({
    id: row['id'] === null || row['id'] === undefined ? null : Number(row['id']),
    name: String(row['name'] ?? ''),
    pictures: Number(row['pictures']),
    bytes: Number(row['bytes']),
  }));

/** How many bytes lie below a folder. Kept for a while, since it reads every name. */
const weighed = new Map<string, { at: number; bytes: number }>();
const WEIGHED = 10 * 60_000;

async function weigh(folder: string): Promise<number> {
  const known = weighed.get(folder);
  if (known && Date.now() - known.at < WEIGHED) return known.bytes;
  let bytes = 0;
  for (const file of (await filesBelow(folder)).values()) bytes += file.bytes;
  weighed.set(folder, { at: Date.now(), bytes });
  return bytes;
}

/** What a library takes up: by year, kind, device, person and event, what is largest, what could go, and when the disk is full. */
export async function storageOf(app: App, library: number): Promise<StoragePage> {
  const { db, paths } = app;
  const by = async (sql: string, values: readonly unknown[] = [library]) =>
    lines(((await db.raw(sql, values as never)) as [Record<string, unknown>[]])[0]);
  const [years, kinds, devices, people, events] = await Promise.all([
    by(
      `SELECT NULL AS id, COALESCE(YEAR(day), '') AS name, COUNT(*) AS pictures, SUM(bytes) AS bytes FROM pictures WHERE library_id = ? GROUP BY YEAR(day) ORDER BY YEAR(day) DESC`,
    ),
    by(
      `SELECT NULL AS id, kind AS name, COUNT(*) AS pictures, SUM(bytes) AS bytes FROM pictures WHERE library_id = ? GROUP BY kind
       UNION ALL SELECT NULL, 'beside', COUNT(*), COALESCE(SUM(bytes), 0) FROM picture_files WHERE library_id = ? ORDER BY bytes DESC`,
      [library, library],
    ),
    by(
      `SELECT d.id, COALESCE(d.name, '') AS name, t.pictures, t.bytes FROM
         (SELECT device_id, COUNT(*) AS pictures, SUM(bytes) AS bytes FROM pictures WHERE library_id = ? GROUP BY device_id) t
       LEFT JOIN devices d ON d.id = t.device_id ORDER BY t.bytes DESC LIMIT ${LINES}`,
    ),
    by(
      `SELECT n.id, n.name, COUNT(*) AS pictures, SUM(p.bytes) AS bytes FROM
         (SELECT DISTINCT person_id, picture_id FROM faces WHERE library_id = ? AND person_id IS NOT NULL) f
       JOIN pictures p ON p.id = f.picture_id JOIN people n ON n.id = f.person_id GROUP BY n.id, n.name ORDER BY bytes DESC LIMIT ${LINES}`,
    ),
    by(
      `SELECT e.id, COALESCE(e.title, '') AS name, t.pictures, t.bytes FROM
         (SELECT event_id, COUNT(*) AS pictures, SUM(bytes) AS bytes FROM pictures WHERE library_id = ? AND event_id IS NOT NULL GROUP BY event_id) t
       JOIN events e ON e.id = t.event_id WHERE e.title IS NOT NULL ORDER BY t.bytes DESC LIMIT ${LINES}`,
    ),
  ]);
  const largest = (
    await db('pictures')
      .where('library_id', library)
      .orderBy('bytes', 'desc')
      .limit(LINES)
      .select('id', 'name', 'bytes', 'shown', 'thumb', 'kind')
  ).map((row) => ({
    id: row.id,
    name: row.name,
    bytes: Number(row.bytes),
    kind: row.kind,
    sha: row.shown.toString('hex'),
    thumb: row.thumb.toString('base64'),
  }));
  const one = async (sql: string) => {
    const [[row]] = (await db.raw(sql, [library])) as [[{ pictures: number; bytes: number }]];
    return { pictures: Number(row.pictures), bytes: Number(row.bytes) };
  };
  const [all, beside, binned, doubles, brought] = await Promise.all([
    one('SELECT COUNT(*) AS pictures, COALESCE(SUM(bytes), 0) AS bytes FROM pictures WHERE library_id = ?'),
    one('SELECT COUNT(*) AS pictures, COALESCE(SUM(bytes), 0) AS bytes FROM picture_files WHERE library_id = ?'),
    one(
      `SELECT COUNT(*) AS pictures, COALESCE(SUM(bytes), 0) AS bytes FROM binned WHERE library_id = ? AND state = 'in'`,
    ),
    one(
      'SELECT COUNT(*) AS pictures, COALESCE(SUM(bytes), 0) AS bytes FROM pictures WHERE library_id = ? AND alike_id IS NOT NULL',
    ),
    one(
      `SELECT COUNT(*) AS pictures, COALESCE(SUM(bytes), 0) AS bytes FROM pictures WHERE library_id = ? AND created_at > UTC_TIMESTAMP(3) - INTERVAL ${GROWTH_DAYS} DAY`,
    ),
  ]);
  const [[{ first }]] = (await db.raw('SELECT MIN(created_at) AS first FROM pictures WHERE library_id = ?', [
    library,
  ])) as [[{ first: string | null }]];
  const { left, total } = await roomLeft(app);
  const days = first
    ? Math.min(GROWTH_DAYS, Math.max(1, (Date.now() - Date.parse(`${first.replace(' ', 'T')}Z`)) / 86_400_000))
    : 0;
  const perDay = days ? brought.bytes / days : 0;
  const { member_most, share_most } = (await db('libraries').where('id', library).first('member_most', 'share_most'))!;
  return {
    pictures: all.pictures,
    originals: all.bytes + beside.bytes,
    derived: await weigh(paths.derived),
    years,
    kinds,
    devices,
    people,
    events,
    largest,
    could: { binned, doubles },
    disk: { left, total },
    growth: {
      // A library of a day tells nothing of a year.
      perMonth: days >= 7 ? Math.round(perDay * 30.44) : null,
      full:
        days >= 7 && perDay > 0 && left / perDay < 365 * 50
          ? new Date(Date.now() + (left / perDay) * 86_400_000).toISOString().slice(0, 10)
          : null,
    },
    limits: {
      member: member_most === null ? null : Number(member_most),
      share: share_most === null ? null : Number(share_most),
    },
  };
}

/** Sets how many bytes one member, or the guests of one share, may bring; null for as many as there is room for. */
export async function setLimits(
  app: App,
  library: number,
  limits: { member: number | null; share: number | null },
): Promise<void> {
  await app.db('libraries').where('id', library).update({ member_most: limits.member, share_most: limits.share });
  app.changed(library, 'library');
}

/**
 * Refuses files that would make what a member, or the guests of a share, brought more than the library allows. What was refused, set aside or removed for good does not count.
 * A keeper is never refused.
 */
export async function refuseOverLimit(
  { db }: App,
  library: number,
  who: { member: number } | { share: number },
  bytes: number,
): Promise<void> {
  const row = (await db('libraries').where('id', library).first('member_most', 'share_most'))!;
  const most = 'member' in who ? row.member_most : row.share_most;
  if (most === null) return;
  if ('member' in who && (await db('members').where({ id: who.member, part: 'keeper' }).first('id'))) return;
  const [[{ sum }]] = (await db.raw(
    `SELECT COALESCE(SUM(i.bytes), 0) AS sum FROM batch_items i JOIN batches b ON b.id = i.batch_id
     WHERE b.library_id = ? AND b.${'member' in who ? 'brought_by' : 'share_id'} = ? AND i.state IN ('waiting', 'received', 'stored')`,
    [library, 'member' in who ? who.member : who.share],
  )) as [[{ sum: number }]];
  if (Number(sum) + bytes > Number(most)) throw refused('over-limit');
}
