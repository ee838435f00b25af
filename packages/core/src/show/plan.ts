import { z } from 'zod';

/** How a show is played. Kept with saved shows. */
export const ShowSettings = z.strictObject({
  /** As the pictures stand, by time from the oldest, or shuffled. */
  order: z.enum(['given', 'time', 'shuffled']),
  /** How long each picture stays, in seconds; null: as long as the music lasts, shared out. */
  seconds: z.number().min(1).max(120).nullable(),
  /** What is written under pictures. */
  tells: z.strictObject({ caption: z.boolean(), date: z.boolean(), place: z.boolean(), names: z.boolean() }),
  /** Still, or gently moved and enlarged. */
  movement: z.enum(['still', 'gentle']),
  /** Whether two upright pictures stand side by side on a wide screen, two wide ones above each other on an upright one. */
  pairs: z.boolean(),
  /** Whether it begins and ends with a card, and chapters have one. */
  cards: z.boolean(),
  /** Pieces of music by their numbers, in order. */
  music: z.array(z.number().int().positive()).max(50),
  /** Whether it begins again when it has ended. */
  again: z.boolean(),
});
export type ShowSettings = z.infer<typeof ShowSettings>;

/** How a show is played when nobody has said otherwise. */
export const PLAIN_SHOW: ShowSettings = {
  order: 'given',
  seconds: 5,
  tells: { caption: true, date: true, place: false, names: false },
  movement: 'gentle',
  pairs: true,
  cards: true,
  music: [],
  again: false,
};

/** A picture as a show goes by it. */
export interface ShowPicture {
  id: number;
  /** Width / height as it is shown. */
  ratio: number;
  /** How long a clip is, in seconds; null for photographs. */
  seconds: number | null;
  /** When it was taken, as text that sorts; null when nobody knows. */
  taken: string | null;
}

/** What fills the screen for a while: a picture, two side by side or above each other, or a card. */
export type Slide =
  | { kind: 'picture'; ids: readonly [number] | readonly [number, number]; seconds: number }
  | { kind: 'card'; card: 'begin' | 'end'; seconds: number }
  | { kind: 'card'; card: 'chapter'; chapter: number; seconds: number };

/** How long cards stay, in seconds. */
const CARD = 4;
/** Pictures stay at least so long and at most so long where music shares them out, in seconds. */
const SHARED = { least: 1.5, most: 30 } as const;
/** Shapes by which pictures are upright or wide enough to be paired; and screens that are wide or upright enough for two. */
const UPRIGHT = 0.9;
const WIDE = 1.15;
const SCREEN = 1.2;

/** Numbers from 0 up to 1 that always begin the same for one seed (mulberry32). */
export function steadily(seed: number): () => number {
  let at = seed | 0;
  return () => {
    at = (at + 0x6d2b79f5) | 0;
    let t = Math.imul(at ^ (at >>> 15), 1 | at);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** A list in another order, each as likely (Fisher and Yates), always the same for one seed. */
export function shuffled<T>(list: readonly T[], seed: number): T[] {
  const next = steadily(seed);
  const out = [...list];
  for (let i = out.length - 1; i > 0; i--) {
    const j = Math.floor(next() * (i + 1));
    [out[i], out[j]] = [out[j]!, out[i]!];
  }
  return out;
}

/** What a show is made of besides its settings. */
export interface ShowOf {
  pictures: readonly ShowPicture[];
  /** Chapters of an album: how many pictures stand before each. They belong to the order given. */
  chapters?: readonly { id: number; at: number }[];
  /** How wide the screen is for its height. */
  screen: number;
  /** How long all of the music lasts, in seconds; 0 without. */
  music: number;
  /** What the order is shuffled by. */
  seed: number;
}

/** Whether two pictures stand on one screen: both upright beside each other, or both wide above each other. Clips stand alone. */
function fit(a: ShowPicture, b: ShowPicture, screen: number): boolean {
  if (a.seconds !== null || b.seconds !== null) return false;
  if (screen >= SCREEN) return a.ratio <= UPRIGHT && b.ratio <= UPRIGHT;
  if (screen <= 1 / SCREEN) return a.ratio >= WIDE && b.ratio >= WIDE;
  return false;
}

/** By time, what has none last. */
function byTime(a: ShowPicture, b: ShowPicture): number {
  if (a.taken !== b.taken) return a.taken === null || (b.taken !== null && a.taken > b.taken) ? 1 : -1;
  return a.id - b.id;
}

/**
 * A show slide by slide: every picture once, in the order wished, neighbours paired where the screen has room, cards where they belong. Where the
 * music's length is shared out, clips keep their own length and photographs share the rest; so the last picture ends with the last note.
 */
export function planShow(of: ShowOf, settings: ShowSettings): Slide[] {
  const { pictures, screen, music, seed } = of;
  const order =
    settings.order === 'shuffled'
      ? shuffled(pictures, seed)
      : settings.order === 'time'
        ? [...pictures].sort(byTime)
        : [...pictures];
  const chapters = settings.order === 'given' && settings.cards ? [...(of.chapters ?? [])] : [];
  const slides: Slide[] = [];
  if (settings.cards && order.length) slides.push({ kind: 'card', card: 'begin', seconds: CARD });
  let next = 0;
  for (let i = 0; i < order.length; i++) {
    for (; next < chapters.length && chapters[next]!.at <= i; next++)
      slides.push({ kind: 'card', card: 'chapter', chapter: chapters[next]!.id, seconds: CARD });
    const one = order[i]!;
    const two = order[i + 1];
    const parted = chapters[next] !== undefined && chapters[next]!.at <= i + 1;
    if (settings.pairs && two && !parted && fit(one, two, screen)) {
      slides.push({ kind: 'picture', ids: [one.id, two.id], seconds: 0 });
      i++;
    } else slides.push({ kind: 'picture', ids: [one.id], seconds: one.seconds ?? 0 });
  }
  if (settings.cards && order.length) slides.push({ kind: 'card', card: 'end', seconds: CARD });
  const still = slides.filter((slide) => slide.kind === 'picture' && slide.seconds === 0).length;
  const taken = slides.reduce((sum, slide) => sum + slide.seconds, 0);
  const each =
    settings.seconds ??
    (music > 0 && still ? Math.min(SHARED.most, Math.max(SHARED.least, (music - taken) / still)) : 5);
  return slides.map((slide) => (slide.kind === 'picture' && slide.seconds === 0 ? { ...slide, seconds: each } : slide));
}

/** How long a show lasts, in seconds. */
export const lengthOf = (slides: readonly Slide[]): number => slides.reduce((sum, slide) => sum + slide.seconds, 0);
