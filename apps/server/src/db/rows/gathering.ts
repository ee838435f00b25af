import type { Flag, Table } from '../row';

// Where pictures come from.

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

declare module 'knex/types/tables' {
  interface Tables {
    batches: Table<BatchesRow>;
    batch_items: Table<BatchItemsRow>;
    sources: Table<SourcesRow>;
    source_files: Table<SourceFilesRow>;
  }
}
