import { noticedOfFaces, type FaceSeen, type Notice } from '@gemmel/core';
import type { Db } from '../db/open';
import { chunks } from '../lists';

interface Row {
  picture_id: number;
  person_id: number | null;
  group_key: number | null;
  height_px: number;
  eyes: number | null;
}

/** Faces from this many on tell how open somebody's eyes usually are. */
const ENOUGH = 4;
/** A picture as sharp as this shows whether eyes are open; see `sharpness` in the tables. */
const SHARP = 60;

/**
 * Notices many faces and shut eyes in the pictures of a library. How open eyes measure depends on whose they are: each is held
 * against the middle of the same person's, or of the same likely person's. Runs in a thread with a database of its own.
 */
export async function noticeFaces(db: Db, library: number, kinds: readonly string[]): Promise<void> {
  const rows = (await db('faces as f')
    .join('pictures as p', 'p.id', 'f.picture_id')
    .where('f.library_id', library)
    .whereIn('f.state', ['waiting', 'named'])
    .select(
      'f.picture_id',
      'f.person_id',
      'f.group_key',
      'f.height_px',
      // In a blurred picture lids cannot be told from light.
      db.raw('IF(p.sharpness >= ?, f.eyes, NULL) AS eyes', [SHARP]),
    )) as unknown as Row[];
  const whose = (row: Row) => (row.person_id ? `p${row.person_id}` : row.group_key ? `g${row.group_key}` : null);
  const usual = new Map<string, number[]>();
  for (const row of rows) {
    const key = whose(row);
    if (key && row.eyes !== null) usual.set(key, [...(usual.get(key) ?? []), row.eyes]);
  }
  const middle = new Map(
    [...usual]
      .filter(([, eyes]) => eyes.length >= ENOUGH)
      .map(([key, eyes]) => [key, eyes.sort((a, b) => a - b)[Math.floor(eyes.length / 2)]!]),
  );
  const byPicture = new Map<number, FaceSeen[]>();
  for (const row of rows) {
    const key = whose(row);
    const open = key ? middle.get(key) : undefined;
    const list = byPicture.get(row.picture_id) ?? [];
    list.push({ height: row.height_px, eyes: row.eyes === null || !open ? null : row.eyes / open });
    byPicture.set(row.picture_id, list);
  }
  const found = new Map<string, { library_id: number; picture_id: number; kind: string; sure: number }>();
  for (const [picture_id, faces] of byPicture)
    for (const { kind, sure } of noticedOfFaces(faces) as Notice[])
      if (kinds.includes(kind)) found.set(`${picture_id} ${kind}`, { library_id: library, picture_id, kind, sure });
  for (const row of await db('observation_denied')
    .where('library_id', library)
    .whereIn('kind', ['shut', 'crowd'])
    .select('picture_id', 'kind'))
    found.delete(`${row.picture_id} ${row.kind}`);
  const there = await db('picture_observations')
    .where('library_id', library)
    .whereIn('kind', ['shut', 'crowd'])
    .select('picture_id', 'kind');
  const gone = there.filter((row) => !found.has(`${row.picture_id} ${row.kind}`));
  for (const row of there) found.delete(`${row.picture_id} ${row.kind}`);
  for (const kind of ['shut', 'crowd'])
    for (const some of chunks(
      gone.filter((row) => row.kind === kind),
      1000,
    ))
      await db('picture_observations')
        .where({ library_id: library, kind })
        .whereIn(
          'picture_id',
          some.map((row) => row.picture_id),
        )
        .delete();
  for (const some of chunks([...found.values()], 1000))
    await db('picture_observations').insert(some).onConflict().ignore();
}
