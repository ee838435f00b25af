import type { Db } from '../db/open';

/** The last piece of news of each kind in a library, for one request: what is kept is good as long as they stay. */
export async function newsOf(db: Db, library: number): Promise<ReadonlyMap<string, number>> {
  const rows = (await db('changes')
    .where('library_id', library)
    .groupBy('topic')
    .select('topic', db.raw('MAX(id) AS id'))) as unknown as { topic: string; id: number }[];
  return new Map(rows.map((row) => [row.topic, Number(row.id)]));
}
