import { HOUSEHOLD_TABLES } from './householdTables';
import type { Kept, Table } from './kept';
import { PICTURE_TABLES } from './pictureTables';

/** Every table that acts change, those that others speak of first. */
export const TABLES: Readonly<Record<Table, Kept>> = { ...HOUSEHOLD_TABLES, ...PICTURE_TABLES };

/** The tables in the order in which rows are put back; they are taken away in the opposite one. */
export const ORDER = Object.keys(TABLES) as Table[];

/** Every column of a row that is kept. */
export const columnsOf = (kept: Kept): string[] => [
  ...new Set([
    ...kept.key,
    ...kept.groups.flatMap((group) => [...group.columns, ...(group.along ?? [])]),
    ...kept.rest,
    ...(kept.picture ? [kept.picture] : []),
  ]),
];
