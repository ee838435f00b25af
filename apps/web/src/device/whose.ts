import type { Me } from '@gemmel/contract';
import { lentEyes } from '@/api/eyes';
import { forgetDevice } from './stores';
import { forgetSeen } from './worker';

/** Whose view this device keeps: an account, and the library of it that a tab shows. */
const KEPT = 'gemmel-whose';

const read = (): string | null => {
  try {
    return localStorage.getItem(KEPT);
  } catch {
    return null;
  }
};

let library: string | null = null;
let account: string | null = null;

/** What is kept is kept under this; null while nobody is known, or while a keeper looks by somebody else’s eyes: then nothing is kept, and nothing shown of it. */
export const whose = (): string | null =>
  account === null || library === null || lentEyes() !== null || read() !== account ? null : library;

/** Whoever was signed in here last, before the server has said so: the account is believed, the library is the tab's or the last one. */
export function believe(): void {
  const [was, slug] = [read(), localStorage.getItem(`${KEPT}-library`)];
  account = was;
  library = was === null ? null : (sessionStorage.getItem('gemmel-library') ?? slug);
}

/** Takes note of who is signed in. Whatever is kept of anybody else goes. */
export async function settle(me: Pick<Me, 'account' | 'library' | 'signedIn' | 'looking'>): Promise<void> {
  if (me.looking) return;
  const now = me.signedIn ? (me.account?.email ?? null) : null;
  const before = read();
  if (before !== null && before !== now) {
    account = null;
    localStorage.removeItem(KEPT);
    await forgetSeen();
    await forgetDevice();
  }
  account = now;
  library = me.library?.slug ?? null;
  if (now === null) return;
  try {
    localStorage.setItem(KEPT, now);
    if (library) localStorage.setItem(`${KEPT}-library`, library);
  } catch {
    // This browser keeps nothing: then nothing is kept.
  }
}

/** Forgets whose it is, and all of it. */
export async function leaveDevice(): Promise<void> {
  account = null;
  library = null;
  try {
    localStorage.removeItem(KEPT);
    localStorage.removeItem(`${KEPT}-library`);
  } catch {
    // Nothing was kept.
  }
  await forgetSeen();
  await forgetDevice();
}
