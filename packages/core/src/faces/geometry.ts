/** A box as left, top, right, bottom, in pixels. */
export type Box = readonly [number, number, number, number];
export type Point = readonly [number, number];
/** RGB bytes, row by row. */
export interface Pixels {
  width: number;
  height: number;
  data: Uint8Array;
}
/** x' = a·x - b·y + tx, y' = b·x + a·y + ty. */
export interface Similarity {
  a: number;
  b: number;
  tx: number;
  ty: number;
}

/** Intersection over union; with `min`, over the smaller box. */
export function overlap(a: Box, b: Box, over: 'union' | 'min' = 'union'): number {
  const w = Math.min(a[2], b[2]) - Math.max(a[0], b[0]);
  const h = Math.min(a[3], b[3]) - Math.max(a[1], b[1]);
  if (w <= 0 || h <= 0) return 0;
  const area = (x: Box) => (x[2] - x[0]) * (x[3] - x[1]);
  return over === 'min' ? (w * h) / Math.min(area(a), area(b)) : (w * h) / (area(a) + area(b) - w * h);
}

/** Non-maximum suppression: the best of every heap of boxes that overlap by more than `threshold`, best first. */
export function bestOfEach<T extends { box: Box; score: number }>(
  found: readonly T[],
  threshold: number,
  over: 'union' | 'min' = 'union',
): T[] {
  const kept: T[] = [];
  for (const one of [...found].sort((a, b) => b.score - a.score))
    if (kept.every((k) => overlap(one.box, k.box, over) <= threshold)) kept.push(one);
  return kept;
}

/** The least-squares similarity without reflection that brings `from` nearest to `to` (Umeyama 1991, in the plane). */
export function similarity(from: readonly Point[], to: readonly Point[]): Similarity {
  const n = from.length;
  let mx = 0;
  let my = 0;
  let ux = 0;
  let uy = 0;
  for (let i = 0; i < n; i++) {
    mx += from[i]![0] / n;
    my += from[i]![1] / n;
    ux += to[i]![0] / n;
    uy += to[i]![1] / n;
  }
  let s = 0;
  let a = 0;
  let b = 0;
  for (let i = 0; i < n; i++) {
    const x = from[i]![0] - mx;
    const y = from[i]![1] - my;
    const u = to[i]![0] - ux;
    const v = to[i]![1] - uy;
    s += x * x + y * y;
    a += x * u + y * v;
    b += x * v - y * u;
  }
  a /= s || 1;
  b /= s || 1;
  return { a, b, tx: ux - a * mx + b * my, ty: uy - b * mx - a * my };
}

/** The point that a similarity maps to (u, v). */
export function unmap(m: Similarity, u: number, v: number): [number, number] {
  const d = m.a * m.a + m.b * m.b;
  const x = u - m.tx;
  const y = v - m.ty;
  return [(m.a * x + m.b * y) / d, (-m.b * x + m.a * y) / d];
}

/** Draws the picture through a similarity onto `width` x `height`, bilinear, supersampled when shrinking; outside is black. */
export function warp(image: Pixels, m: Similarity, width: number, height: number): Pixels {
  const { width: w, height: h, data: d } = image;
  const det = m.a * m.a + m.b * m.b;
  const ia = m.a / det;
  const ib = -m.b / det;
  const k = Math.max(1, Math.min(8, Math.round(1 / Math.sqrt(det))));
  const out = new Uint8Array(width * height * 3);
  const n = k * k;
  for (let j = 0; j < height; j++)
    for (let i = 0; i < width; i++) {
      let r = 0;
      let g = 0;
      let b = 0;
      for (let s = 0; s < n; s++) {
        const px = i + ((s % k) + 0.5) / k - 0.5 - m.tx;
        const py = j + (Math.floor(s / k) + 0.5) / k - 0.5 - m.ty;
        const X = ia * px - ib * py;
        const Y = ib * px + ia * py;
        if (X < -1 || Y < -1 || X > w || Y > h) continue;
        const x = Math.floor(X);
        const y = Math.floor(Y);
        const fx = X - x;
        const fy = Y - y;
        const xa = x < 0 ? 0 : x >= w ? w - 1 : x;
        const xb = x + 1 >= w ? w - 1 : x + 1;
        const ya = y < 0 ? 0 : y >= h ? h - 1 : y;
        const yb = y + 1 >= h ? h - 1 : y + 1;
        const p = (ya * w + xa) * 3;
        const q = (ya * w + xb) * 3;
        const t = (yb * w + xa) * 3;
        const e = (yb * w + xb) * 3;
        const w0 = (1 - fx) * (1 - fy);
        const w1 = fx * (1 - fy);
        const w2 = (1 - fx) * fy;
        const w3 = fx * fy;
        r += d[p]! * w0 + d[q]! * w1 + d[t]! * w2 + d[e]! * w3;
        g += d[p + 1]! * w0 + d[q + 1]! * w1 + d[t + 1]! * w2 + d[e + 1]! * w3;
        b += d[p + 2]! * w0 + d[q + 2]! * w1 + d[t + 2]! * w2 + d[e + 2]! * w3;
      }
      const o = (j * width + i) * 3;
      out[o] = r / n + 0.5;
      out[o + 1] = g / n + 0.5;
      out[o + 2] = b / n + 0.5;
    }
  return { width, height, data: out };
}

/** Where the five points (eyes, nose, corners of the mouth) stand in a 112 x 112 face made ready for description. */
export const REFERENCE_POINTS: readonly Point[] = [
  [38.2946, 51.6963],
  [73.5318, 51.5014],
  [56.0252, 71.7366],
  [41.5493, 92.3655],
  [70.7299, 92.2041],
];

/** Cuts a face out, upright and at the size the describing networks want: 112 x 112. */
export const alignFace = (image: Pixels, points: readonly Point[]): Pixels =>
  warp(image, similarity(points, REFERENCE_POINTS), 112, 112);

/** The roll of a face in degrees from its five points; from the line eyes-mouth when the eyes are too close (profiles). */
export function rollOf(p: readonly Point[]): number {
  const ex = (p[0]![0] + p[1]![0]) / 2;
  const ey = (p[0]![1] + p[1]![1]) / 2;
  const mx = (p[3]![0] + p[4]![0]) / 2;
  const my = (p[3]![1] + p[4]![1]) / 2;
  const eyes = Math.hypot(p[1]![0] - p[0]![0], p[1]![1] - p[0]![1]);
  const byEyes = Math.atan2(p[1]![1] - p[0]![1], p[1]![0] - p[0]![0]);
  const byMouth = Math.atan2(-(mx - ex), my - ey);
  return ((eyes > 0.3 * Math.hypot(mx - ex, my - ey) ? byEyes : byMouth) * 180) / Math.PI;
}

/**
 * The bytes of a picture as planes of floats (channel, row, column), as networks take them.
 * @param options.bgr planes in the order blue, green, red; @param options.transposed columns before rows.
 */
export function planes(
  image: Pixels,
  mean: number,
  scale: number,
  options: { bgr?: boolean; transposed?: boolean } = {},
): Float32Array {
  const { width: w, height: h, data: d } = image;
  const n = w * h;
  const out = new Float32Array(3 * n);
  for (let c = 0; c < 3; c++) {
    const source = options.bgr ? 2 - c : c;
    let o = c * n;
    if (!options.transposed) for (let i = 0, q = source; i < n; i++, q += 3) out[o + i] = (d[q]! - mean) * scale;
    else
      for (let x = 0; x < w; x++) for (let y = 0; y < h; y++) out[o++] = (d[(y * w + x) * 3 + source]! - mean) * scale;
  }
  return out;
}

/** A picture left to right. */
export function mirror({ width, height, data }: Pixels): Pixels {
  const turned = new Uint8Array(data.length);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const from = 3 * (y * width + width - 1 - x);
      turned.set(data.subarray(from, from + 3), 3 * (y * width + x));
    }
  return { width, height, data: turned };
}

/** Whether a candidate is a face: two scales agree and the detector is sure, or the checking network is sure. */
export function acceptFace(c: { detector: number; check: number; votes: number; height: number }, least = 12): boolean {
  if (c.height < least) return false;
  const agreed = c.votes > 1 && (c.detector > 0.99 || (c.detector > 0.9 && c.check > 0.5));
  return agreed || (c.check >= 0.9 && c.detector >= 0.8);
}

/** Whether two sets of five points are those of one face: on average nearer to each other than a third of its eyes' distance. */
export function areOneFace(a: readonly Point[], b: readonly Point[]): boolean {
  const eyes = Math.max(
    Math.hypot(a[1]![0] - a[0]![0], a[1]![1] - a[0]![1]),
    Math.hypot(b[1]![0] - b[0]![0], b[1]![1] - b[0]![1]),
  );
  const apart = a.reduce((sum, [x, y], i) => sum + Math.hypot(x - b[i]![0], y - b[i]![1]), 0) / a.length;
  return apart < eyes / 3;
}
