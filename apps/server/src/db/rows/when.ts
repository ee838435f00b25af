import type { Flag, Table } from '../row';

// When and where pictures were taken.

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

export interface FoldersRow {
  id: number;
  library_id: number;
  parent_id: number | null;
  name: string;
  path_hash: Buffer;
  /** What it was called when it came, once it is shown under another name. */
  came_as: string | null;
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

export interface SettledGapsRow {
  library_id: number;
  device_id: number;
  first_name: string;
}

declare module 'knex/types/tables' {
  interface Tables {
    clock_examples: Table<ClockExamplesRow>;
    clock_offers: Table<ClockOffersRow>;
    events: Table<EventsRow>;
    folders: Table<FoldersRow>;
    own_places: Table<OwnPlacesRow>;
    settled_gaps: Table<SettledGapsRow>;
  }
}
