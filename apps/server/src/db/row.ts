import type { Knex } from 'knex';

/** A yes or a no: read as 1 or 0, asked for and written as true or false as well. */
export type Flag = number | boolean;

/** What a column may be set to: besides what is read of it, what the database works out. */
type Given<T> = T | Knex.Raw | Knex.QueryBuilder;
/** A table: what is read of a row, and what is given of one. */
export type Table<T> = Knex.CompositeTableType<T, { [C in keyof T]?: Given<T[C]> }, { [C in keyof T]?: Given<T[C]> }>;
