import type { Answer, Api, HandlerInput } from '@gemmel/contract';
import type { Session } from '../account/accounts';
import type { App } from '../context';
import { listFolders, renameFolder } from '../folder/folders';
import type { Town } from '../media/places';
import { streetMaps } from '../place/streetMaps';
import {
  changeOwnPlace,
  makeOwnPlace,
  placePictures,
  positionsOf,
  removeOwnPlace,
  searchPlaces,
} from '../place/places';
import { ownPlaces } from '../place/own';
import { byTrack } from '../place/track';

type Names =
  | 'positions'
  | 'searchPlaces'
  | 'mapNames'
  | 'streetMaps'
  | 'givePlace'
  | 'byTrack'
  | 'ownPlaces'
  | 'makeOwnPlace'
  | 'changeOwnPlace'
  | 'removeOwnPlace'
  | 'folders'
  | 'renameFolder';
type Handlers = { [K in Names]: (input: HandlerInput<Api[K]>, call: { session: Session }) => Promise<Answer<Api[K]>> };

/** A longitude within -180 to 180. */
const turned = (lon: number) => ((((lon + 180) % 360) + 360) % 360) - 180;

/** Answers of the routes about places and folders. */
export function placeHandlers(app: App): Handlers {
  return {
    positions: ({ body }, { session }) => positionsOf(app, session.library, body.question),
    searchPlaces: async ({ body }, { session }) => ({
      places: await searchPlaces(app, session.library, body.typed, body.near),
    }),
    mapNames: async ({ body }) => {
      const [west, south, east, north] = body.box;
      const box = east - west >= 360 ? [-180, south, 180, north] : [turned(west), south, turned(east), north];
      const towns = (await app.lookups.run({ box, most: body.most }, { name: 'townsIn' })) as Town[];
      return { names: towns.map((t) => ({ name: t.place, lat: t.lat, lon: t.lon, people: t.population })) };
    },
    streetMaps: async () => ({ maps: await streetMaps(app) }),
    givePlace: ({ body }, { session }) => placePictures(app, session, body.given, body.source),
    byTrack: ({ body }, { session }) =>
      byTrack(
        app,
        session.library,
        body.ids,
        body.track.map(([at, lat, lon]) => ({ at, lat, lon })),
        body.shift,
        body.tolerance,
      ),
    ownPlaces: async (_, { session }) => ({ places: await ownPlaces(app.db, session.library) }),
    makeOwnPlace: ({ body }, { session }) => makeOwnPlace(app, session, body),
    changeOwnPlace: ({ params, body }, { session }) => changeOwnPlace(app, session, params.id, body),
    removeOwnPlace: ({ params }, { session }) => removeOwnPlace(app, session, params.id),
    renameFolder: ({ params, body }, { session }) => renameFolder(app, session, params.id, body.name, body.event),
    folders: async (_, { session }) => ({ folders: await listFolders(app, session.library) }),
  };
}
