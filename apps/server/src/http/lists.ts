import type { App } from '../context';
import { listEvents } from '../event/events';
import { listPeople } from '../person/people';
import { listPlaces } from '../place/places';
import { listTags } from '../tag/tags';
import { remembered, remembers } from './remembered';

/** The events of a library; remembered until there is news of them. */
export const eventsOf = (app: App, library: number) =>
  remembered(app, library, 'events', ['events', 'pictures', 'people', 'runs', 'bin'], async () => ({
    events: await listEvents(app, library),
  }));

/** The places of a library, in the same way. */
export const placesOf = (app: App, library: number) =>
  remembered(app, library, 'places', ['pictures', 'said', 'bin'], async () => ({
    places: await listPlaces(app, library),
  }));

/** The people of a library, in the same way. */
export const peopleOf = (app: App, library: number) =>
  remembered(app, library, 'people', ['people', 'pictures', 'bin'], () => listPeople(app, library));

/** The tags of a library, in the same way. */
export const tagsOf = (app: App, library: number) =>
  remembered(app, library, 'tags', ['tags', 'said', 'pictures', 'bin'], async () => ({
    tags: await listTags(app.db, library),
  }));

/** How long after a page was opened its lists are made ready, in ms: its first pictures come before them. */
const SETTLED = 1500;

const waiting = new WeakMap<App, Set<number>>();

/**
 * Makes the lists of a library ready that somebody has just opened, one after another: whoever turns to people or places next need not wait for them to
 * be worked out.
 */
export function makeListsReady(app: App, library: number): void {
  if (!remembers(app)) return;
  const busy = waiting.get(app) ?? new Set();
  waiting.set(app, busy);
  if (busy.has(library)) return;
  busy.add(library);
  setTimeout(() => {
    void (async () => {
      for (const make of [eventsOf, peopleOf, placesOf, tagsOf]) await make(app, library);
    })()
      // The database is away: the lists are worked out when they are asked for.
      .catch(() => undefined)
      .finally(() => busy.delete(library));
  }, SETTLED).unref();
}
