import type { Answer, Api, ShowSlide, ShowSource } from '@gemmel/contract';
import { planShow, type ShowSettings, type Slide } from '@gemmel/core';
import { useMemo } from 'react';
import { useWindowDimensions } from 'react-native';
import { largeOf, playOf } from '@/api/client';
import { useAnswer } from '@/api/query';

/** What a show is made of. */
export type ShowData = Answer<Api['showOf']>;

/** Pictures whose details are asked for at once. */
const AT_ONCE = 60;

/** Where a show has its pictures from: the library, or a share. */
export interface ShowHouse {
  data: ShowData | null;
  error: unknown;
  /** What is known of its pictures by now. */
  known: ReadonlyMap<number, ShowSlide>;
  large: (slide: ShowSlide) => string;
  play: (slide: ShowSlide) => string;
}

const NOTHING: Answer<Api['slides']>['slides'] = [];

/** The slides of a show for this screen; the same for one seed. */
export function usePlan(data: ShowData | null, settings: ShowSettings, music: number, seed: number): Slide[] {
  const { width, height } = useWindowDimensions();
  const screen = Math.round((10 * width) / Math.max(1, height)) / 10;
  return useMemo(
    () => (data ? planShow({ pictures: data.pictures, chapters: data.chapters, screen, music, seed }, settings) : []),
    [data, settings, screen, music, seed],
  );
}

/** The pictures of slides from one on, as many as are asked for at once. */
function idsFrom(slides: readonly Slide[], from: number): number[] {
  const ids: number[] = [];
  for (let i = from; i < slides.length && ids.length < AT_ONCE; i++) {
    const slide = slides[i]!;
    if (slide.kind === 'picture') ids.push(...slide.ids);
  }
  return ids;
}

/** What is known of the pictures around the slide on screen: those of its part of the show, of the next and of the first. */
export function useSlidesNear(slides: readonly Slide[], at: number): ReadonlyMap<number, ShowSlide> {
  const step = 40;
  const part = Math.floor(at / step) * step;
  const here = useMemo(() => idsFrom(slides, part), [slides, part]);
  const after = useMemo(() => idsFrom(slides, part + step), [slides, part]);
  const begin = useMemo(() => idsFrom(slides, 0).slice(0, 12), [slides]);
  const one = useAnswer('slides', { body: { ids: here } }, { enabled: here.length > 0 }).data?.slides ?? NOTHING;
  const two = useAnswer('slides', { body: { ids: after } }, { enabled: after.length > 0 }).data?.slides ?? NOTHING;
  const three = useAnswer('slides', { body: { ids: begin } }, { enabled: begin.length > 0 }).data?.slides ?? NOTHING;
  return useMemo(() => new Map([...three, ...two, ...one].map((slide) => [slide.id, slide])), [one, two, three]);
}

const ofLibrary = {
  large: (slide: ShowSlide): string => largeOf(slide.sha),
  play: (slide: ShowSlide): string => playOf(slide.id),
};

/** A show of something in the library. */
export function useLibraryShow(source: ShowSource): Pick<ShowHouse, 'data' | 'error' | 'large' | 'play'> {
  const { data, error } = useAnswer('showOf', { body: { source } });
  return { data: data ?? null, error, large: ofLibrary.large, play: ofLibrary.play };
}
