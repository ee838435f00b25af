import { askedWords, forgives, oneOff, saysPhrase, searchable } from '../text/search';
import type { PictureFacts, World } from './facts';
import { HEARD_KINDS, type Heard, type HeardKind, type PlaceKey } from './heard';
import { allBelow } from './tree';

/** Things of a library that have names by which their pictures are found. */
export interface Named {
  tags: readonly NamedThing[];
  people: readonly NamedThing[];
  events: readonly NamedThing[];
  albums: readonly NamedThing[];
  folders: readonly NamedThing[];
  ownPlaces: readonly NamedThing[];
  /** Where pictures were taken: each country, region and place once, a country with its name in every language. */
  places: readonly { at: PlaceKey; names: readonly string[] }[];
}

/** A thing and what it is called: a person's nickname, other spellings of a tag. */
export interface NamedThing {
  id: number;
  names: readonly string[];
}

/** What pictures say themselves, as far as hearing a text needs to know it. */
export interface Spoken {
  /** Whether a word of some picture begins so. */
  begins: boolean;
  /** Words of pictures that are one letter off. */
  near: readonly string[];
}

/** The one word of a text in which a letter may be forgiven; null when there are several, or it is too short, or a number. */
export function forgivable(text: string): string | null {
  const [word, ...more] = askedWords(text);
  return word !== undefined && more.length === 0 && forgives(word) ? word : null;
}

/** Names as search reads them, worked out once for each list of things. */
const read = new WeakMap<readonly { names: readonly string[] }[], string[]>();
function readNames(list: readonly { names: readonly string[] }[]): string[] {
  const known = read.get(list) ?? list.map(({ names }) => searchable(names));
  read.set(list, known);
  return known;
}

/** What a text means: see {@link Heard}. `spoken` need only be known where a letter is forgivable. */
export function hear(
  text: string,
  named: Named,
  { tagParent, folderParent }: Pick<World, 'tagParent' | 'folderParent'>,
  spoken: Spoken = { begins: true, near: [] },
): Heard {
  const asked = askedWords(text);
  const lists = [...HEARD_KINDS.map((kind) => named[kind]), named.places];
  let says = (name: string) => saysPhrase(name, asked);
  let instead: string[] | null = null;
  const word = forgivable(text);
  if (word !== null && !spoken.begins && !lists.some((list) => readNames(list).some(says))) {
    const near = new Set(spoken.near.filter((other) => oneOff(word, other)));
    for (const list of lists)
      for (const name of readNames(list))
        for (const other of name.split(/\s+/)) if (other && forgives(other) && oneOff(word, other)) near.add(other);
    instead = [...near].sort();
    says = (name) => instead!.some((other) => name.includes(` ${other} `));
  }
  const hits = <T extends { names: readonly string[] }>(list: readonly T[]): T[] => {
    const names = readNames(list);
    return list.filter((_, i) => says(names[i]!));
  };
  const ids = (kind: HeardKind, parents?: ReadonlyMap<number, number | null>) =>
    new Set(hits(named[kind]).flatMap(({ id }) => (parents ? allBelow(id, parents) : [id])));
  return {
    asked,
    instead,
    tags: ids('tags', tagParent),
    people: ids('people'),
    events: ids('events'),
    albums: ids('albums'),
    folders: ids('folders', folderParent),
    ownPlaces: ids('ownPlaces'),
    places: hits(named.places).map(({ at }) => at),
  };
}

/** Whether a picture's own words are what was looked for. */
export function saysItself(heard: Pick<Heard, 'asked' | 'instead'>, words: string): boolean {
  return heard.instead ? heard.instead.some((word) => words.includes(` ${word} `)) : saysPhrase(words, heard.asked);
}

/** Whether a picture is found by a text: by its own words, or by the name of something it belongs to. */
export function isFoundBy(heard: Heard, picture: PictureFacts): boolean {
  return (
    saysItself(heard, picture.words) ||
    picture.tags.some((id) => heard.tags.has(id)) ||
    picture.people.some((id) => heard.people.has(id)) ||
    picture.albums.some((id) => heard.albums.has(id)) ||
    (picture.event !== null && heard.events.has(picture.event)) ||
    (picture.folder !== null && heard.folders.has(picture.folder)) ||
    (picture.ownPlace !== null && heard.ownPlaces.has(picture.ownPlace)) ||
    heard.places.some(
      (at) =>
        picture.country === at.country &&
        (!('region' in at) || picture.region === at.region) &&
        (!('place' in at) || picture.place === at.place),
    )
  );
}
