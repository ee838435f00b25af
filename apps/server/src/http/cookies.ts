import type { Context } from 'hono';
import { setCookie } from 'hono/cookie';
import { fromOf } from './from';

/** Sets a cookie of ours: out of reach of scripts, and for our own pages; kept to encrypted ways where it was given on one. */
export function setOwnCookie(c: Context, name: string, value: string, days: number): void {
  setCookie(c, name, value, {
    httpOnly: true,
    sameSite: 'Lax',
    path: '/',
    secure: fromOf(c).secure,
    maxAge: days * 86_400,
  });
}
