import type { MadeFile, PieceSettings } from '@gemmel/contract';
import type { BookEdits, Language } from '@gemmel/core';
import type { App } from '../context';
import type { Job } from '../jobs/kind';
import type { PieceOf } from './pictures';

/** A piece that is being made. */
export interface Making<S extends PieceSettings = PieceSettings> extends Pick<Job, 'signal' | 'report'> {
  app: App;
  library: number;
  name: string;
  of: PieceOf;
  settings: S;
  edits: BookEdits;
  language: Language;
  /** An empty folder for what is made. */
  to: string;
  /** A folder for what is on the way; what is in it was written by a making of this piece that was cut, each file whole. */
  parts: string;
}

/** What came of a making: its files, and the names of pictures that could not be read. */
export interface Made {
  files: MadeFile[];
  missing: string[];
}

/** Makes the files of one kind of piece. */
export type Maker<S extends PieceSettings> = (making: Making<S>) => Promise<Made>;

/** A name as a file may bear it on every system. */
export const fileName = (name: string): string =>
  name
    .normalize('NFC')
    .replace(/[\u0000-\u001f\u007f<>:"/\\|?*]+/g, ' ')
    .replace(/\s+/g, ' ')
    .replace(/^[. ]+|[. ]+$/g, '')
    .slice(0, 80)
    .trim() || 'Gemmel';
