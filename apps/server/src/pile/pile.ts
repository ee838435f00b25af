import { ownPictures } from '../album/albums';
import { chunks, type App } from '../context';
import { wholly } from '../db/turn';
import { tell } from '../feed/feed';

/** The pictures a member has in hand, in the order they were picked. */
export async function readPile(app: App, library: number, member: number): Promise<number[]> {
  const rows = await app
    .db('pile_pictures')
    .where({ library_id: library, member_id: member })
    .orderBy('position')
    .select('picture_id');
  return rows.map((row) => row.picture_id);
}

/**
 * Puts pictures on the pile, puts some down, or sets what is in hand; what another browser of the same member did meanwhile
 * stays, unless all is set. Answers with the whole pile.
 */
export async function changePile(
  app: App,
  library: number,
  member: number,
  change: { put: readonly number[] } | { drop: readonly number[] } | { ids: readonly number[] },
): Promise<number[]> {
  const put = 'put' in change ? change.put : 'ids' in change ? change.ids : [];
  const own = await ownPictures(app.db, library, put);
  const ids = await wholly(app.db, async (trx) => {
    // One change at a time for each member: the row of the member is whose turn it is.
    await trx('members').where('id', member).forUpdate().first('id');
    const there = await trx('pile_pictures')
      .where({ library_id: library, member_id: member })
      .orderBy('position')
      .select('picture_id', 'position');
    const going = new Set('drop' in change ? change.drop : 'ids' in change ? there.map((row) => row.picture_id) : []);
    const stays = there.filter((row) => !going.has(row.picture_id));
    for (const some of chunks([...going], 1000))
      await trx('pile_pictures').where('member_id', member).whereIn('picture_id', some).delete();
    const has = new Set(stays.map((row) => row.picture_id));
    const fresh = own.filter((id) => !has.has(id));
    const from = stays.length ? stays[stays.length - 1]!.position + 1 : 0;
    for (const [c, some] of chunks(fresh, 1000).entries())
      await trx('pile_pictures').insert(
        some.map((picture_id, i) => ({
          library_id: library,
          member_id: member,
          picture_id,
          position: from + c * 1000 + i,
        })),
      );
    await tell(trx, library, new Map([['pile', [member]]]));
    return [...has, ...fresh];
  });
  app.feed.nudge();
  return ids;
}
