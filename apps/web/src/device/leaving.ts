import { call, Told } from '@/api/client';
import { leaveDevice } from './whose';

/** Noted where somebody signed out without a line: the server is told as soon as there is one. */
const KEPT = 'gemmel-leave';

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

/** Ends the session of whoever signed out here without a line. Answers whether there was one. */
export async function finishLeaving(): Promise<boolean> {
  if (localStorage.getItem(KEPT) === null) return false;
  const me = await call('me', {});
  if (me.signedIn) await call('signOut', {});
  localStorage.removeItem(KEPT);
  return true;
}
