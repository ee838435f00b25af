import type { PieceSettings, SheetsLayout } from '@gemmel/contract';
import { WORDS, type CalendarWords, type Marked, type Sheet, type SheetPicture } from '@gemmel/core';
import type { App } from '../../context';
import { notFound } from '../../problem';
import { shortName } from '../../person/names';
import { keptPiece } from '../pieces';
import { pieceOf, type PieceOf, type PiecePicture } from '../pictures';
import { pixelsFor } from '../printed';
import { whenOf } from '../told';
import type { SheetsTask } from './layoutTask';

/** Kinds of pieces that are sheets. */
export const SHEETS = ['prints', 'collage', 'card', 'calendar'] as const;
export type SheetsSettings = Extract<PieceSettings, { kind: (typeof SHEETS)[number] }>;
export const isSheets = (settings: PieceSettings): settings is SheetsSettings =>
  (SHEETS as readonly string[]).includes(settings.kind);

const toSheet = (picture: PiecePicture, language: SheetsSettings['language']): SheetPicture => ({
  id: picture.id,
  ratio: picture.width / Math.max(1, picture.height),
  pixels: picture.width,
  good: picture.good,
  faces: picture.faces,
  name: picture.title ?? picture.name,
  when: whenOf(picture, language),
  month: picture.day?.slice(0, 7) ?? null,
});

/** Birthdays of the household's people, and the holidays of a country. */
async function marksOf(
  { db }: App,
  library: number,
  settings: Extract<SheetsSettings, { kind: 'calendar' }>,
): Promise<Marked[]> {
  const marked: Marked[] = [];
  if (settings.country) {
    const { default: Holidays } = await import('date-holidays');
    const holidays = new Holidays(settings.country).getHolidays(settings.year, settings.language);
    for (const { date, name, type } of holidays)
      if (type === 'public') marked.push({ day: date.slice(5, 10), words: name, holiday: true });
  }
  if (settings.birthdays) {
    const people = await db('people')
      .where({ library_id: library, hidden: false })
      .whereNotNull('born')
      .orderBy('name')
      .select('name', 'nickname', 'born');
    for (const person of people) {
      const [, year, day] = /^(\d{4})-(\d\d-\d\d)$/.exec(person.born!) ?? [];
      if (!year || !day) continue;
      const age = settings.year - Number(year);
      if (age < 0) continue;
      const name = person.nickname ?? shortName(person.name);
      marked.push({ day, words: age > 0 && age < 120 ? `${name} (${age})` : name, holiday: false });
    }
  }
  return marked;
}

/** What a calendar says in a language; its weeks begin as they do in a country. */
function calendarWords({
  language,
  country,
}: Pick<Extract<SheetsSettings, { kind: 'calendar' }>, 'language' | 'country'>): CalendarWords {
  const name = new Intl.DateTimeFormat(language, { weekday: 'short', timeZone: 'UTC' });
  const region = country ?? { en: 'GB', de: 'DE', sv: 'SE' }[language];
  const locale = new Intl.Locale(`${language}-${region}`) as Intl.Locale & {
    weekInfo?: { firstDay: number };
    getWeekInfo?: () => { firstDay: number };
  };
  return {
    months: WORDS[language].months,
    // 5 January 1970 was a Monday.
    weekdays: Array.from({ length: 7 }, (_, i) => name.format(new Date(Date.UTC(1970, 0, 5 + i)))),
    firstDay: (locale.getWeekInfo?.() ?? locale.weekInfo)?.firstDay ?? 1,
  };
}

/** Sheets as they are laid out, and the pictures that could not be used. */
export interface LaidOut {
  sheets: Sheet[];
  left: number[];
}

/** Lays out the sheets of a piece. */
export async function sheetsOf(app: App, library: number, of: PieceOf, settings: SheetsSettings): Promise<LaidOut> {
  const stills = of.pictures.filter(({ kind }) => kind === 'photo');
  const pictures = stills.map((picture) => toSheet(picture, settings.language));
  const calendar =
    settings.kind === 'calendar'
      ? { marked: await marksOf(app, library, settings), words: calendarWords(settings) }
      : null;
  return (await app.lookups.run({ pictures, settings, calendar, models: app.config.models } satisfies SheetsTask, {
    name: 'laySheets',
  })) as LaidOut;
}

/** The sheets of a piece as they are shown. @throws when it is of another kind. */
export async function sheetsLayout(app: App, library: number, id: number): Promise<SheetsLayout> {
  const { source, settings } = await keptPiece(app, library, id);
  if (!isSheets(settings)) throw notFound('page');
  const of = await pieceOf(app, library, source);
  const { sheets, left } = await sheetsOf(app, library, of, settings);
  const placed = sheets.flatMap(({ pictures }) => pictures);
  const there = new Set(placed.map((one) => one.id));
  return {
    sheets: sheets.map((sheet) => ({
      ...sheet,
      texts: sheet.texts.map((text) => ({ ...text, lines: [...text.lines] })),
    })),
    looks: of.pictures.flatMap(({ id: one, sha, width, height }) =>
      there.has(one) ? [{ id: one, sha, ratio: width / Math.max(1, height) }] : [],
    ),
    left: of.pictures.flatMap((one) => (left.includes(one.id) ? [one.name] : [])),
    bytes: placed.reduce((sum, one) => {
      const { width, height } = pixelsFor(one);
      return sum + width * height * 0.28;
    }, 20_000),
  };
}
