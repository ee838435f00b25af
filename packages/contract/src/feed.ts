import { z } from 'zod';
import type { Api } from './api';
import { Id } from './ids';

/**
 * Kinds of things that change. `said` is what people say of pictures (stars, words, tags), which leaves their order alone;
 * `pictures` is that pictures came, went or lie elsewhere in time or place; `copied` is that second copies came or went, which nobody says;
 * `lists` is that long lists, told as they were a moment ago while much came in, have been worked out anew.
 */
export const TOPICS = [
  'pictures',
  'said',
  'batches',
  'events',
  'people',
  'albums',
  'shares',
  'tags',
  'library',
  'sources',
  'clips',
  'clocks',
  'filing',
  'acts',
  'pile',
  'marks',
  'pins',
  'observing',
  'bin',
  'runs',
  'scans',
  'shows',
  'pieces',
  'making',
  'members',
  'safe',
  'copied',
  'lists',
  'columns',
  'figures',
] as const;
export const Topic = z.enum(TOPICS);
export type Topic = z.infer<typeof Topic>;

/** Something that changed: of what kind, and which ones; null when they are too many to name. */
export const News = z.object({ topic: Topic, ids: z.array(Id).nullable() });
export type News = z.infer<typeof News>;

/** Most ids one piece of news names. */
export const MOST_IDS = 500;

/** Which answers go stale when something of a kind changes. */
export const STALE: Record<Topic, readonly (keyof Api)[]> = {
  members: ['members', 'me', 'view', 'notices', 'told'],
  pictures: [
    'notices',
    'parlour',
    'meant',
    'view',
    'tryView',
    'audiences',
    'look',
    'scans',
    'scan',
    'backs',
    'skeleton',
    'count',
    'picture',
    'places',
    'positions',
    'folders',
    'ownPlaces',
    'sitting',
    'albums',
    'album',
    'tags',
    'introductions',
    'facets',
    'pins',
    'moreLike',
    'thisDay',
    'albumsWith',
    'looseAlbums',
    'whyInAlbum',
  ],
  said: [
    'notices',
    'parlour',
    'picture',
    'count',
    'facets',
    'observing',
    'saidTogether',
    'likelyTags',
    'pins',
    'thisDay',
    'albums',
    'album',
    'albumsWith',
    'whyInAlbum',
  ],
  batches: ['notices', 'batches', 'batch', 'batchItems', 'conflicts', 'library', 'room'],
  events: ['events', 'event', 'sitting', 'skeleton', 'library', 'picture'],
  people: ['people', 'person', 'introductions', 'likelyFaces', 'sureness', 'events', 'picture', 'library'],
  albums: ['albums', 'album', 'picture', 'albumsWith', 'looseAlbums', 'whyInAlbum'],
  shares: ['notices', 'shares', 'library', 'visits', 'mine'],
  tags: ['tags', 'twins', 'tagsBeside', 'facets', 'likelyTags'],
  marks: ['marks', 'picture', 'facets'],
  pins: ['pins'],
  observing: ['observing'],
  library: ['library', 'troubles', 'looksKept', 'audiences', 'reach', 'keeping', 'libraries'],
  sources: ['cards', 'card', 'ledger', 'library'],
  clips: ['playable'],
  clocks: ['clocks', 'library', 'sitting'],
  filing: ['vaultLayout'],
  acts: ['acts'],
  pile: ['pile'],
  bin: ['bin'],
  safe: ['safekeeping', 'safeRuns'],
  copied: ['library', 'libraries', 'cards', 'card', 'ledger'],
  runs: ['runs', 'run', 'doubles'],
  scans: ['scans', 'scan', 'backs', 'library'],
  shows: ['shows', 'music', 'walls', 'frames'],
  pieces: ['pieces', 'piece', 'bookLayout', 'sheetsLayout'],
  // What is told as it was while much comes in, worked out anew (`http/lists`).
  lists: ['people', 'places', 'tags', 'events'],
  columns: ['skeleton'],
  figures: ['library', 'count', 'facets'],
  // How far files are that are being made: nothing is laid out anew for it.
  making: ['pieces', 'piece'],
};
