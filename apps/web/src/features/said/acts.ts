import { plural, t } from '@lingui/core/macro';
import type { PictureChange } from '@gemmel/contract';
import { call } from '@/api/client';
import { act } from '@/state/acts';
import type { Said } from '@/state/acts';
import { sayList } from '@/ui/say';
import type { Given } from './TagAdder';

/** Says something about pictures and offers to take it back. `done` tells what was done, in the past. */
export async function change(ids: readonly number[], what: PictureChange, done: Said): Promise<boolean> {
  if (ids.length === 0) return false;
  return Boolean(
    await act(
      () => call('change', { body: { ids: [...ids], change: what } }),
      done,
      'said',
      ...(what.addTags || what.giveTags || what.removeTags ? (['tags'] as const) : []),
    ),
  );
}

/** Gives some pictures tags, known ones by number and new ones by name. */
export function giveTags(ids: readonly number[], tags: readonly Given[]): Promise<boolean> {
  const names = sayList(tags.map(({ name }) => t`“${name}”`));
  const known = tags.flatMap((tag) => ('id' in tag ? [tag.id] : []));
  const fresh = tags.flatMap((tag) => ('id' in tag ? [] : [tag.name]));
  return change(
    ids,
    { ...(known.length ? { giveTags: known } : {}), ...(fresh.length ? { addTags: fresh } : {}) },
    plural(ids.length, { one: `Tagged ${names}`, other: `# pictures tagged ${names}` }),
  );
}

/** "4 stars", "No stars", with how many pictures when there are several. */
export const saidStars = (stars: number, n: number): string =>
  stars === 0
    ? plural(n, { one: 'Stars removed', other: 'Stars of # pictures removed' })
    : `${'★'.repeat(stars)} ${plural(n, { one: 'given', other: 'given to # pictures' })}`;

/** What a key means for some pictures: 0 to 5 for stars, h for the heart. False when it means nothing. */
export function keyAct(key: string, ids: readonly number[], favourite = false): boolean {
  if (/^[0-5]$/.test(key)) void change(ids, { rating: Number(key) }, saidStars(Number(key), ids.length));
  else if (key === 'h') void change(ids, { favourite: !favourite }, favourite ? t`Heart removed` : t`Heart given`);
  else return false;
  return true;
}
