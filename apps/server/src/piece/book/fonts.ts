import { POINT, TYPE, type Measure, type TextRole } from '@gemmel/core';
import { createRequire } from 'node:module';
import path from 'node:path';

/** The fonts pieces are set in, from the packages they ship in. */
const FILES = {
  text: '@expo-google-fonts/figtree/400Regular/Figtree_400Regular.ttf',
  strong: '@expo-google-fonts/figtree/600SemiBold/Figtree_600SemiBold.ttf',
  head: '@expo-google-fonts/fraunces/600SemiBold/Fraunces_600SemiBold.ttf',
  slanted: '@expo-google-fonts/fraunces/400Regular_Italic/Fraunces_400Regular_Italic.ttf',
} as const;
export type FontName = keyof typeof FILES;

/** Registers the fonts with a document. @param models the folder that lies beside the packages. */
export function registerFonts(doc: PDFKit.PDFDocument, models: string): void {
  const find = createRequire(path.join(models, 'x'));
  for (const [name, file] of Object.entries(FILES)) doc.registerFont(name, find.resolve(file));
}

const kept = new Map<string, Measure>();

/** Measures text as it will be printed. Words are measured once. */
export async function measureFor(models: string): Promise<Measure> {
  const there = kept.get(models);
  if (there) return there;
  const { default: PDFDocument } = await import('pdfkit');
  const doc = new PDFDocument({ autoFirstPage: false });
  registerFonts(doc, models);
  const widths = new Map<string, number>();
  const wordWidth = (word: string, font: FontName): number => {
    const key = `${font} ${word}`;
    let width = widths.get(key);
    if (width === undefined) {
      width = doc.font(font).fontSize(1000).widthOfString(word) / 1000;
      if (widths.size > 200_000) widths.clear();
      widths.set(key, width);
    }
    return width;
  };
  const measure: Measure = (text: string, role: TextRole) => {
    const { font, size } = TYPE[role];
    const words = text.split(' ');
    const spaces = (words.length - 1) * wordWidth(' ', font);
    return words.reduce((sum, word) => sum + (word ? wordWidth(word, font) : 0), spaces) * size * POINT;
  };
  kept.set(models, measure);
  return measure;
}
