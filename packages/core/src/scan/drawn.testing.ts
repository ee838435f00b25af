import type { Pixels } from '../faces/geometry';
import { seeded } from '../long.testing';
import type { Corners } from '../touchup/quad';
import { cornersOf, type Spot } from './lines';

/** How a drawn scan is made; what is not said is left to chance. */
export interface Wanted {
  prints?: number;
  glass?: 'light' | 'dark';
  border?: 'none' | 'white' | 'deckle';
  /** The most a print is turned, in degrees. */
  tilt?: number;
}

type Colour = readonly [number, number, number];

/** A drawn scan of prints on a glass, with where they really lie. */
export interface Scanned {
  image: Pixels;
  prints: Corners[];
  told: Required<Wanted>;
}

/** What is on a print: sky, ground and some things, each with grain. @returns its colour at fractions of its sides. */
function scenery(random: () => number, unlike: Colour): (u: number, v: number) => Colour {
  const between = (least: number, most: number) => least + random() * (most - least);
  const grey = random() < 0.4;
  const colour = (light: number): Colour => {
    const all = [between(-35, 35), between(-35, 35), between(-35, 35)].map((d) => light + (grey ? 0 : d));
    return all as unknown as Colour;
  };
  // The sky of a print without a border may be nearly as light as the glass, but never just as light.
  let sky = colour(between(120, 250));
  while (sky.every((c, k) => Math.abs(Math.min(255, c) - unlike[k]!) < 9)) sky = colour(between(60, 240));
  let ground = colour(between(20, 150));
  while (ground.every((c, k) => Math.abs(c - unlike[k]!) < 9)) ground = colour(between(20, 200));
  const horizon = between(0.25, 0.8);
  const slope = between(-0.15, 0.15);
  const things = Array.from({ length: 2 + Math.floor(random() * 6) }, () => ({
    x: random(),
    y: between(0.2, 0.95),
    r: between(0.05, 0.25),
    tall: between(0.6, 2),
    colour: colour(between(15, 245)),
  }));
  return (u, v) => {
    // Things keep away from the very edge: whatever the print ends in is sky or ground.
    if (u > 0.03 && u < 0.97 && v > 0.03 && v < 0.97)
      for (const { x, y, r, tall, colour: c } of things)
        if (((u - x) / r) ** 2 + ((v - y) / (r * tall)) ** 2 < 1) return c;
    return v < horizon + slope * (u - 0.5) ? sky : ground;
  };
}

/**
 * Draws a scan of prints: glass that is light or dark, a little uneven, with grain, dust and hairs; prints of many shapes at a slant,
 * with or without borders, straight or deckled, casting a thin shadow on a light glass.
 */
export function drawScan(seed: number, wanted: Wanted = {}, long = 1200): Scanned {
  const random = seeded(seed * 7919 + 13);
  const between = (least: number, most: number) => least + random() * (most - least);
  const pick = <T>(...of: readonly T[]): T => of[Math.floor(random() * of.length)]!;
  const told: Required<Wanted> = {
    prints: wanted.prints ?? 2 + Math.floor(random() * 5),
    glass: wanted.glass ?? pick('light', 'light', 'dark'),
    border: wanted.border ?? pick('none', 'white', 'white', 'deckle'),
    tilt: wanted.tilt ?? 10,
  };
  const upright = random() < 0.7;
  const short = Math.round(long * between(0.68, 0.78));
  const [width, height] = upright ? [short, long] : [long, short];
  const light = told.glass === 'light' ? between(228, 253) : between(4, 60);
  const glass = [0, 1, 2].map(() => light + between(-4, 4)) as unknown as Colour;
  const [fallX, fallY, grain] = [between(-7, 7), between(-7, 7), between(0.3, 3)];
  const image = new Float32Array(3 * width * height);
  for (let y = 0, q = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (let k = 0; k < 3; k++) image[q++] = glass[k]! + fallX * (x / width - 0.5) + fallY * (y / height - 0.5);

  // Cells of a table, each with a print somewhere in it.
  const columns = told.prints <= 3 && random() < 0.5 ? 1 : told.prints === 1 ? 1 : 2;
  const rows = Math.ceil(told.prints / columns);
  const [across, down] = upright ? [columns, rows] : [rows, columns];
  const cells = Array.from({ length: across * down }, (_, i) => [i % across, Math.floor(i / across)] as const);
  while (cells.length > told.prints) cells.splice(Math.floor(random() * cells.length), 1);
  const prints: Corners[] = [];
  for (const [cx, cy] of cells) {
    const [cellW, cellH] = [width / across, height / down];
    const angle = (between(-told.tilt, told.tilt) * Math.PI) / 180;
    let shape = pick(1, 1.2, 1.33, 1.4, 1.5, 1.5);
    if (cellW < cellH ? random() < 0.85 : random() < 0.15) shape = 1 / shape;
    const [c, s] = [Math.abs(Math.cos(angle)), Math.abs(Math.sin(angle))];
    // As large as its cell allows, and somewhat smaller; a hair's breadth away from the next.
    const room = between(0.72, 0.985);
    const tall = room * Math.min(cellW / (shape * c + s), cellH / (c + shape * s));
    const [w, h] = [tall * shape, tall];
    const [boxW, boxH] = [w * c + h * s, w * s + h * c];
    const x = (cx + 0.5) * cellW + between(-0.5, 0.5) * (cellW - boxW) * 0.96;
    const y = (cy + 0.5) * cellH + between(-0.5, 0.5) * (cellH - boxH) * 0.96;
    const border = told.border === 'none' ? 0 : between(0.02, 0.07) * Math.min(w, h);
    let paper: Colour = [between(226, 254), between(224, 252), between(205, 248)];
    while (paper.every((v, k) => Math.abs(v - glass[k]!) < 7))
      paper = [between(215, 254), between(210, 252), between(190, 246)];
    const deckle = told.border === 'deckle' ? between(0.004, 0.012) * Math.min(w, h) : 0;
    const [teeth, phase] = [between(18, 60), random() * 6];
    const scene = scenery(random, border ? [-99, -99, -99] : glass);
    const shadow = told.glass === 'light' ? between(0, 26) : 0;
    const [co, si] = [Math.cos(angle), Math.sin(angle)];
    const pad = 8;
    for (let py = Math.max(0, Math.floor(y - boxH / 2 - pad)); py < Math.min(height, y + boxH / 2 + pad); py++)
      for (let px = Math.max(0, Math.floor(x - boxW / 2 - pad)); px < Math.min(width, x + boxW / 2 + pad); px++) {
        const [dx, dy] = [px + 0.5 - x, py + 0.5 - y];
        const [u, v] = [dx * co + dy * si, dy * co - dx * si];
        // A deckled edge goes in and out around where a straight one would be.
        const wave = (t: number) => deckle * Math.sin(teeth * t + phase) * (0.6 + 0.4 * Math.sin(7.3 * t));
        const inX = w / 2 - Math.abs(u) + wave((v / h) * 6.28);
        const inY = h / 2 - Math.abs(v) + wave((u / w) * 6.28 + 2);
        const inside = Math.min(inX, inY);
        const q = 3 * (py * width + px);
        if (inside > 0) {
          const c3 = inside < border ? paper : scene((u + w / 2) / w, (v + h / 2) / h);
          const cover = Math.min(1, inside + 0.5);
          for (let k = 0; k < 3; k++) image[q + k] = image[q + k]! * (1 - cover) + c3[k]! * cover;
        } else if (inside > -3 && u + v > 0) for (let k = 0; k < 3; k++) image[q + k]! -= (shadow * (inside + 3)) / 3;
      }
    prints.push(
      cornersOf({ x, y, width: w, height: h, angle }).flatMap(([a, b]: Spot) => [
        a / width,
        b / height,
      ]) as unknown as Corners,
    );
  }
  for (let n = Math.floor(random() * 40); n > 0; n--) {
    const [x, y, r, by] = [random() * width, random() * height, between(0.6, 2.2), between(-70, 70)];
    for (let py = Math.max(0, Math.floor(y - r)); py < Math.min(height, y + r); py++)
      for (let px = Math.max(0, Math.floor(x - r)); px < Math.min(width, x + r); px++)
        for (let k = 0; k < 3; k++) image[3 * (py * width + px) + k]! += by;
  }
  for (let n = Math.floor(random() * 4); n > 0; n--) {
    let [x, y, way] = [random() * width, random() * height, random() * 6.28];
    const by = told.glass === 'light' ? -60 : 60;
    for (let t = between(30, 160); t > 0; t--, x += Math.cos(way), y += Math.sin(way), way += between(-0.15, 0.15))
      if (x >= 0 && y >= 0 && x < width && y < height)
        for (let k = 0; k < 3; k++) image[3 * (Math.floor(y) * width + Math.floor(x)) + k]! += by;
  }
  const data = new Uint8Array(image.length);
  for (let i = 0; i < image.length; i++) {
    const noise = (random() + random() + random() - 1.5) * 2 * grain;
    data[i] = Math.max(0, Math.min(255, image[i]! + noise + 0.5));
  }
  return { image: { width, height, data }, prints, told };
}

/** The area of a polygon, by its corners. */
function area(points: readonly Spot[]): number {
  let sum = 0;
  points.forEach(([x, y], i) => {
    const [u, v] = points[(i + 1) % points.length]!;
    sum += x * v - u * y;
  });
  return Math.abs(sum) / 2;
}

const spotsOf = (corners: Corners): Spot[] => [0, 2, 4, 6].map((i) => [corners[i]!, corners[i + 1]!]);

/** What two prints share of all they cover (intersection over union); one is clipped by the other (Sutherland and Hodgman, 1974). */
export function sharedBy(a: Corners, b: Corners): number {
  const [one, other] = [spotsOf(a), spotsOf(b)];
  let inside = one;
  other.forEach(([ax, ay], i) => {
    const [bx, by] = other[(i + 1) % 4]!;
    const side = ([x, y]: Spot) => (bx - ax) * (y - ay) - (by - ay) * (x - ax);
    const clipped: Spot[] = [];
    inside.forEach((p, j) => {
      const q = inside[(j + 1) % inside.length]!;
      const [sp, sq] = [side(p), side(q)];
      if (sp >= 0) clipped.push(p);
      if (sp >= 0 !== sq >= 0) {
        const t = sp / (sp - sq);
        clipped.push([p[0] + t * (q[0] - p[0]), p[1] + t * (q[1] - p[1])]);
      }
    });
    inside = clipped;
  });
  const both = area(inside);
  return both / (area(one) + area(other) - both);
}
