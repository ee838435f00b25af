import { ShareMay, ShareOf, type Share } from '@gemmel/contract';
import type { App } from '../context';
import type { ShareGuestsRow, SharesRow } from '../db/tables';
import { notFound } from '../problem';

export type ShareRow = SharesRow;

/** What is shared. Older shares are of an album, or of pictures that were picked. */
export const ofIn = (row: ShareRow): ShareOf | null =>
  row.source !== null ? ShareOf.parse(JSON.parse(row.source)) : row.album_id !== null ? { album: row.album_id } : null;

/** What guests may do. */
export const mayIn = (row: ShareRow): ShareMay => ShareMay.parse(JSON.parse(row.may));

/** What guests are told. */
export const tellsIn = (row: ShareRow): Share['tells'] => ({
  places: Boolean(row.tell_places),
  names: Boolean(row.tell_names),
  captions: Boolean(row.tell_captions),
  dates: Boolean(row.tell_dates),
  others: Boolean(row.tell_others),
});

/** The columns of what guests are told. */
export const tellColumns = (tells: Share['tells']) => ({
  tell_places: tells.places,
  tell_names: tells.names,
  tell_captions: tells.captions,
  tell_dates: tells.dates,
  tell_others: tells.others,
});

/** How a share stands on a day. */
export const stateOf = (row: ShareRow, today: string): Share['state'] =>
  row.closed_at
    ? 'closed'
    : row.until_day && row.until_day < today
      ? 'over'
      : row.visits_most !== null && row.opened >= row.visits_most
        ? 'worn'
        : 'open';

/** A share of a library by its number. */
export async function shareRow({ db }: App, library: number, id: number): Promise<ShareRow> {
  const row = await db('shares').where({ id, library_id: library }).first();
  if (!row) throw notFound('share');
  return row;
}

export type GuestRow = ShareGuestsRow;
