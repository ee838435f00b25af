import { plural, t } from '@lingui/core/macro';
import { call } from '@/api/client';
import { queries } from '@/api/query';
import { act } from '@/state/acts';

interface Listed {
  albums?: readonly { id: number; name: string }[];
}

/** Puts pictures that were carried to an album into it. */
export function fillAlbum(id: number, ids: readonly number[]): void {
  const name = queries.getQueryData<Listed>(['albums', {}])?.albums?.find((one) => one.id === id)?.name ?? '';
  void act(
    () => call('putIntoAlbum', { params: { id }, body: { ids: [...ids] } }),
    ({ added }) =>
      added.length
        ? plural(added.length, { one: `# picture added to “${name}”`, other: `# pictures added to “${name}”` })
        : t`All of them are already in “${name}”`,
    'albums',
  );
}
