import type { Under } from '@gemmel/contract';
import { type Question, type Strip, unpack } from '@gemmel/core';
import { useMemo } from 'react';
import { useAnswer } from '@/api/query';
import { sortOf, useLook } from './look';

/**
 * The whole answer to a question as a strip, in the order this device wants; under people, places or folders where that is asked
 * for.
 */
export function useStrip(question: Question, under?: Under) {
  const oldestFirst = useLook((look) => look.oldestFirst);
  const sort = sortOf(
    useLook((look) => look.sort),
    question,
  );
  const answer = useAnswer('skeleton', {
    body: { question, oldestFirst, ...(sort === 'date' ? {} : { sort }), ...(under ? { under } : {}) },
  });
  const strip = useMemo<Strip | null>(() => (answer.data ? unpack(answer.data) : null), [answer.data]);
  return { ...answer, strip };
}
