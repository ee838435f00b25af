/** SQL for what a person is called when there is little room; `table` is the alias of `people`. */
export const shortName = (table: string): string =>
  `COALESCE(${table}.nickname, SUBSTRING_INDEX(${table}.name, ' ', 1))`;
