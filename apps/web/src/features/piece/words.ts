import type { PieceKind } from '@gemmel/contract';
import type { PageSize } from '@gemmel/core';
import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg } from '@lingui/core/macro';

const PAPER: Record<PageSize, MessageDescriptor> = {
  'square 21': msg`square, 21 cm`,
  'A4 upright': msg`A4 upright`,
  'A4 wide': msg`A4 on its side`,
  A5: msg`A5 upright`,
  '8x8 in': msg`square, 8 inches`,
};
/** A size of pages. */
export const paperWords = (paper: PageSize): string => i18n._(PAPER[paper]);

const KIND: Record<PieceKind, { name: MessageDescriptor; about: MessageDescriptor }> = {
  book: {
    name: msg`Family book`,
    about: msg`Pages with chapters, captions, people and their years, as a PDF for a printing shop.`,
  },
  prints: {
    name: msg`Prints`,
    about: msg`In the sizes shops know, for passports, or all of them small with their names; crops keep faces whole.`,
  },
  collage: {
    name: msg`Collage`,
    about: msg`Two to forty pictures on one sheet, each whole, with a title.`,
  },
  card: {
    name: msg`Greeting card`,
    about: msg`Pictures and a title on the front, your words on the back.`,
  },
  calendar: {
    name: msg`Calendar`,
    about: msg`Twelve months with a picture each, birthdays and holidays.`,
  },
  film: {
    name: msg`Film`,
    about: msg`A show as a video file, with movement, captions, music and the sound of clips, for any screen.`,
  },
  bundle: {
    name: msg`Pages for a stick`,
    about: msg`A gallery of plain pages that opens anywhere, without Gemmel and without the internet.`,
  },
  out: {
    name: msg`Copies`,
    about: msg`Originals or smaller copies as a ZIP, named and sorted as you like, with what was said of them or without.`,
  },
};
/** A kind of piece. */
export const kindWords = (kind: PieceKind): { name: string; about: string } => ({
  name: i18n._(KIND[kind].name),
  about: i18n._(KIND[kind].about),
});
export const KINDS = Object.keys(KIND) as PieceKind[];

const BACKGROUNDS = [
  ['#fffbf3', msg`Cream`],
  ['#f6f1e7', msg`Warm paper`],
  ['#ffffff', msg`White`],
  ['#1c5a50', msg`Juniper`],
  ['#131a19', msg`Evening`],
] as const;
/** Colours that sheets may have. */
export const backgrounds = (): (readonly [string, string])[] =>
  BACKGROUNDS.map(([colour, said]) => [colour, i18n._(said)] as const);
