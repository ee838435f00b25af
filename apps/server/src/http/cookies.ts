import type { Context } from 'hono';
import { setCookie } from 'hono/cookie';

/** Whether whoever asks came by an encrypted way, as far as can be told. */
export const isSecure = (c: Context): boolean =>
  new URL(c.req.url).protocol === 'https:' || c.req.header('x-forwarded-proto') === 'https';

/** Sets a cookie of ours: out of reach of scripts, and for our own pages. */
export function setOwnCookie(c: Context, name: string, value: string, days: number): void {
  setCookie(c, name, value, {
    httpOnly: true,
    sameSite: 'Lax',
    path: '/',
    secure: isSecure(c),
    maxAge: days * 86_400,
  });
}
