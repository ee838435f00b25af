import type { Context } from 'hono';

/** The address a request comes from, as it was noted when it came in: by its socket, or by a proxy that is believed. */
export const addressOf = (c: Context): string =>
  (c.get('from' as never) as { address: string } | undefined)?.address ?? 'unknown';
