import type { Part } from '@gemmel/contract';
import type { Context } from 'hono';
import { may } from '../account/part';
import type { Session } from '../account/accounts';
import type { App } from '../context';
import { refused } from '../problem';
import type { From } from './from';

/** What a request carries through the routes. */
export interface Vars {
  Variables: {
    session: Session | null;
    /** The application as far as whoever asks sees it. */
    seen: App;
    /** Where it comes from. */
    from: From;
  };
}

/** A handler's surroundings: the session (never null unless the endpoint is for nobody) and the raw request. */
export interface Call {
  session: Session;
  c: Context<Vars>;
}

/** The cookie of a session. */
export const COOKIE = 'gemmel';
/** The header that goes with everything that changes something. */
export const TOKEN = 'x-gemmel-token';
/** The header, and the query, that name the member by whose eyes a keeper looks. */
export const EYES = { header: 'x-gemmel-eyes', query: 'eyes' } as const;
/** The header, and for what is asked for by an address alone the query, that name the library by its slug. */
export const LIBRARY = { header: 'x-gemmel-library', query: 'in' } as const;

/** Refuses whoever has too small a part, whoever only looks by somebody else's eyes and would change something, and everything that changes something without this session's own token. */
export function guard(c: Context<Vars>, least: Part, reads = c.req.method === 'GET'): Session {
  const session = c.get('session');
  if (least !== 'nobody' && !session) throw refused('sign-in');
  if (!may(session?.part ?? 'nobody', least))
    throw refused(session?.part === 'account' ? 'not-a-member' : 'not-allowed');
  if (session?.looking && !reads && least !== 'nobody') throw refused('looking-only');
  if (least !== 'nobody' && c.req.method !== 'GET' && c.req.header(TOKEN) !== session?.csrf)
    throw refused('page-stale');
  return session as Session;
}

/** A path for the log: whoever reads it must not be able to open a share. */
export const masked = (at: string): string =>
  at.replace(
    /^(\/s|\/invite|\/password|\/api\/invite|\/api\/password|\/show|\/api\/guest|\/api\/wall|\/frame)\/[^/]+/,
    '$1/…',
  );
