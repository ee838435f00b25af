import { useEffect } from 'react';
import type { Language } from '@gemmel/core';
import { call } from '@/api/client';
import { queries, useAnswer } from '@/api/query';
import { choose, hasWish, language, speak } from '@/words/speak';

/** Speaks as the member chose; before that as the browser asks, and where it asks for nothing Gemmel speaks, as the library. */
export function useSpokenAsChosen(): void {
  const me = useAnswer('me', {}).data;
  const mine = me?.account?.language ?? null;
  const library = me?.language ?? null;
  useEffect(() => {
    if (mine && mine !== language()) void choose(mine);
    else if (!mine && library && library !== language() && !hasWish()) void speak(library);
  }, [mine, library]);
}

/** Speaks a language from now on: on this device, and for a member wherever they sign in. */
export async function chooseLanguage(next: Language, signedIn: boolean): Promise<void> {
  if (signedIn) {
    await call('chooseLanguage', { body: { language: next } });
    // Answered before everything is drawn anew, so that the old choice does not come back for a moment.
    await queries.invalidateQueries({ queryKey: ['me'] });
  }
  await choose(next);
}
