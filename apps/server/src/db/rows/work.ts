import type { Flag, Table } from '../row';

// What was done, what is still to do, and who has to hear of it.

export interface ActsRow {
  id: number;
  library_id: number;
  member_id: number | null;
  kind: string;
  words: string;
  pictures: number;
  changes: Buffer | null;
  undoes_id: number | null;
  undone_by: number | null;
  at: string;
}

export interface ActPicturesRow {
  library_id: number;
  picture_id: number;
  act_id: number;
}

export interface ActsOnceRow {
  library_id: number;
  name: Buffer;
  act_id: number | null;
  at: string;
}

export interface ChangesRow {
  id: number;
  library_id: number;
  topic: string;
  ids: string | null;
  at: string;
  /** Whether it is of work that goes on by itself, and not of what somebody did. */
  work: Flag;
}

export interface JobsRow {
  id: number;
  library_id: number;
  kind: string;
  about: number;
  state: 'ready' | 'running' | 'failed' | 'done';
  again: Flag;
  priority: number;
  tries: number;
  run_after: string;
  taken_by: string | null;
  taken_at: string | null;
  error: string | null;
  payload: string | null;
  progress: string | null;
  result: string | null;
  cancelled: Flag;
}

export interface TurnsRow {
  library_id: number;
  act: string;
}

declare module 'knex/types/tables' {
  interface Tables {
    acts: Table<ActsRow>;
    act_pictures: Table<ActPicturesRow>;
    acts_once: Table<ActsOnceRow>;
    changes: Table<ChangesRow>;
    jobs: Table<JobsRow>;
    turns: Table<TurnsRow>;
  }
}
