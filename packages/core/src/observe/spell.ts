/** What was read in a line, and how sure that is on average, 0 to 1. */
export interface Spelt {
  text: string;
  sure: number;
}

/**
 * The letters of a line from a net that says for each narrow strip how likely each letter is: the likeliest of each strip, where
 * the same letter in strips side by side is one, and the first "letter" is none (Graves et al., "Connectionist Temporal
 * Classification", 2006, best path).
 * @param likely strips one after another, each with a likelihood for none and for every letter. @param letters the alphabet,
 * without the letter for none; what the net knows beyond it is a space.
 */
export function spell(likely: Float32Array, strips: number, letters: readonly string[]): Spelt {
  const kinds = likely.length / strips;
  let text = '';
  let sum = 0;
  let n = 0;
  for (let t = 0, before = 0; t < strips; t++) {
    let best = 0;
    for (let k = 1, at = t * kinds; k < kinds; k++) if (likely[at + k]! > likely[at + best]!) best = k;
    if (best && best !== before) {
      text += letters[best - 1] ?? ' ';
      sum += likely[t * kinds + best]!;
      n++;
    }
    before = best;
  }
  return { text: text.trim(), sure: n ? sum / n : 0 };
}

/** From how sure on a line counts as read. */
const READ_FROM = 0.72;

/**
 * What is kept of what was read: lines of letters and numbers. What has more signs than letters, or letters of other scripts than
 * Latin, is a pattern that was taken for writing; and so is everything where no word has three letters or digits: windows, eyes
 * and buttons read as "00".
 */
export function wordsRead(lines: readonly Spelt[]): string {
  const kept = lines
    .filter(({ text, sure }) => {
      const letters = text.match(/[\p{L}\p{N}]/gu)?.length ?? 0;
      const foreign = text.match(/[^\p{Script=Latin}\p{N}\p{P}\p{S}\p{Z}\p{M}]/gu)?.length ?? 0;
      return letters >= 2 && 2 * letters > text.length && 2 * foreign < letters && sure >= READ_FROM;
    })
    .map(({ text }) => text);
  return kept.some((text) => /[\p{L}\p{N}]{3}/u.test(text)) ? kept.join('\n') : '';
}
