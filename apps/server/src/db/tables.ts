import type { Language, When } from '@gemmel/core';
import type { Knex } from 'knex';

/** A yes or a no: read as 1 or 0, asked for and written as true or false as well. */
type Flag = number | boolean;

/** What a column may be set to: besides what is read of it, what the database works out. */
type Given<T> = T | Knex.Raw | Knex.QueryBuilder;
/** A table: what is read of a row, and what is given of one. */
type Table<T> = Knex.CompositeTableType<T, { [C in keyof T]?: Given<T[C]> }, { [C in keyof T]?: Given<T[C]> }>;

export interface ActsRow {
  id: number;
  library_id: number;
  member_id: number | null;
  kind: string;
  words: string;
  pictures: number;
  changes: Buffer | null;
  undoes_id: number | null;
  undone_by: number | null;
  at: string;
}

export interface ActPicturesRow {
  library_id: number;
  picture_id: number;
  act_id: number;
}

export interface AccountsRow {
  id: number;
  name: string;
  email: string;
  language: Language | null;
  password_hash: string;
  created_at: string;
  /** What one-time codes are made of, sealed; whether they are asked for; the last step one was used for. */
  second: Buffer | null;
  second_on: Flag;
  second_step: number | null;
}

export interface AlbumsRow {
  id: number;
  library_id: number;
  kind: 'plain' | 'smart';
  name: string;
  description: string | null;
  question: string | null;
  created_at: string;
  removed_at: string | null;
  batch_id: number | null;
  shelf_id: number | null;
  /** Its place among the albums and shelves of its shelf: see core's `keysBetween`. */
  position: string;
  /** Days of its own; those of its pictures where it has none. */
  from_day: string | null;
  to_day: string | null;
  /** The picture somebody chose to stand for it. */
  cover_id: number | null;
  sorted: 'hand' | 'date' | 'name' | 'stars' | 'size';
  backwards: Flag;
  /** Of a smart album: how many of the best it holds and how widely they are spread, as JSON. */
  best: string | null;
  made_by: number | null;
  /** Counts up with each change of it and of what is in it. */
  version: number;
  /** Counts up with it; 0 once it is written into the open. */
  unwritten: number;
  /** What its manifest was called when it was written last, without its ending. */
  manifest: string | null;
  /** For whom what it holds is, where it has been said; and who said so. */
  audience: 'me' | 'house' | 'family' | 'link' | null;
  audience_by: number | null;
}

/** An album a sidecar says its picture belongs to, until the batch it came with is in. */
export interface AlbumsSaidRow {
  batch_id: number;
  library_id: number;
  picture_id: number;
  name: string;
}

export interface ActsOnceRow {
  library_id: number;
  name: Buffer;
  act_id: number | null;
  at: string;
}

export interface AlbumChaptersRow {
  id: number;
  library_id: number;
  album_id: number;
  /** Its place among the pictures, by the same keys. */
  position: string;
  heading: string | null;
  note: string | null;
}

/** What an album holds, as it was when this news of its library was the latest. */
export interface AlbumFactsRow {
  album_id: number;
  library_id: number;
  pictures: number;
  from_day: string | null;
  to_day: string | null;
  cover_id: number | null;
  news: string;
}

/** A picture somebody put into a smart album, or keeps out of it, whatever it asks for. */
export interface AlbumHandRow {
  library_id: number;
  album_id: number;
  picture_id: number;
  way: 'in' | 'out';
}

export interface AlbumPicturesRow {
  library_id: number;
  album_id: number;
  picture_id: number;
  /** Its place in the order by hand: see core's `keysBetween`. */
  position: string;
  added_by: number | null;
  added_at: string | null;
}

export interface BatchesRow {
  id: number;
  library_id: number;
  name: string;
  named: 'given' | 'source' | 'loose';
  state: 'coming' | 'stopped' | 'done';
  offer: 'open' | 'made' | 'declined';
  album_id: number | null;
  created_at: string;
  finished_at: string | null;
  way: string;
  source_id: number | null;
  number_base: string | null;
  number_start: number | null;
  number_digits: number | null;
  number_day: string | null;
  /** The member who brought it; null for what a device or the machine brought. */
  brought_by: number | null;
  /** The share whose guest brought it; held until the keeper says yes. */
  share_id: number | null;
  who: Buffer | null;
  held: Flag;
}

export interface BatchItemsRow {
  id: number;
  library_id: number;
  batch_id: number;
  path: string;
  source: string | null;
  bytes: number;
  state: 'waiting' | 'received' | 'stored' | 'known' | 'skipped' | 'aside' | 'failed' | 'opened';
  reason: string | null;
  sha256: Buffer | null;
  picture_id: number | null;
  finished_at: string | null;
  modified: number | null;
  role: string;
  main_id: number | null;
  placed: string | null;
  mended: Flag;
  pair: Buffer | null;
  owner: string | null;
}

export interface BinnedRow {
  /** The picture's own number, which it has again when it is brought back. */
  id: number;
  library_id: number;
  sha256: Buffer;
  kind: 'photo' | 'video';
  name: string;
  /** What its device called it. */
  came_as: string;
  /** Of its original and of all that is kept beside it. */
  bytes: number;
  width: number;
  height: number;
  seconds: number | null;
  thumb: Buffer;
  taken_local: string | null;
  taken_certainty: number | null;
  device_id: number | null;
  at: string;
  member_id: number | null;
  /** In the bin; about to go for good; gone, and only remembered so that it is not taken in again unasked. */
  state: 'in' | 'going' | 'gone';
  /** The original it is a look at, and what it was shown by: see {@link PicturesRow}. */
  of_sha: Buffer | null;
  view: Buffer | null;
  /** Its row and what hung on it, packed. */
  kept: Buffer | null;
  /** What describes its faces, packed apart: it goes when recognition is switched off. */
  described: Buffer | null;
}

export interface BinnedFilesRow {
  id: number;
  library_id: number;
  picture_id: number;
  /** A file beside the picture; null for its original. */
  file_id: number | null;
  sha256: Buffer;
  name: string;
  vault_path: string;
  bytes: number;
  verified_at: string | null;
  broken_at: string | null;
}

export interface ChangesRow {
  id: number;
  library_id: number;
  topic: string;
  ids: string | null;
  at: string;
  /** Whether it is of work that goes on by itself, and not of what somebody did. */
  work: Flag;
}

export interface CirclesRow {
  id: number;
  library_id: number;
  name: string;
  position: number;
  /** For whom what it holds is, where it has been said; and who said so. */
  audience: 'me' | 'house' | 'family' | 'link' | null;
  audience_by: number | null;
}

export interface CirclePeopleRow {
  library_id: number;
  circle_id: number;
  person_id: number;
}

export interface ClockExamplesRow {
  offer_id: number;
  library_id: number;
  position: number;
  picture_id: number;
  other_id: number;
}

export interface ClockOffersRow {
  id: number;
  library_id: number;
  device_id: number;
  from_local: string;
  to_local: string;
  reach_from: string | null;
  reach_to: string | null;
  shift_seconds: number;
  pairs: number;
  occasions: number;
  spread_seconds: number;
  kind: string;
  state: 'open' | 'mended' | 'declined';
  created_at: string;
}

export interface CommentsRow {
  id: number;
  library_id: number;
  picture_id: number;
  member_id: number | null;
  author: string;
  text: string;
  at: string;
  edited_at: string | null;
  /** The share whose guest wrote it, by what tells guests apart; and whether other guests are not shown it. */
  share_id: number | null;
  who: Buffer | null;
  hidden: Flag;
}

export interface DevicesRow {
  id: number;
  library_id: number;
  name: string;
  make: string;
  model: string;
  /** For whom what it holds is, where it has been said; and who said so. */
  audience: 'me' | 'house' | 'family' | 'link' | null;
  audience_by: number | null;
}

export interface DoublesApartRow {
  library_id: number;
  picture_id: number;
  other_id: number;
}

export interface EventsRow {
  id: number;
  library_id: number;
  title: string | null;
  start_day: string;
  end_day: string;
  made_by: 'found' | 'hand';
  cover_id: number | null;
  place: string | null;
  span_by_hand: Flag;
  not_again: Flag;
}

export interface FacesRow {
  id: number;
  library_id: number;
  picture_id: number;
  x: number;
  y: number;
  w: number;
  h: number;
  height_px: number;
  quality: number;
  eyes: number | null;
  /** How sharp it is, and how far it is turned away: see core's FaceShot. */
  sharp: number | null;
  turn: number | null;
  vector_a: Buffer;
  vector_b: Buffer;
  clothes: Buffer | null;
  state: 'waiting' | 'named' | 'passer-by' | 'not a face';
  person_id: number | null;
  named_by: 'hand' | 'machine' | null;
  group_key: number | null;
  likely_person_id: number | null;
  later_until: string | null;
  drawn: Flag;
}

export interface FaceApartRow {
  library_id: number;
  face_id: number;
  other_id: number;
}

export interface FaceOffersRow {
  library_id: number;
  face_id: number;
  nth: number;
  person_id: number;
  certainty: number;
  may_file: Flag;
  support: number;
  like_from: string | null;
  like_to: string | null;
  rival_id: number | null;
  beside_id: number | null;
  minutes: number | null;
  same_clothes: Flag;
  is_there: Flag;
  other_age: Flag;
}

export interface FaceRefusalsRow {
  library_id: number;
  face_id: number;
  person_id: number;
}

export interface FoldersRow {
  id: number;
  library_id: number;
  parent_id: number | null;
  name: string;
  path_hash: Buffer;
  /** What it was called when it came, once it is shown under another name. */
  came_as: string | null;
}

export interface HeartsRow {
  library_id: number;
  picture_id: number;
  member_id: number;
  at: string;
}

export interface JobsRow {
  id: number;
  library_id: number;
  kind: string;
  about: number;
  state: 'ready' | 'running' | 'failed' | 'done';
  again: Flag;
  priority: number;
  tries: number;
  run_after: string;
  taken_by: string | null;
  taken_at: string | null;
  error: string | null;
  payload: string | null;
  progress: string | null;
  result: string | null;
  cancelled: Flag;
}

export interface KnownWordsRow {
  library_id: number;
  word: string;
  back: string;
}

export interface InvitesRow {
  id: number;
  library_id: number;
  token_hash: Buffer;
  name: string;
  email: string | null;
  part: 'keeper' | 'helper' | 'relative';
  made_by: number;
  created_at: string;
  expires_at: string;
  used_at: string | null;
  member_id: number | null;
  revoked_at: string | null;
}

export interface LibrariesRow {
  id: number;
  slug: string;
  name: string;
  recognise: Flag;
  created_at: string;
  alike_upto: number;
  layout: string;
  language: Language;
  /** IANA name of its time zone; null for the machine's. */
  zone: string | null;
  ask_from: number;
  file_from: number;
  filed_act: number | null;
  observes: string;
  /** Looks by which pictures are looked at once more, or whose findings are forgotten. */
  observes_again: string;
  observes_paused: string;
  /** How long pictures stay in the bin, in days; null: until somebody empties it. */
  bin_days: number | null;
  /** How many earlier looks of a picture are kept; null: all of them. */
  looks_kept: number | null;
  /** How what stands on no shelf is ordered. */
  albums_sorted: 'hand' | 'name' | 'latest';
  /** For whom a picture is of which nothing is said. */
  audience: 'house' | 'family' | 'link';
  /** The address by which guests reach it; null for none. */
  address: string | null;
  /** When it was removed, and when its end began: from then on it cannot be brought back. */
  removed_at: string | null;
  erased_at: string | null;
  /** Where its folder of the vault really lies, on another disk; null for within the vault. */
  home: string | null;
  /** Most bytes that one member, or the guests of one share, may have brought; null for as many as there is room for. */
  member_most: number | null;
  share_most: number | null;
}

/** Pictures that go to another library: they are given there, and binned here once they are there whole. */
export interface SplitsRow {
  id: number;
  library_id: number;
  to_library: number;
  member_id: number | null;
  batch_id: number | null;
  state: 'giving' | 'binning' | 'done' | 'stopped';
  /** How many stayed, since they could not be given. */
  left_here: number;
  created_at: string;
}

export interface SplitPicturesRow {
  split_id: number;
  library_id: number;
  picture_id: number;
  sha256: Buffer;
  /** Whether it lay in the bin there: then what is said of it here is said there. */
  restored: Flag;
}

export interface FacePerhapsRow {
  library_id: number;
  group_key: number;
  other_key: number;
}
export interface LookAlikesRow {
  library_id: number;
  person_id: number;
  other_id: number;
}

export interface MarksRow {
  id: number;
  library_id: number;
  meaning: string;
  colour: string;
  shape: string;
  position: number;
}

export interface MembersRow {
  id: number;
  library_id: number;
  /** Whose membership it is; null once the account is gone, and what was said stays under the name. */
  account_id: number | null;
  /** What they are called in this library. */
  name: string;
  part: 'keeper' | 'helper' | 'relative';
  /** The question of what a relative sees, as saved; null while nothing is chosen. */
  view: string | null;
  reach: 'house' | 'family';
  /** When they were last in the parlour, and the time before. */
  parlour_at: string | null;
  parlour_before: string | null;
  /** Up to when they have looked at what is new; how often a letter tells it, and since when; since when browsers were told. */
  noticed_at: string | null;
  digest: 'never' | 'daily' | 'weekly';
  digest_at: string | null;
  pushed_at: string | null;
  created_at: string;
  left_at: string | null;
}

export interface PasskeysRow {
  id: number;
  account_id: number;
  credential_hash: Buffer;
  credential: Buffer;
  public_key: Buffer;
  counter: number;
  /** How it is reached, as WebAuthn names it, apart by spaces. */
  transports: string;
  name: string;
  created_at: string;
  used_at: string | null;
}

export interface PasskeyAnswersRow {
  challenge_hash: Buffer;
  at: string;
}

export interface PushPlacesRow {
  id: number;
  member_id: number;
  endpoint: string;
  endpoint_hash: Buffer;
  p256dh: string;
  auth: string;
  /** How often in a row it could not be reached. */
  failed: number;
  created_at: string;
}

export interface OwnPlacesRow {
  id: number;
  library_id: number;
  name: string;
  lat: number;
  lon: number;
  metres: number;
  hidden: Flag;
  /** For whom what it holds is, where it has been said; and who said so. */
  audience: 'me' | 'house' | 'family' | 'link' | null;
  audience_by: number | null;
}

export interface PeopleRow {
  id: number;
  library_id: number;
  name: string;
  nickname: string | null;
  born: string | null;
  portrait_face_id: number | null;
  created_at: string;
  favourite: Flag;
  hidden: Flag;
  recognised: Flag;
  /** For whom what it holds is, where it has been said; and who said so. */
  audience: 'me' | 'house' | 'family' | 'link' | null;
  audience_by: number | null;
}

export interface PicturesRow {
  id: number;
  library_id: number;
  sha256: Buffer;
  kind: 'photo' | 'video';
  format: string;
  name: string;
  vault_path: string;
  bytes: number;
  width: number;
  height: number;
  orientation: number;
  seconds: number | null;
  taken_local: string | null;
  offset_minutes: number | null;
  taken_source: string | null;
  taken_certainty: number | null;
  taken_exact: When['exact'] | null;
  taken_from: string | null;
  taken_to: string | null;
  taken_about: Flag;
  day: string | null;
  event_id: number | null;
  event_by_hand: Flag;
  batch_id: number | null;
  device_id: number | null;
  camera: string | null;
  lens: string | null;
  exposure: string | null;
  lat: number | null;
  lon: number | null;
  country: string | null;
  region: string | null;
  place: string | null;
  title: string | null;
  caption: string | null;
  words: string;
  rating: number;
  favourite: Flag;
  /** As a string where it is larger than a double can tell. */
  likeness: number | string | null;
  sharpness: number | null;
  look: Buffer | null;
  thumb: Buffer;
  created_at: string;
  codec: string | null;
  original_name: string | null;
  label: string | null;
  mark_id: number | null;
  alike_id: number | null;
  verified_at: string | null;
  clock_id: number | null;
  own_place_id: number | null;
  place_source: string | null;
  place_km: number | null;
  folder_id: number | null;
  month_day: number | null;
  faces_sought: Flag;
  broken_at: string | null;
  not_again: Flag;
  observed_by: number;
  seen_by: number;
  read_by: number;
  seen_words: string | null;
  /** The run of shots of one moment it belongs to: the number of one of them. */
  run_id: number | null;
  /** Whether it is shown for its run. */
  run_first: Flag;
  /** Whether somebody chose between it and the others of its run, and kept it. */
  chosen: Flag;
  /** Its time when it was grouped with others last; see run/alikeTask. */
  grouped_at: string | null;
  /** Bits of its perceptual hash, by which near ones are found. */
  band0: number | null;
  band1: number | null;
  band2: number | null;
  band3: number | null;
  band4: number | null;
  band5: number | null;
  band6: number | null;
  /** How it is shown, as JSON; null for as it was taken. */
  recipe: string | null;
  /** The key of its original and its recipe; null for as it was taken. */
  view: Buffer | null;
  /** By what its sizes are found: its view's key, else its own fingerprint. */
  shown: Buffer;
  /** Its upright size as it was taken, where a recipe shows it otherwise. */
  whole_width: number | null;
  whole_height: number | null;
  /** The view its blurred view is of. */
  thumb_view: Buffer | null;
  /** The fingerprint of the original it is a look at, where that is another picture's: a print of a scan, a second look. */
  of_sha: Buffer | null;
  /** Front and back of a print: the number of the front, on both. */
  pair_id: number | null;
  /** For whom what it holds is, where it has been said; and who said so. */
  audience: 'me' | 'house' | 'family' | 'link' | null;
  audience_by: number | null;
}

/** A picture on which prints lie on the glass of a scanner. */
export interface GlassesRow {
  picture_id: number;
  library_id: number;
  /** The corners of its prints, as JSON. */
  prints: string;
  /** Whether there are any; worked out by the database. */
  found: Flag | null;
  /** Whether each was turned by its faces. */
  turned: Flag;
  /** Whether somebody said that it is one picture. */
  denied: Flag;
}

export interface PictureLooksRow {
  id: number;
  library_id: number;
  picture_id: number;
  member_id: number | null;
  recipe: string | null;
  at: string;
}

export interface PictureFilesRow {
  id: number;
  library_id: number;
  picture_id: number;
  role: string;
  sha256: Buffer;
  name: string;
  vault_path: string;
  format: string;
  bytes: number;
  seconds: number | null;
  verified_at: string | null;
  broken_at: string | null;
}

export interface ObservationDeniedRow {
  library_id: number;
  picture_id: number;
  kind: string;
}

export interface PictureObservationsRow {
  library_id: number;
  picture_id: number;
  kind: string;
  sure: number;
}

export interface PictureTagsRow {
  library_id: number;
  picture_id: number;
  tag_id: number;
}

export interface PictureWordsRow {
  library_id: number;
  word: string;
  picture_id: number;
}

export interface PinsRow {
  id: number;
  library_id: number;
  member_id: number;
  name: string;
  question: string;
  position: number;
}

export interface PilePicturesRow {
  library_id: number;
  member_id: number;
  picture_id: number;
  position: number;
}

export interface SaidConflictsRow {
  id: number;
  library_id: number;
  batch_id: number;
  picture_id: number;
  path: string;
  what: string;
  kept: string;
  other: string;
  settled: Flag;
}

export interface ResetsRow {
  token_hash: Buffer;
  account_id: number;
  created_at: string;
  expires_at: string;
}

export interface SessionsRow {
  id: number;
  token_hash: Buffer;
  account_id: number;
  csrf: string;
  created_at: string;
  expires_at: string;
  seen_at: string;
  /** What the browser says it is. */
  device: string | null;
}

export interface SettledGapsRow {
  library_id: number;
  device_id: number;
  first_name: string;
}

export interface SpareCodesRow {
  account_id: number;
  code_hash: Buffer;
}

export interface ShareGuestsRow {
  id: number;
  library_id: number;
  share_id: number;
  member_id: number | null;
  name: string;
  email: string | null;
  token_hash: Buffer | null;
  sealed: Buffer | null;
  closed_at: string | null;
  opened: number;
  last_opened: string | null;
  created_at: string;
}

export interface ShareVisitsRow {
  id: number;
  library_id: number;
  share_id: number;
  guest_id: number | null;
  /** What tells guests apart. */
  who: Buffer;
  name: string | null;
  /** Whether they knew the word. */
  word: Flag;
  device: 'phone' | 'tablet' | 'computer';
  saved: number;
  at: string;
  seen_at: string;
}

export interface GuestHeartsRow {
  library_id: number;
  share_id: number;
  picture_id: number;
  who: Buffer;
  at: string;
}

export interface SharesRow {
  id: number;
  library_id: number;
  token_hash: Buffer | null;
  sealed: Buffer | null;
  title: string;
  album_id: number | null;
  until_day: string | null;
  opened: number;
  last_opened: string | null;
  closed_at: string | null;
  created_by: number;
  created_at: string;
  tell_places: Flag;
  /** What is shared, as JSON; null where it is an album or pictures. */
  source: string | null;
  frozen: Flag;
  reach: 'house' | 'family' | 'link';
  anybody: Flag;
  word_hash: string | null;
  visits_most: number | null;
  may: string;
  tell_names: Flag;
  tell_captions: Flag;
  tell_dates: Flag;
  tell_others: Flag;
}

export interface MusicRow {
  id: number;
  library_id: number;
  sha256: Buffer;
  title: string;
  artist: string | null;
  seconds: number;
  format: string;
  file: string;
  bytes: number;
  added_by: number | null;
  created_at: string;
  removed_at: string | null;
}

/** A show that is kept: what it is of and how it is played, as JSON. */
export interface ShowsRow {
  id: number;
  library_id: number;
  name: string;
  source: string;
  settings: string;
  made_by: number | null;
  created_at: string;
  removed_at: string | null;
}

/** Something made of pictures: how it is made, and what was said of its pages. */
export interface PiecesRow {
  id: number;
  library_id: number;
  kind: string;
  name: string;
  source: string;
  settings: string;
  edits: string | null;
  made_by: number | null;
  created_at: string;
  removed_at: string | null;
}

/** The files that were made of a piece: the folder they lie in below its own, what they were made of, and their names, as JSON. */
export interface PieceFilesRow {
  piece_id: number;
  library_id: number;
  made_at: string;
  folder: string;
  made_of: Buffer;
  files: string;
  /** What a shop answered, as JSON. */
  receipt: string | null;
}

/** A digital frame that is fed, and how many pictures it has had. */
export interface FramesRow {
  id: number;
  library_id: number;
  token_hash: Buffer;
  sealed: Buffer;
  name: string;
  source: string;
  settings: string;
  at: number;
  seen_at: string | null;
  created_at: string;
}

/** A screen on a wall: it waits with a code until somebody confirms it, and plays a show from then on. */
export interface WallsRow {
  id: number;
  token_hash: Buffer;
  code: string | null;
  code_until: string | null;
  library_id: number | null;
  name: string | null;
  show_id: number | null;
  source: string | null;
  confirmed_by: number | null;
  created_at: string;
  seen_at: string | null;
}

export interface ShelvesRow {
  id: number;
  library_id: number;
  parent_id: number | null;
  name: string;
  position: string;
  sorted: 'hand' | 'name' | 'latest';
  created_at: string;
}

export interface SharePicturesRow {
  library_id: number;
  share_id: number;
  picture_id: number;
  position: number;
}

export interface SidecarsRow {
  picture_id: number;
  library_id: number;
  dirty_at: string | null;
  written_at: string | null;
}

export interface SourcesRow {
  id: number;
  library_id: number;
  kind: 'card' | 'phone' | 'folder';
  slug: string;
  name: string;
  path: string | null;
  secret_hash: Buffer | null;
  device_id: number | null;
  present: Flag;
  put_off: Flag;
  seen_at: string | null;
  listed_at: string | null;
  removed_at: string | null;
  created_at: string;
}

export interface SourceFilesRow {
  id: number;
  library_id: number;
  source_id: number;
  path: string;
  bytes: number;
  modified: number;
  taken_local: string | null;
  device_id: number | null;
  sha256: Buffer | null;
  item_id: number | null;
  listed: Flag;
}

export interface TagsRow {
  id: number;
  library_id: number;
  name: string;
  folded: string;
  parent_id: number | null;
  branch: string;
}

export interface TagApartRow {
  library_id: number;
  tag_id: number;
  other: string;
}

export interface TagNamesRow {
  id: number;
  library_id: number;
  tag_id: number;
  name: string;
  folded: string;
}

/** A place that holds a second copy of everything. */
export interface SafePlacesRow {
  id: number;
  library_id: number;
  kind: 'folder' | 'bucket' | 'machine';
  name: string;
  /** A folder's path; `https://host/bucket/folder`; `name@host:port/path`. */
  location: string;
  /** What another machine shows of itself (known_hosts). */
  host_key: string | null;
  /** The pass phrase and keys, sealed. */
  sealed: Buffer;
  often: 'daily' | 'weekly' | 'shows' | 'hand';
  /** The hour of the household's day from which it is brought up to date. */
  hour: number;
  /** Most kilobytes a second; null for as many as there are. */
  kilobytes: number | null;
  paused: Flag;
  /** Which repository it is, so that another in its place is noticed. */
  repository: string | null;
  /** The fingerprint of a folder's file that says which repository it is: while it is the same, restic need not be asked. */
  config_hash: Buffer | null;
  there: Flag;
  seen_at: string | null;
  tried_at: string | null;
  pruned_at: string | null;
  created_at: string;
}

/** What was done with such a place, and what came of it. */
export interface SafeRunsRow {
  id: number;
  library_id: number;
  place_id: number;
  kind: 'backup' | 'part' | 'rehearsal';
  state: 'running' | 'done' | 'stopped' | 'failed';
  step: 'still' | 'copying' | 'proving' | 'thinning' | 'words' | 'originals' | null;
  began_at: string;
  ended_at: string | null;
  /** The moment it shows, and the last act that is in it. */
  still_at: string | null;
  act_id: number | null;
  snapshot: string | null;
  files: number;
  bytes: number;
  /** Bytes that were new. */
  added: number;
  /** Files that were read back and right, and those that were not. */
  proven: number;
  wrong: number;
  error: string | null;
}

/** An original that a place holds, and when that copy was last read back and right. */
export interface SafeCopiesRow {
  place_id: number;
  library_id: number;
  sha256: Buffer;
  /** Below `vault` in the place's latest state. */
  path: string;
  bytes: number;
  run_id: number;
  read_at: string | null;
}

/** An original that is in a backup which is being made. */
export interface SafeListedRow {
  place_id: number;
  library_id: number;
  sha256: Buffer;
  path: string;
  bytes: number;
}

/** An original that was found damaged, and from where it was mended. */
export interface SafeMendsRow {
  id: number;
  library_id: number;
  sha256: Buffer;
  path: string;
  found_at: string;
  mended_at: string | null;
  /** The name of the place that helped; null when the file came again in another way. */
  place: string | null;
}

export interface TurnsRow {
  library_id: number;
  act: string;
}

export interface VaultMovesRow {
  id: number;
  picture_id: number;
  library_id: number;
  from_path: string;
  to_path: string;
  file_id: number | null;
}

declare module 'knex/types/tables' {
  interface Tables {
    acts: Table<ActsRow>;
    act_pictures: Table<ActPicturesRow>;
    albums: Table<AlbumsRow>;
    albums_said: Table<AlbumsSaidRow>;
    acts_once: Table<ActsOnceRow>;
    album_chapters: Table<AlbumChaptersRow>;
    album_facts: Table<AlbumFactsRow>;
    album_hand: Table<AlbumHandRow>;
    album_pictures: Table<AlbumPicturesRow>;
    batches: Table<BatchesRow>;
    batch_items: Table<BatchItemsRow>;
    binned: Table<BinnedRow>;
    binned_files: Table<BinnedFilesRow>;
    changes: Table<ChangesRow>;
    circles: Table<CirclesRow>;
    circle_people: Table<CirclePeopleRow>;
    clock_examples: Table<ClockExamplesRow>;
    clock_offers: Table<ClockOffersRow>;
    comments: Table<CommentsRow>;
    devices: Table<DevicesRow>;
    doubles_apart: Table<DoublesApartRow>;
    events: Table<EventsRow>;
    faces: Table<FacesRow>;
    face_apart: Table<FaceApartRow>;
    face_offers: Table<FaceOffersRow>;
    face_refusals: Table<FaceRefusalsRow>;
    folders: Table<FoldersRow>;
    glasses: Table<GlassesRow>;
    jobs: Table<JobsRow>;
    known_words: Table<KnownWordsRow>;
    libraries: Table<LibrariesRow>;
    face_perhaps: Table<FacePerhapsRow>;
    look_alikes: Table<LookAlikesRow>;
    marks: Table<MarksRow>;
    members: Table<MembersRow>;
    accounts: Table<AccountsRow>;
    hearts: Table<HeartsRow>;
    invites: Table<InvitesRow>;
    resets: Table<ResetsRow>;
    observation_denied: Table<ObservationDeniedRow>;
    own_places: Table<OwnPlacesRow>;
    people: Table<PeopleRow>;
    pictures: Table<PicturesRow>;
    picture_looks: Table<PictureLooksRow>;
    picture_files: Table<PictureFilesRow>;
    picture_observations: Table<PictureObservationsRow>;
    picture_tags: Table<PictureTagsRow>;
    picture_words: Table<PictureWordsRow>;
    pins: Table<PinsRow>;
    pile_pictures: Table<PilePicturesRow>;
    push_places: Table<PushPlacesRow>;
    passkeys: Table<PasskeysRow>;
    passkey_answers: Table<PasskeyAnswersRow>;
    safe_places: Table<SafePlacesRow>;
    safe_runs: Table<SafeRunsRow>;
    safe_copies: Table<SafeCopiesRow>;
    safe_listed: Table<SafeListedRow>;
    safe_mends: Table<SafeMendsRow>;
    said_conflicts: Table<SaidConflictsRow>;
    sessions: Table<SessionsRow>;
    settled_gaps: Table<SettledGapsRow>;
    shelves: Table<ShelvesRow>;
    shows: Table<ShowsRow>;
    pieces: Table<PiecesRow>;
    piece_files: Table<PieceFilesRow>;
    frames: Table<FramesRow>;
    walls: Table<WallsRow>;
    music: Table<MusicRow>;
    shares: Table<SharesRow>;
    spare_codes: Table<SpareCodesRow>;
    splits: Table<SplitsRow>;
    split_pictures: Table<SplitPicturesRow>;
    share_guests: Table<ShareGuestsRow>;
    share_visits: Table<ShareVisitsRow>;
    guest_hearts: Table<GuestHeartsRow>;
    share_pictures: Table<SharePicturesRow>;
    sidecars: Table<SidecarsRow>;
    sources: Table<SourcesRow>;
    source_files: Table<SourceFilesRow>;
    tags: Table<TagsRow>;
    tag_apart: Table<TagApartRow>;
    tag_names: Table<TagNamesRow>;
    turns: Table<TurnsRow>;
    vault_moves: Table<VaultMovesRow>;
  }
}
