import type { Sitting as Open } from '@gemmel/contract';
import { useMemo, useState } from 'react';
import { useSteps } from '@/state/acts';
import { questionsOf, type Done } from './questions';

/**
 * How a question was answered. `settled` once the server no longer asks it; asked again after that, it was undone, as it was
 * when its act is no longer among the steps of this tab.
 */
interface Answered {
  what: Done;
  n: number;
  settled: boolean;
  act: number | null;
}

/** What was answered in this sitting, of what is open now. */
export function useAnswers(data: Open | undefined) {
  const [given, setAnswers] = useState<ReadonlyMap<string, Answered>>(new Map());
  const steps = useSteps((all) => all.done);
  const answers = useMemo(() => {
    const standing = new Set(steps.map((step) => step.act));
    return new Map([...given].filter(([, a]) => a.act === null || standing.has(a.act)));
  }, [given, steps]);
  const [seen, setSeen] = useState(data);
  if (data && data !== seen) {
    setSeen(data);
    const asked = new Set(questionsOf(data).map((q) => q.key));
    setAnswers(
      new Map(
        [...answers]
          .filter(([key, a]) => !(a.settled && asked.has(key)))
          .map(([key, a]) => [key, { ...a, settled: a.what !== 'skipped' && !asked.has(key) }]),
      ),
    );
  }
  const note = (key: string, answer: Answered | null) =>
    setAnswers((old) => {
      const next = new Map(old);
      if (answer) next.set(key, answer);
      else next.delete(key);
      return next;
    });
  const sum = (what: Done) => [...answers.values()].reduce((n, a) => (a.what === what ? n + a.n : n), 0);
  return {
    answers,
    tally: { named: sum('named'), placed: sum('placed'), dated: sum('dated'), skipped: sum('skipped') },
    /** Notes an answer at once, and forgets it when what it did (`doing`) fails or is taken back. */
    answer: (key: string, what: Done, doing: Promise<boolean> | null = null, n = 1) => {
      note(key, { what, n, settled: false, act: null });
      void doing?.then((done) =>
        note(key, done ? { what, n, settled: false, act: useSteps.getState().done.at(-1)?.act ?? null } : null),
      );
    },
    /** Asks again what was left for later. */
    askSkipped: () => setAnswers(new Map([...answers].filter(([, a]) => a.what !== 'skipped'))),
  };
}
