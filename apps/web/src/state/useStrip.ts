import { type Question, type Strip, unpack } from '@gemmel/core';
import { useMemo } from 'react';
import { useAnswer } from '@/api/query';
import { useLook } from './look';

/** The whole answer to a question as a strip, newest first, or oldest first where this device wants it so. */
export function useStrip(question: Question) {
  const oldestFirst = useLook((look) => look.oldestFirst);
  const sort = useLook((look) => look.sort);
  const answer = useAnswer('skeleton', { body: { question, oldestFirst, ...(sort === 'date' ? {} : { sort }) } });
  const strip = useMemo<Strip | null>(() => (answer.data ? unpack(answer.data) : null), [answer.data]);
  return { ...answer, strip };
}
