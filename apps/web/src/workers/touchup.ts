/// <reference lib="webworker" />
import {
  automatic,
  type Corners,
  findPrints,
  guessLevel,
  type Pixels,
  type Recipe,
  smaller,
  tiredPrint,
  toGrey,
  type Tones,
  touched,
} from '@gemmel/core';

/** What the page asks: take these pixels (RGBA, as a canvas gives them), show them by a recipe, or say what the picture asks for itself. */
export type TouchAsk =
  | { load: { width: number; height: number; data: Uint8ClampedArray } }
  /** `quick`: from fewer pixels, while a dial is moved. */
  | { show: Recipe; quick: boolean; seq: number }
  | { guess: 'automatic' | 'tired' | 'level'; seq: number }
  /** Where the largest print lies in a picture, after it was turned and mirrored. */
  | { guess: 'corners'; after: Recipe; seq: number };

/** What comes back: pixels for a canvas, or a guess. */
export type TouchAnswer =
  | { shown: { width: number; height: number; data: Uint8ClampedArray<ArrayBuffer> }; quick: boolean; seq: number }
  | { tones: [Tones, Tones, Tones]; seq: number }
  | { level: number; seq: number }
  | { corners: Corners | null; seq: number };

const scope = self as unknown as DedicatedWorkerGlobalScope;
/** The long side of what is shown while a dial is moved, in pixels. */
const QUICK = 640;
let image: Pixels | null = null;
let few: Pixels | null = null;

function load({ width, height, data }: { width: number; height: number; data: Uint8ClampedArray }): void {
  const rgb = new Uint8Array(width * height * 3);
  for (let i = 0, p = 0, q = 0; i < width * height; i++, p += 4, q += 3) {
    rgb[q] = data[p]!;
    rgb[q + 1] = data[p + 1]!;
    rgb[q + 2] = data[p + 2]!;
  }
  image = { width, height, data: rgb };
  few = smaller(image, QUICK);
}

function canvasOf({ width, height, data }: Pixels): Uint8ClampedArray<ArrayBuffer> {
  const rgba = new Uint8ClampedArray(width * height * 4);
  for (let i = 0, p = 0, q = 0; i < width * height; i++, p += 4, q += 3) {
    rgba[p] = data[q]!;
    rgba[p + 1] = data[q + 1]!;
    rgba[p + 2] = data[q + 2]!;
    rgba[p + 3] = 255;
  }
  return rgba;
}

scope.onmessage = ({ data }: MessageEvent<TouchAsk>) => {
  if ('load' in data) load(data.load);
  else if (!image) return;
  else if ('show' in data) {
    const shown = touched(data.quick ? few! : image, data.show);
    const pixels = canvasOf(shown);
    const answer: TouchAnswer = {
      shown: { width: shown.width, height: shown.height, data: pixels },
      quick: data.quick,
      seq: data.seq,
    };
    scope.postMessage(answer, [pixels.buffer]);
  } else if (data.guess === 'corners') {
    const prints = findPrints(touched(image, data.after), true).sort((a, b) => b.share - a.share);
    scope.postMessage({ corners: prints[0]?.corners ?? null, seq: data.seq } satisfies TouchAnswer);
  } else {
    const { guess, seq } = data;
    const answer: TouchAnswer =
      guess === 'level'
        ? { level: guessLevel(toGrey(image.data, image.width, image.height)), seq }
        : { tones: guess === 'automatic' ? automatic(image) : tiredPrint(image), seq };
    scope.postMessage(answer);
  }
};
