import { nodes, type Question } from '@gemmel/core';
import type { Db } from '../db/open';
import { notFound } from '../problem';

/** The rows a question speaks of, by table. */
function spokenOf(question: Question): Map<string, number[]> {
  const spoken = new Map<string, number[]>();
  const note = (table: string, ...ids: number[]) => spoken.set(table, [...(spoken.get(table) ?? []), ...ids]);
  for (const q of nodes(question)) {
    if ('who' in q) note('people', ...q.who.people);
    else if ('tag' in q) note('tags', q.tag);
    else if ('event' in q) note('events', q.event);
    else if ('album' in q) note('albums', q.album);
    else if ('batch' in q) note('batches', q.batch);
    else if ('device' in q) note('devices', q.device);
    else if ('folder' in q) note('folders', q.folder.id);
    else if ('mark' in q) note('marks', q.mark);
    else if ('saidBy' in q) note('members', q.saidBy);
    else if ('like' in q) note('pictures', q.like);
    else if ('where' in q && 'own' in q.where) note('own_places', q.where.own);
  }
  return spoken;
}

/** Refuses a question that speaks of another library's people, tags or events. What has only gone is asked for in vain. */
export async function refuseForeignQuestion(db: Db, library: number, question: Question): Promise<void> {
  for (const [table, ids] of spokenOf(question))
    if (await db(table).whereIn('id', ids).whereNot('library_id', library).first('id')) throw notFound('asked');
}
