import type { Audience } from '@gemmel/contract';
import type { Db } from '../db/open';
import type { Said } from './audience';

interface Row {
  of: Said['of'] | 'library';
  id: number;
  audience: Audience;
  by: number | null;
}

/**
 * For whom the things of a library are that pictures belong to, and for whom a picture is of which nothing is said. What is said of a
 * circle is said of those in it of whom nothing is said themselves.
 */
export async function saidIn(db: Db, library: number): Promise<{ said: Said[]; usual: Audience }> {
  const [rows] = (await db.raw(
    `SELECT 'library' AS of, id, audience, NULL AS \`by\` FROM libraries WHERE id = ?
     UNION ALL SELECT 'person', id, audience, audience_by FROM people WHERE library_id = ? AND audience IS NOT NULL
     UNION ALL SELECT 'person', n.id, c.audience, c.audience_by FROM circles c JOIN circle_people m ON m.circle_id = c.id
       JOIN people n ON n.id = m.person_id AND n.audience IS NULL WHERE c.library_id = ? AND c.audience IS NOT NULL
     UNION ALL SELECT 'album', id, audience, audience_by FROM albums WHERE library_id = ? AND audience IS NOT NULL AND removed_at IS NULL
     UNION ALL SELECT 'device', id, audience, audience_by FROM devices WHERE library_id = ? AND audience IS NOT NULL
     UNION ALL SELECT 'place', id, audience, audience_by FROM own_places WHERE library_id = ? AND audience IS NOT NULL`,
    Array<number>(6).fill(library),
  )) as [Row[]];
  return {
    said: rows.filter((row): row is Said & Row => row.of !== 'library'),
    usual: rows.find(({ of }) => of === 'library')?.audience ?? 'house',
  };
}
