import type { Answer, Api, HandlerInput } from '@gemmel/contract';
import { isEverything } from '@gemmel/core';
import { diary } from '../act/diary';
import { undoAct } from '../act/undo';
import type { App } from '../context';
import { columnsOf, eventsOf, figuresOf, makeListsReady, placesOf } from './lists';
import { libraryState, relativesState, listTroubles, retryTrouble } from '../library/library';
import { countOf, pageOf, pictureOfId, tilesOf } from '../picture/pictures';
import { smallsOf } from '../picture/smalls';
import { skeleton } from '../picture/skeleton';
import { Refused } from '../problem';
import { changePictures } from '../picture/change';
import { readyZip } from '../picture/zip';
import { changePile, readPile } from '../pile/pile';
import { Shared } from '../shared';
import type { Call } from './guard';
import { albumHandlers } from './albumHandlers';
import { pieceHandlers } from './pieceHandlers';
import { chooseHandlers } from './chooseHandlers';
import { gatherHandlers } from './gatherHandlers';
import { peopleHandlers } from './peopleHandlers';
import { placeHandlers } from './placeHandlers';
import { sayHandlers } from './sayHandlers';
import { signInHandlers } from './signInHandlers';
import { mailHandlers } from './mailHandlers';
import { libraryHandlers } from './libraryHandlers';
import { safeHandlers } from './safeHandlers';
import { shareHandlers } from './shareHandlers';
import { sightHandlers } from './sightHandlers';
import { timeHandlers } from './timeHandlers';
import type { Told } from './told';

/** A picture that went while it was asked for is not there; anything else is an error. */
function passOver(error: unknown): null {
  if (error instanceof Refused && error.status === 404) return null;
  throw error;
}

type Handlers = { [K in keyof Api]: (input: HandlerInput<Api[K]>, call: Call) => Promise<Answer<Api[K]>> };

/** The answers of every route of the contract's table; `forget` is called when who may what has changed, and `told` notes whose files will be asked for. */
export function handlersOf(app: App, forget: () => void, told: Told): Handlers {
  const tellTiles = async (library: number, ids: readonly number[]) => {
    const tiles = await tilesOf(app, library, ids);
    told.addTiles(app.db, library, tiles);
    return tiles;
  };
  const states = new Shared(async (library: number) => libraryState(app, library, await figuresOf(app, library)));
  return {
    // Accounts and membership are no pictures: they are read as they are.
    ...signInHandlers(app.whole ?? app, forget),
    ...gatherHandlers(app),
    ...timeHandlers(app),
    ...peopleHandlers(app),
    ...placeHandlers(app),
    ...sayHandlers(app),
    ...chooseHandlers(app),
    ...albumHandlers(app),
    ...pieceHandlers(app),
    ...sightHandlers(app, forget),
    ...shareHandlers(app),
    ...mailHandlers(app),
    ...libraryHandlers(app.whole ?? app, forget),
    ...safeHandlers(app.whole ?? app),
    library: async (_, { session: { part, library } }) =>
      part === 'relative' ? relativesState(app, library, await figuresOf(app, library)) : states.get(library),

    skeleton: ({ body: { question, oldestFirst, sort, under } }, { session }) =>
      isEverything(question) && sort === 'date' && !under
        ? columnsOf(app, session.library, oldestFirst)
        : skeleton(app, session.library, question, { backwards: oldestFirst, sort, under }),
    count: async ({ body: { question } }, { session: { library } }) => ({
      count: isEverything(question) ? (await figuresOf(app, library)).pictures : await countOf(app, library, question),
    }),
    pictures: ({ body }, { session }) => pageOf(app, session.library, body.question, body.after, body.limit),
    tiles: async ({ body }, { session }) => ({ tiles: await tellTiles(session.library, body.ids) }),
    tilesAtOnce: async ({ body }, { session }) => {
      const tiles = await tellTiles(session.library, body.ids);
      return { tiles, smalls: await smallsOf(app, tiles) };
    },
    opening: async ({ query }, { session }) => {
      const columns = await columnsOf(app, session.library, query.oldestFirst);
      makeListsReady(app, session.library);
      let id = 0;
      const first = columns.ids.slice(0, query.tiles).map((step) => (id += step));
      return { skeleton: columns, tiles: await tellTiles(session.library, first) };
    },
    wholePictures: async ({ body: { ids } }, { session }) => {
      const tiles = await tilesOf(app, session.library, ids);
      const pictures = [];
      for (const { id } of tiles)
        pictures.push(await pictureOfId(app, session.library, id, session.member).catch(passOver));
      return { tiles, pictures: pictures.filter((one) => one !== null) };
    },
    picture: ({ params }, { session }) => pictureOfId(app, session.library, params.id, session.member),
    change: ({ body }, { session }) => changePictures(app, session, body.ids, body.change, body.was),

    acts: ({ query }, { session }) => diary(app, session.library, query),
    undo: ({ params }, { session }) => undoAct(app, session, params.id),

    makeZip: ({ body }, { session }) => readyZip(app, session, body),
    events: (_, { session }) => eventsOf(app, session.library),

    places: (_, { session }) => placesOf(app, session.library),

    pile: async (_, { session }) => ({ ids: await readPile(app, session.library, session.member) }),
    setPile: async ({ body }, { session }) => ({ ids: await changePile(app, session.library, session.member, body) }),

    troubles: async (_, { session }) => ({ troubles: await listTroubles(app, session.library) }),
    retryTrouble: async ({ params }, { session }) => (
      await retryTrouble(app, session.library, params.id),
      { done: true } as const
    ),
  };
}
