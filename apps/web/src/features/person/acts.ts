import { plural, t } from '@lingui/core/macro';
import type { CircleShape, Did, FaceAnswer, PersonChange } from '@gemmel/contract';
import { call } from '@/api/client';
import { refreshTopics } from '@/api/query';
import { act, whenUndone } from '@/state/acts';
import type { Said } from '@/state/acts';

/** Asks anew for everything that speaks of people. */
export const refreshPeople = (): void => refreshTopics('people', 'pictures');

/** Does something with people that can be taken back. True when it was done. */
const doing = async <T extends Did>(what: () => Promise<T>, done: Said | ((answer: T) => Said)): Promise<boolean> =>
  Boolean(await act(what, done, 'people', 'said'));

const DONE = {
  'passer-by': (n: number) => plural(n, { one: '# face marked as a passer-by', other: '# faces marked as passers-by' }),
  'not a face': (n: number) => plural(n, { one: 'Marked as not a face', other: '# marked as not faces' }),
  later: () => t`Put off until tomorrow`,
  unnamed: (n: number) =>
    plural(n, {
      one: 'Not them; you won’t be asked about this face again',
      other: 'Not them; you won’t be asked about these # faces again',
    }),
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
    ({ said }) =>
      typeof is === 'object' ? plural(n, { one: `# face named ${said}`, other: `# faces named ${said}` }) : DONE[is](n),
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
    ({ said }) => (said ? t`Face marked and named ${said}` : t`Face marked`),
  );

/** Changes what is known of a person. */
export const changePerson = (id: number, change: PersonChange, done: Said): Promise<boolean> =>
  doing(() => call('changePerson', { params: { id }, body: change }), done);

/** Joins a person into another. */
export const joinPeople = (id: number, into: number, done: Said): Promise<boolean> =>
  doing(() => call('joinPeople', { params: { id }, body: { into } }), done);

/** Takes a name away; the faces wait again. */
export const forgetPerson = (id: number, name: string): Promise<boolean> =>
  doing(() => call('forgetPerson', { params: { id } }), [t`Name ${name} removed`, t`The faces wait for a name again.`]);

/** Makes a circle. */
export const makeCircle = (name: string, people: number[] = []): Promise<boolean> =>
  doing(() => call('makeCircle', { body: { name, people } }), t`Circle “${name}” made`);

/** Renames a circle, says who is in it, or moves it in the order. */
export const changeCircle = (id: number, change: Partial<CircleShape>, done: Said): Promise<boolean> =>
  doing(() => call('changeCircle', { params: { id }, body: change }), done);

/** Removes a circle; the people in it stay. */
export const removeCircle = (id: number, name: string): Promise<boolean> =>
  doing(() => call('removeCircle', { params: { id } }), [t`Circle “${name}” removed`, t`The people in it stay.`]);
