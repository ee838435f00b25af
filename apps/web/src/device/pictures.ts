import type { Picture, Tile } from '@gemmel/contract';
import { delMany, get, getMany, keys, set, setMany, values } from 'idb-keyval';
import { store } from './stores';
import { whose } from './whose';

/** A picture that is kept on this device, with what the grid shows of it. */
export interface KeptPicture {
  picture: Picture;
  tile: Tile;
}

/** Keeps pictures with everything that is said of them. */
export async function keepPictures(some: readonly KeptPicture[]): Promise<void> {
  const [of, on] = [whose(), store('pictures')];
  if (of !== null && on)
    await setMany(
      some.map((one) => [`${of} ${one.picture.id}`, one]),
      on,
    );
}

/** Everything about a picture that is kept; undefined for others. */
export async function keptPicture(id: number): Promise<Picture | undefined> {
  const [of, on] = [whose(), store('pictures')];
  return of === null || !on ? undefined : (await get<KeptPicture>(`${of} ${id}`, on))?.picture;
}

/** Keeps a picture as it is now, if it is one of those that are kept. */
export async function keepPicture(picture: Picture): Promise<void> {
  const [of, on] = [whose(), store('pictures')];
  if (of === null || !on) return;
  const key = `${of} ${picture.id}`;
  const before = await get<KeptPicture>(key, on);
  if (before)
    await set(
      key,
      {
        picture,
        tile: {
          ...before.tile,
          rating: picture.rating,
          favourite: picture.favourite,
          title: picture.title,
          tags: picture.tags.map(({ name }) => name),
        },
      },
      on,
    );
}

/** Some kept pictures, those that are kept. */
export async function keptPictures(ids: readonly number[]): Promise<KeptPicture[]> {
  const [of, on] = [whose(), store('pictures')];
  if (of === null || !on) return [];
  const found = await getMany<KeptPicture | undefined>(
    ids.map((id) => `${of} ${id}`),
    on,
  );
  return found.filter((one) => one !== undefined);
}

/** All pictures that are kept here of this library. */
export async function allKept(): Promise<KeptPicture[]> {
  const [of, on] = [whose(), store('pictures')];
  if (of === null || !on) return [];
  const names = await keys<string>(on);
  const all = await values<KeptPicture>(on);
  return all.filter((_, i) => names[i]!.startsWith(`${of} `));
}

/** Lets pictures go that nothing kept holds any longer. */
export async function dropPictures(ids: readonly number[]): Promise<void> {
  const [of, on] = [whose(), store('pictures')];
  if (of !== null && on)
    await delMany(
      ids.map((id) => `${of} ${id}`),
      on,
    );
}
