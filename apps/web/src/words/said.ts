import type { Album, AskedNames, BatchName, Event, Picture, Share, Tile, Town, Trouble, Why } from '@gemmel/contract';
import {
  countryName,
  fromEdtf,
  type Names,
  sayAge,
  sayReasons,
  saySpan as spanOf,
  sayWhenSpan,
  toSentence,
  type When,
  type Words,
  WORDS,
} from '@gemmel/core';
import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, t } from '@lingui/core/macro';
import { sayDay, sayLongDay, sayWhen } from '@/ui/say';
import { sayWork } from './problems';
import { language } from './speak';

/*
 * What the server tells of pictures, events, batches and people, put into the words of whoever reads.
 */

/** The words core speaks by. */
export const words = (): Words => WORDS[language()];

/** A remembered time: "about 1960", "summer 1988". */
export const sayRemembered = (when: When): string => sayWhenSpan(when, words());
/** The same from EDTF, as columns carry it. */
export function sayEdtf(edtf: string): string {
  const when = fromEdtf(edtf);
  return when ? sayRemembered(when) : edtf;
}

/** Days from one to another in the shortest true words: "May 2026", "4 to 9 May 2026". */
export const saySpan = (from: string, to: string): string => spanOf(from, to, words());

/** A country by its two letters. */
export const sayCountry = (country: string): string => countryName(country, words().tag);
/** "Visby, Sweden". */
export const sayTown = ({ name, country }: Town): string => `${name}, ${sayCountry(country)}`;
/** Where an event was; null when nobody knows. */
export const sayEventPlace = ({ place, town }: Pick<Event, 'place' | 'town'>): string | null =>
  place ?? (town ? sayTown(town) : null);
/** Where a picture was taken: the household's own place, or the town; null when neither is known. */
export const sayPlace = ({ ownPlace, where }: Pick<Picture, 'ownPlace' | 'where'>): string | null =>
  ownPlace?.name ?? (where?.place ? sayTown({ name: where.place, country: where.country }) : null);

/** A batch by its folder, its device and day, or the moment its files came. */
export const batchName = ({ name, named, createdAt }: Omit<BatchName, 'id'>): string => {
  if (named === 'given') return name;
  return named === 'source' ? t`${name}, ${sayDay(createdAt)}` : t`Pictures of ${sayWhen(createdAt)}`;
};

/** A picture by its title or file, and its day: "Kites, Saturday 16 May 2026". */
export const tileLabel = ({ name, day, about }: Pick<Tile, 'name' | 'day' | 'about'>): string =>
  about ? t`${name}, ${sayEdtf(about)}` : day ? t`${name}, ${sayLongDay(day)}` : t`${name}, no date`;

/** The day of a tile, or as much as is remembered; null when nobody knows. */
export const tileDay = ({ day, about }: Pick<Tile, 'day' | 'about'>): string | null =>
  about ? sayEdtf(about) : day ? sayDay(day) : null;

/** Why a face may be somebody. */
export const sayWhy = (why: Why, today = new Date()): string =>
  sayReasons(why, today.toLocaleDateString('en-CA'), words());

const CLOSENESS = {
  'very close': msg`Very close`,
  close: msg({ message: 'Close', context: 'how alike' }),
  perhaps: msg`Perhaps`,
};
/** How sure a guess is. */
export const sayCloseness = (closeness: keyof typeof CLOSENESS): string => i18n._(CLOSENESS[closeness]);

/** How old somebody was on a day; null when it is not known. */
export const ageWords = (born: string | null, day: string | null): string | null => sayAge(born, day, words());

const PARTS: Record<'keeper' | 'helper' | 'relative', MessageDescriptor> = {
  keeper: msg`keeper`,
  helper: msg`helper`,
  relative: msg`relative`,
};
/** A member's part. */
export const sayPart = (part: keyof typeof PARTS): string => i18n._(PARTS[part]);

const MAY: Record<'keeper' | 'helper' | 'relative', MessageDescriptor> = {
  keeper: msg`A keeper runs everything, and says who belongs.`,
  helper: msg`A helper files and describes pictures, and makes albums.`,
  relative: msg`A relative looks and writes comments.`,
};
/** What a member of a part may do. */
export const sayMay = (part: keyof typeof MAY): string => i18n._(MAY[part]);

const YOU_MAY: Record<keyof typeof MAY, MessageDescriptor> = {
  keeper: msg`You’ll run everything, and say who belongs.`,
  helper: msg`You can file and describe pictures, and make albums.`,
  relative: msg`You can look and write comments.`,
};
/** The same, said to whoever is asked to be one. */
export const sayYouMay = (part: keyof typeof MAY): string => i18n._(YOU_MAY[part]);

/** What a share is of. */
export function aboutWords({ about: { kind, name }, frozen }: Pick<Share, 'about' | 'frozen'>): string {
  const called = name ?? '';
  const what = ((): string => {
    switch (kind) {
      case 'pictures':
        return t`Pictures from the pile`;
      case 'question':
        return t`What a question finds`;
      case 'album':
        return t`The album “${called}”`;
      case 'smart album':
        return frozen ? t`The smart album “${called}”` : t`The smart album “${called}”, which fills itself`;
      case 'event':
        return /^\d{4}-/.test(called) ? t`The event on ${sayDay(called)}` : t`The event “${called}”`;
      case 'person':
        return t`Pictures with ${called}`;
      case 'place':
        return t`Pictures from ${called}`;
      case 'show':
        return t`The show “${called}”`;
    }
  })();
  return frozen && kind !== 'pictures' ? t`${what}, as it was when you shared it` : what;
}

/** Work that failed: what it does, and the file it is about. */
export const sayTrouble = ({ kind, path }: Pick<Trouble, 'kind' | 'path'>): string =>
  path ? `${sayWork(kind)}: ${path}` : sayWork(kind);

/** What an album is, beside its name: what a smart one asks, or the days of the pictures of one that is filled by hand. */
export function albumSentence({ question, names, from, to }: Album): string | null {
  if (question) return toSentence(question, namesIn(names ?? {}), words());
  return from && to ? saySpan(from, to) : null;
}

/** The names of what an album's question speaks of, as the server sent them along. */
export function namesIn(asked: AskedNames): Names {
  const from = (names: Record<string, string> | undefined, otherwise: string) => (id: number) =>
    names?.[id] ?? otherwise;
  return {
    person: from(asked.person, t`somebody no longer known`),
    tag: from(asked.tag, t`a tag no longer used`),
    event: from(asked.event, t`an event without a name`),
    album: from(asked.album, t`an album no longer here`),
    batch: (id) => (asked.batch?.[id] ? batchName(asked.batch[id]) : t`a batch no longer here`),
    device: from(asked.device, t`a device no longer here`),
    folder: from(asked.folder, t`a folder no longer here`),
    ownPlace: from(asked.ownPlace, t`a place no longer named`),
    mark: from(asked.mark, t`a mark no longer used`),
    member: from(asked.member, t`somebody no longer known`),
  };
}
