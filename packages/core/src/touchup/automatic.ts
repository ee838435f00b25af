import type { Pixels } from '../faces/geometry';
import type { Tones } from './recipe';

/** How often each byte of each colour stands in a picture, and of how much of it is skin, 0 to 1. */
interface Counted {
  colours: [Uint32Array, Uint32Array, Uint32Array];
  n: number;
  skin: number;
}

/** Whether a colour may be skin (Kovač, Peer, Solina, "Human skin colour clustering for face detection", 2003, by daylight). */
const isSkin = (r: number, g: number, b: number): boolean =>
  r > 95 && g > 40 && b > 20 && r > g && r > b && r - Math.min(g, b) > 15 && Math.abs(r - g) > 15;

function count({ data }: Pixels): Counted {
  const colours: Counted['colours'] = [new Uint32Array(256), new Uint32Array(256), new Uint32Array(256)];
  let skin = 0;
  for (let i = 0; i < data.length; i += 3) {
    const [r, g, b] = [data[i]!, data[i + 1]!, data[i + 2]!];
    colours[0][r]!++;
    colours[1][g]!++;
    colours[2][b]!++;
    if (isSkin(r, g, b)) skin++;
  }
  const n = data.length / 3;
  return { colours, n, skin: skin / (n || 1) };
}

/** The byte that a share of a colour lies below. */
function below(histogram: Uint32Array, n: number, share: number): number {
  let sum = 0;
  for (let byte = 0; byte < 256; byte++) if ((sum += histogram[byte]!) > share * n) return byte;
  return 255;
}

/** The exponent, in hundredths, that takes one middle to another, held between two. */
const bendTo = (from: number, to: number, least: number, most: number): number =>
  Math.round(100 * Math.max(least, Math.min(most, Math.log(to) / Math.log(Math.max(0.02, Math.min(0.98, from))))));

/** What of a colour may be taken for black and white: a little is always dust or a lamp. */
const ENDS = { automatic: 0.004, tired: 0.01 } as const;
/** How far automatic moves the ends of a colour at most, in bytes, and how much of what sets the colours apart it takes out. */
const HOLD = { ends: 48, apart: 0.7 } as const;

/**
 * Levels and white balance from the picture itself: the darkest and the brightest of each colour become black and white, as far as
 * that is little, and the middle is moved to where the eye expects it. The more skin there is, the less colours are moved apart: a
 * face by candle light stays warm.
 */
export function automatic(image: Pixels): [Tones, Tones, Tones] {
  const { colours, n, skin } = count(image);
  const ends = colours.map((one) => [below(one, n, ENDS.automatic), below(one, n, 1 - ENDS.automatic)] as const);
  const low = Math.min(HOLD.ends, Math.min(...ends.map(([from]) => from)));
  const high = Math.max(255 - HOLD.ends, Math.max(...ends.map(([, to]) => to)));
  const apart = HOLD.apart * (1 - Math.min(1, 2 * skin));
  const middles = colours.map((one) => (below(one, n, 0.5) - low) / Math.max(1, high - low));
  const middle = 0.3 * middles[0]! + 0.59 * middles[1]! + 0.11 * middles[2]!;
  const bend = bendTo(middle, 0.55 * middle + 0.45 * 0.46, 0.75, 1.3);
  return ends.map(([from, to]): Tones => {
    const black = Math.round(low + apart * (Math.min(HOLD.ends, from) - low));
    const white = Math.round(high + apart * (Math.max(255 - HOLD.ends, to) - high));
    return [black, Math.max(black + 1, white), bend];
  }) as [Tones, Tones, Tones];
}

/**
 * A tired print bright again: the dyes of a colour print fade at their own pace, so each colour is stretched from its own black to
 * its own white, and bent so that the middles of all three lie together.
 */
export function tiredPrint(image: Pixels): [Tones, Tones, Tones] {
  const { colours, n } = count(image);
  const ends = colours.map((one) => [below(one, n, ENDS.tired), below(one, n, 1 - ENDS.tired)] as const);
  const middles = colours.map((one, i) => (below(one, n, 0.5) - ends[i]![0]) / Math.max(1, ends[i]![1] - ends[i]![0]));
  const goal = Math.max(0.3, Math.min(0.6, (middles[0]! + middles[1]! + middles[2]!) / 3));
  return ends.map(([from, to], i): Tones => [
    Math.min(254, from),
    Math.max(Math.min(254, from) + 1, to),
    bendTo(middles[i]!, goal, 0.5, 2),
  ]) as [Tones, Tones, Tones];
}
