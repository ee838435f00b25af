import type { ShowSource } from '@gemmel/contract';
import type { ShowSettings } from '@gemmel/core';
import { create } from 'zustand';

/** What something is to be made of: which pictures, what they are called, and how a show of them is played that is to be a film. */
export interface MakingOf {
  source: ShowSource;
  title: string;
  show?: ShowSettings;
}

/** What somebody wants to make something of just now; null for nothing. */
export const useMaking = create<{ of: MakingOf | null }>()(() => ({ of: null }));

/** Asks what is to be made of some pictures. */
export const makeSomething = (of: MakingOf): void => useMaking.setState({ of });

/** Puts the question away. */
export const endMaking = (): void => useMaking.setState({ of: null });
