import { searchable } from '../text/search';
import type { Heard } from './heard';
import { saysItself } from './hear';

/** What a picture says, text by text, and what it belongs to: as much as is needed to tell how well it answers a text. */
export interface Scored {
  title: string | null;
  caption: string | null;
  /** The names of its file. */
  files: readonly (string | null)[];
  comments: readonly string[];
  seenWords: string | null;
  tags: readonly number[];
  people: readonly number[];
  albums: readonly number[];
  event: number | null;
  folder: number | null;
  ownPlace: number | null;
  country: string | null;
  region: string | null;
  place: string | null;
}

/** What being found in each place is worth: what people said of just this picture before what it shares with many. */
const WORTH = {
  title: 8,
  people: 7,
  tags: 7,
  event: 6,
  caption: 5,
  place: 4,
  comments: 3,
  albums: 3,
  seen: 2,
  files: 1,
  folder: 1,
} as const;
/** What is found as whole words is worth so much more than what only begins so, and what is found in several places each time a little. */
const WHOLE = 0.5;
const AGAIN = 0.1;

/**
 * How well a picture answers a text, the higher the better; 0 when it does not. The best place where the words stand counts, whole
 * words a little more than begun ones, and each further place a little.
 */
export function scoreOf(heard: Heard, picture: Scored): number {
  let best = 0;
  let places = 0;
  const at = (worth: number) => {
    best = Math.max(best, worth);
    places++;
  };
  const said = (worth: number, texts: readonly (string | null)[]) => {
    const words = searchable(texts);
    if (!saysItself(heard, words)) return;
    at(worth + (heard.instead || words.includes(` ${heard.asked.join(' ')} `) ? WHOLE : 0));
  };
  said(WORTH.title, [picture.title]);
  said(WORTH.caption, [picture.caption]);
  said(WORTH.comments, picture.comments);
  said(WORTH.seen, [picture.seenWords]);
  said(WORTH.files, picture.files);
  if (picture.people.some((id) => heard.people.has(id))) at(WORTH.people);
  if (picture.tags.some((id) => heard.tags.has(id))) at(WORTH.tags);
  if (picture.albums.some((id) => heard.albums.has(id))) at(WORTH.albums);
  if (picture.event !== null && heard.events.has(picture.event)) at(WORTH.event);
  if (picture.folder !== null && heard.folders.has(picture.folder)) at(WORTH.folder);
  if (
    (picture.ownPlace !== null && heard.ownPlaces.has(picture.ownPlace)) ||
    heard.places.some(
      (one) =>
        picture.country === one.country &&
        (!('region' in one) || picture.region === one.region) &&
        (!('place' in one) || picture.place === one.place),
    )
  )
    at(WORTH.place);
  return places === 0 ? 0 : best + AGAIN * (places - 1);
}
