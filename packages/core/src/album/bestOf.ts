import { ones } from '../likeness/alike';

/** What speaks against a picture: it was noticed by the machine. */
export type Flaw = 'blurred' | 'dark' | 'bright' | 'screenshot' | 'shut eyes';

/** A picture that may be among the best. */
export interface Eligible {
  id: number;
  /** When it was taken by the wall clock, in ms; null when that is not known. */
  at: number | null;
  /** Whether `at` is known to the second; else it is only near in days. */
  exact: boolean;
  rating: number;
  favourite: boolean;
  /** The run of shots it belongs to, and whether it is shown or was chosen for it. */
  run: number | null;
  runBest: boolean;
  /** The fuller picture it is a double of. */
  alike: number | null;
  /** Its perceptual hash in halves; null where there is none. */
  hash: readonly [high: number, low: number] | null;
  /** The variance of its Laplacian; null where it was not measured. */
  sharp: number | null;
  pixels: number;
  /** Who is in it. */
  people: readonly number[];
  /** The mean quality of its faces, from 0 to 1; null without faces. */
  faces: number | null;
  /** Anything that names where it was taken. */
  place: string | null;
  flaws: readonly Flaw[];
  /** In how many albums somebody put it. */
  albums: number;
}

/** How a selection is made. */
export interface BestWish {
  /** How many pictures at most. */
  n: number;
  /** From 0, nothing but the best, to 1, something of everything. */
  spread: number;
  /** From 0, places and views, to 1, people; 0.5 is both. */
  people: number;
}

/** What speaks for a picture. `who` is a person whom it shows; `n` counts stars or albums. */
export type BestReason =
  | { why: 'stars'; n: number }
  | { why: 'heart' | 'run' | 'sharp' | 'faces' | 'day' | 'month' | 'place' }
  | { why: 'album'; n: number }
  | { why: 'person'; who: number };

/** A picture that was chosen, and what speaks for it, the strongest first. */
export interface BestOf {
  id: number;
  reasons: readonly BestReason[];
}

/** Two pictures of one moment: exactly timed ones nearer than this, in ms, unless they look quite different. */
const MOMENT = 20_000;
/** Below so many of 64 bits two pictures look alike; of one hour, so many more. */
const ALIKE = 8;
const ALIKE_SOON = 14;
const HOUR = 3_600_000;
/** Pictures of one moment that look so different are two pictures. */
const DIFFERENT = 22;
/** How many reasons are said of one picture. */
const SAID = 2;

const FLAWS: Record<Flaw, number> = { blurred: 0.45, dark: 0.25, bright: 0.25, screenshot: 0.6, 'shut eyes': 0.15 };

/** The share of pictures less sharp than each, from 0 to 1; one half for those that were not measured. */
function sharpRanks(pictures: readonly Eligible[]): Float64Array {
  const measured = Float64Array.from(
    pictures.flatMap(({ sharp }) => (sharp === null ? [] : [sharp])),
    (v) => v,
  ).sort();
  return Float64Array.from(pictures, ({ sharp }) => {
    if (sharp === null || measured.length < 2) return 0.5;
    let low = 0;
    let high = measured.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (measured[middle]! < sharp) low = middle + 1;
      else high = middle;
    }
    return low / (measured.length - 1);
  });
}

/**
 * How good a picture is by itself, from about -1 to 2: what people said of it counts most, then what the machine sees. `sharp` is the
 * share of the others that are less sharp.
 */
export function goodness(picture: Eligible, sharp: number): number {
  const { rating, favourite, runBest, run, faces, pixels, flaws, albums } = picture;
  // One star is a word against it; none at all says nothing.
  let good = rating === 0 ? 0.3 : [0, -0.1, 0.25, 0.55, 0.85, 1.1][rating]!;
  if (favourite) good += 0.45;
  if (run !== null) good += runBest ? 0.1 : -0.15;
  if (faces !== null) good += 0.25 * faces;
  good += 0.12 * (sharp - 0.5);
  good += Math.min(2, albums) * 0.12;
  if (pixels < 500_000) good -= 0.15;
  for (const flaw of flaws) good -= FLAWS[flaw];
  return good;
}

/** Whether two pictures show nearly the same, so that one of them is enough. */
export function isSame(a: Eligible, b: Eligible): boolean {
  if (a.run !== null && a.run === b.run) return true;
  if ((a.alike ?? a.id) === (b.alike ?? b.id)) return true;
  const apart = a.hash && b.hash ? ones(a.hash[0] ^ b.hash[0]) + ones(a.hash[1] ^ b.hash[1]) : null;
  const timed = a.exact && b.exact && a.at !== null && b.at !== null;
  const between = timed ? Math.abs(a.at! - b.at!) : null;
  if (apart === null) return between !== null && between < MOMENT;
  if (apart <= ALIKE) return true;
  if (between === null) return false;
  return (between < MOMENT && apart < DIFFERENT) || (between < HOUR && apart <= ALIKE_SOON);
}

const DAY = 86_400_000;

/** The spans of time a picture lies in, from the widest; what has no time lies in none. */
function spansOf({ at, exact }: Eligible): string[] {
  if (at === null) return [];
  const date = new Date(at);
  const day = Math.floor(at / DAY);
  return [
    `m${date.getUTCFullYear()}-${date.getUTCMonth()}`,
    `d${day}`,
    ...(exact ? [`h${day}-${Math.floor(date.getUTCHours() / 3)}`] : []),
  ];
}

/** How much a month, a day and some hours of it count: another day rather than another hour of the same. */
const OF_SPAN: Readonly<Record<string, number>> = { m: 0.35, d: 0.45, h: 0.2 };

/** What a selection has of everything so far. */
class Coverage {
  private readonly spans = new Map<string, number>();
  private readonly people = new Map<number, number>();
  private readonly places = new Map<string, number>();

  constructor(
    private readonly wish: BestWish,
    /** How many months, days and so on there are at all, by the letter they begin with: where there is but one, it tells nothing. */
    private readonly kinds: ReadonlyMap<string, number>,
  ) {}

  /** What a picture would add: the less there is of its time, its people and its place, the more. Never grows as more are chosen. */
  adds(picture: Eligible, spans: readonly string[]): number {
    let time = 0;
    let of = 0;
    for (const span of spans) {
      if ((this.kinds.get(span[0]!) ?? 0) < 2) continue;
      const weight = OF_SPAN[span[0]!]!;
      time += weight / (1 + (this.spans.get(span) ?? 0));
      of += weight;
    }
    const persons = picture.people.map((who) => 1 / (1 + (this.people.get(who) ?? 0)));
    // Many people at once add more than one of them, but not as many times.
    const people = persons.length
      ? 0.6 * Math.max(...persons) + 0.4 * (persons.reduce((sum, v) => sum + v, 0) / persons.length)
      : 0;
    const place = picture.place === null ? 0 : 1 / (1 + (this.places.get(picture.place) ?? 0));
    const { spread, people: lean } = this.wish;
    return (
      spread * (1.1 * (of ? time / of : 0) + 0.8 * lean * people + 0.8 * (1 - lean) * place) +
      // Who wishes for people gets pictures with people, and the other way round, however they are spread.
      0.5 * (lean - 0.5) * (picture.people.length || picture.faces !== null ? 1 : -1)
    );
  }

  take(picture: Eligible, spans: readonly string[]): void {
    for (const span of spans) this.spans.set(span, this.of(span) + 1);
    for (const who of picture.people) this.people.set(who, (this.people.get(who) ?? 0) + 1);
    if (picture.place !== null) this.places.set(picture.place, (this.places.get(picture.place) ?? 0) + 1);
  }

  of = (span: string): number => this.spans.get(span) ?? 0;
  ofPerson = (who: number): number => this.people.get(who) ?? 0;
  ofPlace = (place: string): number => this.places.get(place) ?? 0;
  several = (kind: string): boolean => (this.kinds.get(kind) ?? 0) > 1;
}

/** What speaks for a picture as it is chosen, the strongest first. */
function reasonsFor(picture: Eligible, spans: readonly string[], sharp: number, has: Coverage): BestReason[] {
  const found: BestReason[] = [];
  if (picture.rating >= 3) found.push({ why: 'stars', n: picture.rating });
  if (picture.favourite) found.push({ why: 'heart' });
  const fresh = picture.people.find((who) => has.ofPerson(who) === 0);
  if (fresh !== undefined) found.push({ why: 'person', who: fresh });
  const first = (kind: string) =>
    has.several(kind) && spans.some((span) => span.startsWith(kind) && has.of(span) === 0);
  if (first('m')) found.push({ why: 'month' });
  else if (first('d')) found.push({ why: 'day' });
  if (picture.place !== null && has.ofPlace(picture.place) === 0) found.push({ why: 'place' });
  if (picture.albums) found.push({ why: 'album', n: picture.albums });
  if (picture.run !== null && picture.runBest) found.push({ why: 'run' });
  if ((picture.faces ?? 0) >= 0.5) found.push({ why: 'faces' });
  if (sharp >= 0.75 || found.length === 0) found.push({ why: 'sharp' });
  return found.slice(0, SAID);
}

/**
 * Proposes the best of some pictures: good ones, spread over time, people and places, and never two that show nearly the same. Each next one
 * is whichever adds most to those chosen (greedy maximisation of a submodular measure, Nemhauser, Wolsey and Fisher, 1978; with lazy
 * evaluation, Minoux, 1978), so the best 20 begin with the best 10. Time grows with the number of pictures and with that of those chosen
 * times those looked at. The same pictures in another order give the same answer.
 */
export function bestOf(pictures: readonly Eligible[], wish: BestWish): BestOf[] {
  const all = [...pictures].sort((a, b) => a.id - b.id);
  const sharp = sharpRanks(all);
  const spans = all.map(spansOf);
  const kinds = new Map<string, number>();
  for (const span of new Set(spans.flat())) kinds.set(span[0]!, (kinds.get(span[0]!) ?? 0) + 1);
  const coverage = new Coverage(wish, kinds);
  // The more it is to be of everything, the less the best of one moment stands before the good of another.
  const weight = 1.3 - 0.7 * wish.spread;
  const good = all.map((picture, i) => weight * goodness(picture, sharp[i]!));
  const gain = Float64Array.from(all, (picture, i) => good[i]! + coverage.adds(picture, spans[i]!));
  const heap = new Heap(gain);
  const chosen: number[] = [];
  const answer: BestOf[] = [];
  for (let i = heap.pop(); i >= 0 && answer.length < wish.n; i = heap.pop()) {
    const picture = all[i]!;
    if (chosen.some((j) => isSame(all[j]!, picture))) continue;
    const now = good[i]! + coverage.adds(picture, spans[i]!);
    // What it was worth may be less by now: it stands in line once more.
    if (now < gain[i]! - 1e-12) {
      gain[i] = now;
      heap.push(i);
      continue;
    }
    answer.push({ id: picture.id, reasons: reasonsFor(picture, spans[i]!, sharp[i]!, coverage) });
    coverage.take(picture, spans[i]!);
    chosen.push(i);
  }
  return answer;
}

/** Indexes by their worth, the greatest first, the smaller index first of equal ones: a binary heap. */
class Heap {
  private readonly items: number[];

  constructor(private readonly worth: Float64Array) {
    this.items = Array.from(worth.keys()).sort((a, b) => (this.before(a, b) ? -1 : 1));
  }

  push(item: number): void {
    let at = this.items.push(item) - 1;
    while (at > 0) {
      const up = (at - 1) >> 1;
      if (!this.before(item, this.items[up]!)) break;
      this.items[at] = this.items[up]!;
      at = up;
    }
    this.items[at] = item;
  }

  /** The greatest; -1 when nothing is left. */
  pop(): number {
    const top = this.items[0];
    if (top === undefined) return -1;
    const last = this.items.pop()!;
    if (this.items.length === 0) return top;
    let at = 0;
    for (;;) {
      let child = 2 * at + 1;
      if (child >= this.items.length) break;
      if (child + 1 < this.items.length && this.before(this.items[child + 1]!, this.items[child]!)) child++;
      if (this.before(last, this.items[child]!)) break;
      this.items[at] = this.items[child]!;
      at = child;
    }
    this.items[at] = last;
    return top;
  }

  private before(a: number, b: number): boolean {
    return this.worth[a]! > this.worth[b]! || (this.worth[a]! === this.worth[b]! && a < b);
  }
}
