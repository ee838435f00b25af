import type { CircleShape, FaceAnswer, PersonChange } from '@gemmel/contract';
import { call } from '@/api/client';
import { refreshTopics } from '@/api/query';
import { say, trouble } from '@/state/toast';
import { count } from '@/ui/say';

/** Asks anew for everything that speaks of people. */
export const refreshPeople = (): void => refreshTopics('people', 'pictures');

/** Does something that can be undone, says so, and tells what went wrong. True when it was done. */
async function act<T>(doing: () => Promise<T>, done: (answer: T) => string, undo: (answer: T) => Promise<unknown>) {
  try {
    const answer = await doing();
    refreshPeople();
    say(done(answer), async () => {
      await undo(answer);
      refreshPeople();
    });
    return true;
  } catch (error) {
    trouble(error);
    return false;
  }
}

const DONE = {
  'passer-by': (n: number) => `${count(n, 'face')} left as ${n === 1 ? 'a passer-by' : 'passers-by'}`,
  'not a face': (n: number) => (n === 1 ? 'Not a face, then' : 'Not faces, then'),
  later: () => 'Put off until tomorrow',
  unnamed: (n: number) => `Not them; ${n === 1 ? 'it' : 'they'} will not be asked again`,
};

/** Files an answer about faces and offers to take it back. True when it was filed. */
export function answerFaces(
  faces: readonly number[],
  odd: readonly number[],
  is: FaceAnswer['is'],
  onUndo?: () => void,
): Promise<boolean> {
  const n = faces.length - odd.length;
  return act(
    () => call('answerFaces', { body: { faces: [...faces], odd: [...odd], is } }),
    (before) => (typeof is === 'object' ? `${count(n, 'face')} filed under ${before.said}` : DONE[is](n)),
    async (before) => {
      await call('restoreFaces', { body: before });
      onUndo?.();
    },
  );
}

/** Marks a face that was missed. Box in fractions of the picture. */
export const drawFace = (
  picture: number,
  box: [number, number, number, number],
  is: Exclude<FaceAnswer['is'], string> | null,
): Promise<boolean> =>
  act(
    () => call('drawFace', { params: { id: picture }, body: { box, is } }),
    (before) => (before.said ? `Marked and filed under ${before.said}` : 'A face is marked'),
    (before) => call('restoreFaces', { body: before }),
  );

/** Changes what is known of a person. */
export const changePerson = (id: number, change: PersonChange, done: string): Promise<boolean> =>
  act(
    () => call('changePerson', { params: { id }, body: change }),
    () => done,
    (before) => call('changePerson', { params: { id }, body: before }),
  );

/** Joins a person into another. */
export const joinPeople = (id: number, into: number, done: string): Promise<boolean> =>
  act(
    () => call('joinPeople', { params: { id }, body: { into } }),
    () => done,
    (before) => call('restorePerson', { body: before }),
  );

/** Takes a name away; the faces wait again. */
export const forgetPerson = (id: number, name: string): Promise<boolean> =>
  act(
    () => call('forgetPerson', { params: { id } }),
    () => `The name ${name} is taken away; the faces wait again`,
    (before) => call('restorePerson', { body: before }),
  );

/** Makes a circle. */
export const makeCircle = (name: string, people: number[] = []): Promise<boolean> =>
  act(
    () => call('makeCircle', { body: { name, people } }),
    () => `The circle “${name}” is made`,
    ({ id }) => call('removeCircle', { params: { id } }),
  );

/** Renames a circle, says who is in it, or moves it in the order. */
export const changeCircle = (id: number, change: Partial<CircleShape>, done: string): Promise<boolean> =>
  act(
    () => call('changeCircle', { params: { id }, body: change }),
    () => done,
    (before) => call('changeCircle', { params: { id }, body: before }),
  );

/** Removes a circle; the people in it stay. */
export const removeCircle = (id: number, name: string): Promise<boolean> =>
  act(
    () => call('removeCircle', { params: { id } }),
    () => `The circle “${name}” is gone; its people stay`,
    (before) => call('makeCircle', { body: before }),
  );
