import { plural } from '@lingui/core/macro';
import { call } from '@/api/client';
import { act } from '@/state/acts';

/** A spot on earth, in degrees. */
export interface Spot {
  lat: number;
  lon: number;
}

/** What a dragged picture or pile carries. */
export const DRAGGED = 'application/x-gemmel-pictures';

/** What was done to so many pictures: they were put at a named place, on the map, or have lost their place. */
function saidPlaced(n: number, spot: Spot | null, name: string | null): string {
  if (!spot) return plural(n, { one: 'Place removed', other: 'Places of # pictures removed' });
  return name
    ? plural(n, { one: `# picture put at ${name}`, other: `# pictures put at ${name}` })
    : plural(n, { one: '# picture put on the map', other: '# pictures put on the map' });
}

/** Gives pictures a place, or takes it away, and says so with a way back. */
export async function give(
  ids: readonly number[],
  spot: Spot | null,
  name: string | null,
  source: 'hand' | 'copied' = 'hand',
): Promise<boolean> {
  // A copied place carries its name too, which is not for the server.
  const to = spot && { lat: spot.lat, lon: spot.lon };
  return giveEach([{ ids: [...ids], spot: to }], saidPlaced(ids.length, spot, name), source);
}

/** Gives each group of pictures its own spot in one act. */
export async function giveEach(
  given: { ids: number[]; spot: Spot | null }[],
  said: string,
  source: 'hand' | 'track' | 'copied',
): Promise<boolean> {
  return Boolean(await act(() => call('givePlace', { body: { given, source } }), said, 'pictures', 'events'));
}
