import type { From } from '@gemmel/contract';
import type { Question } from '@gemmel/core';
import type { App } from '../context';
import { batchPictures } from '../intake/came';
import { refuseForeign } from '../library/own';
import { idsOf } from '../picture/pictures';
import { refuseForeignQuestion } from '../question/foreign';
import { albumIds } from './holding';

/** The question that "all of something" means; null for what no question asks: pictures chosen, a batch, an album. */
export function askedBy(from: From): Question | null {
  if ('event' in from) return { event: from.event };
  if ('folders' in from) return { any: from.folders.map((id) => ({ folder: { id } })) };
  if ('person' in from) return { who: { people: [from.person], mode: 'all' } };
  return 'question' in from ? from.question : null;
}

/**
 * The pictures that are meant, in the order they are to stand: those chosen as they were given, an album's in its order, all else by time, the
 * oldest first; what a batch brought that was here already is among them. @throws a refusal for what is not of this library.
 */
export async function picturesOf(app: App, library: number, from: From): Promise<number[]> {
  const { db } = app;
  if ('ids' in from) return [...from.ids];
  if ('album' in from) return albumIds(app, library, from.album);
  if ('batch' in from) return batchPictures(db, library, from.batch);
  if ('event' in from) await refuseForeign(db, library, 'events', [from.event], 'event');
  if ('folders' in from) await refuseForeign(db, library, 'folders', from.folders, 'file');
  if ('person' in from) await refuseForeign(db, library, 'people', [from.person], 'person');
  if ('question' in from) await refuseForeignQuestion(db, library, from.question);
  return idsOf(app, library, askedBy(from)!, true);
}
