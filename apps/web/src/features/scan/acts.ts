import { plural, t } from '@lingui/core/macro';
import type { PrintCorners } from '@gemmel/contract';
import { call } from '@/api/client';
import { act } from '@/state/acts';

/** Takes a scan apart by frames around its prints. Answers with the pictures that came of it, or null. */
export async function takeApart(id: number, prints: readonly PrintCorners[]): Promise<readonly number[] | null> {
  const done = await act(
    () => call('takeApart', { params: { id }, body: { prints: [...prints] } }),
    ({ looks }) => [
      plural(looks.length + 1, { one: 'Cut out # print', other: 'Taken apart into # pictures' }),
      t`The scan itself stays as it was.`,
    ],
    'pictures',
    'scans',
    'people',
    'events',
    'library',
  );
  return done && [id, ...done.looks];
}

/** Says that a scan is one picture. Answers whether it was done. */
export const keepWhole = async (id: number): Promise<boolean> =>
  Boolean(
    await act(() => call('keepWhole', { params: { id } }), t`Kept as one picture`, 'pictures', 'scans', 'library'),
  );

/** Says that pictures are front and back of one print each, or that they are not. */
export const pairUp = async (pairs: readonly { front: number; back: number }[], are: boolean): Promise<boolean> =>
  Boolean(
    await act(
      () => call('pair', { body: { pairs: [...pairs], are } }),
      ({ pairs: n }) =>
        are
          ? plural(n, { one: 'Put the back behind its front', other: 'Put # backs behind their fronts' })
          : plural(n, { one: 'Kept as two pictures', other: 'Kept # pairs as two pictures each' }),
      'pictures',
      'scans',
      'runs',
    ),
  );
