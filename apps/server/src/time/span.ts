import type { When } from '@gemmel/core';

/** The columns that say which days a time may be, when no more is known. */
export interface SpanRow {
  taken_exact: When['exact'] | null;
  taken_from: string | null;
  taken_to: string | null;
  taken_about: number | boolean;
}

/** Their names, for queries. */
export const SPAN = ['taken_exact', 'taken_from', 'taken_to', 'taken_about'] as const;

/** The days a picture's time may be, when no more is known. */
export const spanOf = (row: SpanRow): When | null =>
  row.taken_exact && row.taken_from && row.taken_to
    ? { exact: row.taken_exact, from: row.taken_from, to: row.taken_to, about: Boolean(row.taken_about) }
    : null;

/** The columns of a time that only knows some days; of any other, all empty. */
export const spanColumns = (span: When | null) => ({
  taken_exact: span?.exact ?? null,
  taken_from: span?.from ?? null,
  taken_to: span?.to ?? null,
  taken_about: span?.about ?? false,
});
