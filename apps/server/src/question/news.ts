import type { Db } from '../db/open';

/**
 * What has been told of each topic of a library, for one request: what is kept is good as long as it stays the same. The last
 * piece of news alone would not do, since a transaction may end after another that began later; how many there are tells.
 */
export async function newsOf(db: Db, library: number): Promise<ReadonlyMap<string, string>> {
  const rows = (await db('changes')
    .where('library_id', library)
    .groupBy('topic')
    .select('topic', db.raw("CONCAT(MAX(id), ' ', COUNT(*)) AS at"))) as unknown as { topic: string; at: string }[];
  return new Map(rows.map((row) => [row.topic, row.at]));
}

/** How long anything is kept by its news, in ms: well below the hour after which news is forgotten. */
export const KEPT_FOR = 20 * 60_000;
