import type { Answer, Api } from '@gemmel/contract';
import { parse, narrow, type Question } from '@gemmel/core';
import { useEffect, useRef, useState } from 'react';
import { call } from '@/api/client';
import { useAnswer } from '@/api/query';
import { useAsk } from '@/state/ask';
import { words } from '@/words/said';
import { useVocabulary } from './names';

/** How long a hand rests before its words are asked, in ms: less than it takes to look up. */
const REST = 80;
/** From when on it is said that an answer is waited for, in ms. */
const SLOW = 400;

type Asked = Answer<Api['ask']>;

/**
 * What is typed into the question: the server says what it asks for, what its end may be and how many pictures that is, and the
 * pictures on the page follow. `settle` gives the whole question at once, for whoever presses Enter before the answer is there.
 */
export function useTyped() {
  const question = useAsk((state) => state.question);
  const setTyping = useAsk((state) => state.setTyping);
  const [typed, setTyped] = useState('');
  const [rested, setRested] = useState('');
  const vocabulary = useVocabulary(typed !== '');
  const asking = useRef(0);
  useEffect(() => {
    const timer = setTimeout(() => setRested(typed), REST);
    return () => clearTimeout(timer);
  }, [typed]);
  const open = rested.trim() !== '';
  const answer = useAnswer('ask', { body: { typed: rested, question, language: words().language } }, { enabled: open });
  const asked = open && typed.trim() !== '' ? answer.data : undefined;
  useEffect(() => {
    setTyping(asked?.question ?? null);
  }, [asked, setTyping]);
  useEffect(() => () => setTyping(null), [setTyping]);
  const settle = async (): Promise<Question> => {
    const mine = ++asking.current;
    try {
      const said: Asked = await call('ask', { body: { typed, question, language: words().language } });
      if (mine === asking.current) return said.question;
    } catch {
      // Without the server, what this device knows of names will do.
    }
    return narrow(question, parse(typed, vocabulary, words()).question);
  };
  // An answer that is there in a moment is not announced: the count would flicker at each key.
  const waiting = open && answer.isFetching;
  const [slow, setSlow] = useState(false);
  useEffect(() => {
    if (!waiting) return;
    const timer = setTimeout(() => setSlow(true), SLOW);
    return () => {
      clearTimeout(timer);
      setSlow(false);
    };
  }, [waiting]);
  return { typed, setTyped, asked, slow, settle };
}
