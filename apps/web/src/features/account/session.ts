import type { Me } from '@gemmel/contract';
import type { PublicKeyCredentialRequestOptionsJSON } from '@simplewebauthn/browser';
import type { Language } from '@gemmel/core';
import { call, setSessionToken } from '@/api/client';
import { closeEyes } from '@/api/eyes';
import { nameLibrary } from '@/api/library';
import { queries, useAnswer } from '@/api/query';
import { usePile } from '@/state/pile';
import { leave } from '@/device/leaving';
import { settle } from '@/device/whose';

/** Who is signed in, and whether the library has a keeper yet. */
export function useMe() {
  const answer = useAnswer('me', {});
  if (answer.data) setSessionToken(answer.data.token);
  return answer;
}

/** Whether whoever is signed in files and describes: a relative does not. */
export const useHelps = (): boolean => useMe().data?.member?.part !== 'relative';

/** Begins anew as somebody, or in another library: nothing of before is kept on screen. */
export const enter = (me: Me): Me => {
  nameLibrary(me.libraries.length > 1 ? (me.library?.slug ?? null) : null);
  usePile.setState({ ids: [], has: new Set() });
  queries.clear();
  void settle(me);
  queries.setQueryData(['me', {}], me);
  return me;
};

/** Signs in, or throws what was wrong in plain words. */
export const signIn = async (email: string, password: string, code?: string): Promise<Me> =>
  enter(await call('signIn', { body: { email, password, ...(code ? { code } : {}) } }));

/** Signs in by a passkey of this device; throws what was wrong. */
export async function signInByPasskey(): Promise<Me> {
  const { startAuthentication } = await import('@simplewebauthn/browser');
  const optionsJSON = (await call('beginPasskeySignIn', {})) as unknown as PublicKeyCredentialRequestOptionsJSON;
  const response = await startAuthentication({ optionsJSON });
  return enter(await call('signInByPasskey', { body: { response: { ...response } } }));
}

/** Makes the keeper's account of a new library. */
export const makeLibrary = async (body: {
  library: string;
  name: string;
  email: string;
  password: string;
  code?: string;
  language?: Language;
}): Promise<Me> => enter(await call('firstRun', { body }));

/** Ends the session on this device. */
export async function signOut(): Promise<void> {
  await leave();
  setSessionToken(null);
  closeEyes();
  nameLibrary(null);
  usePile.setState({ ids: [], has: new Set() });
  queries.clear();
}

/**
 * Shows another library of this account in this tab. The page begins anew: whatever was on its way, pictures being sent among it, belongs to
 * the library it was begun in, and goes on there.
 */
export function goInto(slug: string | null): void {
  closeEyes();
  nameLibrary(slug);
  location.assign('/arrivals');
}

/** Sets a new password by the link that was sent; signs in with it. */
export const setByLink = async (token: string, password: string): Promise<Me> =>
  enter(await call('useReset', { params: { token }, body: { password } }));

/** Accepts an invitation, with a new account or as who is signed in. */
export const accept = async (
  token: string,
  account: { name: string; email: string; password: string; language: Language } | null,
): Promise<Me> => enter(await call('acceptInvite', { params: { token }, body: { account } }));

let after: '/arrivals' | `/invite/${string}` = '/arrivals';
/** Where somebody who signs in goes on, once: what they had opened before. */
export const comeBackTo = (path: typeof after): void => void (after = path);
export function afterDoor(): typeof after {
  const path = after;
  after = '/arrivals';
  return path;
}
