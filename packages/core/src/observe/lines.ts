import type { Point } from '../faces/geometry';

/** A line of writing: a rectangle around its middle, turned by an angle, in pixels. */
export interface Line {
  middle: Point;
  /** Along the writing. */
  width: number;
  /** Across it. */
  height: number;
  /** Of the writing against the horizontal, clockwise, in radians; less than a quarter turn either way. */
  angle: number;
  /** How sure the net is that it is writing, 0 to 1. */
  sure: number;
}

/** How finding lines is set: where the map counts as writing, how sure a line must be, and by how much it is widened. */
export interface Finding {
  from?: number;
  sure?: number;
  widen?: number;
  /** Lines lower than so many pixels are no writing anybody could read. */
  least?: number;
}

/**
 * Lines of writing in a net's map, which is high on the core of each line. Each heap of high points that touch becomes the
 * rectangle that its second moments lie along, widened again by as much as the net was taught to leave out (Liao et al.,
 * "Real-time Scene Text Detection with Differentiable Binarization", 2020: area x ratio / circumference).
 * @param map row by row, 0 to 1.
 */
export function linesIn(
  map: Float32Array,
  width: number,
  height: number,
  { from = 0.3, sure = 0.6, widen = 1.6, least = 6 }: Finding = {},
): Line[] {
  const seen = new Uint8Array(map.length);
  const heap = new Int32Array(map.length);
  const lines: Line[] = [];
  for (let start = 0; start < map.length; start++) {
    if (seen[start] || map[start]! < from) continue;
    let n = 1;
    heap[0] = start;
    seen[start] = 1;
    let [sum, sx, sy, sxx, syy, sxy] = [0, 0, 0, 0, 0, 0];
    for (let i = 0; i < n; i++) {
      const at = heap[i]!;
      const x = at % width;
      const y = (at - x) / width;
      sum += map[at]!;
      sx += x;
      sy += y;
      sxx += x * x;
      syy += y * y;
      sxy += x * y;
      for (let v = Math.max(0, y - 1); v <= Math.min(height - 1, y + 1); v++)
        for (let u = Math.max(0, x - 1); u <= Math.min(width - 1, x + 1); u++) {
          const next = v * width + u;
          if (seen[next] || map[next]! < from) continue;
          seen[next] = 1;
          heap[n++] = next;
        }
    }
    if (n < 10 || sum / n < sure) continue;
    const [mx, my] = [sx / n, sy / n];
    const [vx, vy, vxy] = [sxx / n - mx * mx, syy / n - my * my, sxy / n - mx * my];
    // What is about as high as it is wide has no direction of its own and is taken to stand straight.
    const spread = Math.hypot(vx - vy, 2 * vxy) / (vx + vy || 1);
    const angle = spread < 0.5 ? 0 : 0.5 * Math.atan2(2 * vxy, vx - vy);
    const [c, s] = [Math.cos(angle), Math.sin(angle)];
    let [left, right, top, bottom] = [Infinity, -Infinity, Infinity, -Infinity];
    for (let i = 0; i < n; i++) {
      const x = (heap[i]! % width) - mx;
      const y = Math.floor(heap[i]! / width) - my;
      const [along, across] = [c * x + s * y, c * y - s * x];
      left = Math.min(left, along);
      right = Math.max(right, along);
      top = Math.min(top, across);
      bottom = Math.max(bottom, across);
    }
    const [w, h] = [right - left + 1, bottom - top + 1];
    const more = (w * h * widen) / (2 * (w + h));
    if (h + 2 * more < least) continue;
    const [along, across] = [(left + right) / 2, (top + bottom) / 2];
    lines.push({
      middle: [mx + 0.5 + c * along - s * across, my + 0.5 + s * along + c * across],
      width: w + 2 * more,
      height: h + 2 * more,
      angle,
      sure: sum / n,
    });
  }
  return inReadingOrder(lines);
}

/** Lines from top to bottom; those that stand beside one another from left to right. */
export function inReadingOrder(lines: readonly Line[]): Line[] {
  const rows: Line[][] = [];
  for (const line of [...lines].sort((a, b) => a.middle[1] - b.middle[1])) {
    const row = rows[rows.length - 1];
    const last = row?.[row.length - 1];
    if (last && Math.abs(line.middle[1] - last.middle[1]) < 0.5 * Math.min(line.height, last.height)) row!.push(line);
    else rows.push([line]);
  }
  return rows.flatMap((row) => row.sort((a, b) => a.middle[0] - b.middle[0]));
}
