import type { Pixels } from '../faces/geometry';

/** Four corners in fractions, clockwise from the top left: x and y of each. */
export type Corners = readonly [number, number, number, number, number, number, number, number];

/** A projective map as its nine coefficients, row by row. */
type Projective = readonly number[];

/** The map that takes the unit square to four corners (Heckbert, "Fundamentals of Texture Mapping and Image Warping", 1989, 2.2.3). */
export function squareTo([x0, y0, x1, y1, x2, y2, x3, y3]: Corners): Projective {
  const [sx, sy] = [x0 - x1 + x2 - x3, y0 - y1 + y2 - y3];
  const [dx1, dy1, dx2, dy2] = [x1 - x2, y1 - y2, x3 - x2, y3 - y2];
  const det = dx1 * dy2 - dx2 * dy1 || 1e-12;
  const g = (sx * dy2 - dx2 * sy) / det;
  const h = (dx1 * sy - sx * dy1) / det;
  return [x1 - x0 + g * x1, x3 - x0 + h * x3, x0, y1 - y0 + g * y1, y3 - y0 + h * y3, y0, g, h, 1];
}

/** The way back of a projective map, but for a scale. */
export function inverse([a = 1, b = 0, c = 0, d = 0, e = 1, f = 0, g = 0, h = 0, i = 1]: Projective): Projective {
  return [
    e * i - f * h,
    c * h - b * i,
    b * f - c * e,
    f * g - d * i,
    a * i - c * g,
    c * d - a * f,
    d * h - e * g,
    b * g - a * h,
    a * e - b * d,
  ];
}

/** A point moved by a projective map. */
export function moved(
  [a = 1, b = 0, c = 0, d = 0, e = 1, f = 0, g = 0, h = 0, i = 1]: Projective,
  x: number,
  y: number,
): [number, number] {
  const w = g * x + h * y + i || 1e-12;
  return [(a * x + b * y + c) / w, (d * x + e * y + f) / w];
}

/** How large what lies within four corners of a picture is once it is upright: the means of its opposite sides, in pixels. */
export function quadSize(width: number, height: number, [x0, y0, x1, y1, x2, y2, x3, y3]: Corners): [number, number] {
  const far = (ax: number, ay: number, bx: number, by: number) => Math.hypot((ax - bx) * width, (ay - by) * height);
  return [
    Math.max(1, Math.round((far(x0, y0, x1, y1) + far(x3, y3, x2, y2)) / 2)),
    Math.max(1, Math.round((far(x0, y0, x3, y3) + far(x1, y1, x2, y2)) / 2)),
  ];
}

/** What lies within four corners of a picture, as an upright picture of its own; between pixels by their neighbours. */
export function straightened(image: Pixels, corners: Corners): Pixels {
  const { width: w, height: h, data } = image;
  const [width, height] = quadSize(w, h, corners);
  const out = new Uint8Array(width * height * 3);
  const [a, b, c, d, e, f, g, i] = squareTo(corners) as number[] as [
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  for (let y = 0, q = 0; y < height; y++)
    for (let x = 0; x < width; x++, q += 3) {
      const u = (x + 0.5) / width;
      const v = (y + 0.5) / height;
      const k = 1 / (g * u + i * v + 1);
      let px = (a * u + b * v + c) * k * w - 0.5;
      let py = (d * u + e * v + f) * k * h - 0.5;
      px = px < 0 ? 0 : px > w - 1 ? w - 1 : px;
      py = py < 0 ? 0 : py > h - 1 ? h - 1 : py;
      const x0 = px | 0;
      const y0 = py | 0;
      const fx = px - x0;
      const fy = py - y0;
      const right = x0 < w - 1 ? 3 : 0;
      const down = y0 < h - 1 ? 3 * w : 0;
      const p = 3 * (y0 * w + x0);
      for (let n = 0; n < 3; n++) {
        const top = data[p + n]! + fx * (data[p + n + right]! - data[p + n]!);
        const low = data[p + n + down]! + fx * (data[p + n + down + right]! - data[p + n + down]!);
        out[q + n] = top + fy * (low - top) + 0.5;
      }
    }
  return { width, height, data: out };
}
