import { shrink, toGrey, type Grey } from '../likeness/likeness';

/** A picture as it is shown, three bytes a pixel, row by row. */
export interface Rgb {
  width: number;
  height: number;
  data: Uint8Array;
}

/** What is measured of a picture, each between 0 and 1. */
export interface Measures {
  /** How much is lost when it is blurred once more: little where it was blurred before (Crété-Roffet et al. 2007). */
  blur: number;
  /** The middle of its brightness, and where its darkest and its brightest twentieth begin. */
  middle: number;
  low: number;
  high: number;
  /** How much of it is as bright as can be, and how much is nearly black. */
  white: number;
  black: number;
  /** How far its colours are from grey: the mean, and of its most colourful hundredth. */
  colour: number;
  colours: number;
  /** How much of it lies beside a neighbour of the very same colour. */
  flat: number;
  /** How much of it is one of its three commonest colours. */
  common: number;
  /** How much of its edges is as sharp as the step from ink to paper. */
  ink: number;
}

// Looked up once: where a program runs inside another, looking up `Math` for each pixel takes longer than the reckoning.
const { abs, max, min } = Math;

/** Side of the version in which blur is measured. */
const SIDE = 480;

/** Blur in one direction: what is left of the steps between neighbours after an average over nine. */
function blurAlong(data: Uint8Array, lines: number, length: number, step: number, across: number): number {
  let before = 0;
  let kept = 0;
  const line = new Float64Array(length);
  const soft = new Float64Array(length);
  for (let l = 0; l < lines; l++) {
    for (let i = 0; i < length; i++) line[i] = data[l * across + i * step]!;
    let sum = 0;
    for (let i = -4; i <= 4; i++) sum += line[max(0, min(length - 1, i))]!;
    for (let i = 0; i < length; i++) {
      soft[i] = sum / 9;
      sum += line[min(length - 1, i + 5)]! - line[max(0, i - 4)]!;
    }
    for (let i = 1; i < length; i++) {
      const sharp = abs(line[i]! - line[i - 1]!);
      before += sharp;
      kept += max(0, sharp - abs(soft[i]! - soft[i - 1]!));
    }
  }
  return before > 0 ? (before - kept) / before : 1;
}

/** The brightness below which a share of a picture lies, from its histogram. */
function below(histogram: Uint32Array, share: number, all: number): number {
  let sum = 0;
  for (let v = 0; v < 256; v++) {
    sum += histogram[v]!;
    if (sum >= share * all) return v / 255;
  }
  return 1;
}

/** Measures a picture. It should be about 1 000 pixels wide: large enough for lines of text, small enough to be quick. */
export function measure({ width, height, data }: Rgb): Measures {
  const grey = toGrey(data, width, height);
  const pixels = width * height;
  const histogram = new Uint32Array(256);
  const chroma = new Uint32Array(256);
  const common = new Uint32Array(4096);
  let colour = 0;
  let flat = 0;
  let edges = 0;
  let ink = 0;
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const [r, g, b] = [data[3 * i]!, data[3 * i + 1]!, data[3 * i + 2]!];
      histogram[grey.data[i]!]!++;
      const c = max(r, g, b) - min(r, g, b);
      colour += c;
      chroma[c]!++;
      common[((r >> 4) << 8) | ((g >> 4) << 4) | (b >> 4)]!++;
      if (x === 0 || y === 0) continue;
      const d = max(
        abs(r - data[3 * i - 3]!),
        abs(g - data[3 * i - 2]!),
        abs(b - data[3 * i - 1]!),
        abs(grey.data[i]! - grey.data[i - width]!),
      );
      if (d <= 1) flat++;
      if (d >= 24) edges++;
      if (d >= 90) ink++;
    }
  const k = min(1, SIDE / max(width, height));
  const small: Grey = k < 1 ? shrink(grey, max(1, Math.round(width * k)), max(1, Math.round(height * k))) : grey;
  const blur = max(
    blurAlong(small.data, small.height, small.width, 1, small.width),
    blurAlong(small.data, small.width, small.height, small.width, 1),
  );
  const most = [...common].sort((a, b) => b - a).slice(0, 3);
  return {
    blur,
    middle: below(histogram, 0.5, pixels),
    low: below(histogram, 0.05, pixels),
    high: below(histogram, 0.95, pixels),
    white: histogram.subarray(252).reduce((a, b) => a + b, 0) / pixels,
    black: histogram.subarray(0, 12).reduce((a, b) => a + b, 0) / pixels,
    colour: colour / pixels / 255,
    colours: below(chroma, 0.99, pixels),
    flat: flat / pixels,
    common: (most[0]! + most[1]! + most[2]!) / pixels,
    ink: edges ? ink / edges : 0,
  };
}
