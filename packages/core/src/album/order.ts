/**
 * Moves some of a list's members so that they stand, in their old order, just before `before`, or at the end for null.
 * `before` may itself be one of the moved: then they gather where it stood. Members that are not in the list are ignored.
 */
export function moveBefore<T>(list: readonly T[], moved: readonly T[], before: T | null): T[] {
  const going = new Set(moved);
  let at = before === null ? -1 : list.indexOf(before);
  while (at >= 0 && at < list.length && going.has(list[at]!)) at++;
  const anchor = at >= 0 && at < list.length ? list[at]! : null;
  const staying = list.filter((item) => !going.has(item));
  const place = anchor === null ? staying.length : staying.indexOf(anchor);
  return [...staying.slice(0, place), ...list.filter((item) => going.has(item)), ...staying.slice(place)];
}
