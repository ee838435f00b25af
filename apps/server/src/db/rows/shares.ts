import type { Flag, Table } from '../row';

// What is shared with whom.

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

export interface SharePicturesRow {
  library_id: number;
  share_id: number;
  picture_id: number;
  position: number;
}

declare module 'knex/types/tables' {
  interface Tables {
    share_guests: Table<ShareGuestsRow>;
    share_visits: Table<ShareVisitsRow>;
    guest_hearts: Table<GuestHeartsRow>;
    shares: Table<SharesRow>;
    share_pictures: Table<SharePicturesRow>;
  }
}
