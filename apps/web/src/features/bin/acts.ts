import { plural, t } from '@lingui/core/macro';
import { call } from '@/api/client';
import { act } from '@/state/acts';
import { usePile } from '@/state/pile';
import { sayBytes } from '@/ui/say';

/** Where pictures show up that went to the bin or came back. */
const EVERYWHERE = ['pictures', 'bin', 'events', 'people', 'albums', 'shares', 'tags', 'library', 'batches'] as const;

/** What is in hand may have gone to the bin, or come back from it. */
const pileAnew = () =>
  void usePile
    .getState()
    .load()
    .catch(() => undefined);

/** Moves pictures to the bin; says so, with the way back. Answers whether it was done. */
export async function toBin(ids: readonly number[]): Promise<boolean> {
  if (ids.length === 0) return false;
  const done = await act(
    () => call('intoBin', { body: { ids: [...ids] } }),
    ({ pictures }) => plural(pictures, { one: '# picture moved to the bin', other: '# pictures moved to the bin' }),
    ...EVERYWHERE,
  );
  if (done) pileAnew();
  return Boolean(done);
}

/** Brings pictures back from the bin, some or all. */
export async function bringBack(what: { ids: number[] } | { all: true }): Promise<boolean> {
  const done = await act(
    () => call('restore', { body: what }),
    ({ pictures, left }) => [
      plural(pictures, { one: '# picture brought back', other: '# pictures brought back' }),
      left
        ? plural(left, {
            one: '# stays in the bin because the same picture has come in again.',
            other: '# stay in the bin because the same pictures have come in again.',
          })
        : '',
    ],
    ...EVERYWHERE,
  );
  if (done) pileAnew();
  return Boolean(done);
}

/** Removes pictures in the bin for good. Answers whether it was done. */
export async function removeForGood(what: { ids: number[] } | { all: true }, word: string): Promise<boolean> {
  const done = await act(
    () => call('emptyBin', { body: { ...what, word } }),
    ({ pictures, bytes }) =>
      plural(pictures, {
        one: `# picture removed for good, ${sayBytes(bytes)} freed`,
        other: `# pictures removed for good, ${sayBytes(bytes)} freed`,
      }),
    'bin',
  );
  return Boolean(done);
}

/** Sets after how many days pictures leave the bin by themselves. */
export const setDays = (days: number | null) =>
  act(
    () => call('setBinDays', { body: { days } }),
    days === null
      ? t`Nothing leaves the bin by itself now`
      : plural(days, { one: 'Pictures stay in the bin for # day', other: 'Pictures stay in the bin for # days' }),
    'bin',
  );
