import { plural, t } from '@lingui/core/macro';
import type { Did, Topic, Undone } from '@gemmel/contract';
import { router } from 'expo-router';
import { create } from 'zustand';
import { call } from '@/api/client';
import { forget, queries, refreshTopics } from '@/api/query';
import { staleTiles } from './tiles';
import { say, trouble } from './toast';

/** Something done in this tab, by the number of its act and the sentence that said it. */
interface Step {
  act: number;
  said: string;
}

/** What was done, without a full stop; and what else there is to say of it, in a sentence of its own. */
export type Said = string | readonly [said: string, more: string];
const whole = (said: Said): string => (typeof said === 'string' ? said : said[1] ? `${said[0]}. ${said[1]}` : said[0]);

/** The steps of this tab: those that can be taken back, the last one last, and those that can be done again. */
interface Steps {
  done: Step[];
  undone: Step[];
}

const KEPT = 'gemmel-steps';
/** Steps a tab remembers. All others are found on the page What was done. */
const MOST = 100;

function remembered(): Steps {
  try {
    return JSON.parse(sessionStorage.getItem(KEPT) ?? '') as Steps;
  } catch {
    return { done: [], undone: [] };
  }
}

/** What can be taken back or done again with a key; it outlives a reload of the page. */
export const useSteps = create<Steps>()(() => remembered());
useSteps.subscribe((steps) => {
  try {
    sessionStorage.setItem(KEPT, JSON.stringify(steps));
  } catch {
    // This browser keeps nothing: then the steps end with the page.
  }
});

/** What pages want to do when a step of theirs is taken back. */
const backs = new Map<number, () => void>();

/** Has something done here when an act is taken back in this tab. */
export const whenUndone = (act: number, then: () => void): void => void backs.set(act, then);

/** Says what was done, with a way to take it back. */
export function did(said: Said, answer: Did): void {
  const { act } = answer;
  const { waiting } = answer as { waiting?: string };
  if (waiting) {
    void import('@/device/takeBack').then(({ sayWaiting }) =>
      sayWaiting(waiting, typeof said === 'string' ? said : said[0]),
    );
    return;
  }
  if (act === null) {
    say(whole(said));
    return;
  }
  const step = { act, said: typeof said === 'string' ? said : said[0] };
  useSteps.setState(({ done }) => ({ done: [...done, step].slice(-MOST), undone: [] }));
  say(whole(said), { label: t`Undo`, act: () => takeBack(step) });
}

/**
 * Does something that is an act: asks anew for what it changes, says what was done with a way back, and tells what went wrong.
 * Answers with what the server answered, or null when it was not done.
 */
export async function act<T extends Did>(
  doing: () => Promise<T>,
  said: Said | ((answer: T) => Said),
  ...topics: Topic[]
): Promise<T | null> {
  try {
    const answer = await doing();
    refreshTopics(...topics);
    if (topics.includes('said') || topics.includes('pictures')) staleTiles();
    did(typeof said === 'function' ? said(answer) : said, answer);
    return answer;
  } catch (error) {
    trouble(error);
    return null;
  }
}

const PAGES = { album: '/albums', person: '/person', event: '/event', share: '/share' } as const;
const LISTS = { album: '/albums', person: '/browse/who', event: '/browse', share: '/sharing' } as const;
const ANSWERS = { album: 'album', person: 'person', event: 'event', share: 'shares' } as const;

/** Leaves the page of something that is no longer there. */
function leave(gone: Undone['gone']): void {
  for (const { what, id } of gone) {
    const page = `${PAGES[what]}/${id}`;
    const here = window.location.pathname;
    if (here === page || here.startsWith(`${page}/`)) {
      if (here === page && router.canGoBack()) router.back();
      else router.replace(LISTS[what]);
    }
    if (what !== 'share') forget(ANSWERS[what] as 'album' | 'person' | 'event', id);
  }
}

const kept = (n: number): string =>
  plural(n, {
    one: '# thing stays as it is because it has been changed since.',
    other: '# things stay as they are because they have been changed since.',
  });

/** What came of taking something back, in a sentence. */
export function sayUndone(said: string, { back, left }: Undone, again = false): string {
  if (back === 0 && left === 0) return t`It already is as it was before`;
  if (back === 0) return t`It can’t be undone: all of it has been changed since`;
  const done = again ? t`Redone: ${said}` : t`Undone: ${said}`;
  return left ? `${done}. ${kept(left)}` : done;
}

async function undo(id: number): Promise<Undone> {
  const undone = await call('undo', { params: { id } });
  leave(undone.gone);
  void queries.invalidateQueries();
  staleTiles();
  return undone;
}

/** Takes a step back. `said` is what had been said of it. */
export async function takeBack(step: Step): Promise<void> {
  useSteps.setState(({ done }) => ({ done: done.filter((one) => one.act !== step.act) }));
  try {
    const undone = await undo(step.act);
    backs.get(step.act)?.();
    backs.delete(step.act);
    const back = undone.act === null ? null : { act: undone.act, said: step.said };
    if (back) useSteps.setState(({ undone: list }) => ({ undone: [...list, back].slice(-MOST) }));
    say(sayUndone(step.said, undone), back ? { label: t`Redo`, act: () => doAgain(back) } : undefined);
  } catch (error) {
    trouble(error);
  }
}

/** Does a step again that was taken back: `step.act` is the act that took it back. */
export async function doAgain(step: Step): Promise<void> {
  useSteps.setState(({ undone }) => ({ undone: undone.filter((one) => one.act !== step.act) }));
  try {
    const redone = await undo(step.act);
    const again = redone.act === null ? null : { act: redone.act, said: step.said };
    if (again) useSteps.setState(({ done }) => ({ done: [...done, again].slice(-MOST) }));
    say(sayUndone(step.said, redone, true), again ? { label: t`Undo`, act: () => takeBack(again) } : undefined);
  } catch (error) {
    trouble(error);
  }
}

/** Takes back the last step of this tab. */
export async function undoLast(): Promise<void> {
  const step = useSteps.getState().done.at(-1);
  if (step) await takeBack(step);
  else say(t`Nothing to undo here. Everything else is under What was done.`);
}

/** Does the step again that was taken back last. */
export async function redoLast(): Promise<void> {
  const step = useSteps.getState().undone.at(-1);
  if (step) await doAgain(step);
}
