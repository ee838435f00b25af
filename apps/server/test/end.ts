import { baseOf, removeAll } from './database';

/** After all suites: the database server goes. */
export default async function end(): Promise<void> {
  await (globalThis as { endOfTests?: () => Promise<void> }).endOfTests?.();
  removeAll(baseOf());
}
