import type { Pixels } from '../faces/geometry';

/** What lies on a scanner's glass and what does not, at a size at which it is looked for. */
export interface Glass {
  width: number;
  height: number;
  /** 1 where something lies on the glass. */
  on: Uint8Array;
  /** How much of the frame of the scan is bare glass, 0 to 1, and how far its colours are from an even surface, in bytes. */
  bare: number;
  rough: number;
  /** Whether it is of a colour scanners have: nearly without colour, and light or dark. */
  plain: boolean;
}

/** A picture made smaller by whole pixels' means; no larger than `most` on its long side. */
export function smaller(image: Pixels, most: number): Pixels {
  const k = Math.max(image.width, image.height) / most;
  if (k <= 1) return image;
  const width = Math.max(1, Math.round(image.width / k));
  const height = Math.max(1, Math.round(image.height / k));
  const data = new Uint8Array(3 * width * height);
  const edges = (n: number, of: number) => Int32Array.from({ length: n + 1 }, (_, i) => Math.round((i * of) / n));
  const xs = edges(width, image.width);
  const ys = edges(height, image.height);
  const from = image.data;
  for (let y = 0, q = 0; y < height; y++)
    for (let x = 0; x < width; x++, q += 3) {
      let r = 0;
      let g = 0;
      let b = 0;
      const wide = xs[x + 1]! - xs[x]!;
      for (let v = ys[y]!; v < ys[y + 1]!; v++)
        for (let p = 3 * (v * image.width + xs[x]!), end = p + 3 * wide; p < end; p += 3) {
          r += from[p]!;
          g += from[p + 1]!;
          b += from[p + 2]!;
        }
      const n = wide * (ys[y + 1]! - ys[y]!);
      data[q] = r / n;
      data[q + 1] = g / n;
      data[q + 2] = b / n;
    }
  return { width, height, data };
}

/** Terms of a surface that bends a little: the light of a scanner falls off towards its edges. */
const TERMS = 6;
const terms = (x: number, y: number): readonly number[] => [1, x, y, x * x, x * y, y * y];

/** Solves symmetric equations by elimination; null when they say too little. */
function solve(a: Float64Array, b: Float64Array): Float64Array | null {
  const n = b.length;
  for (let i = 0; i < n; i++) {
    const pivot = a[i * n + i]!;
    if (Math.abs(pivot) < 1e-9) return null;
    for (let r = i + 1; r < n; r++) {
      const k = a[r * n + i]! / pivot;
      for (let c = i; c < n; c++) a[r * n + c]! -= k * a[i * n + c]!;
      b[r]! -= k * b[i]!;
    }
  }
  for (let i = n - 1; i >= 0; i--) {
    for (let c = i + 1; c < n; c++) b[i]! -= a[i * n + c]! * b[c]!;
    b[i]! /= a[i * n + i]!;
  }
  return b;
}

/** The colours of the bare glass everywhere, as a surface through the pixels that are thought to be bare; null without enough of them. */
function surface({ width, height, data }: Pixels, bare: Uint8Array): Float64Array[] | null {
  const left = new Float64Array(TERMS * TERMS);
  const right = [0, 1, 2].map(() => new Float64Array(TERMS));
  let n = 0;
  for (let y = 0; y < height; y += 3)
    for (let x = 0; x < width; x += 3) {
      const i = y * width + x;
      if (!bare[i]) continue;
      n++;
      const t = terms(x / width - 0.5, y / height - 0.5);
      for (let r = 0; r < TERMS; r++) {
        for (let c = 0; c < TERMS; c++) left[r * TERMS + c]! += t[r]! * t[c]!;
        for (let k = 0; k < 3; k++) right[k]![r]! += t[r]! * data[3 * i + k]!;
      }
    }
  if (n < 60) return null;
  // Where hardly anything bends it, it is flat.
  for (let r = 0; r < TERMS; r++) left[r * TERMS + r]! += r < 3 ? 1e-6 * n : 1e-3 * n;
  const found = right.map((b) => solve(left.slice(), b));
  return found.every((one) => one !== null) ? found : null;
}

/** How far each pixel is from bare glass: the largest difference of its three colours, in bytes. */
function apart({ width, height, data }: Pixels, colours: readonly Float64Array[]): Float32Array {
  const out = new Float32Array(width * height);
  const u = Float64Array.from({ length: width }, (_, x) => x / width - 0.5);
  for (let k = 0; k < 3; k++) {
    const [a = 0, b = 0, c = 0, d = 0, e = 0, f = 0] = [...colours[k]!];
    for (let y = 0, i = 0; y < height; y++) {
      const v = y / height - 0.5;
      const flat = a + c * v + f * v * v;
      const slope = b + e * v;
      for (let x = 0; x < width; x++, i++) {
        let glass = flat + (slope + d * u[x]!) * u[x]!;
        // What would be lighter than white is white.
        glass = glass > 255 ? 255 : glass < 0 ? 0 : glass;
        const far = Math.abs(data[3 * i + k]! - glass);
        if (far > out[i]!) out[i] = far;
      }
    }
  }
  return out;
}

const middleOf = (values: readonly number[]): number => Float32Array.from(values).sort()[values.length >> 1] ?? 0;

/** Pixels at the edges of a scan that count as its frame, as a share of its long side. */
const FRAME = 0.015;
/** Bytes within which pixels of the frame are of one colour, to begin with. */
const OF_ONE = 14;

/** At least this share of the frame of a scan is of the glass's commonest colour. */
const EVEN = 0.2;

/** Whether a colour is one of a scanner's glass: nearly grey, and light or dark. */
const isPlain = (colour: readonly number[]): boolean =>
  Math.max(...colour) - Math.min(...colour) <= 22 && (Math.min(...colour) >= 190 || Math.max(...colour) <= 90);

/** Whether a picture may be of a glass, by the colours of some pixels of its frame: most pictures are told from a glass by that. */
export function mayBeGlass({ width, height, data }: Pixels): boolean {
  const wide = Math.max(2, Math.round(FRAME * Math.max(width, height)));
  const step = Math.max(1, Math.round((width + height) / 600));
  const boxes = new Uint32Array(16 ** 3);
  let all = 0;
  const take = (x: number, y: number) => {
    const q = 3 * (y * width + x);
    boxes[((data[q]! >> 4) << 8) | ((data[q + 1]! >> 4) << 4) | (data[q + 2]! >> 4)]!++;
    all++;
  };
  for (let at = 0; at < wide && 2 * at < Math.min(width, height); at += 2) {
    for (let x = 0; x < width; x += step) {
      take(x, at);
      take(x, height - 1 - at);
    }
    for (let y = 0; y < height; y += step) {
      take(at, y);
      take(width - 1 - at, y);
    }
  }
  // Light falls off over a glass: all nearly grey colours of it that are light, or all that are dark, count together.
  let [light, dark] = [0, 0];
  for (let b = 0; b < boxes.length; b++) {
    const [r, g, bl] = [b >> 8, (b >> 4) & 15, b & 15];
    if (Math.max(r, g, bl) - Math.min(r, g, bl) > 1) continue;
    if (Math.min(r, g, bl) >= 12) light += boxes[b]!;
    else if (Math.max(r, g, bl) <= 6) dark += boxes[b]!;
  }
  return Math.max(light, dark) >= EVEN * all;
}

/** The pixels of the frame, and those of them that are of its commonest colour. */
function frameOf({ width, height, data }: Pixels): { all: number[]; common: Uint8Array } {
  const wide = Math.max(2, Math.round(FRAME * Math.max(width, height)));
  const all: number[] = [];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      if (x < wide || y < wide || x >= width - wide || y >= height - wide) all.push(y * width + x);
  // Colours in boxes of 16, each with its neighbours.
  const boxes = new Uint32Array(18 ** 3);
  const box = (i: number) =>
    ((data[3 * i]! >> 4) + 1) * 324 + ((data[3 * i + 1]! >> 4) + 1) * 18 + (data[3 * i + 2]! >> 4) + 1;
  for (const i of all) boxes[box(i)]!++;
  let [best, most] = [0, -1];
  for (let b = 343; b < boxes.length - 343; b++) {
    if (!boxes[b]) continue;
    let sum = boxes[b]!;
    for (const d of [-324, -18, -1, 0, 1, 18, 324]) sum += boxes[b + d]!;
    if (sum > most) [best, most] = [b, sum];
  }
  const mine = all.filter((i) => box(i) === best);
  const colour = [0, 1, 2].map((k) => middleOf(mine.map((i) => data[3 * i + k]!)));
  const common = new Uint8Array(width * height);
  for (const i of all) if (colour.every((c, k) => Math.abs(data[3 * i + k]! - c) <= OF_ONE)) common[i] = 1;
  return { all, common };
}

/** Noise of even surfaces in bytes: the middle difference of neighbours that are thought to be bare, as a standard deviation. */
function noiseOf(far: Float32Array, bare: Uint8Array, width: number): number {
  const steps: number[] = [];
  for (let i = 1; i < far.length; i += 5)
    if (bare[i] && bare[i - 1] && i % width) steps.push(Math.abs(far[i]! - far[i - 1]!));
  return middleOf(steps) * 1.05;
}

/**
 * Finds what lies on the glass of a scanner: the colour of the bare glass is that of most of the frame of the scan, evened out over
 * the whole of it; bare is what is of that colour and can be reached from the frame, so that a white sky inside a print is none.
 */
export function glassOf(image: Pixels): Glass | null {
  const { width, height } = image;
  const { all, common } = frameOf(image);
  let colours = surface(image, common);
  if (!colours) return null;
  let far = apart(image, colours);
  const first = Math.max(6, 6 * noiseOf(far, common, width));
  const outside = reached(far, width, height, first);
  colours = surface(image, outside);
  if (!colours) return null;
  far = apart(image, colours);
  const noise = noiseOf(far, outside, width);
  const bareFar: number[] = [];
  for (let i = 0; i < far.length; i += 7) if (outside[i]) bareFar.push(far[i]!);
  const rough = middleOf(bareFar);
  // As near to the glass's own colour as its grain allows: the white border of a print on a white lid is a few bytes from it.
  const least = Math.min(10, Math.max(2.6, 4.5 * noise, 3.2 * rough));
  const bare = reached(far, width, height, least);
  const on = new Uint8Array(bare.length);
  for (let i = 0; i < on.length; i++) on[i] = 1 - bare[i]!;
  const plain = isPlain(colours.map((c) => c[0]!));
  return { width, height, on, bare: all.reduce((sum, i) => sum + bare[i]!, 0) / all.length, rough, plain };
}

/** Pixels that are nearer than `least` to bare glass and can be reached from the frame through such pixels. */
function reached(far: Float32Array, width: number, height: number, least: number): Uint8Array {
  const out = new Uint8Array(width * height);
  const stack = new Int32Array(far.length);
  let waiting = 0;
  const visit = (i: number) => {
    if (out[i] || far[i]! > least) return;
    out[i] = 1;
    stack[waiting++] = i;
  };
  for (let x = 0; x < width; x++) {
    visit(x);
    visit((height - 1) * width + x);
  }
  for (let y = 0; y < height; y++) {
    visit(y * width);
    visit(y * width + width - 1);
  }
  while (waiting) {
    const i = stack[--waiting]!;
    const x = i % width;
    if (x > 0) visit(i - 1);
    if (x < width - 1) visit(i + 1);
    if (i >= width) visit(i - width);
    if (i < width * (height - 1)) visit(i + width);
  }
  return out;
}
