import { call } from '@/api/client';
import { act } from '@/state/acts';
import { count } from '@/ui/say';

/** A spot on earth, in degrees. */
export interface Spot {
  lat: number;
  lon: number;
}

/** What a dragged picture or pile carries. */
export const DRAGGED = 'application/x-gemmel-pictures';

/** Gives pictures a place, or takes it away, and says so with a way back. */
export async function give(
  ids: readonly number[],
  spot: Spot | null,
  name: string,
  source: 'hand' | 'copied' = 'hand',
): Promise<boolean> {
  const n = count(ids.length, 'picture');
  // A copied place carries its name too, which is not for the server.
  const to = spot && { lat: spot.lat, lon: spot.lon };
  return giveEach([{ ids: [...ids], spot: to }], spot ? `${n} put ${name}` : `${n} without a place now`, source);
}

/** Gives each group of pictures its own spot in one act. */
export async function giveEach(
  given: { ids: number[]; spot: Spot | null }[],
  said: string,
  source: 'hand' | 'track' | 'copied',
): Promise<boolean> {
  return Boolean(await act(() => call('givePlace', { body: { given, source } }), said, 'pictures', 'events'));
}
