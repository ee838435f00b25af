import type { CircleShape, Did, FaceAnswer, PersonChange } from '@gemmel/contract';
import { call } from '@/api/client';
import { refreshTopics } from '@/api/query';
import { act, whenUndone } from '@/state/acts';
import { count } from '@/ui/say';

/** Asks anew for everything that speaks of people. */
export const refreshPeople = (): void => refreshTopics('people', 'pictures');

/** Does something with people that can be taken back. True when it was done. */
const doing = async <T extends Did>(what: () => Promise<T>, done: string | ((answer: T) => string)): Promise<boolean> =>
  Boolean(await act(what, done, 'people', 'said'));

const DONE = {
  'passer-by': (n: number) => `${count(n, 'face')} left as ${n === 1 ? 'a passer-by' : 'passers-by'}`,
  'not a face': (n: number) => (n === 1 ? 'Not a face, then' : 'Not faces, then'),
  later: () => 'Put off until tomorrow',
  unnamed: (n: number) => `Not them; ${n === 1 ? 'it' : 'they'} will not be asked again`,
};

/** Files an answer about faces and offers to take it back; `onUndo` is done when it is. True when it was filed. */
export async function answerFaces(
  faces: readonly number[],
  odd: readonly number[],
  is: FaceAnswer['is'],
  onUndo?: () => void,
): Promise<boolean> {
  const n = faces.length - odd.length;
  const done = await act(
    () => call('answerFaces', { body: { faces: [...faces], odd: [...odd], is } }),
    ({ said }) => (typeof is === 'object' ? `${count(n, 'face')} filed under ${said}` : DONE[is](n)),
    'people',
    'said',
  );
  if (done?.act && onUndo) whenUndone(done.act, onUndo);
  return done !== null;
}

/** Marks a face that was missed. Box in fractions of the picture. */
export const drawFace = (
  picture: number,
  box: [number, number, number, number],
  is: Exclude<FaceAnswer['is'], string> | null,
): Promise<boolean> =>
  doing(
    () => call('drawFace', { params: { id: picture }, body: { box, is } }),
    ({ said }) => (said ? `Marked and filed under ${said}` : 'A face is marked'),
  );

/** Changes what is known of a person. */
export const changePerson = (id: number, change: PersonChange, done: string): Promise<boolean> =>
  doing(() => call('changePerson', { params: { id }, body: change }), done);

/** Joins a person into another. */
export const joinPeople = (id: number, into: number, done: string): Promise<boolean> =>
  doing(() => call('joinPeople', { params: { id }, body: { into } }), done);

/** Takes a name away; the faces wait again. */
export const forgetPerson = (id: number, name: string): Promise<boolean> =>
  doing(() => call('forgetPerson', { params: { id } }), `The name ${name} is taken away; the faces wait again`);

/** Makes a circle. */
export const makeCircle = (name: string, people: number[] = []): Promise<boolean> =>
  doing(() => call('makeCircle', { body: { name, people } }), `The circle “${name}” is made`);

/** Renames a circle, says who is in it, or moves it in the order. */
export const changeCircle = (id: number, change: Partial<CircleShape>, done: string): Promise<boolean> =>
  doing(() => call('changeCircle', { params: { id }, body: change }), done);

/** Removes a circle; the people in it stay. */
export const removeCircle = (id: number, name: string): Promise<boolean> =>
  doing(() => call('removeCircle', { params: { id } }), `The circle “${name}” is gone; its people stay`);
