import { plural, t } from '@lingui/core/macro';
import { call } from '@/api/client';
import { act } from '@/state/acts';
import { usePile } from '@/state/pile';
import { Chip } from '@/ui/Button';
import { byHand, takeOut } from './acts';
import type { AlbumAnswer } from './AlbumPage';

/** What can be done between the pile and an album, as far as there is something to do. */
export function FillChips({ answer, onArrange }: { answer: AlbumAnswer; onArrange: () => void }) {
  const { album, ids } = answer;
  const pile = usePile();
  const there = new Set(ids);
  const here = ids.filter((id) => pile.has.has(id));
  const notHere = pile.ids.filter((id) => !there.has(id));
  const smart = album.kind === 'smart';
  const putIn = () =>
    act(
      () => call('putIntoAlbum', { params: { id: album.id }, body: { ids: pile.ids } }),
      ({ added }) =>
        plural(added.length, {
          one: `# picture added to “${album.name}”`,
          other: `# pictures added to “${album.name}”`,
        }),
      'albums',
    );
  return (
    <>
      {!smart && album.sorted === 'hand' && ids.length > 1 ? (
        <Chip label={t`Order by hand`} icon="grip" onPress={onArrange} />
      ) : null}
      {notHere.length ? (
        smart ? (
          <Chip
            label={t`Put ${notHere.length} from the pile in by hand`}
            icon="pile"
            onPress={() => void byHand(album, notHere, 'in')}
          />
        ) : (
          <Chip label={t`Add ${notHere.length} from the pile`} icon="pile" onPress={() => void putIn()} />
        )
      ) : null}
      {here.length ? (
        <Chip
          label={
            smart
              ? plural(here.length, {
                  one: 'Keep the one on the pile out',
                  other: 'Keep the # on the pile out',
                })
              : plural(here.length, {
                  one: 'Take out the one on the pile',
                  other: 'Take out the # on the pile',
                })
          }
          icon="minus"
          onPress={() => void (smart ? byHand(album, here, 'out') : takeOut(album, here))}
        />
      ) : null}
    </>
  );
}
