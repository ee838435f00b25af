import type { Observed } from '../observe/kinds';
import type { Heard } from './heard';

/** What a question can ask of one picture. Ids are those of the library; lists hold no id twice. */
export interface PictureFacts {
  id: number;
  kind: 'photo' | 'video';
  /** The wall-clock day, or null when nobody knows. */
  day: string | null;
  /** When no more is known than a span of days: how wide it is, its first and its last day. `day` is its middle. */
  span: { exact: 'day' | 'month' | 'season' | 'year' | 'decade'; from: string; to: string } | null;
  rating: number;
  favourite: boolean;
  /** The named people in it. */
  people: readonly number[];
  /** Faces that count: named and waiting ones, not passers-by. */
  faces: number;
  /** Faces that wait for a name. */
  unnamed: number;
  tags: readonly number[];
  event: number | null;
  albums: readonly number[];
  batch: number | null;
  device: number | null;
  /** The day it came in. */
  added: string;
  /** An earlier picture nearly shows the same. */
  hasDouble: boolean;
  country: string | null;
  region: string | null;
  place: string | null;
  position: { lat: number; lon: number } | null;
  /** The household's own place it lies in. */
  ownPlace: number | null;
  /** The folder it came in. */
  folder: number | null;
  title: string | null;
  caption: string | null;
  /** How many comments it has. */
  comments: number;
  mark: number | null;
  /** What the machine noticed. */
  observed: readonly Observed[];
  camera: string | null;
  lens: string | null;
  format: string;
  /** In pixels, as it is shown. */
  width: number;
  height: number;
  /** The wall-clock moment, `YYYY-MM-DDTHH:MM:SS`, where it is known. */
  moment: string | null;
  /** Members who said something of it. */
  saidBy: readonly number[];
  /** The day somebody last did. */
  changed: string | null;
  /** See {@link searchable}. */
  words: string;
}

/** What lies outside the picture: today's day, and the trees of tags and of folders as child -> parent. */
export interface World {
  today: string;
  tagParent: ReadonlyMap<number, number | null>;
  folderParent: ReadonlyMap<number, number | null>;
  /** What the texts of a question mean here, by the text; one that is not among them means its own words alone. */
  heard?: ReadonlyMap<string, Heard>;
  /** The pictures that look like one, itself among them, by the one. */
  alike?: ReadonlyMap<number, ReadonlySet<number>>;
}
