import type { FaceAnswer } from '@gemmel/contract';
import { call } from '@/api/client';
import { refresh } from '@/api/query';
import { say, trouble } from '@/state/toast';
import { count } from '@/ui/say';

const again = () => refresh('people', 'introductions', 'likelyFaces', 'picture', 'library', 'events');

/** Files an answer about faces and offers to take it back. True when it was filed. */
export async function answerFaces(
  faces: readonly number[],
  odd: readonly number[],
  is: FaceAnswer['is'],
  onUndo?: () => void,
): Promise<boolean> {
  try {
    const before = await call('answerFaces', { body: { faces: [...faces], odd: [...odd], is } });
    again();
    const n = faces.length - odd.length;
    const done =
      typeof is === 'object'
        ? `${count(n, 'face')} filed under ${before.said}`
        : {
            'passer-by': `${count(n, 'face')} left as passers-by`,
            'not a face': n === 1 ? 'Not a face, then' : 'Not faces, then',
            later: 'Put off until tomorrow',
            unnamed: 'Not them; it will not be asked again',
          }[is];
    say(done, async () => {
      await call('restoreFaces', { body: before });
      onUndo?.();
      again();
    });
    return true;
  } catch (error) {
    trouble(error);
    return false;
  }
}
