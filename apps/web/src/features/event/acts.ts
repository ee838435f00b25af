import type { Event, EventsBefore } from '@gemmel/contract';
import { call } from '@/api/client';
import { refresh } from '@/api/query';
import { say, trouble } from '@/state/toast';

/** Does something with events, says it, and offers to take it back. Answers whether it was done. */
export async function shape(act: () => Promise<EventsBefore>, said: string): Promise<boolean> {
  try {
    const { pictures, events, made } = await act();
    refresh('events', 'event', 'skeleton', 'library', 'picture', 'sitting');
    say(said, () => call('restoreEvents', { body: { pictures, events, made } }));
    return true;
  } catch (error) {
    trouble(error);
    return false;
  }
}

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
    `${name} is no event any more. Its pictures stay where they are in time.`,
  );

/** Files pictures under an event, under a new one, or under none. */
export const moveTo = (
  ids: readonly number[],
  to: { event: number } | { title: string | null } | null,
  said: string,
): Promise<boolean> => shape(() => call('moveToEvent', { body: { ids: [...ids], to } }), said);

/** Gives an event a name, or takes it away, and says so with a way back. */
export async function nameIt(event: Pick<Event, 'id'>, title: string | null): Promise<void> {
  try {
    const { before } = await call('nameEvent', { params: { id: event.id }, body: { title } });
    refresh('events', 'event', 'library');
    say(title ? `Called “${title}”; its folder follows.` : 'The event has no name any more.', () =>
      call('nameEvent', { params: { id: event.id }, body: { title: before } }),
    );
  } catch (error) {
    trouble(error);
  }
}

/** Sets the days, the place or the cover of an event. */
export const changeEvent = (
  id: number,
  body: { span?: { from: string; to: string }; place?: string | null; cover?: number | null },
  said: string,
): Promise<boolean> => shape(() => call('changeEvent', { params: { id }, body }), said);

/** Makes an event of all that was taken in some days. */
export const makeEvent = (title: string | null, from: string, to: string, said: string): Promise<boolean> =>
  shape(() => call('makeEvent', { body: { title, from, to } }), said);
