import type { Flag, Table } from '../row';

// What pictures are gathered in, and what is made of them.

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

declare module 'knex/types/tables' {
  interface Tables {
    albums: Table<AlbumsRow>;
    albums_said: Table<AlbumsSaidRow>;
    album_chapters: Table<AlbumChaptersRow>;
    album_facts: Table<AlbumFactsRow>;
    album_hand: Table<AlbumHandRow>;
    album_pictures: Table<AlbumPicturesRow>;
    music: Table<MusicRow>;
    shows: Table<ShowsRow>;
    pieces: Table<PiecesRow>;
    piece_files: Table<PieceFilesRow>;
    frames: Table<FramesRow>;
    walls: Table<WallsRow>;
    shelves: Table<ShelvesRow>;
  }
}
