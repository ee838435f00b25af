import { unpack, type Question, type Strip } from '@gemmel/core';
import { useMemo } from 'react';
import { useAnswer } from '@/api/query';

/** The whole answer to a question as a strip, newest first. */
export function useStrip(question: Question) {
  const answer = useAnswer('skeleton', { body: { question } });
  const strip = useMemo<Strip | null>(() => (answer.data ? unpack(answer.data) : null), [answer.data]);
  return { ...answer, strip };
}
