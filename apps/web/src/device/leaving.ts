import type { Me } from '@gemmel/contract';
import { call, setSessionToken, Told } from '@/api/client';
import { leaveDevice } from './whose';

/** Noted where somebody signed out without a line: the server is told as soon as there is one. */
const KEPT = 'gemmel-leave';

/** Whether somebody signed out here whom the server still takes for signed in. */
export function isLeaving(): boolean {
  try {
    return localStorage.getItem(KEPT) !== null;
  } catch {
    return false;
  }
}

/** Ends the session: on the device at once, on the server now or as soon as it can be reached. */
export async function leave(): Promise<void> {
  try {
    await call('signOut', {});
  } catch (error) {
    // A session that has ended already is left as well.
    if (!(error instanceof Told) || (error.status !== 0 && error.status !== 401)) throw error;
    if (error.status === 0) localStorage.setItem(KEPT, 'yes');
  }
  await leaveDevice();
}

/** Tells the server that whoever is still signed in has signed out, before anything of theirs is shown again; then the page begins anew. */
export async function endLeaving(me: Me): Promise<void> {
  if (me.signedIn) {
    setSessionToken(me.token);
    await call('signOut', {});
  }
  localStorage.removeItem(KEPT);
  location.assign('/sign-in');
}
