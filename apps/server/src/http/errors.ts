import type { Context } from 'hono';
import { isDbGone } from '../db/gate';
import { Refused, refused } from '../problem';
import { masked } from './guard';

/** The database is away for a moment. */
export const away = (): Refused => refused('database-away');

/** What an error tells people; null for one that nobody foresaw. */
function toRefused(error: Error): Refused | null {
  if (error instanceof Refused) return error;
  if (isDbGone(error)) return away();
  const { code } = error as { code?: string };
  // Something it speaks of went in the meantime, or was never in this library.
  if (code === 'ER_NO_REFERENCED_ROW_2' || code === 'ER_ROW_IS_REFERENCED_2') return refused('something-gone');
  if (code === 'ER_LOCK_DEADLOCK' || code === 'ER_LOCK_WAIT_TIMEOUT') return refused('busy');
  if (code === 'ER_DATA_TOO_LONG' || code === 'ER_TRUNCATED_WRONG_VALUE' || code === 'ER_WARN_DATA_OUT_OF_RANGE')
    return refused('does-not-fit');
  if (code === 'ER_DUP_ENTRY') return refused('here-already');
  return null;
}

/** Tells an error as people may read it (RFC 9457); what nobody foresaw is written into the log. */
export function tellError(error: Error, c: Context): Response {
  const said = toRefused(error);
  if (!said) console.error(`${c.req.method} ${masked(c.req.path)}:`, error);
  const { status, message, saying } = said ?? refused('unexpected');
  return c.json({ type: 'about:blank', title: message, status, ...saying }, status, {
    'content-type': 'application/problem+json',
    ...(status === 503 ? { 'retry-after': '5' } : {}),
    // What is left of a body that nobody reads is not waited for.
    ...(status === 408 || status === 413 ? { connection: 'close' } : {}),
  });
}
