import { plural, t } from '@lingui/core/macro';
import type { Album, AlbumOrder, Shelf, ShelfOrder } from '@gemmel/contract';
import { call } from '@/api/client';
import { forget, refresh } from '@/api/query';
import { act } from '@/state/acts';

/** Where something stands before. */
export type Before = { album: number } | { shelf: number } | null;

/** Puts albums and shelves on a shelf, or on none. `to` is what the shelf is called; null for none. */
export const putOnShelf = (
  what: { albums?: readonly number[]; shelves?: readonly number[]; name: string },
  on: number | null,
  to: string | null,
  before: Before = null,
) =>
  act(
    () =>
      call('shelve', { body: { albums: [...(what.albums ?? [])], shelves: [...(what.shelves ?? [])], on, before } }),
    to === null ? t`“${what.name}” stands on no shelf` : t`“${what.name}” stands on “${to}”`,
    'albums',
  );

/** Makes a shelf, on another or on none. */
export const makeShelf = (name: string, on: number | null, albums: readonly number[] = []) =>
  act(() => call('makeShelf', { body: { name, on, albums: [...albums] } }), t`Shelf “${name}” made`, 'albums');

/** Renames a shelf. */
export const renameShelf = (id: number, name: string) =>
  act(() => call('changeShelf', { params: { id }, body: { name } }), t`Shelf renamed to “${name}”`, 'albums');

/** Chooses how what stands on a shelf, or on none, is ordered. */
export const sortShelf = (id: number | null, sorted: ShelfOrder) =>
  act(
    () =>
      id === null
        ? call('sortAlbums', { body: { sorted } })
        : call('changeShelf', { params: { id }, body: { sorted } }),
    t`Order changed`,
    'albums',
  );

/** Removes a shelf; what stands on it moves up, or goes with it. */
export const removeShelf = (shelf: Shelf, rest: 'up' | 'go') =>
  act(
    () => call('removeShelf', { params: { id: shelf.id }, body: { rest } }),
    ({ albums }) => [
      rest === 'go' && albums
        ? plural(albums, {
            one: `Shelf “${shelf.name}” removed with # album`,
            other: `Shelf “${shelf.name}” removed with # albums`,
          })
        : t`Shelf “${shelf.name}” removed`,
      t`All pictures are still in the library.`,
    ],
    'albums',
  );

/** Shows the pictures of an album in another order; the one by hand is kept. */
export const orderAlbum = (album: Album, sorted: AlbumOrder, backwards: boolean) =>
  act(
    () => call('changeAlbum', { params: { id: album.id }, body: { sorted, backwards } }),
    sorted === 'hand' || album.kind === 'smart'
      ? t`Order changed`
      : [t`Order changed`, t`Your order by hand is kept for when you want it back.`],
    'albums',
  );

/** Takes pictures out of an album. */
export const takeOut = (album: Album, ids: readonly number[]) =>
  act(
    () => call('takeOutOfAlbum', { params: { id: album.id }, body: { ids: [...ids] } }),
    [
      plural(ids.length, { one: '# picture taken out of the album', other: '# pictures taken out of the album' }),
      t`They stay in the library.`,
    ],
    'albums',
  );

/** Has a picture stand for an album; null for the best one. */
export const chooseCover = (album: Album, cover: number | null) =>
  act(
    () => call('changeAlbum', { params: { id: album.id }, body: { cover } }),
    cover === null ? t`The best picture is the cover again` : t`Cover chosen`,
    'albums',
  );

/** Puts pictures into a smart album by hand, keeps them out, or lets its question decide again. */
export const byHand = (album: Album, ids: readonly number[], way: 'in' | 'out' | null) =>
  act(
    () => call('handAlbum', { params: { id: album.id }, body: { ids: [...ids], way } }),
    way === 'out'
      ? plural(ids.length, {
          one: `# picture is kept out of “${album.name}”`,
          other: `# pictures are kept out of “${album.name}”`,
        })
      : way === 'in'
        ? plural(ids.length, {
            one: `# picture put into “${album.name}” by hand`,
            other: `# pictures put into “${album.name}” by hand`,
          })
        : t`The question decides again`,
    'albums',
  );

/** Removes an album, and forgets what was known of it. */
export async function removeAlbum(album: Album): Promise<boolean> {
  const done = await act(
    () => call('removeAlbum', { params: { id: album.id } }),
    [t`Album “${album.name}” removed`, t`All its pictures are still in the library.`],
  );
  if (!done) return false;
  forget('album', album.id);
  refresh('albums', 'picture', 'looseAlbums');
  return true;
}

/** Makes an album like another; a frozen one of a smart album holds what that holds now. */
export const copyAlbum = (album: Album, name: string, frozen: boolean) =>
  act(
    () => call('copyAlbum', { params: { id: album.id }, body: { name, frozen } }),
    frozen ? [t`Album “${name}” made`, t`It keeps what the smart album holds now.`] : t`Album “${name}” made`,
    'albums',
  );

/** Puts all of an album into another, which then stands for both. */
export async function joinAlbums(album: Album, into: Album): Promise<boolean> {
  const done = await act(
    () => call('joinAlbums', { params: { id: album.id }, body: { into: into.id } }),
    t`“${album.name}” is now part of “${into.name}”`,
  );
  if (!done) return false;
  forget('album', album.id);
  refresh('albums', 'album', 'picture');
  return true;
}

/** Moves pictures from an album to another. */
export const moveTo = (album: Album, into: Album, ids: readonly number[]) =>
  act(
    () => call('moveToAlbum', { params: { id: album.id }, body: { ids: [...ids], to: into.id } }),
    plural(ids.length, { one: `# picture moved to “${into.name}”`, other: `# pictures moved to “${into.name}”` }),
    'albums',
  );
