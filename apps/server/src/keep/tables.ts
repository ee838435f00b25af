import type { Tables } from 'knex/types/tables';

/** What of a table is written into a library's book. */
export type Keeping =
  /** Everything that people said or gave: all columns but those the machine makes again. `ids` are numbers of rows beside its own. */
  | { as: 'said'; made?: readonly string[]; ids?: readonly string[]; asked?: readonly string[] }
  /** The machine makes it again from what was said and from the files. */
  | { as: 'made' }
  /** Of the moment: who is signed in, what is on its way, what was told to browsers. */
  | { as: 'passing' }
  /** Of the house and not of one library: see `members`, which name the accounts they belong to. */
  | { as: 'house' };

const said = (
  ids: readonly string[] = [],
  more: { made?: readonly string[]; asked?: readonly string[] } = {},
): Keeping => ({ as: 'said', ids, ...more });
const made: Keeping = { as: 'made' };
const passing: Keeping = { as: 'passing' };
const house: Keeping = { as: 'house' };

/** What the machine works out of a picture's file, what it says, and of the pictures beside it. */
const OF_PICTURE = [
  'words',
  'likeness',
  'sharpness',
  'look',
  'thumb',
  'thumb_view',
  'verified_at',
  'broken_at',
  'faces_sought',
  'observed_by',
  'seen_by',
  'read_by',
  'seen_words',
  'run_id',
  'run_first',
  'alike_id',
  'grouped_at',
  'band0',
  'band1',
  'band2',
  'band3',
  'band4',
  'band5',
  'band6',
] as const;

/**
 * Every table there is, in the order in which a book tells them. `ids` names the columns that are numbers of rows (of this table or
 * another), `asked` those of JSON that hold questions, which speak of rows by number, too.
 */
export const KEEPING: Readonly<Record<keyof Tables, Keeping>> = {
  libraries: said([], { made: ['filed_act', 'alike_upto', 'observes_again', 'removed_at', 'erased_at', 'home'] }),
  accounts: house,
  members: said(['account_id'], { asked: ['view'] }),
  marks: said(),
  devices: said(['audience_by']),
  sources: said(['device_id'], { made: ['secret_hash', 'present', 'seen_at', 'listed_at'] }),
  settled_gaps: said(['device_id']),
  circles: said(['audience_by']),
  people: said(['portrait_face_id', 'audience_by']),
  circle_people: said(['circle_id', 'person_id']),
  own_places: said(['audience_by']),
  tags: said(['parent_id']),
  tag_names: said(['tag_id']),
  tag_apart: said(['tag_id']),
  folders: said(['parent_id']),
  events: said(['cover_id']),
  shelves: said(['parent_id']),
  batches: said(['album_id', 'source_id', 'brought_by', 'share_id']),
  pictures: said(
    ['event_id', 'batch_id', 'device_id', 'mark_id', 'clock_id', 'own_place_id', 'folder_id', 'pair_id', 'audience_by'],
    { made: OF_PICTURE },
  ),
  picture_files: said(['picture_id'], { made: ['verified_at', 'broken_at'] }),
  picture_looks: said(['picture_id', 'member_id']),
  picture_tags: said(['picture_id', 'tag_id']),
  observation_denied: said(['picture_id']),
  doubles_apart: said(['picture_id', 'other_id']),
  glasses: said(['picture_id'], { made: ['turned'] }),
  said_conflicts: said(['batch_id', 'picture_id']),
  clock_offers: said(['device_id']),
  faces: said(['picture_id', 'person_id'], {
    made: ['vector_a', 'vector_b', 'clothes', 'eyes', 'sharp', 'turn', 'group_key', 'likely_person_id'],
  }),
  face_apart: said(['face_id', 'other_id']),
  face_refusals: said(['face_id', 'person_id']),
  comments: said(['picture_id', 'member_id', 'share_id']),
  hearts: said(['picture_id', 'member_id']),
  albums: said(['batch_id', 'shelf_id', 'cover_id', 'made_by', 'audience_by'], {
    made: ['unwritten', 'manifest'],
    asked: ['question'],
  }),
  album_pictures: said(['album_id', 'picture_id', 'added_by']),
  album_chapters: said(['album_id']),
  album_hand: said(['album_id', 'picture_id']),
  pins: said(['member_id'], { asked: ['question'] }),
  pile_pictures: said(['member_id', 'picture_id']),
  shows: said(['made_by'], { asked: ['source', 'settings'] }),
  pieces: said(['made_by'], { asked: ['source', 'settings', 'edits'] }),
  music: said(['added_by']),
  shares: said(['album_id', 'created_by'], { made: ['token_hash', 'sealed', 'word_hash'], asked: ['source'] }),
  share_guests: said(['share_id', 'member_id'], { made: ['token_hash', 'sealed'] }),
  share_pictures: said(['share_id', 'picture_id']),
  guest_hearts: said(['share_id', 'picture_id']),
  binned: said(['device_id', 'member_id'], { made: ['described'] }),
  binned_files: said(['picture_id', 'file_id'], { made: ['verified_at', 'broken_at'] }),
  sidecars: said(['picture_id']),
  acts: said(['member_id', 'undoes_id', 'undone_by'], { made: ['changes'] }),
  act_pictures: said(['picture_id', 'act_id']),

  acts_once: passing,
  albums_said: passing,
  batch_items: passing,
  changes: passing,
  invites: passing,
  jobs: passing,
  source_files: passing,
  splits: passing,
  split_pictures: passing,
  share_visits: passing,
  walls: passing,
  frames: passing,
  turns: passing,
  vault_moves: passing,

  album_facts: made,
  clock_examples: made,
  face_offers: made,
  face_perhaps: made,
  known_words: made,
  piece_files: made,
  look_alikes: made,
  picture_observations: made,
  picture_words: made,

  passkeys: house,
  passkey_answers: house,
  push_places: house,
  resets: house,
  sessions: house,
  spare_codes: house,
  safe_places: house,
  safe_runs: house,
  safe_copies: house,
  safe_listed: house,
  safe_mends: house,
};

/** The tables a book tells, in its order. */
export const SAID = (Object.keys(KEEPING) as (keyof Tables)[]).filter((table) => KEEPING[table].as === 'said');

/** What is kept of a table that a book tells. */
export const saidOfTable = (table: string): Extract<Keeping, { as: 'said' }> | null => {
  const keeping = (KEEPING as Readonly<Record<string, Keeping | undefined>>)[table];
  return keeping?.as === 'said' ? keeping : null;
};
