import { countryName, saySpan, sayWhenSpan, WORDS, type Language } from '@gemmel/core';
import type { PiecePicture } from './pictures';

/** What may be told of a picture. */
export interface Tells {
  caption: boolean;
  date: boolean;
  place: boolean;
  names: boolean;
}

/** When a picture was taken, in words; null when nobody knows. */
export const whenOf = (
  { takenSpan, day }: Pick<PiecePicture, 'takenSpan' | 'day'>,
  language: Language,
): string | null => (takenSpan ? sayWhenSpan(takenSpan, WORDS[language]) : day && saySpan(day, day, WORDS[language]));

/** Where it was taken, in words; null when nobody knows. */
export const whereOf = ({ place }: Pick<PiecePicture, 'place'>, language: Language): string | null =>
  place && [place.name, place.country && countryName(place.country, WORDS[language].tag)].filter(Boolean).join(', ');

/** What is told of a picture, in the words of a language; null for nothing. `caption` stands in for its own. */
export function toldOf(picture: PiecePicture, tells: Tells, language: Language, caption?: string): string | null {
  const own = tells.caption ? (picture.caption ?? picture.title) : null;
  return (
    [
      caption ?? own,
      tells.names && picture.names.length ? picture.names.join(', ') : null,
      tells.place ? whereOf(picture, language) : null,
      tells.date ? whenOf(picture, language) : null,
    ]
      .filter(Boolean)
      .join(' · ') || null
  );
}
