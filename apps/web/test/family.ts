import type { Introduction, Person, Why } from '@gemmel/contract';

/** Somebody with a name. */
export const person = (id: number, name: string, more: Partial<Person> = {}): Person => ({
  id,
  name,
  nickname: null,
  circles: [1],
  born: null,
  favourite: false,
  hidden: false,
  recognised: true,
  pictures: 4,
  likely: 0,
  portrait: 50 + id,
  portraitByHand: false,
  first: '2024-05-01',
  last: '2026-05-16',
  ...more,
});
/** A group to introduce; its faces count on from its key. */
export const group = (key: number, n: number, more: Partial<Introduction> = {}): Introduction => ({
  key,
  faces: Array.from({ length: n }, (_, i) => ({ id: key + i, picture: 1000 + key + i, taken: '2026-05-16' })),
  perhaps: [],
  pictures: n,
  from: '2024-05-01',
  to: '2026-05-31',
  candidates: [],
  ...more,
});
export const noor = person(1, 'Noor Castell');
export const samira = person(2, 'Samira Castell', { nickname: 'Sam', likely: 3 });
export const circles = [{ id: 1, name: 'Cousins' }];
/** When nothing is known that speaks for a face. */
export const noReason: Why = {
  support: 0,
  from: null,
  to: null,
  beside: null,
  minutes: null,
  sameClothes: false,
  there: false,
  otherAge: false,
  rival: null,
};
/** What is answered when faces are. */
export const filed = (said: string) => ({ act: 900, said });
