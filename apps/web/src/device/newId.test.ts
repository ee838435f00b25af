import { z } from 'zod';
import { newId } from './newId';

test('numbers are of the kind that servers take, and no two are the same', () => {
  const some = Array.from({ length: 2000 }, newId);
  for (const one of some) expect(z.uuidv4().safeParse(one).success).toBe(true);
  expect(new Set(some).size).toBe(some.length);
});
