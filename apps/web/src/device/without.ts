import type { Answer, Api, CallInput, Me } from '@gemmel/contract';
import { setWithout } from '@/api/client';
import { remember } from './answers';
import { endLeaving, isLeaving } from './leaving';
import { lost, reached, useLine } from './line';
import { canWait } from './outbox';
import { settle, whose } from './whose';

/** Has every call of this page go on without a line as far as that is possible. */
export function goWithout(): void {
  setWithout({
    away: () => useLine.getState().away,
    reached,
    lost,
    noted: (name, input, answer) => {
      if (name === 'me')
        return isLeaving()
          ? endLeaving(answer as Me)
          : settle(answer as Me).then(() => remember('me', {}, answer as Me));
      remember(name, input as CallInput<Api[typeof name]>, answer as Answer<Api[typeof name]>);
      return undefined;
    },
    instead: async (name, input, reads) => {
      if (whose() === null) return undefined;
      if (reads) return (await import('./away')).answerAway(name, input as CallInput<Api[typeof name]>);
      // Over a way that is not encrypted browsers have no locks, and what waits could be sent by two pages.
      if (!canWait(name) || !('locks' in navigator)) return undefined;
      const { foresee, picturesAtHand } = await import('./foresee');
      const { keepBefore, waitWith } = await import('./outbox');
      const { id, answer } = await waitWith(name, input as CallInput<Api[typeof name]>, picturesAtHand());
      await keepBefore(id, await foresee(name, input as CallInput<Api[typeof name]>));
      return answer;
    },
  });
}
