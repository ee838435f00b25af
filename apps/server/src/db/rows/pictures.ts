import type { When } from '@gemmel/core';
import type { Flag, Table } from '../row';

// Pictures, their files, and what is said of them.

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

export interface DoublesApartRow {
  library_id: number;
  picture_id: number;
  other_id: number;
}

export interface HeartsRow {
  library_id: number;
  picture_id: number;
  member_id: number;
  at: string;
}

export interface MarksRow {
  id: number;
  library_id: number;
  meaning: string;
  colour: string;
  shape: string;
  position: number;
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

export interface SidecarsRow {
  picture_id: number;
  library_id: number;
  dirty_at: string | null;
  written_at: string | null;
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

declare module 'knex/types/tables' {
  interface Tables {
    comments: Table<CommentsRow>;
    doubles_apart: Table<DoublesApartRow>;
    hearts: Table<HeartsRow>;
    marks: Table<MarksRow>;
    pictures: Table<PicturesRow>;
    glasses: Table<GlassesRow>;
    picture_looks: Table<PictureLooksRow>;
    picture_files: Table<PictureFilesRow>;
    observation_denied: Table<ObservationDeniedRow>;
    picture_observations: Table<PictureObservationsRow>;
    picture_tags: Table<PictureTagsRow>;
    picture_words: Table<PictureWordsRow>;
    pins: Table<PinsRow>;
    pile_pictures: Table<PilePicturesRow>;
    said_conflicts: Table<SaidConflictsRow>;
    sidecars: Table<SidecarsRow>;
    tags: Table<TagsRow>;
    tag_apart: Table<TagApartRow>;
    tag_names: Table<TagNamesRow>;
  }
}
