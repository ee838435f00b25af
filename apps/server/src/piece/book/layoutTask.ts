import { planBook, type BookEdits, type BookOf, type BookPlan, type BookSettings } from '@gemmel/core';
import { measureFor } from './fonts';

/** Lays out a book, in a worker thread. */
export const layoutTask = async ({
  of,
  settings,
  edits,
  models,
}: {
  of: BookOf;
  settings: BookSettings;
  edits: BookEdits;
  models: string;
}): Promise<BookPlan> => planBook(of, settings, edits, await measureFor(models));
