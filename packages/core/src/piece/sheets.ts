import { z } from 'zod';
import { arrangementsOf, ppiOf } from '../book/arrange';
import { PageSize, PAGES, type PaperBox } from '../book/paper';
import { cropTo } from '../book/crop';
import type { PlacedPicture, PlacedText } from '../book/plan';
import { slicedInto, type Slice } from '../book/slice';
import { lineHeight, linesOf, type Measure, type TextRole } from '../book/text';
import type { Part } from '../show/pan';
import { LANGUAGES } from '../words/languages';

/** A straight line on a sheet, in mm: to cut along, to look along, or between days. */
export interface SheetLine {
  x1: number;
  y1: number;
  x2: number;
  y2: number;
  tone: 'cut' | 'rule' | 'guide';
}

/** A sheet as it is printed, in mm. */
export interface Sheet {
  width: number;
  height: number;
  background: string | null;
  pictures: PlacedPicture[];
  texts: PlacedText[];
  lines: SheetLine[];
}

/** A picture as sheets are made of it. */
export interface SheetPicture {
  id: number;
  ratio: number;
  pixels: number;
  good: number;
  faces: readonly Part[];
  /** What it is called, and when it was taken in words. */
  name: string;
  when: string | null;
  /** The month it was taken in, `YYYY-MM`. */
  month: string | null;
}

const Language = z.enum(LANGUAGES);

/** Sizes of prints, in mm, on their side. */
export const PRINTS = {
  '10x15': { width: 150, height: 100 },
  '13x18': { width: 180, height: 130 },
  '20x30': { width: 300, height: 200 },
  A4: { width: 297, height: 210 },
  '35x45': { width: 45, height: 35 },
  contact: { width: 297, height: 210 },
} as const;
export type PrintSize = keyof typeof PRINTS;

export const PrintSettings = z.strictObject({
  language: Language,
  /** How large prints are; `35x45` for passports, with guides; `contact` for all of them small, with their names. */
  size: z.enum(Object.keys(PRINTS) as [PrintSize, ...PrintSize[]]),
  /** A sheet for each print, or as many as fit on A4, with marks to cut along. */
  paper: z.enum(['own', 'A4']),
  border: z.boolean(),
  date: z.boolean(),
  /** How often each is printed. */
  copies: z.number().int().min(1).max(50),
  as: z.enum(['pdf', 'jpg']),
  finish: z.enum(['glossy', 'matt']),
});
export type PrintSettings = z.infer<typeof PrintSettings>;

const Colour = z.string().regex(/^#[0-9a-f]{6}$/i);

export const CollageSettings = z.strictObject({
  language: Language,
  paper: PageSize,
  /** Between pictures, in mm. */
  gap: z.number().min(0).max(20),
  background: Colour,
  title: z.string().max(200),
  as: z.enum(['pdf', 'jpg']),
});
export type CollageSettings = z.infer<typeof CollageSettings>;

export const CardSettings = z.strictObject({
  language: Language,
  paper: z.enum(['A6', '10x15', 'square']),
  background: Colour,
  /** What stands on the front, and what on the back. */
  title: z.string().max(120),
  words: z.string().max(1500),
  as: z.enum(['pdf', 'jpg']),
});
export type CardSettings = z.infer<typeof CardSettings>;

/** Sheets a calendar may have. */
export const CALENDAR_PAGES = ['A4 upright', 'A4 wide'] as const satisfies readonly PageSize[];

export const CalendarSettings = z.strictObject({
  language: Language,
  paper: z.enum(CALENDAR_PAGES),
  year: z.number().int().min(1900).max(2200),
  /** Holidays of this country, by its two letters; null for none. */
  country: z.string().length(2).nullable(),
  birthdays: z.boolean(),
  title: z.string().max(120),
  as: z.enum(['pdf', 'jpg']),
});
export type CalendarSettings = z.infer<typeof CalendarSettings>;

/** How a calendar is made when nobody has said otherwise. */
export const PLAIN_CALENDAR: CalendarSettings = {
  language: 'en',
  paper: 'A4 upright',
  year: 2027,
  country: null,
  birthdays: true,
  title: '',
  as: 'pdf',
};

/** Faces keep so far from an edge along which a print is cut, in mm. */
const ROOM = 4;
/** How wide a border is, in mm. */
const BORDER = 4;

/**
 * What of a picture fills a box of another shape, as much as can be: around its faces, which stay whole; null when they do not fit, so that
 * the picture is shown whole instead.
 */
export const cropAround = (
  picture: Pick<SheetPicture, 'ratio' | 'faces'>,
  box: { w: number; h: number },
): Part | null => cropTo(picture, box, ROOM, { rest: 0.4 });

/** The largest box of a shape in another, in its middle. */
const whole = (ratio: number, { x, y, w, h }: PaperBox): PaperBox => {
  const wide = Math.min(w, h * ratio);
  return { x: x + (w - wide) / 2, y: y + (h - wide / ratio) / 2, w: wide, h: wide / ratio };
};

/** A picture in a box: filling it, or whole where its faces would be cut. */
function put(picture: SheetPicture, box: PaperBox): PlacedPicture {
  const part = cropAround(picture, box);
  const at = part ? box : whole(picture.ratio, box);
  return { id: picture.id, box: at, part, ppi: ppiOf(picture.pixels * (part?.w ?? 1), at.w), cameo: false };
}

const empty = (width: number, height: number, background: string | null = null): Sheet => ({
  width,
  height,
  background,
  pictures: [],
  texts: [],
  lines: [],
});

/** A line of text at a place. */
function write(
  sheet: Sheet,
  role: TextRole,
  said: string | null,
  box: Pick<PaperBox, 'x' | 'y' | 'w'>,
  measure: Measure,
  align: PlacedText['align'] = 'left',
  most = 1,
): number {
  if (!said) return box.y;
  const lines = linesOf(said, role, box.w, measure, most);
  sheet.texts.push({ role, ...box, align, lines });
  return box.y + lines.length * lineHeight(role);
}

/** Marks at the corners of a print, outside of it. */
function cuts(sheet: Sheet, { x, y, w, h }: PaperBox): void {
  const long = 3;
  for (const at of [x, x + w])
    for (const [a, b] of [
      [y - 1 - long, y - 1],
      [y + h + 1, y + h + 1 + long],
    ] as const)
      sheet.lines.push({ x1: at, y1: a, x2: at, y2: b, tone: 'cut' });
  for (const at of [y, y + h])
    for (const [a, b] of [
      [x - 1 - long, x - 1],
      [x + w + 1, x + w + 1 + long],
    ] as const)
      sheet.lines.push({ x1: a, y1: at, x2: b, y2: at, tone: 'cut' });
}

/** A print in its box: with a border if wished, and its day in a corner. */
function print(
  sheet: Sheet,
  picture: SheetPicture,
  box: PaperBox,
  { border, date }: Pick<PrintSettings, 'border' | 'date'>,
  measure: Measure,
): void {
  const edge = border ? BORDER : 0;
  const inner = { x: box.x + edge, y: box.y + edge, w: box.w - 2 * edge, h: box.h - 2 * edge };
  const placed = put(picture, inner);
  sheet.pictures.push(placed);
  if (date && picture.when)
    write(
      sheet,
      'stamp',
      picture.when,
      { x: placed.box.x + 3, y: placed.box.y + placed.box.h - 3 - lineHeight('stamp'), w: placed.box.w - 6 },
      measure,
      'right',
    );
}

/** Sides of A4, and the room around what is printed on it, in mm. */
const A4 = { width: 210, height: 297 };
const AROUND = 8;
const BETWEEN = 6;

/**
 * What of a picture is a passport picture: the largest face, from crown to chin 34 mm of 45, its middle in the middle. A face that was found
 * reaches from the brow to the chin; the crown lies two fifths of that above it. Null when there is no face, or not enough around it.
 */
export function passportPart({ ratio, faces }: Pick<SheetPicture, 'ratio' | 'faces'>): Part | null {
  const face = [...faces].sort((a, b) => b.w * b.h - a.w * a.h)[0];
  if (!face) return null;
  const head = face.h * 1.4;
  const h = (head * 45) / 34;
  const w = (h * (35 / 45)) / ratio;
  const x = face.x + face.w / 2 - w / 2;
  const y = face.y + face.h - head - h * (4.5 / 45);
  return x < 0 || y < 0 || x + w > 1 || y + h > 1 ? null : { x, y, w, h };
}

/** What came of placing prints: sheets, and the pictures that could not be used. */
export interface Printed {
  sheets: Sheet[];
  left: number[];
}

/** Lays out prints: one on each sheet, as many as fit on A4, passport pictures with guides, or all of them small with their names. */
export function planPrints(pictures: readonly SheetPicture[], settings: PrintSettings, measure: Measure): Printed {
  const { size, paper, copies } = settings;
  if (size === 'contact') return { sheets: contactSheets(pictures, measure), left: [] };
  const passport = size === '35x45';
  const left: number[] = [];
  const prints = pictures.flatMap((picture) => {
    const upright = passport || picture.ratio < 1;
    const { width, height } = PRINTS[size];
    const box = upright ? { w: height, h: width } : { w: width, h: height };
    const part = passport ? passportPart(picture) : null;
    if (passport && !part) {
      left.push(picture.id);
      return [];
    }
    return Array.from({ length: copies }, () => ({ picture, part, ...box }));
  });
  const place = (sheet: Sheet, { picture, part, w, h }: (typeof prints)[number], x: number, y: number) => {
    const box = { x, y, w, h };
    if (!part) return print(sheet, picture, box, settings, measure);
    sheet.pictures.push({ id: picture.id, box, part, ppi: ppiOf(picture.pixels * part.w, w), cameo: false });
    // Crown and chin, outside of the picture.
    for (const at of [4.5, 38.5])
      for (const [a, b] of [
        [x - 3, x - 1],
        [x + w + 1, x + w + 3],
      ] as const)
        sheet.lines.push({ x1: a, y1: y + at, x2: b, y2: y + at, tone: 'guide' });
  };
  const sheets: Sheet[] = [];
  const large = PRINTS[size].width > A4.height - 2 * AROUND || PRINTS[size].height > A4.width - 2 * AROUND;
  if ((paper === 'own' && !passport) || large) {
    for (const one of prints) {
      const sheet = empty(one.w, one.h);
      place(sheet, one, 0, 0);
      sheets.push(sheet);
    }
    return { sheets, left };
  }
  // On A4: rows from above, each as high as its highest; turned prints stand with those of their kind.
  const ordered = [...prints].sort((a, b) => a.h - b.h);
  let sheet: Sheet | null = null;
  let [x, y, high] = [0, 0, 0];
  for (const one of ordered) {
    if (sheet && x + one.w > A4.width - AROUND) [x, y, high] = [AROUND, y + high + BETWEEN, 0];
    if (!sheet || y + one.h > A4.height - AROUND) {
      sheets.push((sheet = empty(A4.width, A4.height)));
      [x, y, high] = [AROUND, AROUND, 0];
    }
    place(sheet, one, x, y);
    cuts(sheet, { x, y, w: one.w, h: one.h });
    x += one.w + BETWEEN;
    high = Math.max(high, one.h);
  }
  return { sheets, left };
}

/** All pictures small, with their names and days. */
function contactSheets(pictures: readonly SheetPicture[], measure: Measure): Sheet[] {
  const [columns, rows] = [5, 6];
  const cell = { w: (A4.width - 2 * AROUND) / columns, h: (A4.height - 2 * AROUND) / rows };
  const below = lineHeight('caption') * 2 + 2;
  const sheets: Sheet[] = [];
  for (const [i, picture] of pictures.entries()) {
    const at = i % (columns * rows);
    if (at === 0) sheets.push(empty(A4.width, A4.height));
    const sheet = sheets.at(-1)!;
    const x = AROUND + (at % columns) * cell.w + 2;
    const y = AROUND + Math.floor(at / columns) * cell.h;
    const box = whole(picture.ratio, { x, y, w: cell.w - 4, h: cell.h - below - 2 });
    sheet.pictures.push({ id: picture.id, box, part: null, ppi: ppiOf(picture.pixels, box.w), cameo: false });
    const to = write(sheet, 'caption', picture.name, { x, y: y + cell.h - below, w: cell.w - 4 }, measure, 'center');
    write(sheet, 'caption', picture.when, { x, y: to, w: cell.w - 4 }, measure, 'center');
  }
  return sheets;
}

/** At most so many pictures are placed by trying every way; more are placed in rows. */
const TRIED = 9;
const MOST = 40;

/** Pictures in rows of about one height that fill a box as well as they can (linear partition over the widths). */
function rowed(pictures: readonly SheetPicture[], area: PaperBox, gap: number): PaperBox[] {
  let best: { boxes: PaperBox[]; used: number } | null = null;
  const leaves = pictures.map(({ ratio }) => ({ ratio, below: 0 }));
  const sum = leaves.reduce((all, { ratio }) => all + ratio, 0);
  for (let rows = 1; rows <= pictures.length; rows++) {
    const groups: number[][] = [[]];
    let so = 0;
    for (const [i, { ratio }] of leaves.entries()) {
      if (so + ratio / 2 > (sum / rows) * groups.length && groups.length < rows && groups.at(-1)!.length)
        groups.push([]);
      groups.at(-1)!.push(i);
      so += ratio;
    }
    const parts = groups.map((group): Slice => (group.length === 1 ? group[0]! : { row: group }));
    const boxes = slicedInto(area, parts.length === 1 ? parts[0]! : { column: parts }, leaves, gap);
    if (!boxes) continue;
    const used = boxes.reduce((all, { w, h }) => all + w * h, 0);
    if (!best || used > best.used) best = { boxes, used };
  }
  return best?.boxes ?? [];
}

/** Places some pictures in a box, each whole: up to nine by trying every way, more in rows. */
function packed(pictures: readonly SheetPicture[], area: PaperBox, gap: number): PlacedPicture[] {
  const some = pictures.slice(0, MOST);
  const boxes =
    some.length <= TRIED
      ? (() => {
          const [found] = arrangementsOf(
            area,
            some.map((one) => ({ ...one, below: 0 })),
          );
          return found
            ? slicedInto(
                area,
                found.slice,
                some.map(({ ratio }) => ({ ratio, below: 0 })),
                gap,
              )
            : null;
        })()
      : rowed(some, area, gap);
  return (boxes ?? []).map((box, i) => ({
    id: some[i]!.id,
    box,
    part: null,
    ppi: ppiOf(some[i]!.pixels, box.w),
    cameo: false,
  }));
}

/** A collage: two to forty pictures on one sheet, each whole, with its title. */
export function planCollage(pictures: readonly SheetPicture[], settings: CollageSettings, measure: Measure): Sheet[] {
  const { width, height } = PAGES[settings.paper];
  const sheet = empty(width, height, settings.background);
  const edge = Math.max(6, settings.gap);
  let y = edge;
  if (settings.title)
    y = write(sheet, 'chapter', settings.title, { x: edge, y, w: width - 2 * edge }, measure, 'center', 2) + 4;
  sheet.pictures.push(...packed(pictures, { x: edge, y, w: width - 2 * edge, h: height - y - edge }, settings.gap));
  return [sheet];
}

const CARDS = {
  A6: { width: 148, height: 105 },
  '10x15': { width: 150, height: 100 },
  square: { width: 140, height: 140 },
} as const;

/** A greeting card: its pictures with a title on the front, words on the back. */
export function planCard(pictures: readonly SheetPicture[], settings: CardSettings, measure: Measure): Sheet[] {
  const card = CARDS[settings.paper];
  const some = pictures.slice(0, 5);
  const upright = settings.paper !== 'square' && some.length === 1 && some[0]!.ratio < 1;
  const [width, height] = upright ? [card.height, card.width] : [card.width, card.height];
  const front = empty(width, height, settings.background);
  const edge = 7;
  const titled = settings.title
    ? linesOf(settings.title, 'chapter', width - 2 * edge, measure, 2).length * lineHeight('chapter') + 3
    : 0;
  const room = { x: edge, y: edge, w: width - 2 * edge, h: height - 2 * edge - titled };
  if (some.length === 1) front.pictures.push(put(some[0]!, room));
  else front.pictures.push(...packed(some, room, 3));
  write(
    front,
    'chapter',
    settings.title || null,
    { x: edge, y: height - edge - titled + 3, w: width - 2 * edge },
    measure,
    'center',
    2,
  );
  const back = empty(width, height, settings.background);
  const lines = linesOf(
    settings.words,
    'words',
    width - 4 * edge,
    measure,
    Math.floor((height - 2 * edge) / lineHeight('words')),
  );
  if (settings.words)
    back.texts.push({
      role: 'words',
      x: 2 * edge,
      y: (height - lines.length * lineHeight('words')) / 2,
      w: width - 4 * edge,
      align: 'left',
      lines,
    });
  return [front, back];
}

/** What a day of a calendar says: a holiday, or whose birthday it is. */
export interface Marked {
  /** `MM-DD`. */
  day: string;
  words: string;
  holiday: boolean;
}

/** What a calendar says in its language. */
export interface CalendarWords {
  months: readonly string[];
  /** From Monday. */
  weekdays: readonly string[];
  /** 1 for Monday, 7 for Sunday. */
  firstDay: number;
}

/** Days in a month, and the weekday of its first, from 1 for Monday. */
export function monthShape(year: number, month: number): { days: number; first: number } {
  return {
    days: new Date(Date.UTC(year, month, 0)).getUTCDate(),
    first: new Date(Date.UTC(year, month - 1, 1)).getUTCDay() || 7,
  };
}

/** The pictures of twelve months: of each the best taken in that month of any year, then what is left, each once. */
export function ofMonths(pictures: readonly SheetPicture[]): (SheetPicture | null)[] {
  const left = [...pictures].sort((a, b) => b.good - a.good || a.id - b.id);
  const months: (SheetPicture | null)[] = Array.from({ length: 12 }, (_, i) => {
    const at = left.findIndex(({ month }) => month !== null && Number(month.slice(5)) === i + 1);
    return at < 0 ? null : left.splice(at, 1)[0]!;
  });
  return months.map((one) => one ?? left.shift() ?? null);
}

/** A calendar: a cover, and a sheet for each month with a picture, its days, birthdays and holidays. */
export function planCalendar(
  pictures: readonly SheetPicture[],
  settings: CalendarSettings,
  marked: readonly Marked[],
  words: CalendarWords,
  measure: Measure,
): Sheet[] {
  const { width, height } = PAGES[settings.paper];
  const upright = height > width;
  const edge = 14;
  const months = ofMonths(pictures);
  const cover = empty(width, height);
  const best = [...pictures].sort((a, b) => b.good - a.good || a.id - b.id)[0];
  const top =
    write(
      cover,
      'book',
      settings.title || String(settings.year),
      { x: edge, y: edge, w: width - 2 * edge },
      measure,
      'left',
      2,
    ) + 2;
  const under = settings.title
    ? write(cover, 'under', String(settings.year), { x: edge, y: top, w: width - 2 * edge }, measure)
    : top;
  if (best)
    cover.pictures.push(put(best, { x: edge, y: under + 5, w: width - 2 * edge, h: height - under - 5 - edge }));
  const order = Array.from({ length: 7 }, (_, i) => ((words.firstDay - 1 + i) % 7) + 1);
  const sheets = months.map((picture, i) => {
    const sheet = empty(width, height);
    const half = upright
      ? { x: edge, y: edge, w: width - 2 * edge, h: height * 0.46 }
      : { x: edge, y: edge, w: width * 0.46, h: height - 2 * edge };
    if (picture) sheet.pictures.push(put(picture, half));
    const grid = upright
      ? { x: edge, y: half.y + half.h + 8, w: width - 2 * edge, h: height - half.h - 2 * edge - 8 }
      : { x: half.x + half.w + 10, y: edge, w: width - half.w - 2 * edge - 10, h: height - 2 * edge };
    const title = write(sheet, 'heading', `${words.months[i]!} ${settings.year}`, grid, measure) + 3;
    const cell = { w: grid.w / 7, h: 0 };
    const { days, first } = monthShape(settings.year, i + 1);
    const before = order.indexOf(first);
    const weeks = Math.ceil((before + days) / 7);
    for (const [column, day] of order.entries())
      write(
        sheet,
        'year',
        words.weekdays[day - 1]!,
        { x: grid.x + column * cell.w, y: title, w: cell.w - 1 },
        measure,
        'left',
      );
    const from = title + lineHeight('year') + 1.5;
    cell.h = (grid.y + grid.h - from) / Math.max(weeks, 5);
    for (let week = 0; week < weeks; week++)
      sheet.lines.push({
        x1: grid.x,
        y1: from + week * cell.h,
        x2: grid.x + grid.w,
        y2: from + week * cell.h,
        tone: 'rule',
      });
    for (let day = 1; day <= days; day++) {
      const at = before + day - 1;
      const x = grid.x + (at % 7) * cell.w;
      let y = from + Math.floor(at / 7) * cell.h + 1;
      const key = `${String(i + 1).padStart(2, '0')}-${String(day).padStart(2, '0')}`;
      const mine = marked.filter((one) => one.day === key);
      const sunday = order[at % 7] === 7;
      y = write(
        sheet,
        sunday || mine.some(({ holiday }) => holiday) ? 'feast' : 'day',
        String(day),
        { x, y, w: cell.w - 1 },
        measure,
      );
      for (const { words: said } of mine) {
        if (y + lineHeight('mark') > from + (Math.floor(at / 7) + 1) * cell.h) break;
        y = write(sheet, 'mark', said, { x, y, w: cell.w - 1.5 }, measure, 'left', 2);
      }
    }
    return sheet;
  });
  return [cover, ...sheets];
}
