import type { Flag, Table } from '../row';

// People, their circles, and their faces.

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

declare module 'knex/types/tables' {
  interface Tables {
    circles: Table<CirclesRow>;
    circle_people: Table<CirclePeopleRow>;
    faces: Table<FacesRow>;
    face_apart: Table<FaceApartRow>;
    face_offers: Table<FaceOffersRow>;
    face_refusals: Table<FaceRefusalsRow>;
    face_perhaps: Table<FacePerhapsRow>;
    look_alikes: Table<LookAlikesRow>;
    people: Table<PeopleRow>;
  }
}
