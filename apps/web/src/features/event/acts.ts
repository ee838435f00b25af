import type { Did, Event } from '@gemmel/contract';
import { call } from '@/api/client';
import { act } from '@/state/acts';

/** Does something with events, says it, and offers to take it back. Answers whether it was done. */
export const shape = async (doing: () => Promise<Did>, said: string): Promise<boolean> =>
  Boolean(await act(doing, said, 'events'));

/** Splits the event of a picture before it. */
export const splitAt = (event: number, picture: number): Promise<boolean> =>
  shape(
    () => call('splitEvent', { params: { id: event }, body: { picture } }),
    'Split here: this picture and all later ones are an event of their own.',
  );

/** Joins another event to one. */
export const join = (event: number, other: number, name: string): Promise<boolean> =>
  shape(() => call('joinEvents', { params: { id: event }, body: { other } }), `Joined with ${name}.`);

/** Removes an event; the pictures stay. */
export const remove = (event: number, name: string): Promise<boolean> =>
  shape(
    () => call('removeEvent', { params: { id: event } }),
    `${name} is no longer an event. Its pictures stay where they are in time.`,
  );

/** Files pictures under an event, under a new one, or under none. */
export const moveTo = (
  ids: readonly number[],
  to: { event: number } | { title: string | null } | null,
  said: string,
): Promise<boolean> => shape(() => call('moveToEvent', { body: { ids: [...ids], to } }), said);

/** Gives an event a name, or takes it away, and says so with a way back. */
export const nameIt = (event: Pick<Event, 'id'>, title: string | null): Promise<boolean> =>
  shape(
    () => call('nameEvent', { params: { id: event.id }, body: { title } }),
    title ? `Called “${title}”; its folder follows.` : 'The event no longer has a name.',
  );

/** Sets the days, the place or the cover of an event. */
export const changeEvent = (
  id: number,
  body: { span?: { from: string; to: string }; place?: string | null; cover?: number | null },
  said: string,
): Promise<boolean> => shape(() => call('changeEvent', { params: { id }, body }), said);

/** Makes an event of all that was taken in some days. */
export const makeEvent = (title: string | null, from: string, to: string, said: string): Promise<boolean> =>
  shape(() => call('makeEvent', { body: { title, from, to } }), said);
