import type { Context } from 'hono';
import { fromOf } from '../http/from';

/** The address a request comes from: as its socket says it, or as a proxy that is believed says it. */
export const addressOf = (c: Context): string => fromOf(c)?.address ?? 'unknown';
