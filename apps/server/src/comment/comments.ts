import type { Comment, Part } from '@gemmel/contract';
import type { SaidComment } from '@gemmel/core';
import { perform, type By } from '../act/perform';
import type { App } from '../context';
import type { Db } from '../db/open';
import { notFound, refused } from '../problem';
import { readAgain } from '../question/words';

const iso = (at: string): string => `${at.replace(' ', 'T')}Z`;

/** What members, and guests, wrote about a picture, the earliest first. */
export async function commentsOf(db: Db, library: number, picture: number): Promise<Comment[]> {
  const rows = await db('comments')
    .where({ library_id: library, picture_id: picture })
    .orderBy(['at', 'id'])
    .select('id', 'member_id', 'author', 'text', 'at', 'edited_at', 'share_id', 'hidden');
  return rows.map((row) => ({
    id: row.id,
    member: row.member_id,
    author: row.author,
    text: row.text,
    at: iso(row.at),
    edited: row.edited_at && iso(row.edited_at),
    guests: row.share_id === null ? null : row.hidden ? 'hidden' : 'read',
  }));
}

/**
 * Keeps comments that came with a picture, those that are not there yet; who wrote them is the member of that name, if there is
 * one. Search is to read the picture again.
 */
export async function bringComments(
  trx: Db,
  library: number,
  picture: number,
  comments: readonly SaidComment[],
): Promise<void> {
  if (comments.length === 0) return;
  const there = await trx('comments').where('picture_id', picture).select('author', 'text');
  const members = await trx('members').where('library_id', library).select('id', 'name');
  const fresh = comments.filter((c) => !there.some((one) => one.author === c.author && one.text === c.text));
  if (fresh.length)
    await trx('comments').insert(
      fresh.map(({ author, at, text }) => ({
        library_id: library,
        picture_id: picture,
        member_id: members.find(({ name }) => name === author)?.id ?? null,
        author,
        text,
        at: at.slice(0, 19).replace('T', ' '),
      })),
    );
}

/** Writes the same comment on some pictures. Answers with the number of the first. */
export const writeComment = (
  app: App,
  by: By & { member: number },
  pictures: readonly number[],
  text: string,
): Promise<{ id: number; act: number | null }> =>
  perform(app, by, 'comment', async ({ trx, library, member, made, hold, words }) => {
    const ids = [...new Set(pictures)];
    if ((await hold('pictures', ids)).length < ids.length) throw notFound(ids.length > 1 ? 'pictures' : 'picture');
    const author = (await trx('members').where('id', member!).first('name'))!.name;
    let first = 0;
    for (const picture of ids) {
      const [id] = (await trx('comments').insert({
        library_id: library,
        picture_id: picture,
        member_id: member,
        author,
        text,
      })) as [number];
      made('comments', id);
      first ||= id;
    }
    words({ to: text.slice(0, 120) });
    await readAgain(trx, library, ids);
    return { id: first };
  });

/** Answers a guest's comment, beside it: guests of that share read the answer. */
export const answerComment = (
  app: App,
  by: By & { member: number },
  id: number,
  text: string,
): Promise<{ id: number; act: number | null }> =>
  perform(app, by, 'comment', async ({ trx, library, member, made, hold, words }) => {
    const [row] = await hold('comments', [id]);
    if (!row || row['share_id'] === null) throw notFound('comment');
    const picture = Number(row['picture_id']);
    if ((await hold('pictures', [picture])).length === 0) throw notFound('picture');
    const author = (await trx('members').where('id', member!).first('name'))!.name;
    const [answer] = (await trx('comments').insert({
      library_id: library,
      picture_id: picture,
      member_id: member,
      author,
      text,
      share_id: Number(row['share_id']),
    })) as [number];
    made('comments', answer);
    words({ to: text.slice(0, 120) });
    await readAgain(trx, library, [picture]);
    return { id: answer };
  });

/** Refuses a comment that is not there for whoever asks. */
async function refuseUnseen({ db }: App, library: number, id: number): Promise<void> {
  if (!(await db('comments').where({ id, library_id: library }).first('id'))) throw notFound('comment');
}

/** Changes a comment of one's own. */
export const changeComment = async (
  app: App,
  by: By & { member: number },
  id: number,
  text: string,
): Promise<{ act: number | null }> => {
  await refuseUnseen(app, by.library, id);
  return perform(app, by, 'change comment', async ({ trx, library, member, hold, words }) => {
    const [row] = await hold('comments', [id]);
    if (!row) throw notFound('comment');
    if (row['member_id'] !== member) throw refused('not-your-comment');
    await trx('comments')
      .where('id', id)
      .update({ text, edited_at: trx.raw('UTC_TIMESTAMP(3)') });
    words({ to: text.slice(0, 120) });
    await readAgain(trx, library, [Number(row['picture_id'])]);
  });
};

/** Removes a comment of one's own; the keeper may remove any. */
export const removeComment = async (
  app: App,
  by: By & { member: number; part: Part },
  id: number,
): Promise<{ act: number | null }> => {
  await refuseUnseen(app, by.library, id);
  return perform(app, by, 'remove comment', async ({ trx, library, member, hold, words }) => {
    const [row] = await hold('comments', [id]);
    if (!row) throw notFound('comment');
    if (row['member_id'] !== member && by.part !== 'keeper') throw refused('not-your-comment');
    await trx('comments').where({ id, library_id: library }).delete();
    words({ to: String(row['text']).slice(0, 120) });
    await readAgain(trx, library, [Number(row['picture_id'])]);
  });
};
