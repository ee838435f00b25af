type Keyed = Record<string, unknown>;

const isPlain = (value: unknown): value is Keyed =>
  typeof value === 'object' && value !== null && Object.getPrototypeOf(value) === Object.prototype;

/** Whether two columns are the same throughout. */
function sameNumbers(before: readonly unknown[], now: readonly unknown[]): boolean {
  if (before.length !== now.length) return false;
  for (let i = 0; i < now.length; i++) if (before[i] !== now[i]) return false;
  return true;
}

/**
 * An answer with all that is as it was before taken from the one before, so that nothing is drawn or laid out again for it; that one itself when
 * nothing has changed. What the query client does by itself, but columns of 100 000 numbers are only gone through.
 */
export function shareBefore(before: unknown, now: unknown): unknown {
  if (before === now) return before;
  if (Array.isArray(before) && Array.isArray(now)) {
    if (typeof now[0] === 'number') return sameNumbers(before, now) ? before : now;
    // Nothing is written down until something differs.
    let shared: unknown[] | null = null;
    for (let i = 0; i < now.length; i++) {
      const one: unknown = now[i];
      const kept: unknown = typeof one === 'object' && one !== null ? shareBefore(before[i], one) : one;
      if (!shared && (kept !== before[i] || i >= before.length)) shared = before.slice(0, i) as unknown[];
      shared?.push(kept);
    }
    return shared ?? (before.length === now.length ? before : (before.slice(0, now.length) as unknown[]));
  }
  if (isPlain(before) && isPlain(now)) {
    const keys = Object.keys(now);
    let same = Object.keys(before).length === keys.length;
    const shared: Keyed = {};
    for (const key of keys) {
      shared[key] = shareBefore(before[key], now[key]);
      if (shared[key] !== before[key] || !(key in before)) same = false;
    }
    return same ? before : shared;
  }
  return now;
}
