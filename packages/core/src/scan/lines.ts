/** A point in pixels. */
export type Spot = readonly [number, number];

/** A straight line: where it passes, and which way it goes (of length 1). */
export interface Line {
  at: Spot;
  way: Spot;
}

/** The corners of the smallest polygon without dents around points (Andrew's monotone chain, 1979), going round one way. */
export function hull(points: readonly Spot[]): Spot[] {
  const sorted = [...points].sort((a, b) => a[0] - b[0] || a[1] - b[1]);
  if (sorted.length < 3) return sorted;
  const half = (some: readonly Spot[]): Spot[] => {
    const chain: Spot[] = [];
    for (const p of some) {
      while (chain.length > 1) {
        const [[ax, ay], [bx, by]] = [chain[chain.length - 2]!, chain[chain.length - 1]!];
        if ((bx - ax) * (p[1] - ay) - (by - ay) * (p[0] - ax) > 0) break;
        chain.pop();
      }
      chain.push(p);
    }
    return chain.slice(0, -1);
  };
  return [...half(sorted), ...half(sorted.reverse())];
}

/** A rectangle that may lie at a slant: its middle, its sides, and how far it is turned clockwise, in radians from -π/4 to π/4. */
export interface Slanted {
  x: number;
  y: number;
  width: number;
  height: number;
  angle: number;
}

/** The smallest rectangle around points: one of its sides lies along their hull (Freeman and Shapira, 1975). */
export function slantedAround(points: readonly Spot[]): Slanted {
  const corners = hull(points);
  let best: Slanted = { x: 0, y: 0, width: 0, height: 0, angle: 0 };
  let least = Infinity;
  corners.forEach(([ax, ay], i) => {
    const [bx, by] = corners[(i + 1) % corners.length]!;
    // Every side is tried as one of the four: a quarter turn more or less is the same rectangle.
    const along = Math.atan2(by - ay, bx - ax);
    const angle = along - Math.round(along / (Math.PI / 2)) * (Math.PI / 2);
    const [c, s] = [Math.cos(angle), Math.sin(angle)];
    let [left, right, top, bottom] = [Infinity, -Infinity, Infinity, -Infinity];
    for (const [x, y] of corners) {
      const [u, v] = [x * c + y * s, y * c - x * s];
      left = Math.min(left, u);
      right = Math.max(right, u);
      top = Math.min(top, v);
      bottom = Math.max(bottom, v);
    }
    const [width, height] = [right - left, bottom - top];
    if (width * height >= least) return;
    least = width * height;
    const [u, v] = [(left + right) / 2, (top + bottom) / 2];
    best = { x: u * c - v * s, y: u * s + v * c, width, height, angle };
  });
  return best;
}

/** The corners of a slanted rectangle, clockwise from the top left. */
export function cornersOf({ x, y, width, height, angle }: Slanted): [Spot, Spot, Spot, Spot] {
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  const at = (u: number, v: number): Spot => [x + u * c - v * s, y + u * s + v * c];
  const [w, h] = [width / 2, height / 2];
  return [at(-w, -h), at(w, -h), at(w, h), at(-w, h)];
}

/**
 * The line along points most of which lie on one: least squares across it, and again with those nearest to it, so that a torn edge
 * or a neighbour does not turn it (least trimmed squares in concentration steps: Rousseeuw and Van Driessen, 2006).
 * @param kept the share of points that count. @returns the line, and how far the points that count lie from it in the mean.
 */
export function lineAlong(points: readonly Spot[], kept = 0.7): Line & { off: number } {
  const away = ({ at, way }: Line, [x, y]: Spot) => Math.abs((x - at[0]) * way[1] - (y - at[1]) * way[0]);
  const fit = (some: readonly Spot[]): Line => {
    const n = some.length;
    const mx = some.reduce((sum, p) => sum + p[0], 0) / n;
    const my = some.reduce((sum, p) => sum + p[1], 0) / n;
    let [xx, xy, yy] = [0, 0, 0];
    for (const [x, y] of some) {
      xx += (x - mx) ** 2;
      xy += (x - mx) * (y - my);
      yy += (y - my) ** 2;
    }
    const angle = Math.atan2(2 * xy, xx - yy) / 2;
    return { at: [mx, my], way: [Math.cos(angle), Math.sin(angle)] };
  };
  let line = fit(points);
  let some = points;
  for (let i = 0; i < 8; i++) {
    some = [...points].sort((a, b) => away(line, a) - away(line, b)).slice(0, Math.max(2, points.length * kept));
    line = fit(some);
  }
  return { ...line, off: some.reduce((sum, p) => sum + away(line, p), 0) / Math.max(1, some.length) };
}

/** Where two lines meet; null for those that run side by side. */
export function meeting(a: Line, b: Line): Spot | null {
  const det = a.way[0] * b.way[1] - a.way[1] * b.way[0];
  if (Math.abs(det) < 0.2) return null;
  const t = ((b.at[0] - a.at[0]) * b.way[1] - (b.at[1] - a.at[1]) * b.way[0]) / det;
  return [a.at[0] + t * a.way[0], a.at[1] + t * a.way[1]];
}
