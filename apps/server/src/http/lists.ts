import type { App } from '../context';
import { EVERYTHING } from '@gemmel/core';
import { listEvents } from '../event/events';
import { listPeople } from '../person/people';
import { figures } from '../library/library';
import { skeleton } from '../picture/skeleton';
import { listPlaces } from '../place/places';
import { facetsOf } from '../question/facets';
import { listTags } from '../tag/tags';
import { remembered, remembers } from './remembered';

/** All pictures of a library in columns, which every page that opens asks for; remembered until there is news of them. */
export const columnsOf = (app: App, library: number, backwards: boolean) =>
  remembered(
    app,
    library,
    `columns ${backwards}`,
    ['pictures', 'said', 'events', 'runs', 'bin'],
    () => skeleton(app, library, EVERYTHING, { backwards }),
    'columns',
  );

/** How many pictures there are, and what they take, in the same way. */
export const figuresOf = (app: App, library: number) =>
  remembered(app, library, 'figures', ['pictures', 'bin'], () => figures(app.db, library), 'figures');

/** How all pictures of a library are made up, in the same way. */
export const facetsOfAll = (app: App, library: number) =>
  remembered(
    app,
    library,
    'facets',
    ['pictures', 'said', 'people', 'tags', 'marks', 'observing', 'bin'],
    () => facetsOf(app, library, EVERYTHING),
    'figures',
  );

/** The events of a library, in the same way. */
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

/** What the pages that people turn to first are made of, one after another. */
async function makeReady(app: App, library: number): Promise<void> {
  for (const make of [eventsOf, peopleOf, placesOf, tagsOf, facetsOfAll]) await make(app, library);
}

/** How long after a page was opened its lists are made ready, in ms: its first pictures come before them. */
const SETTLED = 1500;

const waiting = new WeakMap<App, Set<number>>();

/**
 * Makes the lists of a library ready that somebody has just opened: whoever turns to people or places next need not wait for them to be
 * worked out.
 */
export function makeListsReady(app: App, library: number): void {
  if (!remembers(app)) return;
  const busy = waiting.get(app) ?? new Set();
  waiting.set(app, busy);
  if (busy.has(library)) return;
  busy.add(library);
  setTimeout(() => {
    void makeReady(app, library)
      // The database is away: the lists are worked out when they are asked for.
      .catch(() => undefined)
      .finally(() => busy.delete(library));
  }, SETTLED).unref();
}

/** Makes ready what the first visit of each library asks for, when a start is over. */
export async function makeAllReady(app: App): Promise<void> {
  for (const { id } of await app.db('libraries').whereNull('removed_at').select('id')) {
    await columnsOf(app, id, false);
    await figuresOf(app, id);
    await makeReady(app, id);
  }
}
