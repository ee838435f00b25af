import type { Language } from '@gemmel/core';
import type { Flag, Table } from '../row';

// Who is of the household, and how they come in.

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

export interface SpareCodesRow {
  account_id: number;
  code_hash: Buffer;
}

declare module 'knex/types/tables' {
  interface Tables {
    accounts: Table<AccountsRow>;
    devices: Table<DevicesRow>;
    known_words: Table<KnownWordsRow>;
    invites: Table<InvitesRow>;
    libraries: Table<LibrariesRow>;
    members: Table<MembersRow>;
    passkeys: Table<PasskeysRow>;
    passkey_answers: Table<PasskeyAnswersRow>;
    push_places: Table<PushPlacesRow>;
    resets: Table<ResetsRow>;
    sessions: Table<SessionsRow>;
    spare_codes: Table<SpareCodesRow>;
  }
}
