import { keysBetween } from '@gemmel/core';
import type { Db } from '../db/open';

/** How far the same face may lie apart in the same picture of two libraries, in parts of its sides. */
const SAME_FACE = 0.02;

/** Of whom people said that a face is not theirs, for the same faces of the same pictures in the other library, where both know the person. */
export async function bringRefusals(trx: Db, split: number, to: number): Promise<void> {
  await trx.raw(
    `INSERT IGNORE INTO face_refusals (library_id, face_id, person_id)
     SELECT t.library_id, g.id, q.id FROM split_pictures s
       JOIN faces f ON f.picture_id = s.picture_id
       JOIN face_refusals r ON r.face_id = f.id
       JOIN people p ON p.id = r.person_id
       JOIN people q ON q.library_id = ? AND q.name = p.name
       JOIN pictures t ON t.library_id = q.library_id AND t.sha256 = s.sha256
       JOIN faces g ON g.picture_id = t.id AND ABS(g.x - f.x) < ? AND ABS(g.y - f.y) < ? AND ABS(g.w - f.w) < ? AND ABS(g.h - f.h) < ?
         AND NOT (g.person_id <=> q.id)
     WHERE s.split_id = ?`,
    [to, SAME_FACE, SAME_FACE, SAME_FACE, SAME_FACE, split],
  );
}

interface Standing {
  position: string;
  /** Its number in the other library; null for what did not go. */
  there: number | null;
}

/**
 * The headings and notes of albums of the same name in the other library that have none yet: each before the first of its pictures that went,
 * in the order of the album there. A heading none of whose pictures went stays behind.
 */
export async function bringChapters(trx: Db, split: number, from: number, to: number): Promise<void> {
  const albums = (await trx('albums as a')
    .join('albums as b', (on) => on.on('b.name', 'a.name').andOnVal('b.library_id', to).andOnVal('b.kind', 'plain'))
    .where('a.library_id', from)
    .whereNull('a.removed_at')
    .whereNull('b.removed_at')
    .whereIn('a.id', trx('album_chapters').where('library_id', from).distinct('album_id'))
    .whereNotIn('b.id', trx('album_chapters').where('library_id', to).distinct('album_id'))
    .select('a.id', 'b.id as there')) as { id: number; there: number }[];
  for (const album of albums) {
    const pictures = (await trx('album_pictures as ap')
      .join('pictures as p', 'p.id', 'ap.picture_id')
      .leftJoin('split_pictures as s', (on) =>
        on.on('s.picture_id', 'ap.picture_id').andOnVal('s.split_id', '=', split),
      )
      .leftJoin('pictures as t', (on) => on.on('t.sha256', 's.sha256').andOnVal('t.library_id', '=', to))
      .where('ap.album_id', album.id)
      .orderBy('ap.position')
      .select('ap.position', 't.id as there')) as Standing[];
    const order = (await trx('album_pictures')
      .where('album_id', album.there)
      .orderBy('position')
      .select('picture_id', 'position')) as { picture_id: number; position: string }[];
    const place = new Map(order.map(({ picture_id }, i) => [picture_id, i]));
    const chapters = await trx('album_chapters').where('album_id', album.id).orderBy('position');
    const last = new Map<number, string>();
    for (const [i, { position, heading, note }] of chapters.entries()) {
      const next = chapters[i + 1]?.position;
      const first = pictures.find(
        (one) =>
          one.position >= position &&
          (next === undefined || one.position < next) &&
          one.there !== null &&
          place.has(one.there),
      );
      if (!first) continue;
      const at = place.get(first.there!)!;
      const before = last.get(at) ?? order[at - 1]?.position ?? null;
      const key = keysBetween(before, order[at]!.position, 1)?.[0];
      if (key === undefined) continue;
      last.set(at, key);
      await trx('album_chapters').insert({ library_id: to, album_id: album.there, position: key, heading, note });
    }
  }
}
