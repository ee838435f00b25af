import {
  planCalendar,
  planCard,
  planCollage,
  planPrints,
  type CalendarWords,
  type Marked,
  type SheetPicture,
} from '@gemmel/core';
import { measureFor } from '../book/fonts';
import type { LaidOut, SheetsSettings } from './of';

/** What sheets are laid out from. */
export interface SheetsTask {
  pictures: SheetPicture[];
  settings: SheetsSettings;
  calendar: { marked: Marked[]; words: CalendarWords } | null;
  models: string;
}

/** Lays out sheets, in a worker thread. */
export async function sheetsTask({ pictures, settings, calendar, models }: SheetsTask): Promise<LaidOut> {
  const measure = await measureFor(models);
  switch (settings.kind) {
    case 'prints':
      // Of pictures that go to a shop one by one each is there once; how often it is printed stands in its name.
      return planPrints(
        pictures,
        settings.as === 'jpg' && settings.paper === 'own' ? { ...settings, copies: 1 } : settings,
        measure,
      );
    case 'collage':
      return { sheets: planCollage(pictures, settings, measure), left: [] };
    case 'card':
      return { sheets: planCard(pictures, settings, measure), left: [] };
    case 'calendar':
      return { sheets: planCalendar(pictures, settings, calendar!.marked, calendar!.words, measure), left: [] };
  }
}
