import { plural, t } from '@lingui/core/macro';
import { call } from '@/api/client';
import { act } from '@/state/acts';

/** Where pictures show up that were chosen between. */
const EVERYWHERE = ['pictures', 'runs', 'bin', 'events', 'people', 'albums', 'tags', 'library'] as const;

/** Keeps some shots of a run and bins the rest. Answers whether it was done. */
export const choose = async (run: number, keep: readonly number[]): Promise<boolean> =>
  Boolean(
    await act(
      () => call('chooseInRun', { params: { id: run }, body: { keep: [...keep] } }),
      ({ kept, binned }) =>
        binned
          ? [
              plural(kept, { one: 'Kept # shot', other: 'Kept # shots' }),
              plural(binned, { one: '# moved to the bin.', other: '# moved to the bin.' }),
            ]
          : t`Kept all of them`,
      ...EVERYWHERE,
    ),
  );

/** Keeps one of some doubles, and bins the others. */
export const merge = async (keep: number, others: readonly number[]): Promise<boolean> =>
  Boolean(
    await act(
      () => call('mergeDoubles', { body: { keep, others: [...others] } }),
      ({ binned, carried }) => [
        plural(binned, { one: '# double moved to the bin', other: '# doubles moved to the bin' }),
        carried.length ? t`What it knew was carried over.` : '',
      ],
      'said',
      ...EVERYWHERE,
    ),
  );

/** Says that doubles all stay. */
export const keepApart = async (ids: readonly number[]): Promise<boolean> =>
  Boolean(
    await act(
      () => call('keepDoublesApart', { body: { ids: [...ids] } }),
      t`Kept all of them; they are no longer proposed`,
      'runs',
      'library',
    ),
  );
