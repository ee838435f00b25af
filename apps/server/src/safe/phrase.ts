import { randomInt } from 'node:crypto';

/** Letters and digits that nobody mistakes for one another on paper. */
const SIGNS = 'abcdefghjkmnpqrstuvwxyz23456789';
const [GROUPS, LENGTH] = [6, 5];

/** A new pass phrase: six groups of five signs, about 148 bits. */
export const newPhrase = (): string =>
  Array.from({ length: GROUPS }, () =>
    Array.from({ length: LENGTH }, () => SIGNS[randomInt(SIGNS.length)]).join(''),
  ).join('-');
