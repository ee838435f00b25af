import { chunks, type App } from '../context';
import { notFound } from '../problem';

/** Names under which requests speak of pictures by number. */
const LISTS = new Set(['ids', 'keep', 'others', 'put']);
const ONES = new Set(['picture', 'before', 'keep']);

/** The numbers of pictures that what was sent may speak of. */
export function picturesIn(sent: unknown, into: Set<number> = new Set()): Set<number> {
  if (Array.isArray(sent)) {
    if (typeof sent[0] !== 'number') for (const one of sent) picturesIn(one, into);
    return into;
  }
  if (sent === null || typeof sent !== 'object') return into;
  for (const [name, value] of Object.entries(sent)) {
    if (typeof value === 'number') {
      if (ONES.has(name)) into.add(value);
    } else if (Array.isArray(value) && LISTS.has(name))
      for (const id of value) {
        if (typeof id === 'number') into.add(id);
      }
    else picturesIn(value, into);
  }
  return into;
}

/**
 * Refuses what speaks of pictures that are there and that whoever asks does not see. What they do is written by the whole of the
 * library, so this is asked before. @throws a refusal, the same as for pictures that are not there.
 */
export async function refuseUnseen(app: App, seen: App, library: number, ids: Iterable<number>): Promise<void> {
  for (const some of chunks([...ids], 2000)) {
    const count = async ({ db }: App) =>
      (await db('pictures').where('library_id', library).whereIn('id', some).select('id')).length;
    const [whole, theirs] = await Promise.all([count(app), count(seen)]);
    if (theirs < whole) throw notFound('pictures');
  }
}
