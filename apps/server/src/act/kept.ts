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

/** Looking again at what hangs on an act waits so long for the next one, in ms. */
export const SOON = 500;
/** Folders are gone through again once what may change them is over. */
export const FOLDERS = ['refile', 1000] as const;

/** Columns each of which stands by itself. */
export const one = (topics: readonly Topic[], ...columns: string[]): Group[] =>
  columns.map((column) => ({ columns: [column], topics }));
