import type { Corners, Recipe, Tones } from '@gemmel/core';
import { useCallback, useEffect, useRef, useState, type RefObject } from 'react';
import { largeOf } from '@/api/client';
import type { TouchAnswer, TouchAsk } from '@/workers/touchup';

/** The long side of what is worked on, in pixels: the very pixels the server makes its large size from, so that both give the same. */
const LONG = 1600;

/** How long a dial rests, in ms, before all pixels are reckoned. */
const REST = 140;

/** The pixels of one of a picture's sizes, no longer than so many. */
async function pixelsOf(sha: string, long: number): Promise<ImageData> {
  const image = new Image();
  image.src = largeOf(sha);
  await image.decode();
  const k = Math.min(1, long / Math.max(image.naturalWidth, image.naturalHeight));
  const canvas = document.createElement('canvas');
  canvas.width = Math.max(1, Math.round(image.naturalWidth * k));
  canvas.height = Math.max(1, Math.round(image.naturalHeight * k));
  const context = canvas.getContext('2d', { willReadFrequently: true })!;
  context.drawImage(image, 0, 0, canvas.width, canvas.height);
  return context.getImageData(0, 0, canvas.width, canvas.height);
}

/**
 * Shows a picture by a recipe on a canvas, reckoned in a worker of its own; while one recipe is reckoned, only the latest that was asked
 * for meanwhile waits. `guess` answers with what the picture itself asks for.
 */
export function useTouched(
  sha: string | undefined,
  recipe: Recipe | null,
  canvas: RefObject<HTMLCanvasElement | null>,
  long = LONG,
): {
  size: { width: number; height: number } | null;
  failed: boolean;
  guess: (what: 'automatic' | 'tired' | 'level') => Promise<{ tones: [Tones, Tones, Tones] } | { level: number }>;
  /** Where the largest print lies in the picture once it is turned and mirrored; null where none is made out. */
  corners: (after: Recipe) => Promise<Corners | null>;
} {
  const worker = useRef<Worker | null>(null);
  const [ready, setReady] = useState(false);
  const [failed, setFailed] = useState(false);
  const [size, setSize] = useState<{ width: number; height: number } | null>(null);
  const seq = useRef(0);
  const busy = useRef(false);
  const wanted = useRef<Recipe | null>(null);
  const last = useRef<Recipe | null>(null);
  const settling = useRef<ReturnType<typeof setTimeout>>(undefined);
  const guesses = useRef(new Map<number, (answer: never) => void>());
  const next = useCallback(() => {
    if (busy.current || !wanted.current || !worker.current) return;
    busy.current = true;
    clearTimeout(settling.current);
    last.current = wanted.current;
    const ask: TouchAsk = { show: wanted.current, quick: true, seq: ++seq.current };
    wanted.current = null;
    worker.current.postMessage(ask);
  }, []);
  /** All the pixels, once the dial rests. */
  const settle = useCallback(() => {
    if (busy.current || !last.current || !worker.current) return;
    busy.current = true;
    worker.current.postMessage({ show: last.current, quick: false, seq: ++seq.current } satisfies TouchAsk);
  }, []);
  useEffect(() => {
    if (!sha) return;
    let gone = false;
    const made = new Worker('/workers/touchup.js');
    made.onmessage = ({ data }: MessageEvent<TouchAnswer>) => {
      if ('shown' in data) {
        busy.current = false;
        const { width, height, data: pixels } = data.shown;
        const to = canvas.current;
        if (to) {
          to.width = width;
          to.height = height;
          to.getContext('2d')!.putImageData(new ImageData(pixels, width, height), 0, 0);
        }
        // From fewer pixels it is a hair wider or narrower.
        setSize((now) =>
          now && Math.abs(Math.log((now.width * height) / (now.height * width))) < 0.006 ? now : { width, height },
        );
        if (wanted.current) next();
        else if (data.quick) settling.current = setTimeout(settle, REST);
      } else {
        guesses.current.get(data.seq)?.(data as never);
        guesses.current.delete(data.seq);
      }
    };
    worker.current = made;
    pixelsOf(sha, long).then(
      ({ width, height, data }) => {
        if (gone) return;
        made.postMessage({ load: { width, height, data } } satisfies TouchAsk, [data.buffer]);
        setReady(true);
      },
      () => setFailed(true),
    );
    return () => {
      gone = true;
      clearTimeout(settling.current);
      worker.current = null;
      busy.current = false;
      setReady(false);
      made.terminate();
    };
  }, [sha, long, canvas, next, settle]);
  useEffect(() => {
    if (!ready || !recipe) return;
    wanted.current = recipe;
    next();
  }, [ready, recipe, next]);
  const guess = useCallback(
    (what: 'automatic' | 'tired' | 'level') =>
      new Promise<never>((done) => {
        guesses.current.set(++seq.current, done);
        worker.current?.postMessage({ guess: what, seq: seq.current } satisfies TouchAsk);
      }),
    [],
  );
  const corners = useCallback(async (after: Recipe) => {
    const answer = await new Promise<{ corners: Corners | null }>((done) => {
      guesses.current.set(++seq.current, done as never);
      worker.current?.postMessage({ guess: 'corners', after, seq: seq.current } satisfies TouchAsk);
    });
    return answer.corners;
  }, []);
  return { size, failed, guess, corners };
}
