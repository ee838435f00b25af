import {
  BLEED,
  lineHeight,
  PAGES,
  POINT,
  TYPE,
  type PaperBox,
  type BookCover,
  type BookPage,
  type Language,
  type PageSize,
  type PlacedPicture,
  type PlacedText,
  type Sheet,
} from '@gemmel/core';
import type { BookMap } from '@gemmel/contract';
import { createWriteStream } from 'node:fs';
import { once } from 'node:events';
import { readFile } from 'node:fs/promises';
import { finished } from 'node:stream/promises';
import { registerFonts } from './fonts';
import { srgbProfile } from './profile';

const INK = '#1E2C2B';
const SOFT = '#5B6965';
const PAPER = '#F6F1E7';
const LAND = '#EDE4D2';
const WATER = '#D5E2E0';
const JUNIPER = '#1C5A50';
/** Room around a sheet for marks, beyond its bleed, in mm; and how long marks are. */
const SLUG = 7;
const MARK = 4;

const pt = (mm: number): number => mm / POINT;

/** Who is written as a file's author, and what it is called. */
export interface PdfAbout {
  title: string;
  language: Language;
  models: string;
}

/** A document of sheets, each with its bleed and its marks, whose origin is the trimmed corner; lengths in mm. */
export class Sheets {
  readonly doc: PDFKit.PDFDocument;
  private readonly out;
  private readonly ended;
  private readonly profile: PDFKit.PDFKitReference;

  /** Begins one, written to a file. */
  static async begin(file: string, about: PdfAbout, bleed: boolean): Promise<Sheets> {
    return new Sheets((await import('pdfkit')).default, file, about, bleed);
  }

  private constructor(
    Document: typeof import('pdfkit'),
    file: string,
    about: PdfAbout,
    private readonly bleed: boolean,
  ) {
    this.doc = new Document({
      autoFirstPage: false,
      compress: true,
      pdfVersion: '1.7',
      info: { Title: about.title, Creator: 'Gemmel', Producer: 'Gemmel' },
      lang: about.language,
      displayTitle: true,
    });
    registerFonts(this.doc, about.models);
    this.out = createWriteStream(file);
    this.ended = finished(this.out);
    this.ended.catch(() => undefined);
    this.doc.pipe(this.out);
    // What all colours mean: sRGB, for who prints and for who looks.
    const profile = this.doc.ref({ N: 3, Alternate: 'DeviceRGB' });
    profile.end(srgbProfile(about.models));
    this.profile = profile;
    const intent = this.doc.ref({
      Type: 'OutputIntent',
      S: 'GTS_PDFA1',
      OutputConditionIdentifier: new String('sRGB IEC61966-2.1'),
      Info: new String('sRGB IEC61966-2.1'),
      DestOutputProfile: profile,
    });
    (intent as unknown as { end: () => void }).end();
    (this.doc as unknown as { _root: { data: Record<string, unknown> } })._root.data['OutputIntents'] = [intent];
  }

  /** Begins a sheet of a trimmed size. */
  sheet(width: number, height: number): void {
    const { doc } = this;
    const around = this.bleed ? BLEED + SLUG : 0;
    doc.addPage({ size: [pt(width + 2 * around), pt(height + 2 * around)], margin: 0 });
    const { dictionary } = doc.page as unknown as { dictionary: { data: Record<string, unknown> } };
    const at = (off: number) => [
      pt(around - off),
      pt(around - off),
      pt(around + width + off),
      pt(around + height + off),
    ];
    Object.assign(dictionary.data, { TrimBox: at(0), BleedBox: at(this.bleed ? BLEED : 0) });
    const { resources } = doc.page as unknown as { resources: { data: Record<string, unknown> } };
    resources.data['ColorSpace'] = {
      ...(resources.data['ColorSpace'] as object),
      DefaultRGB: ['ICCBased', this.profile],
    };
    if (this.bleed) this.marks(width, height, around);
    doc.translate(pt(around), pt(around));
    // Nothing is printed beyond the bleed.
    const over = this.bleed ? BLEED : 0;
    doc.rect(pt(-over), pt(-over), pt(width + 2 * over), pt(height + 2 * over)).clip();
  }

  private marks(width: number, height: number, around: number): void {
    const { doc } = this;
    doc.save().lineWidth(0.25).strokeColor('#000000');
    for (const x of [around, around + width])
      for (const [y1, y2] of [
        [around - BLEED - 1 - MARK, around - BLEED - 1],
        [around + height + BLEED + 1, around + height + BLEED + 1 + MARK],
      ] as const)
        doc.moveTo(pt(x), pt(y1)).lineTo(pt(x), pt(y2)).stroke();
    for (const y of [around, around + height])
      for (const [x1, x2] of [
        [around - BLEED - 1 - MARK, around - BLEED - 1],
        [around + width + BLEED + 1, around + width + BLEED + 1 + MARK],
      ] as const)
        doc.moveTo(pt(x1), pt(y)).lineTo(pt(x2), pt(y)).stroke();
    doc.restore();
  }

  fill({ x, y, w, h }: PaperBox, colour: string): void {
    this.doc.rect(pt(x), pt(y), pt(w), pt(h)).fill(colour);
  }

  /** Draws a picture that fills its box; one that is nobody's any more leaves it empty. */
  async picture(file: string, { x, y, w, h }: PaperBox, oval = false): Promise<void> {
    const { doc } = this;
    const data = await readFile(file);
    doc.save();
    if (oval) doc.ellipse(pt(x + w / 2), pt(y + h / 2), pt(w / 2), pt(h / 2)).clip();
    doc.image(data, pt(x), pt(y), { width: pt(w), height: pt(h) });
    doc.restore();
    // What is written goes out before more is read: memory does not grow with pages.
    if (this.out.writableNeedDrain) await once(this.out, 'drain');
  }

  text({ role, x, y, w, align, lines }: PlacedText, colour?: string): void {
    const { doc } = this;
    const { size, font } = TYPE[role];
    doc
      .font(font)
      .fontSize(size)
      .fillColor(colour ?? (role === 'foot' || role === 'days' || role === 'caption' || role === 'year' ? SOFT : INK));
    for (const [i, line] of lines.entries()) {
      const room = pt(w) - doc.widthOfString(line);
      const left = align === 'left' ? 0 : align === 'right' ? room : room / 2;
      doc.text(line, pt(x) + left, pt(y + i * lineHeight(role)), { lineBreak: false });
    }
  }

  line(
    [x1, y1]: readonly [number, number],
    [x2, y2]: readonly [number, number],
    [colour, wide]: readonly [string, number],
  ): void {
    this.doc.lineWidth(wide).strokeColor(colour).moveTo(pt(x1), pt(y1)).lineTo(pt(x2), pt(y2)).stroke();
  }

  /** Words that run up a spine, in the middle of a strip. */
  along(text: string, box: PaperBox): void {
    const { doc } = this;
    const size = Math.min(12, box.w * 1.6);
    doc.save().font('head').fontSize(size).fillColor(INK);
    doc.translate(pt(box.x + box.w / 2), pt(box.y + box.h / 2)).rotate(-90);
    const wide = Math.min(doc.widthOfString(text), pt(box.h * 0.86));
    doc.text(text, -wide / 2, -size * 0.62, { width: wide + 1, lineBreak: false, ellipsis: true });
    doc.restore();
  }

  map(map: BookMap, { x, y, w, h }: PaperBox): void {
    const { doc } = this;
    doc.save().translate(pt(x), pt(y));
    doc.rect(0, 0, pt(w), pt(h)).clip();
    doc.rect(0, 0, pt(w), pt(h)).fill(WATER);
    const scale = pt(w) / 1000;
    doc.scale(scale);
    if (map.land) doc.path(map.land).fill(LAND);
    if (map.water) doc.path(map.water).fill(WATER);
    if (map.way) doc.lineWidth(5).lineJoin('round').dash(14, { space: 10 }).path(map.way).stroke(JUNIPER).undash();
    for (const stop of map.stops) {
      doc.circle(stop.x, stop.y, 10).fillAndStroke('#FFFFFF', JUNIPER);
      if (!stop.name) continue;
      doc.font('text').fontSize(30).fillColor(INK);
      const wide = doc.widthOfString(stop.name);
      const left = stop.x + 20 + wide > 985 ? stop.x - 20 - wide : stop.x + 20;
      doc.text(stop.name, Math.max(8, left), Math.min(map.height - 40, Math.max(4, stop.y - 18)), { lineBreak: false });
    }
    doc.restore();
  }

  /** Writes the end and waits until all of it is in the file. */
  async end(): Promise<void> {
    this.doc.end();
    await this.ended;
  }

  /** Gives up what was begun. */
  drop(): void {
    this.doc.unpipe(this.out);
    this.out.destroy();
  }
}

/** Where the file of a placed picture is; null for one that can't be had. */
export type FileOf = (picture: PlacedPicture) => Promise<string | null>;

/** Draws a page of a book. */
export async function drawPage(
  sheets: Sheets,
  page: BookPage,
  paper: PageSize,
  fileOf: FileOf,
  map: BookMap | null,
): Promise<void> {
  const { width, height } = PAGES[paper];
  sheets.sheet(width, height);
  for (const picture of page.pictures) {
    const file = await fileOf(picture);
    if (file) await sheets.picture(file, picture.box, picture.cameo);
    else sheets.fill(picture.box, PAPER);
  }
  if (page.map && map) sheets.map(map, page.map);
  for (const text of page.texts) sheets.text(text);
}

/** Draws a book's cover as one sheet. */
export async function drawCover(sheets: Sheets, cover: BookCover, fileOf: FileOf): Promise<void> {
  sheets.sheet(cover.width, cover.height);
  sheets.fill({ x: -BLEED, y: -BLEED, w: cover.width + 2 * BLEED, h: cover.height + 2 * BLEED }, PAPER);
  if (cover.picture) {
    const file = await fileOf(cover.picture);
    if (file) await sheets.picture(file, cover.picture.box);
  }
  for (const text of cover.texts) sheets.text(text);
  if (cover.along)
    sheets.along(cover.along, { x: (cover.width - cover.spine) / 2, y: 0, w: cover.spine, h: cover.height });
}

const LINES = { cut: ['#000000', 0.25], rule: ['#C9BEA8', 0.5], guide: ['#C97F12', 0.4] } as const;

/** Draws a sheet of prints, a collage, a card or a month. */
export async function drawSheet(sheets: Sheets, sheet: Sheet, fileOf: FileOf): Promise<void> {
  sheets.sheet(sheet.width, sheet.height);
  if (sheet.background) sheets.fill({ x: 0, y: 0, w: sheet.width, h: sheet.height }, sheet.background);
  for (const picture of sheet.pictures) {
    const file = await fileOf(picture);
    if (file) await sheets.picture(file, picture.box);
    else sheets.fill(picture.box, PAPER);
  }
  for (const { x1, y1, x2, y2, tone } of sheet.lines) sheets.line([x1, y1], [x2, y2], LINES[tone]);
  const dark = sheet.background !== null && isDark(sheet.background);
  for (const text of sheet.texts) sheets.text(text, text.role === 'stamp' || dark ? '#F6F1E7' : undefined);
}

/** Whether light text is read better on a colour (relative luminance, WCAG 2). */
function isDark(colour: string): boolean {
  const [r, g, b] = [1, 3, 5].map((at) => {
    const c = parseInt(colour.slice(at, at + 2), 16) / 255;
    return c <= 0.03928 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4;
  }) as [number, number, number];
  return 0.2126 * r + 0.7152 * g + 0.0722 * b < 0.18;
}
