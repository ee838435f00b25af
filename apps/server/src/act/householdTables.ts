import type { Topic } from '@gemmel/contract';
import { FOLDERS, one, SOON, type Group, type Kept, type Table } from './kept';

/** For whom something is: whose pictures somebody sees changes with it. */
const forWhom = (...topics: Topic[]): Group => ({
  columns: ['audience'],
  along: ['audience_by'],
  topics: [...topics, 'pictures'],
});

/** Tables of what a household has beside its pictures, and of what is made of them: others speak of their rows. */
export const HOUSEHOLD_TABLES = {
  libraries: {
    key: ['id'],
    by: 'id',
    library: 'id',
    groups: [
      { columns: ['layout'], topics: ['library', 'filing'], jobs: [['refile', 0]] },
      { columns: ['language'], topics: ['library', 'filing'], jobs: [['refile', 0]] },
      { columns: ['zone'], topics: ['library'], jobs: [] },
      { columns: ['name'], topics: ['library'] },
      { columns: ['audience'], topics: ['library', 'pictures'] },
      { columns: ['address'], topics: ['library', 'shares'] },
      {
        columns: ['observes'],
        topics: ['said', 'library'],
        jobs: [
          ['observe', SOON],
          ['things', SOON],
          ['reading', SOON],
        ],
      },
      { columns: ['ask_from', 'file_from'], topics: ['people'], jobs: [['faces', 0]] },
      { columns: ['recognise'], topics: ['people', 'pictures', 'library'], jobs: [['seek', 0]] },
      { columns: ['bin_days'], topics: ['bin'] },
      { columns: ['looks_kept'], topics: ['library'] },
      { columns: ['albums_sorted'], topics: ['albums'] },
    ],
    rest: [],
    topics: [],
  },
  devices: {
    key: ['id'],
    by: 'id',
    groups: [...one(['sources', 'library'], 'name'), forWhom('sources')],
    rest: [],
    topics: [],
  },
  sources: { key: ['id'], by: 'id', groups: one(['sources'], 'name', 'removed_at', 'put_off'), rest: [], topics: [] },
  circles: {
    key: ['id'],
    by: 'id',
    groups: [...one(['people'], 'name', 'position'), forWhom('people')],
    rest: [],
    topics: ['people'],
    unique: 'name',
    holds: [['circle_people', 'circle_id']],
    whole: true,
  },
  people: {
    key: ['id'],
    by: 'id',
    groups: [
      { columns: ['name'], topics: ['people'], written: true },
      ...one(['people'], 'nickname', 'favourite', 'hidden', 'portrait_face_id'),
      forWhom('people'),
      // A birth date tells which pictures cannot show them, and how far apart ages are.
      { columns: ['born'], topics: ['people'], jobs: [['faces', 1000]] },
      {
        columns: ['recognised'],
        topics: ['people', 'pictures'],
        jobs: [
          ['faces', 0],
          ['seek', 0],
        ],
      },
    ],
    rest: ['created_at'],
    refers: { portrait_face_id: 'faces' },
    topics: ['people', 'library'],
    unique: 'name',
    holds: [
      ['faces', 'person_id', "named_by = 'hand'"],
      ['circle_people', 'person_id'],
      ['face_refusals', 'person_id'],
    ],
  },
  own_places: {
    key: ['id'],
    by: 'id',
    groups: [
      { columns: ['name'], topics: ['pictures', 'events'] },
      { columns: ['lat', 'lon', 'metres'], topics: ['pictures', 'events'] },
      { columns: ['hidden'], topics: ['pictures'] },
      forWhom('events'),
    ],
    rest: [],
    topics: ['pictures', 'events'],
  },
  tags: {
    key: ['id'],
    by: 'id',
    groups: [{ columns: ['name', 'parent_id'], along: ['folded', 'branch'], topics: ['tags', 'said'] }],
    rest: [],
    refers: { parent_id: 'tags' },
    topics: ['tags'],
    unique: 'branch',
    atTop: (row) => ({ parent_id: null, branch: `0 ${String(row['folded'])}` }),
    holds: [
      ['picture_tags', 'tag_id'],
      ['tags', 'parent_id'],
      ['tag_names', 'tag_id'],
      ['tag_apart', 'tag_id'],
    ],
  },
  marks: {
    key: ['id'],
    by: 'id',
    groups: [{ columns: ['meaning'], topics: ['marks', 'said'] }, ...one(['marks'], 'colour', 'shape', 'position')],
    rest: [],
    topics: ['marks'],
    unique: 'meaning',
    holds: [['pictures', 'mark_id']],
  },
  events: {
    key: ['id'],
    by: 'id',
    groups: [
      { columns: ['title'], topics: ['events', 'library'], jobs: [FOLDERS] },
      {
        columns: ['start_day', 'end_day', 'span_by_hand'],
        // Days that nobody set follow the pictures.
        same: (now, left) =>
          now['span_by_hand'] === left['span_by_hand'] &&
          (!now['span_by_hand'] || (now['start_day'] === left['start_day'] && now['end_day'] === left['end_day'])),
        topics: ['events'],
        jobs: [FOLDERS],
      },
      ...one(['events'], 'made_by', 'place', 'cover_id'),
      ...one(['said'], 'not_again'),
    ],
    rest: [],
    refers: { cover_id: 'pictures' },
    topics: ['events', 'library'],
    jobs: [FOLDERS],
    holds: [['pictures', 'event_id', 'event_by_hand']],
  },
  folders: {
    key: ['id'],
    by: 'id',
    groups: [{ columns: ['name'], along: ['came_as'], topics: ['pictures'] }],
    rest: [],
    topics: ['pictures'],
  },
  shelves: {
    key: ['id'],
    by: 'id',
    groups: [
      ...one(['albums'], 'name', 'sorted'),
      { columns: ['parent_id', 'position'], topics: ['albums'], lost: (before) => ({ ...before, parent_id: null }) },
    ],
    rest: ['created_at'],
    refers: { parent_id: 'shelves' },
    atTop: () => ({ parent_id: null }),
    topics: ['albums'],
    holds: [
      ['albums', 'shelf_id', 'removed_at IS NULL'],
      ['shelves', 'parent_id'],
    ],
  },
  shows: {
    key: ['id'],
    by: 'id',
    groups: one(['shows'], 'name', 'settings', 'removed_at'),
    rest: ['source', 'made_by', 'created_at'],
    topics: ['shows'],
  },
  pieces: {
    key: ['id'],
    by: 'id',
    groups: [...one(['pieces'], 'name', 'settings', 'removed_at'), { columns: ['edits'], topics: ['pieces'] }],
    rest: ['kind', 'source', 'made_by', 'created_at'],
    topics: ['pieces'],
  },
  // The file of a piece of music stays when its row goes, and is found again.
  music: {
    key: ['id'],
    by: 'id',
    groups: one(['shows'], 'title', 'removed_at'),
    rest: ['sha256', 'artist', 'seconds', 'format', 'file', 'bytes', 'added_by', 'created_at'],
    topics: ['shows'],
  },
  albums: {
    key: ['id'],
    by: 'id',
    groups: [
      ...one(['albums'], 'name', 'description', 'question', 'removed_at', 'cover_id', 'best'),
      { columns: ['sorted', 'backwards'], topics: ['albums'] },
      { columns: ['from_day', 'to_day'], topics: ['albums'] },
      forWhom('albums'),
      { columns: ['shelf_id', 'position'], topics: ['albums'], lost: (before) => ({ ...before, shelf_id: null }) },
    ],
    rest: ['kind', 'created_at', 'batch_id', 'made_by'],
    refers: { shelf_id: 'shelves' },
    json: ['question'],
    topics: ['albums'],
    holds: [
      ['album_pictures', 'album_id'],
      ['album_chapters', 'album_id'],
      ['album_hand', 'album_id'],
      ['shares', 'album_id'],
    ],
    whole: true,
  },
  batches: {
    key: ['id'],
    by: 'id',
    groups: [
      { columns: ['offer', 'album_id'], topics: ['batches', 'library'] },
      { columns: ['held'], topics: ['batches', 'library', 'pictures', 'shares'] },
    ],
    rest: [],
    refers: { album_id: 'albums' },
    topics: [],
  },
  shares: {
    key: ['id'],
    by: 'id',
    groups: [
      ...one(['shares', 'library'], 'closed_at'),
      ...one(['shares'], 'title', 'until_day', 'visits_most', 'may', 'reach', 'anybody', 'word_hash'),
      ...one(['shares'], 'tell_places', 'tell_names', 'tell_captions', 'tell_dates', 'tell_others'),
    ],
    rest: ['token_hash', 'sealed', 'album_id', 'source', 'frozen', 'created_by', 'created_at'],
    refers: { album_id: 'albums' },
    topics: ['shares', 'library'],
    holds: [
      ['share_pictures', 'share_id'],
      ['comments', 'share_id'],
      ['batches', 'share_id'],
    ],
    whole: true,
  },
  clock_offers: {
    key: ['id'],
    by: 'id',
    groups: [{ columns: ['state'], topics: ['clocks', 'library'], jobs: [['clocks', 3000]] }],
    rest: [],
    topics: [],
  },
} satisfies Partial<Record<Table, Kept>>;
