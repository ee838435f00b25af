import { ownPictures } from '../album/albums';
import { chunks, type App } from '../context';

/** The pictures a member has in hand, in the order they were picked. */
export async function readPile(app: App, library: number, member: number): Promise<number[]> {
  const rows = (await app
    .db('pile_pictures')
    .where({ library_id: library, member_id: member })
    .orderBy('position')
    .select('picture_id')) as { picture_id: number }[];
  return rows.map((row) => row.picture_id);
}

/** Sets the pictures in hand. */
export async function setPile(app: App, library: number, member: number, ids: readonly number[]): Promise<number[]> {
  const own = await ownPictures(app, library, ids);
  await app.db.transaction(async (trx) => {
    await trx('pile_pictures').where('member_id', member).delete();
    for (const [c, some] of chunks(own, 1000).entries())
      await trx('pile_pictures').insert(
        some.map((picture_id, i) => ({ library_id: library, member_id: member, picture_id, position: c * 1000 + i })),
      );
  });
  return own;
}
