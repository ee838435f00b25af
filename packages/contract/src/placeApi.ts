import { Question } from '@gemmel/core';
import { z } from 'zod';
import { Did } from './actApi';
import { endpoint } from './endpoint';
import { Id, IdParam, Ids } from './ids';

const id = z.object({ id: IdParam });
const Lat = z.number().min(-90).max(90);
const Lon = z.number().min(-180).max(180);
const Spot = z.strictObject({ lat: Lat, lon: Lon });

/** Where pictures were taken, in columns: differences of ids, and of positions in steps of 1e-5 degrees. */
export const Positions = z.object({
  ids: z.array(z.number().int()),
  lats: z.array(z.number().int()),
  lons: z.array(z.number().int()),
});
export type Positions = z.infer<typeof Positions>;

/** A name that a search found. `km` is how far it lies from where people most likely mean. */
export const TownHit = z.object({
  name: z.string(),
  /** Where a town is; null for a place of the household's own. */
  in: z.object({ country: z.string(), region: z.string().nullable() }).nullable(),
  lat: z.number(),
  lon: z.number(),
  km: z.number().nullable(),
});
export type TownHit = z.infer<typeof TownHit>;

/** What is said of a place of the household's own. */
export const OwnPlaceShape = z.strictObject({
  name: z.string().trim().min(1).max(120),
  lat: Lat,
  lon: Lon,
  metres: z.number().int().min(20).max(100_000),
  hidden: z.boolean(),
});
export type OwnPlaceShape = z.infer<typeof OwnPlaceShape>;

/** Where a track says pictures were taken, how near in time, and how many it says nothing of. */
export const TrackAnswer = z.object({
  placed: z.array(z.object({ id: Id, lat: z.number(), lon: z.number(), seconds: z.number().int() })),
  left: z.number().int(),
});
export type TrackAnswer = z.infer<typeof TrackAnswer>;

/** Folders as they came, each with what lies right in it. */
export const Folder = z.object({
  id: Id,
  parent: Id.nullable(),
  name: z.string(),
  /** What it was called when it came, once it is shown under another name. */
  cameAs: z.string().nullable(),
  pictures: z.number().int(),
  bytes: z.number(),
  /** The first and the last day of its pictures. */
  first: z.string().nullable(),
  last: z.string().nullable(),
  /** The day something last came into it. */
  changed: z.string().nullable(),
});
export type Folder = z.infer<typeof Folder>;

/** Routes about places and folders. */
export const placeApi = {
  positions: endpoint({
    method: 'POST',
    reads: true,
    path: '/api/positions',
    part: 'relative',
    summary: 'Where the pictures of a question were taken',
    body: z.strictObject({ question: Question }),
    answer: Positions,
  }),
  searchPlaces: endpoint({
    method: 'POST',
    reads: true,
    path: '/api/places/search',
    part: 'relative',
    summary: 'Places whose name begins as typed, the nearest and largest first',
    body: z.strictObject({ typed: z.string().trim().min(1).max(120), near: Spot.nullable().default(null) }),
    answer: z.object({ places: z.array(TownHit) }),
  }),
  mapNames: endpoint({
    method: 'POST',
    reads: true,
    path: '/api/map/names',
    part: 'relative',
    summary: 'The largest towns in a part of the map',
    body: z.strictObject({
      box: z.tuple([z.number(), Lat, z.number(), Lat]),
      most: z.number().int().min(1).max(200),
    }),
    answer: z.object({
      names: z.array(z.object({ name: z.string(), lat: z.number(), lon: z.number(), people: z.number() })),
    }),
  }),
  streetMaps: endpoint({
    method: 'GET',
    path: '/api/map/street',
    part: 'relative',
    summary: 'Street maps the keeper has put into the data folder',
    answer: z.object({ maps: z.array(z.string()) }),
  }),
  givePlace: endpoint({
    method: 'POST',
    path: '/api/places/give',
    part: 'helper',
    summary: 'Give pictures a place, or take it away with null',
    body: z.strictObject({
      given: z
        .array(z.strictObject({ ids: Ids.min(1), spot: Spot.nullable() }))
        .min(1)
        .max(20_000),
      source: z.enum(['hand', 'track', 'copied']).default('hand'),
    }),
    answer: Did,
  }),
  byTrack: endpoint({
    method: 'POST',
    reads: true,
    path: '/api/places/track',
    part: 'helper',
    summary: 'Where a recorded track says pictures were taken',
    body: z.strictObject({
      ids: Ids.min(1),
      /** Instants in milliseconds since 1970, latitudes, longitudes. */
      track: z
        .array(z.tuple([z.number(), Lat, Lon]))
        .min(1)
        .max(500_000),
      /** Seconds to add to the camera's times. */
      shift: z.number().int().min(-200_000_000).max(200_000_000).default(0),
      tolerance: z.number().int().min(1).max(86_400).default(600),
    }),
    answer: TrackAnswer,
  }),
  ownPlaces: endpoint({
    method: 'GET',
    path: '/api/places/own',
    part: 'relative',
    summary: 'Places with names of the household’s own',
    answer: z.object({ places: z.array(OwnPlaceShape.extend({ id: Id })) }),
  }),
  makeOwnPlace: endpoint({
    method: 'POST',
    path: '/api/places/own',
    part: 'helper',
    summary: 'Name a place of the household’s own',
    body: OwnPlaceShape,
    answer: Did.extend({ id: Id }),
  }),
  changeOwnPlace: endpoint({
    method: 'PATCH',
    path: '/api/places/own/:id',
    part: 'helper',
    summary: 'Change a place of the household’s own',
    params: id,
    body: OwnPlaceShape.partial(),
    answer: Did,
  }),
  removeOwnPlace: endpoint({
    method: 'DELETE',
    path: '/api/places/own/:id',
    part: 'helper',
    summary: 'Remove a place of the household’s own',
    params: id,
    answer: Did,
  }),
  renameFolder: endpoint({
    method: 'POST',
    path: '/api/folders/:id/name',
    part: 'helper',
    summary: 'Show a folder under another name, and its event too if wished; the name it came with stays findable',
    params: z.object({ id: IdParam }),
    body: z.strictObject({ name: z.string().trim().min(1).max(160), event: z.boolean().default(false) }),
    answer: Did.extend({ event: Id.nullable() }),
  }),
  folders: endpoint({
    method: 'GET',
    path: '/api/folders',
    part: 'relative',
    summary: 'Folders as they came',
    answer: z.object({ folders: z.array(Folder) }),
  }),
} as const;
