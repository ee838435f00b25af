import type { Topic } from '@gemmel/contract';
import type { JobKind } from '../jobs/kind';

/** Tables whose rows acts of people change. */
export type Table =
  | 'libraries'
  | 'devices'
  | 'sources'
  | 'batches'
  | 'circles'
  | 'people'
  | 'own_places'
  | 'marks'
  | 'tags'
  | 'events'
  | 'folders'
  | 'shelves'
  | 'shows'
  | 'pieces'
  | 'music'
  | 'albums'
  | 'shares'
  | 'clock_offers'
  | 'pictures'
  | 'faces'
  | 'said_conflicts'
  | 'picture_tags'
  | 'tag_names'
  | 'tag_apart'
  | 'comments'
  | 'pins'
  | 'album_pictures'
  | 'album_chapters'
  | 'album_hand'
  | 'share_pictures'
  | 'circle_people'
  | 'face_refusals'
  | 'face_apart'
  | 'settled_gaps'
  | 'picture_observations'
  | 'observation_denied'
  | 'doubles_apart'
  | 'glasses'
  | 'binned';

/** A value of a column as the database gives it. */
export type Value = string | number | null | Buffer;
export type Row = Readonly<Record<string, Value>>;

/** Columns that stand and fall together: when one of them has changed since, none is put back. */
export interface Group {
  columns: readonly string[];
  /** What goes along when the group is put back, without being compared: what the machine made of it. */
  along?: readonly string[];
  /** Whether a row still is as an act left it, when that is not simply that all columns are equal. */
  same?: (now: Row, left: Row) => boolean;
  /** What is put back instead when something it speaks of has gone; null for nothing. */
  lost?: (before: Row) => Row | null;
  topics: readonly Topic[];
  /** Work that follows from a change, and how long it may be gathered, in ms. */
  jobs?: readonly (readonly [JobKind, number])[];
  /** Whether it is written beside the pictures it is said of. */
  written?: boolean;
}

/** How rows of a table are told apart, kept and put back. */
export interface Kept {
  /** The columns that tell a row; one made by the database, or several that link two rows. */
  key: readonly string[];
  /** The column by which rows are looked up. */
  by: string;
  groups: readonly Group[];
  /** Further columns of a row that is put back after it was deleted. */
  rest: readonly string[];
  /** What a row speaks of. Where that is gone, nothing is put back that speaks of it. */
  refers?: Readonly<Record<string, Table>>;
  /** The column that is the library's number; its own key for a library. */
  library?: string;
  /** The column that is a picture's number. */
  picture?: string;
  /** Topics when rows come or go, beside those of the groups. */
  topics: readonly Topic[];
  jobs?: readonly (readonly [JobKind, number])[];
  written?: boolean;
  /** What hangs on a row that was made: where anybody has hung something there since, it stays. */
  holds?: readonly (readonly [table: string, column: string, only?: string])[];
  /** Whether a row and what hangs on it are undone as one or not at all. */
  whole?: boolean;
  /** Whether undoing holds no more than the very rows an act changed, of a table that links rows. */
  exact?: boolean;
  /** Columns of JSON, which are kept as text. */
  json?: readonly string[];
  /** Columns of which no two rows of a library may say the same. */
  unique?: string;
  /** Where rows hang on others of their table: what a row is when the one it hung on has gone. */
  atTop?: (row: Row) => Row;
}

const SOON = 500;
const FOLDERS = ['refile', 1000] as const;
const EVENTS = ['events', SOON] as const;
/** After an answer recognition looks again, a moment later, so that a run of answers becomes one look. */
const FACES = ['faces', 250] as const;

const one = (topics: readonly Topic[], ...columns: string[]): Group[] =>
  columns.map((column) => ({ columns: [column], topics }));
const said = (...columns: string[]): Group[] =>
  columns.map((column) => ({ columns: [column], topics: ['said'], written: true }));

/** For whom something is: whose pictures somebody sees changes with it. */
const forWhom = (...topics: Topic[]): Group => ({
  columns: ['audience'],
  along: ['audience_by'],
  topics: [...topics, 'pictures'],
});

/** What somebody said of a face; what the machine filed by itself is as good as nothing said. */
const saidOfFace = (face: Row): string =>
  face['state'] === 'waiting' || face['named_by'] === 'machine' ? 'open' : `${face['state']} ${face['person_id']}`;

/** Every table that acts change, those that others speak of first. */
export const TABLES: Readonly<Record<Table, Kept>> = {
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
  pictures: {
    key: ['id'],
    by: 'id',
    picture: 'id',
    groups: [
      ...said('rating', 'favourite', 'title', 'caption'),
      { columns: ['audience'], along: ['audience_by'], topics: ['pictures', 'said'], written: true },
      ...one(['said'], 'not_again'),
      ...one(['runs', 'library'], 'chosen'),
      {
        columns: ['pair_id'],
        along: ['run_id', 'run_first', 'grouped_at'],
        topics: ['pictures', 'scans'],
        jobs: [['alike', SOON]],
      },
      {
        columns: ['recipe'],
        along: ['view', 'width', 'height', 'whole_width', 'whole_height'],
        topics: ['pictures', 'scans', 'library'],
        jobs: [['views', 0]],
        written: true,
      },
      { columns: ['mark_id', 'label'], topics: ['said', 'marks'], written: true },
      {
        columns: [
          'taken_local',
          'offset_minutes',
          'taken_source',
          'taken_certainty',
          'taken_exact',
          'taken_from',
          'taken_to',
          'taken_about',
          'clock_id',
        ],
        along: ['day'],
        topics: ['pictures', 'events', 'library'],
        jobs: [EVENTS, FOLDERS],
        written: true,
      },
      {
        columns: ['event_id', 'event_by_hand'],
        // Where nobody has filed it, the machine may have found another event meanwhile: that is nobody's word.
        same: (now, left) =>
          now['event_by_hand'] === left['event_by_hand'] &&
          (!now['event_by_hand'] || now['event_id'] === left['event_id']),
        // An event that was found and had no name may have gone with its pictures: it is found again.
        lost: (before) => (before['event_by_hand'] ? null : { event_id: null, event_by_hand: 0 }),
        topics: ['pictures', 'events'],
        jobs: [EVENTS, FOLDERS],
      },
      {
        columns: ['lat', 'lon', 'place_source'],
        along: ['country', 'region', 'place', 'place_km', 'own_place_id'],
        topics: ['pictures', 'events', 'library'],
        jobs: [EVENTS],
        written: true,
      },
      { columns: ['name'], along: ['original_name'], topics: ['pictures'], jobs: [FOLDERS] },
    ],
    rest: [],
    refers: { event_id: 'events', own_place_id: 'own_places', mark_id: 'marks' },
    topics: [],
  },
  faces: {
    key: ['id'],
    by: 'id',
    picture: 'picture_id',
    groups: [
      {
        columns: ['state', 'person_id', 'named_by'],
        along: ['group_key', 'likely_person_id'],
        same: (now, left) => saidOfFace(now) === saidOfFace(left),
        topics: ['people', 'said', 'library'],
        jobs: [FACES],
        written: true,
      },
      // Faces go with the print of a scan they are on.
      { columns: ['picture_id'], topics: ['people', 'pictures'], jobs: [FACES], written: true },
      { columns: ['later_until'], topics: ['people'] },
    ],
    // What describes a face is not kept with what was done; a face that is put back is described again.
    rest: ['x', 'y', 'w', 'h', 'height_px', 'quality', 'eyes', 'sharp', 'turn', 'drawn'],
    refers: { person_id: 'people', likely_person_id: 'people', picture_id: 'pictures' },
    topics: ['people', 'said', 'library'],
    jobs: [FACES],
    written: true,
  },
  said_conflicts: {
    key: ['id'],
    by: 'id',
    groups: [{ columns: ['settled', 'kept', 'other'], topics: ['batches'] }],
    rest: [],
    topics: [],
  },
  picture_tags: {
    key: ['picture_id', 'tag_id'],
    by: 'picture_id',
    picture: 'picture_id',
    groups: [],
    rest: [],
    refers: { picture_id: 'pictures', tag_id: 'tags' },
    topics: ['said', 'tags'],
    written: true,
  },
  tag_names: {
    key: ['id'],
    by: 'id',
    groups: [],
    rest: ['tag_id', 'name', 'folded'],
    refers: { tag_id: 'tags' },
    topics: ['tags'],
  },
  tag_apart: {
    key: ['tag_id', 'other'],
    by: 'tag_id',
    groups: [],
    rest: [],
    refers: { tag_id: 'tags' },
    topics: ['tags'],
  },
  comments: {
    key: ['id'],
    by: 'id',
    picture: 'picture_id',
    groups: [
      { columns: ['text'], along: ['edited_at'], topics: ['said'], written: true },
      ...one(['said', 'shares'], 'hidden'),
    ],
    rest: ['picture_id', 'member_id', 'author', 'at', 'share_id', 'who'],
    refers: { picture_id: 'pictures' },
    topics: ['said'],
    written: true,
  },
  pins: {
    key: ['id'],
    by: 'id',
    groups: one(['pins'], 'name', 'question', 'position'),
    rest: ['member_id'],
    json: ['question'],
    topics: ['pins'],
  },
  album_pictures: {
    key: ['album_id', 'picture_id'],
    by: 'album_id',
    picture: 'picture_id',
    groups: one(['albums'], 'position'),
    rest: ['added_by', 'added_at'],
    refers: { album_id: 'albums', picture_id: 'pictures' },
    topics: ['albums'],
    written: true,
    exact: true,
  },
  album_chapters: {
    key: ['id'],
    by: 'id',
    groups: one(['albums'], 'position', 'heading', 'note'),
    rest: ['album_id'],
    refers: { album_id: 'albums' },
    topics: ['albums'],
  },
  album_hand: {
    key: ['album_id', 'picture_id'],
    by: 'album_id',
    picture: 'picture_id',
    groups: one(['albums'], 'way'),
    rest: [],
    refers: { album_id: 'albums', picture_id: 'pictures' },
    topics: ['albums'],
    exact: true,
  },
  share_pictures: {
    key: ['share_id', 'picture_id'],
    by: 'share_id',
    picture: 'picture_id',
    groups: one(['shares'], 'position'),
    rest: [],
    refers: { share_id: 'shares', picture_id: 'pictures' },
    topics: ['shares'],
  },
  circle_people: {
    key: ['circle_id', 'person_id'],
    by: 'circle_id',
    groups: [],
    rest: [],
    refers: { circle_id: 'circles', person_id: 'people' },
    topics: ['people'],
  },
  face_refusals: {
    key: ['face_id', 'person_id'],
    by: 'face_id',
    groups: [],
    rest: [],
    refers: { face_id: 'faces', person_id: 'people' },
    topics: ['people'],
    jobs: [FACES],
  },
  face_apart: {
    key: ['face_id', 'other_id'],
    by: 'face_id',
    groups: [],
    rest: [],
    refers: { face_id: 'faces', other_id: 'faces' },
    topics: ['people'],
    jobs: [FACES],
  },
  settled_gaps: {
    key: ['device_id', 'first_name'],
    by: 'device_id',
    groups: [],
    rest: [],
    refers: { device_id: 'devices' },
    topics: ['sources'],
  },
  picture_observations: {
    key: ['picture_id', 'kind'],
    by: 'picture_id',
    groups: [],
    rest: ['sure'],
    refers: { picture_id: 'pictures' },
    picture: 'picture_id',
    topics: ['said'],
  },
  observation_denied: {
    key: ['picture_id', 'kind'],
    by: 'picture_id',
    groups: [],
    rest: [],
    refers: { picture_id: 'pictures' },
    picture: 'picture_id',
    topics: ['said'],
  },
  doubles_apart: {
    key: ['picture_id', 'other_id'],
    by: 'picture_id',
    groups: [],
    rest: [],
    refers: { picture_id: 'pictures', other_id: 'pictures' },
    picture: 'picture_id',
    topics: ['runs', 'library'],
    jobs: [['alike', SOON]],
  },
  glasses: {
    key: ['picture_id'],
    by: 'picture_id',
    picture: 'picture_id',
    groups: one(['scans', 'library'], 'denied'),
    rest: [],
    refers: { picture_id: 'pictures' },
    topics: ['scans'],
  },
  // Going to the bin and coming back: what else that changes is packed with the picture (bin/hanging).
  binned: {
    key: ['id'],
    by: 'id',
    picture: 'id',
    groups: [],
    rest: [],
    topics: [
      'bin',
      'pictures',
      'said',
      'events',
      'people',
      'albums',
      'shares',
      'tags',
      'marks',
      'batches',
      'sources',
      'pile',
      'runs',
      'library',
    ],
  },
};

/** The tables in the order in which rows are put back; they are taken away in the opposite one. */
export const ORDER = Object.keys(TABLES) as Table[];

/** Every column of a row that is kept. */
export const columnsOf = (kept: Kept): string[] => [
  ...new Set([
    ...kept.key,
    ...kept.groups.flatMap((group) => [...group.columns, ...(group.along ?? [])]),
    ...kept.rest,
    ...(kept.picture ? [kept.picture] : []),
  ]),
];
