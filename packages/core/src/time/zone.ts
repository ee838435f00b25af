/** Minutes east of Greenwich that a time zone (IANA name) kept at an instant (ms since 1970). Null for unknown zones. */
export function offsetAt(zone: string, instant: number): number | null {
  try {
    const parts = new Intl.DateTimeFormat('en-US', {
      timeZone: zone,
      hourCycle: 'h23',
      year: 'numeric',
      month: 'numeric',
      day: 'numeric',
      hour: 'numeric',
      minute: 'numeric',
      second: 'numeric',
    }).formatToParts(instant);
    const n = (type: string) => Number(parts.find((part) => part.type === type)?.value);
    const wall = Date.UTC(n('year'), n('month') - 1, n('day'), n('hour'), n('minute'), n('second'));
    return Math.round((wall - instant) / 60_000);
  } catch {
    return null;
  }
}

/**
 * The offset a zone kept when its clocks showed `local`. Of an hour that came twice in autumn the first is meant; in the
 * hour that was left out in spring the clock is read as if it had not yet been moved.
 */
export function offsetOfLocal(zone: string, local: string): number | null {
  const wall = Date.parse(`${local}Z`);
  const before = offsetAt(zone, wall - 86_400_000);
  if (before === null) return null;
  const first = offsetAt(zone, wall - before * 60_000);
  if (first === before) return before;
  const after = offsetAt(zone, wall + 86_400_000) ?? before;
  return offsetAt(zone, wall - after * 60_000) === after ? after : before;
}

/** The wall clock at an instant, that many minutes east of Greenwich: `YYYY-MM-DDTHH:mm:ss.sss`. */
export const localAt = (instant: number, offset: number): string =>
  new Date(instant + offset * 60_000).toISOString().slice(0, -1);

/**
 * The offset a camera's clock was set to, from the satellites' time of the same shot: the difference, if it lies within
 * three minutes of a whole quarter of an hour that some zone keeps. Null for clocks that are simply wrong.
 */
export function offsetFromGps(local: string, gps: number): number | null {
  const minutes = (Date.parse(`${local}Z`) - gps) / 60_000;
  const quarter = Math.round(minutes / 15) * 15;
  return Math.abs(minutes - quarter) <= 3 && quarter >= -720 && quarter <= 840 ? quarter : null;
}
