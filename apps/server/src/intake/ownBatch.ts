import type { Session } from '../account/accounts';
import type { App } from '../context';
import { notFound } from '../problem';

/**
 * Refuses what is not of a batch that a relative brought themselves; keepers and helpers look after all of them.
 * @throws a refusal, the same as for a batch that is not there
 */
export async function ownBatch(
  { db }: App,
  { library, member, part }: Pick<Session, 'library' | 'member' | 'part'>,
  what: { batch: number } | { item: number },
): Promise<void> {
  if (part !== 'relative') return;
  const theirs = { 'b.library_id': library, 'b.brought_by': member };
  const row =
    'batch' in what
      ? await db('batches as b')
          .where({ ...theirs, 'b.id': what.batch })
          .first('b.id')
      : await db('batches as b')
          .join('batch_items as i', 'i.batch_id', 'b.id')
          .where({ ...theirs, 'i.id': what.item })
          .first('b.id');
  if (!row) throw notFound('batch');
}
