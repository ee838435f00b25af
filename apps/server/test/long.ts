import { LONG } from '../../../packages/core/src/long.testing';

export { chances, LONG, times } from '../../../packages/core/src/long.testing';

/** A test that is tried in the long form alone: it takes long, and what it tries is tried in another way in the short form. */
export const testLong = LONG ? test : test.skip;
