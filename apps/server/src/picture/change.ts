import type { ActKind, PictureChange } from '@gemmel/contract';
import { searchable } from '@gemmel/core';
import { perform, type By } from '../act/perform';
import { chunks, type App } from '../context';
import { setMany } from '../db/setMany';
import { notFound } from '../problem';
import { tagIds } from '../tag/tags';

const kindOf = (change: PictureChange): ActKind =>
  Object.keys(change).every((key) => key === 'addTags')
    ? 'tag'
    : Object.keys(change).every((key) => key === 'removeTags')
      ? 'untag'
      : 'say';

/** Applies what somebody says about pictures. All or nothing; refused when one of them is not in the library. */
export function changePictures(
  app: App,
  by: By,
  ids: readonly number[],
  change: PictureChange,
): Promise<{ act: number | null }> {
  return perform(app, by, kindOf(change), async ({ trx, library, hold, made, words }) => {
    const { rating, favourite, title, caption, addTags = [], removeTags = [] } = change;
    const rows = await hold('pictures', ids);
    if (rows.length < new Set(ids).size) throw notFound('pictures');
    const what = (['title', 'caption'] as const).filter((part) => change[part] !== undefined);
    words({
      ...(rating === undefined ? {} : { rating }),
      ...(favourite === undefined ? {} : { favourite }),
      ...(what.length ? { what } : {}),
    });
    const plain = {
      ...(rating === undefined ? {} : { rating }),
      ...(favourite === undefined ? {} : { favourite }),
    };
    if (Object.keys(plain).length)
      for (const some of chunks(ids, 1000))
        await trx('pictures').where('library_id', library).whereIn('id', some).update(plain);
    if (what.length)
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
            set: { ...said, words: searchable(said.title, said.caption, String(row['name'])) },
          };
        }),
      );
    if (addTags.length || removeTags.length) await hold('picture_tags', ids);
    if (addTags.length) {
      const tags = await tagIds(trx, library, addTags, (id) => made('tags', id));
      words({ what: addTags });
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
  });
}
