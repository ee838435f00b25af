import type { ActKind, PictureChange, PictureSeen } from '@gemmel/contract';
import { perform, type By } from '../act/perform';
import type { Row } from '../act/kept';
import { chunks, type App } from '../context';
import { setMany } from '../db/setMany';
import { refuseForeign } from '../library/own';
import { meaningOf } from '../mark/marks';
import { notFound } from '../problem';
import { readAgain } from '../question/words';
import { tagIds } from '../tag/tags';

const kindOf = (change: PictureChange): ActKind =>
  Object.keys(change).every((key) => key === 'addTags' || key === 'giveTags')
    ? 'tag'
    : Object.keys(change).every((key) => key === 'removeTags')
      ? 'untag'
      : 'say';

/** Whether a picture still is as somebody saw it. */
const isAsSeen = (row: Row, was: PictureSeen): boolean =>
  (was.rating === undefined || Number(row['rating']) === was.rating) &&
  (was.title === undefined || (row['title'] ?? '') === (was.title ?? '')) &&
  (was.caption === undefined || (row['caption'] ?? '') === (was.caption ?? '')) &&
  (was.mark === undefined || (row['mark_id'] ?? null) === was.mark);

/**
 * Applies what somebody says about pictures. All or nothing; refused when one of them is not in the library. With `was`, pictures that are no
 * longer as they were seen are left as they are, and named.
 */
export function changePictures(
  app: App,
  by: By,
  asked: readonly number[],
  change: PictureChange,
  was?: PictureSeen,
): Promise<{ act: number | null; left?: number[] }> {
  return perform(app, by, kindOf(change), async ({ trx, library, hold, made, words }) => {
    const { rating, favourite, title, caption, mark, addTags = [], removeTags = [], giveTags = [] } = change;
    const held = await hold('pictures', asked);
    if (held.length < new Set(asked).size) throw notFound('pictures');
    const rows = was ? held.filter((row) => isAsSeen(row, was)) : held;
    const ids = was ? rows.map((row) => Number(row['id'])) : asked;
    const left = was ? asked.filter((id) => !ids.includes(id)) : [];
    if (ids.length === 0) return { left };
    const what = (['title', 'caption', 'mark'] as const).filter((part) => change[part] !== undefined);
    if (mark) await refuseForeign(trx, library, 'marks', [mark], 'mark');
    await refuseForeign(trx, library, 'tags', giveTags, 'tag');
    words({
      ...(rating === undefined ? {} : { rating }),
      ...(favourite === undefined ? {} : { favourite }),
      ...(what.length ? { what } : {}),
    });
    const plain = {
      ...(rating === undefined ? {} : { rating }),
      ...(favourite === undefined ? {} : { favourite }),
      ...(mark === undefined ? {} : { mark_id: mark, label: null }),
    };
    if (Object.keys(plain).length)
      for (const some of chunks(ids, 1000))
        await trx('pictures').where('library_id', library).whereIn('id', some).update(plain);
    if (title !== undefined || caption !== undefined)
      await setMany(
        trx,
        library,
        'pictures',
        rows.map((row) => {
          const said = {
            title: title === undefined ? (row['title'] as string | null) : title || null,
            caption: caption === undefined ? (row['caption'] as string | null) : caption || null,
          };
          return {
            id: Number(row['id']),
            set: said,
          };
        }),
      );
    if (title !== undefined || caption !== undefined) await readAgain(trx, library, ids);
    if (mark) words({ to: await meaningOf(trx, mark) });
    if (addTags.length || removeTags.length || giveTags.length) await hold('picture_tags', ids);
    if (addTags.length || giveTags.length) {
      const tags = [...new Set([...(await tagIds(trx, library, addTags, (id) => made('tags', id))), ...giveTags])];
      const named = await trx('tags').whereIn('id', tags).orderBy('folded').select('name');
      words({ what: named.map((tag) => tag.name) });
      const pairs = ids.flatMap((picture_id) => tags.map((tag_id) => ({ library_id: library, picture_id, tag_id })));
      for (const some of chunks(pairs, 1000)) await trx('picture_tags').insert(some).onConflict().ignore();
    }
    if (removeTags.length) {
      const named = await trx('tags').where('library_id', library).whereIn('id', removeTags).select('name');
      words({ what: named.map((tag) => tag.name) });
      for (const some of chunks(ids, 1000))
        await trx('picture_tags')
          .where('library_id', library)
          .whereIn('picture_id', some)
          .whereIn('tag_id', removeTags)
          .delete();
    }
    return left.length ? { left } : {};
  });
}
