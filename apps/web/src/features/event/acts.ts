import { t } from '@lingui/core/macro';
import type { Did, Event } from '@gemmel/contract';
import { call } from '@/api/client';
import { act } from '@/state/acts';
import type { Said } from '@/state/acts';

/** Does something with events, says it, and offers to take it back. Answers whether it was done. */
export const shape = async (doing: () => Promise<Did>, said: Said): Promise<boolean> =>
  Boolean(await act(doing, said, 'events'));

/** Splits the event of a picture before it. */
export const splitAt = (event: number, picture: number): Promise<boolean> =>
  shape(
    () => call('splitEvent', { params: { id: event }, body: { picture } }),
    [t`Event split here`, t`This picture and all later ones are now an event of their own.`],
  );

/** Joins another event to one. */
export const join = (event: number, other: number, name: string): Promise<boolean> =>
  shape(() => call('joinEvents', { params: { id: event }, body: { other } }), t`Joined with ${name}`);

/** Removes an event; the pictures stay. */
export const remove = (event: number, name: string): Promise<boolean> =>
  shape(
    () => call('removeEvent', { params: { id: event } }),
    [t`${name} is no longer an event`, t`Its pictures keep their dates.`],
  );

/** Files pictures under an event, under a new one, or under none. */
export const moveTo = (
  ids: readonly number[],
  to: { event: number } | { title: string | null } | null,
  said: Said,
): Promise<boolean> => shape(() => call('moveToEvent', { body: { ids: [...ids], to } }), said);

/** Gives an event a name, or takes it away, and says so with a way back. */
export const nameIt = (event: Pick<Event, 'id'>, title: string | null): Promise<boolean> =>
  shape(
    () => call('nameEvent', { params: { id: event.id }, body: { title } }),
    title ? [t`Named “${title}”`, t`Its folder follows.`] : t`Name removed`,
  );

/** Sets the days, the place or the cover of an event. */
export const changeEvent = (
  id: number,
  body: { span?: { from: string; to: string }; place?: string | null; cover?: number | null },
  said: Said,
): Promise<boolean> => shape(() => call('changeEvent', { params: { id }, body }), said);

/** Makes an event of all that was taken in some days. */
export const makeEvent = (title: string | null, from: string, to: string, said: Said): Promise<boolean> =>
  shape(() => call('makeEvent', { body: { title, from, to } }), said);
