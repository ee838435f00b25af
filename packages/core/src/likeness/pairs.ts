import { ones } from './alike';

/** A picture as it is held against others: to tell doubles and runs. */
export interface ShotFacts {
  id: number;
  /** Its perceptual hash in halves. */
  high: number;
  low: number;
  width: number;
  height: number;
  format: string;
  /** Its name without its ending, as it came. */
  stem: string;
  /** Who took it: a number for each device; null where that is not known. */
  device: number | null;
  /** When it was taken by the wall clock, in ms; null unless it is known to the second. */
  at: number | null;
  /** Where, in degrees. */
  lat: number | null;
  lon: number | null;
  /** Its mean colour: red, green, blue, 0 to 1. */
  colour: readonly [number, number, number];
  /** Who is in it: a person by their number, somebody without a name by the number of their group of faces, made negative. */
  people: readonly number[];
}

/** Bits of a perceptual hash whose cosines change their sign when the picture is mirrored: those of odd horizontal frequency. */
const ODD = 0x55555555;

/** A mirrored copy differs in this many bits at most from the hash that is expected of it: over 200 pictures half in 4, 96 in 100 in 10; strangers in 14 and more. */
export const MIRROR_BITS = 10;

/** The hash a picture would have if it were mirrored, but for a few bits whose cosines are near the median: see `perceptualHash`. */
export const mirroredHash = ({ high, low }: Pick<ShotFacts, 'high' | 'low'>) => ({
  high: (high ^ ODD) >>> 0,
  low: (low ^ ODD) >>> 0,
});

/** In how many of 64 bits two pictures differ. */
export const bitsApart = (a: Pick<ShotFacts, 'high' | 'low'>, b: Pick<ShotFacts, 'high' | 'low'>): number =>
  ones(a.high ^ b.high) + ones(a.low ^ b.low);

/** How like the shapes of two pictures are: 1 for the same, whichever way up. */
function shapes(a: ShotFacts, b: ShotFacts): number {
  const [p, q] = [a.width / a.height, b.width / b.height];
  return Math.min(p / q, q / p);
}

/** Whether two mean colours are as near as those of two copies; what has hardly any colour is near to everything. */
function coloursFit(a: ShotFacts, b: ShotFacts): boolean {
  const grey = ([r, g, b2]: ShotFacts['colour']) => Math.max(r, g, b2) - Math.min(r, g, b2) < 0.04;
  if (grey(a.colour) || grey(b.colour)) return true;
  return a.colour.every((value, i) => Math.abs(value - b.colour[i]!) < 0.14);
}

/** Copies that were saved again by a program that took the clock for another zone are whole quarters of an hour apart. */
const QUARTER = 15 * 60_000;
const isZoneApart = (ms: number): boolean => {
  const rest = ms % QUARTER;
  return ms > 2000 && ms <= 14 * 4 * QUARTER && Math.min(rest, QUARTER - rest) <= 1500;
};

/** The running number at the end of a camera's name for a file. */
const numberOf = (stem: string): string | null => stem.match(/(\d{3,})\D*$/)?.[1] ?? null;

/**
 * How surely two pictures are one and the same, saved again: smaller, from a messenger, edited elsewhere, a scan the wrong way round.
 * Shots of one moment are not: their times or numbers differ. @returns how many bits they differ in, or null when they are not.
 */
export function doubleDistance(a: ShotFacts, b: ShotFacts): number | null {
  const straight = bitsApart(a, b);
  const timed = a.at !== null && b.at !== null;
  const ms = timed ? Math.abs(a.at! - b.at!) : 0;
  const shape = shapes(a, b);
  if (timed && ms > 2000) {
    // Two moments, unless a program read the same clock in another zone.
    return straight <= 2 && shape > 0.985 && isZoneApart(ms) && coloursFit(a, b) ? straight : null;
  }
  if (timed) {
    if (a.device !== null && b.device !== null && a.device !== b.device) return null;
    const [m, n] = [numberOf(a.stem), numberOf(b.stem)];
    const another = m !== null && n !== null && m !== n;
    const sameSize = a.width === b.width && a.height === b.height && a.format === b.format;
    // Two of a second by one camera that are as large as each other are two shots.
    if (another && (sameSize || ms > 0)) return null;
    // Cut or made lighter elsewhere: the second and the camera say that it is the same one.
    if (!another && straight <= 20) return straight;
    return straight <= 8 && shape > 0.97 ? straight : null;
  }
  if (straight <= 5 && shape > 0.97 && coloursFit(a, b)) return straight;
  const turned = bitsApart(mirroredHash(a), b);
  return turned <= MIRROR_BITS && turned < straight && shape > 0.985 && coloursFit(a, b) ? turned : null;
}

/** Metres of one degree of latitude. */
const DEGREE = 111_195;

/** Whether both say where they were taken, and that is not the same place. */
function elsewhere(a: ShotFacts, b: ShotFacts): boolean {
  if (a.lat === null || a.lon === null || b.lat === null || b.lon === null) return false;
  const x = (a.lon - b.lon) * Math.cos((a.lat * Math.PI) / 180);
  return Math.hypot(x, a.lat - b.lat) * DEGREE > 300;
}

/** Two faces of which one has no name yet may well be one person's. */
const MAYBE = 0.7;

/** How many of the people in either are in both, 0 to 1; null where nobody is known in one of them. */
function company(a: ShotFacts, b: ShotFacts): number | null {
  if (a.people.length === 0 || b.people.length === 0) return null;
  const [here, there] = [new Set(a.people), new Set(b.people)];
  const both = [...here].filter((one) => there.has(one)).length;
  const left = (mine: ReadonlySet<number>, theirs: ReadonlySet<number>) => [...mine].filter((one) => !theirs.has(one));
  const [onlyA, onlyB] = [left(here, there), left(there, here)];
  const nameless = (some: readonly number[]) => some.filter((one) => one < 0).length;
  // Named ones are told apart for sure; one without a name may be anybody.
  const named =
    Math.min(onlyA.length - nameless(onlyA), nameless(onlyB)) +
    Math.min(onlyB.length - nameless(onlyB), nameless(onlyA));
  const maybe = Math.min(named + Math.min(nameless(onlyA), nameless(onlyB)), onlyA.length, onlyB.length);
  return (both + MAYBE * maybe) / (both + onlyA.length + onlyB.length - maybe);
}

/** Shots of one moment are at most this far apart, in ms. */
export const MOMENT = 20_000;

/**
 * Whether two shots are of the same moment: seconds apart and alike, or by two devices with the same people before them. The longer
 * between them, the more alike they must be.
 */
export function sameMoment(a: ShotFacts, b: ShotFacts): boolean {
  if (a.at === null || b.at === null || elsewhere(a, b)) return false;
  const seconds = Math.abs(a.at - b.at) / 1000;
  if (seconds * 1000 > MOMENT) return false;
  const bits = bitsApart(a, b);
  const with_ = company(a, b);
  if (a.device !== null && a.device === b.device) {
    if (with_ !== null && with_ < 0.34 && bits > 8) return false;
    return bits <= (seconds <= 2 ? 20 : seconds <= 8 ? 16 : 10) || (with_ === 1 && seconds <= 6 && bits <= 20);
  }
  if (with_ === null) return bits <= (seconds <= 8 ? 16 : 12);
  if (with_ >= 0.8 && seconds <= 10) return bits <= 30;
  return with_ >= 0.5 && bits <= 22;
}
