import type { GuestComment } from '@gemmel/contract';
import { perform, type By } from '../act/perform';
import type { App } from '../context';
import { wholly } from '../db/turn';
import { tell } from '../feed/feed';
import { notFound, refused } from '../problem';
import { readAgain } from '../question/words';
import { guestPicture } from './guestView';
import { mayIn } from './row';
import { mayLook, nameOf, needs, type AtShare } from './visits';

/** How many comments one guest may write in an hour: enough for a family, too few for a machine. */
const MOST = 60;

/** `writes` for what is no longer done once the keeper has closed what is said. */
async function shownPicture(app: App, at: AtShare, id: number, writes = false): Promise<void> {
  await mayLook(app, at);
  const { say, closed } = mayIn(at.share);
  needs(say);
  if (writes && closed) throw refused('share-said-closed');
  if (!(await guestPicture(app, at.share, id))) throw notFound('picture');
}

/** What guests of a share wrote about a picture, and what the house answered there, the earliest first. */
export async function guestComments(app: App, at: AtShare, picture: number): Promise<GuestComment[]> {
  await shownPicture(app, at, picture);
  const rows = await app
    .db('comments')
    .where({ share_id: at.share.id, picture_id: picture, hidden: false })
    .orderBy(['at', 'id'])
    .limit(500)
    .select('id', 'author', 'text', 'at', 'who', 'member_id');
  return rows.map(({ id, author, text, at: when, who, member_id }) => ({
    id,
    author,
    text,
    at: `${when.replace(' ', 'T')}Z`,
    mine: Boolean(at.who && who?.equals(at.who)),
    house: member_id !== null && who === null,
  }));
}

/** Writes a guest's comment on a picture: it stays with the picture, and guests of this share read it. */
export async function guestComment(app: App, at: AtShare, picture: number, text: string): Promise<GuestComment[]> {
  await shownPicture(app, at, picture, true);
  const author = await nameOf(app, at);
  const { share } = at;
  await wholly(app.db, async (trx) => {
    await trx('shares').where('id', share.id).forUpdate().first('id');
    const [{ n }] = (await trx('comments')
      .where({ share_id: share.id, who: at.who! })
      .where('at', '>', trx.raw('UTC_TIMESTAMP(3) - INTERVAL 1 HOUR'))
      .count('* as n')) as unknown as [{ n: number }];
    if (Number(n) >= MOST) throw refused('too-many-tries');
    await trx('comments').insert({
      library_id: share.library_id,
      picture_id: picture,
      member_id: at.guest?.member_id ?? null,
      author,
      text,
      share_id: share.id,
      who: at.who!,
    });
    await readAgain(trx, share.library_id, [picture]);
    await tell(
      trx,
      share.library_id,
      new Map([
        ['said', [picture]],
        ['shares', null],
      ]),
    );
  });
  app.feed.nudge();
  return guestComments(app, at, picture);
}

/** Takes back a guest's own comment. */
export async function takeGuestComment(app: App, at: AtShare, id: number): Promise<void> {
  await mayLook(app, at);
  const { share } = at;
  const row = at.who
    ? await app.db('comments').where({ id, share_id: share.id, who: at.who }).first('picture_id')
    : undefined;
  if (!row) throw notFound('comment');
  await wholly(app.db, async (trx) => {
    await trx('comments').where({ id, share_id: share.id, who: at.who! }).delete();
    await readAgain(trx, share.library_id, [row.picture_id]);
    await tell(trx, share.library_id, new Map([['said', [row.picture_id]]]));
  });
  app.feed.nudge();
}

/** Gives a picture a guest's heart, or takes it back; answers with how many it has in this share. */
export async function guestHeart(app: App, at: AtShare, picture: number, on: boolean): Promise<number> {
  await shownPicture(app, at, picture, true);
  if (!at.who) throw refused('share-name-first');
  const { share, who } = at;
  const { db } = app;
  const row = { share_id: share.id, picture_id: picture, who };
  if (on)
    await db('guest_hearts')
      .insert({ library_id: share.library_id, ...row })
      .onConflict()
      .ignore();
  else await db('guest_hearts').where(row).delete();
  const [{ n }] = (await db('guest_hearts')
    .where({ share_id: share.id, picture_id: picture })
    .count('* as n')) as unknown as [{ n: number }];
  app.feed.say(share.library_id, 'said', [picture]);
  return Number(n);
}

/** Hides a guest's comment from other guests, or shows it again. */
export const hideComment = (app: App, by: By, id: number, hidden: boolean): Promise<{ act: number | null }> =>
  perform(app, by, hidden ? 'hide comment' : 'show comment', async ({ trx, library, hold, words }) => {
    const [row] = await hold('comments', [id]);
    if (!row) throw notFound('comment');
    await trx('comments').where({ id, library_id: library }).update({ hidden });
    words({ to: String(row['text']).slice(0, 120) });
  });
