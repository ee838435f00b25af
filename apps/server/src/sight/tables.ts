/**
 * What is read of each table by somebody who does not see every picture: rows that hang on pictures they see. Each may speak of those
 * before it, which are narrowed already; its own name is the whole table. `pictures` itself comes first.
 */
export const BY_PICTURE: Readonly<Record<string, string>> = {
  ...Object.fromEntries(
    [
      'picture_files',
      'faces',
      'picture_tags',
      'picture_words',
      'picture_observations',
      'observation_denied',
      'album_pictures',
      'album_hand',
      'share_pictures',
      'comments',
      'hearts',
      'guest_hearts',
      'picture_looks',
      'said_conflicts',
      'act_pictures',
      'glasses',
      'sidecars',
      'batch_items',
    ].map((table) => [table, `SELECT * FROM ${table} WHERE picture_id IN (SELECT id FROM pictures)`]),
  ),
  // What a file that came in has become is told only of what is seen; one that has become nothing is its batch's.
  batch_items: 'SELECT * FROM batch_items WHERE picture_id IS NULL OR picture_id IN (SELECT id FROM pictures)',
  pile_pictures: 'SELECT * FROM pile_pictures WHERE picture_id IN (SELECT id FROM pictures)',
  doubles_apart:
    'SELECT * FROM doubles_apart WHERE picture_id IN (SELECT id FROM pictures) AND other_id IN (SELECT id FROM pictures)',
  clock_examples:
    'SELECT * FROM clock_examples WHERE picture_id IN (SELECT id FROM pictures) AND other_id IN (SELECT id FROM pictures)',
  face_refusals: 'SELECT * FROM face_refusals WHERE face_id IN (SELECT id FROM faces)',
  face_apart: 'SELECT * FROM face_apart WHERE face_id IN (SELECT id FROM faces) AND other_id IN (SELECT id FROM faces)',
  face_offers: 'SELECT * FROM face_offers WHERE face_id IN (SELECT id FROM faces)',
};

/** Rows of a tree some of whose rows are in use, with all above them. */
const tree = (table: string, used: string): string =>
  `WITH RECURSIVE up AS (SELECT id, parent_id FROM ${table} WHERE id IN (${used})
     UNION SELECT t.id, t.parent_id FROM ${table} t JOIN up ON t.id = up.parent_id)
   SELECT * FROM ${table} WHERE id IN (SELECT id FROM up)`;

/** Names, for a relative: of what the pictures they see have. */
export const BY_NAME: Readonly<Record<string, string>> = {
  people: 'SELECT * FROM people WHERE id IN (SELECT person_id FROM faces)',
  circle_people: 'SELECT * FROM circle_people WHERE person_id IN (SELECT id FROM people)',
  circles: 'SELECT * FROM circles WHERE id IN (SELECT circle_id FROM circle_people)',
  look_alikes:
    'SELECT * FROM look_alikes WHERE person_id IN (SELECT id FROM people) AND other_id IN (SELECT id FROM people)',
  events: 'SELECT * FROM events WHERE id IN (SELECT event_id FROM pictures)',
  // A smart album is a question of the keeper's; what it finds is shown to a relative by a share.
  albums: "SELECT * FROM albums WHERE kind = 'plain' AND id IN (SELECT album_id FROM album_pictures)",
  album_chapters: 'SELECT * FROM album_chapters WHERE album_id IN (SELECT id FROM albums)',
  shelves: tree('shelves', 'SELECT shelf_id FROM albums'),
  folders: tree('folders', 'SELECT folder_id FROM pictures'),
  tags: tree('tags', 'SELECT tag_id FROM picture_tags'),
  tag_names: 'SELECT * FROM tag_names WHERE tag_id IN (SELECT id FROM tags)',
  own_places: 'SELECT * FROM own_places WHERE id IN (SELECT own_place_id FROM pictures)',
  devices: 'SELECT * FROM devices WHERE id IN (SELECT device_id FROM pictures)',
  batches: 'SELECT * FROM batches WHERE id IN (SELECT batch_id FROM pictures)',
  // What plays is a question or an album of the keeper's; it is shown to a relative by a share.
  shows: 'SELECT * FROM shows WHERE FALSE',
  known_words: 'SELECT * FROM known_words WHERE word IN (SELECT word FROM picture_words)',
};

/** Tables a relative's requests may read as they are: none of their rows says anything of a picture. */
export const OPEN: ReadonlySet<string> = new Set(['libraries', 'members', 'marks', 'changes', 'music', 'pins', 'acts']);
