import type { Album } from '@gemmel/contract';
import { SavedQuestion, type Question } from '@gemmel/core';
import { z } from 'zod';
import type { Act } from '../act/perform';
import type { Db } from '../db/open';
import type { AlbumsRow } from '../db/tables';
import { notFound } from '../problem';

/** How many of the best a smart album holds, and how widely they are spread, from 0 to 1. */
export interface Best {
  n: number;
  spread: number;
}
const Best = z.object({ n: z.number(), spread: z.number() });

/** A row of `albums` as it is read: its question as text. */
export type AlbumRow = Pick<
  AlbumsRow,
  | 'id'
  | 'kind'
  | 'name'
  | 'description'
  | 'shelf_id'
  | 'position'
  | 'from_day'
  | 'to_day'
  | 'cover_id'
  | 'sorted'
  | 'backwards'
  | 'best'
  | 'version'
> & { question: string | null };

/** The columns of {@link AlbumRow}; a question as the text it is kept as. */
export const albumColumns = (db: Db) => [
  'id',
  'kind',
  'name',
  'description',
  'shelf_id',
  'position',
  'from_day',
  'to_day',
  'cover_id',
  'sorted',
  'backwards',
  'best',
  'version',
  db.raw('CAST(question AS CHAR) AS question'),
];

/** What a smart album asks for; null for one that is filled by hand. */
export const questionOf = ({ question }: Pick<AlbumRow, 'question'>): Question | null =>
  question === null ? null : (JSON.parse(question) as SavedQuestion).question;

/** How many of the best a smart album holds; null for all. */
export const limitOf = ({ best }: Pick<AlbumRow, 'best'>): Best | null =>
  best === null ? null : Best.parse(JSON.parse(best));

/** Which order a member asks for, and whether it is turned round. */
export type Order = Pick<Album, 'sorted' | 'backwards'>;

/** An album that has not been removed. @throws a refusal when there is none of that number. */
export async function live(db: Db, library: number, id: number): Promise<AlbumRow> {
  const row = (await db('albums')
    .where({ id, library_id: library })
    .whereNull('removed_at')
    .first(albumColumns(db))) as unknown as AlbumRow | undefined;
  if (!row) throw notFound('album');
  return row;
}

/** An album that has not been removed, held until the act is done: what somebody else does to it comes before or after. */
export async function heldAlbum({ trx, library, hold }: Act, id: number): Promise<AlbumRow> {
  await hold('albums', [id]);
  return live(trx, library, id);
}
