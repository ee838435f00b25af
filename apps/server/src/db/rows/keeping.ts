import type { Flag, Table } from '../row';

// What is kept safe, and what lies in the bin.

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
    binned: Table<BinnedRow>;
    binned_files: Table<BinnedFilesRow>;
    splits: Table<SplitsRow>;
    split_pictures: Table<SplitPicturesRow>;
    safe_places: Table<SafePlacesRow>;
    safe_runs: Table<SafeRunsRow>;
    safe_copies: Table<SafeCopiesRow>;
    safe_listed: Table<SafeListedRow>;
    safe_mends: Table<SafeMendsRow>;
    vault_moves: Table<VaultMovesRow>;
  }
}
