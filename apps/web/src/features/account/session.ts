import type { Me } from '@gemmel/contract';
import type { Language } from '@gemmel/core';
import { call, setSessionToken } from '@/api/client';
import { queries, useAnswer } from '@/api/query';
import { usePile } from '@/state/pile';

/** Who is signed in, and whether the library has a keeper yet. */
export function useMe() {
  const answer = useAnswer('me', {});
  if (answer.data) setSessionToken(answer.data.token);
  return answer;
}

const enter = (me: Me): Me => {
  queries.clear();
  queries.setQueryData(['me', {}], me);
  return me;
};

/** Signs in, or throws what was wrong in plain words. */
export const signIn = async (email: string, password: string): Promise<Me> =>
  enter(await call('signIn', { body: { email, password } }));

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
  await call('signOut', {});
  setSessionToken(null);
  usePile.setState({ ids: [], has: new Set() });
  queries.clear();
}
