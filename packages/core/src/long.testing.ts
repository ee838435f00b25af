/** Whether this is the long form of the tests, which tries more and with fresh chances: `./gemmel test --long`. */
export const LONG = process.env['GEMMEL_LONG'] === '1';

/** How often something is tried: in the short form and in the long one. */
export const times = (short: number, long: number): number => (LONG ? long : short);

/** A test that is tried in the long form alone: it takes long, and what it tries is tried in another way in the short form. */
export const testLong = ((...words: Parameters<typeof test>) => (LONG ? test : test.skip)(...words)) as typeof test;

/** The same for tests that share a beginning. */
export const describeLong = ((...words: Parameters<typeof describe>) =>
  (LONG ? describe : describe.skip)(...words)) as typeof describe;

/** Numbers between 0 and 1 that look random: the same every time in the short form, others each time in the long one. */
export function chances(seed: number): () => number {
  const state = LONG ? (Math.random() * 2 ** 32) >>> 0 : seed;
  if (LONG) console.log(`chances from the seed ${state}`);
  return seeded(state);
}

/** Numbers between 0 and 1 that look random, and can be told again by their seed (mulberry32). */
export function seeded(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), state | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32;
  };
}
