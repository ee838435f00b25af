import { useEffect, useRef } from 'react';

/** How loud music is beside a clip that speaks, and how long it takes to become louder or softer, in ms. */
const BESIDE = 0.15;
const FADE = 900;

/** Has something go from what it is to what it is to be, smoothly. */
function fade(audio: HTMLAudioElement, to: number, then?: () => void): () => void {
  const from = audio.volume;
  const began = performance.now();
  let frame = 0;
  const step = () => {
    const share = Math.min(1, (performance.now() - began) / FADE);
    audio.volume = Math.max(0, Math.min(1, from + (to - from) * share));
    if (share < 1) frame = requestAnimationFrame(step);
    else then?.();
  };
  step();
  return () => cancelAnimationFrame(frame);
}

/**
 * Plays pieces of music one after another, and from the first again, as long as a show goes on: softer while a clip speaks, fading in, and out
 * when it ends.
 */
export function useMusic(
  pieces: readonly number[],
  playing: boolean,
  soft: boolean,
  ended: boolean,
  where: (id: number) => string,
): void {
  const audio = useRef<HTMLAudioElement | null>(null);
  const at = useRef(0);
  const key = pieces.map(where).join('\n');
  useEffect(() => {
    const list = key ? key.split('\n') : [];
    if (list.length === 0) return;
    const one = document.createElement('audio');
    one.dataset['music'] = '';
    one.preload = 'auto';
    one.volume = 0;
    at.current = 0;
    one.src = list[0]!;
    const on = () => {
      at.current = (at.current + 1) % list.length;
      one.src = list[at.current]!;
      void one.play().catch(() => undefined);
    };
    one.addEventListener('ended', on);
    // A piece that cannot be played is passed over, unless it is the only one.
    const missing = () => {
      if (list.length > 1) on();
    };
    one.addEventListener('error', missing);
    document.body.append(one);
    audio.current = one;
    return () => {
      one.removeEventListener('ended', on);
      one.removeEventListener('error', missing);
      one.pause();
      one.remove();
      audio.current = null;
    };
  }, [key]);
  useEffect(() => {
    const one = audio.current;
    if (!one) return;
    if (playing && !ended) {
      void one.play().catch(() => undefined);
      return fade(one, soft ? BESIDE : 1);
    }
    return fade(one, 0, () => one.pause());
  }, [playing, soft, ended, key]);
}

/** Keeps the screen awake as long as something goes on, where the browser can; taken up again when the page comes back. */
export function useAwake(on: boolean): void {
  useEffect(() => {
    if (!on || !('wakeLock' in navigator)) return;
    let lock: WakeLockSentinel | null = null;
    let ended = false;
    const take = () => {
      if (document.visibilityState !== 'visible' || ended) return;
      navigator.wakeLock.request('screen').then(
        (got) => {
          if (ended) void got.release();
          else lock = got;
        },
        () => undefined,
      );
    };
    take();
    document.addEventListener('visibilitychange', take);
    return () => {
      ended = true;
      document.removeEventListener('visibilitychange', take);
      void lock?.release().catch(() => undefined);
    };
  }, [on]);
}
