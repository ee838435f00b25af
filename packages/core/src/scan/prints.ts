import type { Pixels } from '../faces/geometry';
import type { Corners } from '../touchup/quad';
import { cornersOf, lineAlong, meeting, slantedAround, type Line, type Slanted, type Spot } from './lines';
import { glassOf, mayBeGlass, smaller, type Glass } from './glass';

/** A print on the glass: its corners in fractions of the scan, clockwise from the one at the top left as it lies. */
export interface Print {
  corners: Corners;
  /** Its share of the whole scan. */
  share: number;
}

/** The long side at which prints are looked for, in pixels. */
const LOOKED_AT = 1000;
/** A print covers at least this share of the glass, and each of its sides is at least this share of the glass's long side. */
const LEAST_SHARE = 0.01;
const LEAST_SIDE = 0.07;
/** No print is longer than so many times its breadth. */
const LONGEST = 4.5;
/** How much of its rectangle a print fills at least; two that touch fill less. */
const FULL = 0.9;
/** The corners of a print are square to so much: the cosine of what they may be off. */
const SQUARE = 0.055;
/** Along so many sides of a print bare glass is seen; the others may lie at the edge of the glass, or against another print. */
const SEEN = 2;
/** More than so many prints lie on no glass. */
const MOST = 24;

const FAR = 65_000;

/**
 * How far each pixel of a shape is from what is not of it, in steps of 3 to a pixel (chamfer 3-4: Borgefors, 1986).
 * @param beyond how far it is to what is not of it beyond the edges of the picture.
 */
function depths(mask: Uint8Array, width: number, height: number, beyond = 0): Uint16Array {
  // With a rim, so that no pixel has to ask whether it has neighbours.
  const wide = width + 2;
  const all = new Uint16Array(wide * (height + 2)).fill(beyond);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = (y + 1) * wide + x + 1;
      if (!mask[y * width + x]) all[i] = 0;
      else all[i] = Math.min(all[i - 1]! + 3, all[i - wide]! + 3, all[i - wide - 1]! + 4, all[i - wide + 1]! + 4, FAR);
    }
  const out = new Uint16Array(mask.length);
  for (let y = height - 1; y >= 0; y--)
    for (let x = width - 1; x >= 0; x--) {
      const i = (y + 1) * wide + x + 1;
      if (!all[i]) continue;
      all[i] = Math.min(all[i]!, all[i + 1]! + 3, all[i + wide]! + 3, all[i + wide + 1]! + 4, all[i + wide - 1]! + 4);
      out[y * width + x] = all[i]!;
    }
  return out;
}

/** A part of a mask that hangs together: its pixels, as their numbers. */
type Piece = Int32Array;

/** The parts of a mask that hang together, those of fewer than `least` pixels left out. */
function pieces(mask: Uint8Array, width: number, least: number): Piece[] {
  const seen = new Uint8Array(mask.length);
  const found: Piece[] = [];
  const stack = new Int32Array(mask.length);
  for (let start = 0; start < mask.length; start++) {
    if (!mask[start] || seen[start]) continue;
    let [n, done] = [0, 0];
    stack[n++] = start;
    seen[start] = 1;
    while (done < n) {
      const i = stack[done++]!;
      const x = i % width;
      const take = (j: number) => {
        if (!mask[j] || seen[j]) return;
        seen[j] = 1;
        stack[n++] = j;
      };
      if (x > 0) take(i - 1);
      if (x < width - 1) take(i + 1);
      if (i >= width) take(i - width);
      if (i + width < mask.length) take(i + width);
    }
    if (n >= least) found.push(stack.slice(0, n));
  }
  return found;
}

/** The pixels of a piece at its ends in each row: its outline, as far as a rectangle around it needs it. */
function outline(piece: Piece, width: number): Spot[] {
  const ends = new Map<number, [number, number]>();
  for (const i of piece) {
    const [x, y] = [i % width, Math.floor(i / width)];
    const row = ends.get(y);
    if (!row) ends.set(y, [x, x]);
    else if (x < row[0]) row[0] = x;
    else if (x > row[1]) row[1] = x;
  }
  return [...ends].flatMap(([y, [left, right]]): Spot[] => [
    [left, y],
    [left, y + 1],
    [right + 1, y],
    [right + 1, y + 1],
  ]);
}

const grown = (box: Slanted, by: number): Slanted => ({
  ...box,
  width: box.width + 2 * by,
  height: box.height + 2 * by,
});

/**
 * The rectangles a piece is made of: itself when it fills one; otherwise what it falls into when its edge is taken away deeper and
 * deeper, each part grown again by as much: what is left of a rectangle is one.
 */
function rectangles(piece: Piece, { width, height }: Glass, least: number): Slanted[] {
  const whole = slantedAround(outline(piece, width));
  if (piece.length >= FULL * whole.width * whole.height) return [whole];
  const mask = new Uint8Array(width * height);
  for (const i of piece) mask[i] = 1;
  const depth = depths(mask, width, height);
  const most = piece.reduce((top, i) => Math.max(top, depth[i]!), 0);
  let best: { boxes: Slanted[]; full: number } = { boxes: [], full: piece.length / (whole.width * whole.height) };
  for (let cut = 9; cut < 0.8 * most; cut += 6) {
    for (const i of piece) mask[i] = depth[i]! > cut ? 1 : 0;
    const parts = pieces(mask, width, Math.max(20, least / 8));
    if (parts.length === 0) break;
    const boxes = parts.map((part) => grown(slantedAround(outline(part, width)), cut / 3));
    const inner = parts.reduce((sum, part, i) => {
      const { width: w, height: h } = grown(boxes[i]!, -cut / 3);
      return sum + Math.min(1, part.length / Math.max(1, w * h));
    }, 0);
    const full = inner / parts.length;
    // Each cut deeper must explain it better: one print with a torn corner does not fall apart.
    if (full > best.full + 0.03 && covers(boxes, piece.length)) best = { boxes, full };
    if (full > 0.97 && parts.length > 1) break;
  }
  return best.boxes.length ? best.boxes : [whole];
}

/** Whether rectangles together are about as large as the piece they were taken from. */
function covers(boxes: readonly Slanted[], pixels: number): boolean {
  const all = boxes.reduce((sum, { width, height }) => sum + width * height, 0);
  return all > 0.8 * pixels && all < 1.25 * pixels;
}

/**
 * The four sides of a print where they really are: along each side of a rectangle it is looked where what lies on the glass ends,
 * and a line is laid through that; what was torn off or lies against it does not turn the line.
 */
function sides({ on, width, height }: Glass, box: Slanted): { corners: Spot[]; off: number; seen: number } | null {
  const corners = cornersOf(box);
  const reach = Math.max(4, 0.05 * Math.min(box.width, box.height));
  const isOn = (x: number, y: number) => {
    const [u, v] = [Math.floor(x), Math.floor(y)];
    return u >= 0 && v >= 0 && u < width && v < height && on[v * width + u] === 1;
  };
  const lines: (Line & { off: number })[] = [];
  let seen = 0;
  for (let side = 0; side < 4; side++) {
    const [[ax, ay], [bx, by]] = [corners[side]!, corners[(side + 1) % 4]!];
    const long = Math.hypot(bx - ax, by - ay);
    // Clockwise: outside is to the left of the way.
    const out: Spot = [(by - ay) / long, -(bx - ax) / long];
    const spots: Spot[] = [];
    let [tried, bare] = [0, 0];
    for (let t = 0.05; t <= 0.95; t += 1 / Math.max(40, long / 2)) {
      const [x, y] = [ax + t * (bx - ax), ay + t * (by - ay)];
      // From within outwards to where the print ends; a scratch inside does not end it.
      let end: number | null = null;
      for (let d = -reach; d <= reach; d += 0.5) {
        const is = isOn(x + d * out[0], y + d * out[1]);
        if (is) end = null;
        else end ??= d;
      }
      tried++;
      if (end === null || end <= -reach) continue;
      const [u, v] = [x + (end + 1.5) * out[0], y + (end + 1.5) * out[1]];
      if (u >= 0 && v >= 0 && u < width && v < height) bare++;
      spots.push([x + (end - 0.25) * out[0], y + (end - 0.25) * out[1]]);
    }
    const edge: Line & { off: number } = { at: [ax, ay], way: [(bx - ax) / long, (by - ay) / long], off: 0 };
    // Where it lies against another one or the edge of the glass, the rectangle says where it ends.
    const line = spots.length >= 12 ? lineAlong(spots) : edge;
    const turned = Math.abs(line.way[0] * edge.way[1] - line.way[1] * edge.way[0]);
    if (turned < 0.12 && bare > 0.6 * tried) seen++;
    lines.push(turned < 0.12 ? line : edge);
  }
  const met = lines.map((line, i) => meeting(lines[(i + 3) % 4]!, line));
  if (!met.every((spot): spot is Spot => spot !== null)) return null;
  return { corners: met, off: Math.max(...lines.map((line, i) => line.off / (i % 2 ? box.height : box.width))), seen };
}

/** Prints as they are read: rows from the top, each from the left. */
function inOrder(prints: readonly Print[]): Print[] {
  const spots = prints.map((print) => {
    const ys = [1, 3, 5, 7].map((i) => print.corners[i]!);
    const xs = [0, 2, 4, 6].map((i) => print.corners[i]!);
    return {
      print,
      x: (Math.min(...xs) + Math.max(...xs)) / 2,
      y: (Math.min(...ys) + Math.max(...ys)) / 2,
      tall: Math.max(...ys) - Math.min(...ys),
    };
  });
  const left = [...spots].sort((a, b) => a.y - b.y);
  const order: Print[] = [];
  while (left.length) {
    const first = left[0]!;
    const row = left.filter((one) => one.y - first.y < 0.45 * Math.min(first.tall, one.tall));
    row.sort((a, b) => a.x - b.x);
    order.push(...row.map((one) => one.print));
    for (const one of row) left.splice(left.indexOf(one), 1);
  }
  return order;
}

/**
 * The prints that lie on the glass of a scan, in the order in which they are read; none for a picture that is not of a glass: whose
 * frame is not of one even colour, or on which nothing with four straight sides lies. Light and dark glass, prints at a slant, with
 * white or deckled borders, and prints that touch each other. Tuned on drawn scans (scan/drawn.testing).
 * @param asked somebody says that prints lie there: then anything that could be one is told.
 */
export function findPrints(image: Pixels, asked = false): Print[] {
  if (!asked && !mayBeGlass(image)) return [];
  const glass = glassOf(smaller(image, LOOKED_AT));
  if (!glass) return [];
  if (!asked && (!glass.plain || glass.bare < 0.4 || glass.rough > 5)) return [];
  const { width, height } = glass;
  const least = LEAST_SHARE * width * height;
  const side = LEAST_SIDE * Math.max(width, height);
  // Dust, hairs and the soft edges of shadows are thinner than any print.
  const whole = opened(glass.on, width, height);
  const prints: Print[] = [];
  for (const piece of pieces(whole, width, least))
    for (const box of rectangles(piece, glass, least)) {
      const [short, long] = [Math.min(box.width, box.height), Math.max(box.width, box.height)];
      if (short < side || long > LONGEST * short || short * long < least) continue;
      const found = sides(glass, box);
      if (!found || found.off > (asked ? 0.02 : 0.012)) continue;
      // Bare glass is seen along most sides of it: a horizon has one.
      if (!asked && (found.seen < SEEN || !isUpright(found.corners))) continue;
      const held = (v: number) => Math.min(1, Math.max(0, v));
      const corners = found.corners.flatMap(([x, y]) => [held(x / width), held(y / height)]) as unknown as Corners;
      prints.push({ corners, share: (short * long) / (width * height) });
    }
  if (prints.length > MOST) return [];
  // Whatever else lies there, it is less than the prints: otherwise it is something else that is seen against one colour.
  if (!asked && besides(whole, width, height, prints) > BESIDES) return [];
  return inOrder(prints);
}

/** How much of what lies on the glass may belong to no print, as a share of what lies there. */
const BESIDES = 0.12;

/** What lies on the glass and on no print that was found, as a share of all that lies there. */
function besides(on: Uint8Array, width: number, height: number, prints: readonly Print[]): number {
  let [all, off] = [0, 0];
  const quads = prints.map(({ corners }) =>
    [0, 1, 2, 3].map((i) => [corners[2 * i]! * width, corners[2 * i + 1]! * height]),
  );
  for (let y = 0; y < height; y += 2)
    for (let x = 0; x < width; x += 2) {
      if (!on[y * width + x]) continue;
      all++;
      const inside = quads.some((quad) =>
        quad.every(([ax, ay], i) => {
          const [bx, by] = quad[(i + 1) % 4]!;
          return (bx! - ax!) * (y - ay!) - (by! - ay!) * (x - ax!) > -4 * Math.hypot(bx! - ax!, by! - ay!);
        }),
      );
      if (!inside) off++;
    }
  return all ? off / all : 0;
}

/** Whether four corners are those of a rectangle: prints lie flat. */
function isUpright(corners: readonly Spot[]): boolean {
  return corners.every(([x, y], i) => {
    const [ax, ay] = corners[(i + 3) % 4]!;
    const [bx, by] = corners[(i + 1) % 4]!;
    const [ux, uy, vx, vy] = [ax - x, ay - y, bx - x, by - y];
    return Math.abs(ux * vx + uy * vy) < SQUARE * Math.hypot(ux, uy) * Math.hypot(vx, vy);
  });
}

/** What is left of a mask without what is thinner than six pixels: its core, grown back within the mask by as much as it lost. */
function opened(on: Uint8Array, width: number, height: number): Uint8Array {
  const depth = depths(on, width, height);
  const off = new Uint8Array(on.length);
  for (let i = 0; i < on.length; i++) off[i] = depth[i]! > 9 ? 0 : 1;
  const away = depths(off, width, height, FAR);
  const out = new Uint8Array(on.length);
  for (let i = 0; i < on.length; i++) out[i] = on[i] && away[i]! <= 12 ? 1 : 0;
  return out;
}

/** A print's corners when it is to be read the other way: its list of corners begins so many quarters further on. */
export function readFrom(corners: Corners, quarters: number): Corners {
  const q = ((quarters % 4) + 4) % 4;
  return [...corners.slice(2 * q), ...corners.slice(0, 2 * q)] as unknown as Corners;
}
