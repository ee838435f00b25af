import type { Db } from '../db/open';

/**
 * The face that shows each person best: the one somebody chose, else the best of those named by hand, else of those the
 * machine filed.
 */
export async function bestFaces(db: Db, library: number): Promise<Map<number, number>> {
  const [rows] = (await db.raw(
    `SELECT person, face FROM (
       SELECT f.person_id AS person, f.id AS face,
         ROW_NUMBER() OVER (PARTITION BY f.person_id ORDER BY f.id = n.portrait_face_id DESC, f.named_by = 'hand' DESC, f.quality DESC, f.id) AS nth
       FROM faces f FORCE INDEX (best) JOIN people n ON n.id = f.person_id WHERE f.library_id = ?) ranked WHERE nth = 1`,
    [library],
  )) as [{ person: number; face: number }[]];
  return new Map(rows.map((r) => [r.person, r.face]));
}
