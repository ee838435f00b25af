import type * as fs from 'node:fs/promises';
import { chances } from './long';

/** To be imported before anything of the server: while it is on, giving a file a further name takes a moment that others can use. */
export const slowLinks = { on: false };

const random = chances(7);

jest.doMock('node:fs/promises', () => {
  const real = jest.requireActual<typeof fs>('node:fs/promises');
  return {
    ...real,
    link: async (from: string, to: string) => {
      if (slowLinks.on) await new Promise((resolve) => setTimeout(resolve, random() * 12));
      return real.link(from, to);
    },
  };
});
