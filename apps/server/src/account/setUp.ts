import { randomInt, timingSafeEqual } from 'node:crypto';

/** A code that is printed where Gemmel is started and typed into its first page: eight digits in two groups. */
export const newCode = (): string => [1, 2].map(() => String(randomInt(10_000)).padStart(4, '0')).join('-');

const digits = (text: string) => Buffer.from(text.replace(/\D/g, ''));

/** Whether a typed code is the printed one; what stands between the digits does not matter. */
export function rightCode(printed: string | null, typed: string | undefined): boolean {
  if (printed === null) return true;
  const [own, given] = [digits(printed), digits(typed ?? '')];
  return own.length === given.length && timingSafeEqual(own, given);
}
