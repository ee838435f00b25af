/** What a piece of text is on a page; each has its size. */
export type TextRole =
  | 'book'
  | 'under'
  | 'chapter'
  | 'days'
  | 'words'
  | 'caption'
  | 'foot'
  | 'name'
  | 'year'
  | 'heading'
  | 'entry'
  | 'stamp'
  | 'day'
  | 'feast'
  | 'mark';

/** Sizes in points, and how far lines are apart for their size. */
export const TYPE: Readonly<
  Record<TextRole, { size: number; line: number; font: 'head' | 'text' | 'strong' | 'slanted' }>
> = {
  book: { size: 32, line: 1.15, font: 'head' },
  under: { size: 13, line: 1.3, font: 'text' },
  chapter: { size: 23, line: 1.15, font: 'head' },
  days: { size: 9.5, line: 1.35, font: 'text' },
  words: { size: 11, line: 1.4, font: 'slanted' },
  caption: { size: 8, line: 1.3, font: 'text' },
  foot: { size: 7.5, line: 1.3, font: 'text' },
  name: { size: 14, line: 1.25, font: 'head' },
  year: { size: 8.5, line: 1.3, font: 'text' },
  heading: { size: 18, line: 1.2, font: 'head' },
  entry: { size: 9, line: 1.5, font: 'text' },
  stamp: { size: 9, line: 1.3, font: 'strong' },
  day: { size: 11, line: 1.2, font: 'text' },
  feast: { size: 11, line: 1.2, font: 'strong' },
  mark: { size: 6.2, line: 1.2, font: 'text' },
};

/** A point in millimetres. */
export const POINT = 25.4 / 72;
/** How high a line is, in mm. */
export const lineHeight = (role: TextRole): number => TYPE[role].size * TYPE[role].line * POINT;

/** How wide a piece of text is, in mm. */
export type Measure = (text: string, role: TextRole) => number;

/** The longest beginning of a word that fits, one letter at least, without parting letters from their accents. */
function fitting(word: string, role: TextRole, width: number, measure: Measure): string {
  const letters = [...new Intl.Segmenter(undefined, { granularity: 'grapheme' }).segment(word)].map(
    ({ segment }) => segment,
  );
  let [low, high] = [1, letters.length];
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (measure(letters.slice(0, middle).join(''), role) <= width) low = middle;
    else high = middle - 1;
  }
  return letters.slice(0, low).join('');
}

/** Breaks text into lines that fit a width: at spaces, and in words that are wider than a line. What is more than `most` lines ends in an ellipsis. */
export function linesOf(text: string, role: TextRole, width: number, measure: Measure, most = Infinity): string[] {
  const lines: string[] = [];
  for (const paragraph of text.trim().split(/\s*\n\s*/)) {
    let line = '';
    for (const whole of paragraph.split(/\s+/)) {
      let word = whole;
      for (;;) {
        const longer = line ? `${line} ${word}` : word;
        if (measure(longer, role) <= width) {
          line = longer;
          break;
        }
        if (line) {
          lines.push(line);
          line = '';
          continue;
        }
        const part = fitting(word, role, width, measure);
        if (part === word) {
          line = word;
          break;
        }
        lines.push(part);
        word = word.slice(part.length);
      }
    }
    if (line) lines.push(line);
  }
  if (lines.length <= most) return lines;
  const kept = lines.slice(0, most);
  let last = kept[most - 1]!;
  while (last && measure(`${last}…`, role) > width) last = last.slice(0, -1).trimEnd();
  kept[most - 1] = `${last}…`;
  return kept;
}
