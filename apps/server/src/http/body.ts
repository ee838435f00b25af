import type { Context } from 'hono';
import { bodyLimit } from 'hono/body-limit';
import type { ZodType } from 'zod';
import { Refused, refused } from '../problem';

/** What was sent as a schema wants it; told in a sentence when it does not fit. */
export function checked<T>(schema: ZodType | undefined, value: unknown, what: string): T {
  if (!schema) return {} as T;
  const result = schema.safeParse(value);
  if (result.success) return result.data as T;
  const issue = result.error.issues[0];
  throw refused('unreadable', {
    where: [what, ...(issue?.path ?? [])].join('.'),
    why: issue?.message ?? 'wrong form',
  });
}

/** The JSON of a body, waited for so many milliseconds. */
export async function jsonOf(c: Context, patience: number): Promise<unknown> {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const late = new Promise<never>((_, reject) => {
    if (Number.isFinite(patience)) timer = setTimeout(() => reject(refused('too-slow')), patience);
  });
  try {
    return await Promise.race([c.req.json(), late]);
  } catch (error) {
    if (error instanceof Refused) throw error;
    throw refused('not-json');
  } finally {
    clearTimeout(timer);
  }
}

/** Keeps a body within bounds, whether it says its length or not. */
export const limited = (most: number) =>
  bodyLimit({
    maxSize: most,
    onError: () => {
      throw refused('too-large');
    },
  });
