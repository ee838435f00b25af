import { getConnInfo } from '@hono/node-server/conninfo';
import type { Context } from 'hono';

/** The address a request comes from, as its socket says it. */
export const addressOf = (c: Context): string => {
  try {
    return getConnInfo(c).remote.address ?? 'unknown';
  } catch {
    return 'unknown'; // called without a socket, in tests
  }
};
