import { type Question, unpack } from '@gemmel/core';
import { useRouter } from 'expo-router';
import { call } from '@/api/client';
import { useGoing } from './going';
import { trouble } from './toast';

/** Begins to go through pictures one after another: those given, or the answer to a question, in the order they were taken. */
export function useBegin() {
  const router = useRouter();
  return async (
    what: { key: string; title: string; from: string } & ({ ids: readonly number[] } | { question: Question }),
  ) => {
    try {
      const ids =
        'ids' in what
          ? [...what.ids]
          : [...unpack(await call('skeleton', { body: { question: what.question, oldestFirst: true } })).ids];
      if (ids.length === 0) return;
      useGoing.getState().begin({ key: what.key, title: what.title, from: what.from, ids });
      router.push('/going');
    } catch (error) {
      trouble(error);
    }
  };
}
