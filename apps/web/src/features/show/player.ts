import type { Slide } from '@gemmel/core';
import { useEffect, useReducer, useRef } from 'react';

/** Where a show is: the slide on screen, whether it goes on by itself, and how much of the slide has gone, from 0 to 1. */
export interface Playing {
  at: number;
  playing: boolean;
  ended: boolean;
}

type Move =
  | { do: 'next' | 'back'; of: number; again: boolean }
  | { do: 'jump'; to: number; of: number }
  | { do: 'play' | 'pause' | 'toggle' };

/** What comes of a move. The last slide is followed by the end, or by the first one where a show begins again. */
export function moved(state: Playing, move: Move): Playing {
  switch (move.do) {
    case 'next':
      if (state.at + 1 < move.of) return { ...state, at: state.at + 1 };
      return move.again ? { ...state, at: 0 } : { ...state, playing: false, ended: true };
    case 'back':
      return { ...state, at: Math.max(0, state.at - 1), ended: false };
    case 'jump':
      return { ...state, at: Math.max(0, Math.min(move.of - 1, move.to)), ended: false };
    case 'play':
      return { ...state, playing: true, ended: false };
    case 'pause':
      return { ...state, playing: false };
    case 'toggle':
      // Played once more after its end, it begins anew.
      return state.ended ? { at: 0, playing: true, ended: false } : { ...state, playing: !state.playing };
  }
}

/** Where a show of so many slides is, and how it is moved. */
export function usePlayer(of: number, again: boolean) {
  const [state, move] = useReducer(moved, { at: 0, playing: true, ended: false });
  return {
    ...state,
    next: () => move({ do: 'next', of, again }),
    back: () => move({ do: 'back', of, again }),
    jump: (to: number) => move({ do: 'jump', to, of }),
    toggle: () => move({ do: 'toggle' }),
  };
}

/**
 * Has a show go on when a slide has stayed its time. `ready` tells whether the one that would come next can be shown without a grey moment; until
 * then the one on screen stays. While it is held, as long as a clip has not ended, nothing goes on.
 */
export function useGoingOn(
  slides: readonly Slide[],
  { at, playing, next }: Pick<ReturnType<typeof usePlayer>, 'at' | 'playing' | 'next'>,
  again: boolean,
  held: boolean,
  ready: (at: number) => boolean,
): void {
  const now = useRef({ ready, next });
  useEffect(() => void (now.current = { ready, next }));
  const slide = slides[at];
  const coming = at + 1 < slides.length ? at + 1 : again ? 0 : at;
  useEffect(() => {
    if (!playing || !slide || held) return;
    let timer: ReturnType<typeof setTimeout>;
    const on = () => {
      if (now.current.ready(coming)) now.current.next();
      else timer = setTimeout(on, 80);
    };
    timer = setTimeout(on, slide.seconds * 1000);
    return () => clearTimeout(timer);
  }, [at, playing, slide, coming, held]);
}
