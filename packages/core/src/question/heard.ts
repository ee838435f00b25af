/** A country; or a region or place in one. */
export type PlaceKey = { country: string } | { country: string; region: string } | { country: string; place: string };

/** Kinds of things that numbers stand for. */
export const HEARD_KINDS = ['tags', 'people', 'events', 'albums', 'folders', 'ownPlaces'] as const;
export type HeardKind = (typeof HEARD_KINDS)[number];

/** What a text that is looked for means in a library: what its own words must be, and what it names. */
export interface Heard extends Readonly<Record<HeardKind, ReadonlySet<number>>> {
  /** The words, the last perhaps only begun. Empty when there is nothing that could be found. */
  asked: readonly string[];
  /** Where nothing in the library begins like the one word asked for: the words one letter off that it may mean. */
  instead: readonly string[] | null;
  places: readonly PlaceKey[];
}
