import { PAPERS, plainRecipe, type Recipe } from '@gemmel/core';
import { type MessageDescriptor } from '@lingui/core';
import { msg, plural, t } from '@lingui/core/macro';
import { sayNumber } from '@/ui/say';

/** A line of how a picture is made. */
export type LineId =
  | 'turn'
  | 'mirror'
  | 'corners'
  | 'level'
  | 'crop'
  | 'automatic'
  | 'tired'
  | 'exposure'
  | 'contrast'
  | 'shadows'
  | 'highlights'
  | 'black'
  | 'white'
  | 'warmth'
  | 'tint'
  | 'vibrance'
  | 'grey'
  | 'clarity'
  | 'sharp'
  | 'noise'
  | 'redEyes'
  | 'spots';

/** A line with one dial: from where to where, and what its ends are called. */
export interface Dial {
  part: 'light' | 'colour' | 'detail';
  least: number;
  most: number;
  still: number;
  ends: readonly [MessageDescriptor, MessageDescriptor];
}

const either = (part: Dial['part'], less: MessageDescriptor, more: MessageDescriptor): Dial => ({
  part,
  least: -100,
  most: 100,
  still: 0,
  ends: [less, more],
});

export const DIALS: Partial<Record<LineId, Dial>> = {
  exposure: { ...either('light', msg`darker`, msg`lighter`), least: -200, most: 200 },
  contrast: either('light', msg`softer`, msg`stronger`),
  shadows: either('light', msg`deeper`, msg`lifted`),
  highlights: either('light', msg`lowered`, msg`brighter`),
  black: { part: 'light', least: 0, most: 100, still: 0, ends: [msg`as it is`, msg`deeper black`] },
  white: { part: 'light', least: 155, most: 255, still: 255, ends: [msg`brighter white`, msg`as it is`] },
  warmth: either('colour', msg`cooler`, msg`warmer`),
  tint: either('colour', msg`greener`, msg`rosier`),
  vibrance: either('colour', msg`paler`, msg`livelier`),
  clarity: either('detail', msg`softer`, msg`clearer`),
  sharp: { part: 'detail', least: 0, most: 100, still: 0, ends: [msg`as it is`, msg`sharper`] },
  noise: { part: 'detail', least: 0, most: 100, still: 0, ends: [msg`as it is`, msg`calmer`] },
};

/** What can be added, in groups. */
export const TOOLS: readonly [MessageDescriptor, readonly [LineId, MessageDescriptor][]][] = [
  [
    msg`By itself`,
    [
      ['automatic', msg`By itself`],
      ['tired', msg`Tired print`],
    ],
  ],
  [
    msg`Frame`,
    [
      ['turn', msg`Turn`],
      ['mirror', msg`Mirror`],
      ['level', msg`Level`],
      ['corners', msg`Print at a slant`],
      ['crop', msg`Cut`],
    ],
  ],
  [
    msg`Light`,
    [
      ['exposure', msg`Brightness`],
      ['contrast', msg`Contrast`],
      ['shadows', msg`Shadows`],
      ['highlights', msg`Highlights`],
      ['black', msg`Black`],
      ['white', msg`White`],
    ],
  ],
  [
    msg`Colour`,
    [
      ['warmth', msg`Warmth`],
      ['tint', msg`Tint`],
      ['vibrance', msg`Liveliness`],
      ['grey', msg`Black and white`],
    ],
  ],
  [
    msg`Detail`,
    [
      ['clarity', msg`Clarity`],
      ['sharp', msg`Sharpness`],
      ['noise', msg`Noise`],
      ['spots', msg`Spots`],
      ['redEyes', msg`Red eyes`],
    ],
  ],
];

/** Filters of black and white: how much red, green and blue count. */
export const FILTERS: readonly [MessageDescriptor, [number, number, number]][] = [
  [msg`Plain`, [30, 59, 11]],
  [msg`Red filter`, [90, 10, 0]],
  [msg`Orange filter`, [60, 40, 0]],
  [msg`Green filter`, [10, 85, 5]],
  [msg`Blue filter`, [10, 20, 70]],
];

/** How much a dial was moved, in a word: "a little", "much", or nothing in between. */
function muchly(share: number, little: string, plain: string, much: string): string {
  const far = Math.abs(share);
  return far < 0.25 ? little : far > 0.6 ? much : plain;
}

/** A line with a dial as a sentence. */
function sayDial(id: LineId, value: number): string {
  const { least, most, still } = DIALS[id]!;
  const share = (value - still) / (value > still ? most - still : still - least);
  const up = value > still;
  switch (id) {
    case 'exposure':
      return up
        ? muchly(share, t`A little lighter`, t`Lighter`, t`Much lighter`)
        : muchly(share, t`A little darker`, t`Darker`, t`Much darker`);
    case 'contrast':
      return up
        ? muchly(share, t`A little more contrast`, t`More contrast`, t`Much more contrast`)
        : muchly(share, t`A little less contrast`, t`Less contrast`, t`Much less contrast`);
    case 'shadows':
      return up ? t`Shadows lifted` : t`Shadows deepened`;
    case 'highlights':
      return up ? t`Highlights raised` : t`Highlights lowered`;
    case 'black':
      return t`Black deepened`;
    case 'white':
      return t`White brightened`;
    case 'warmth':
      return up
        ? muchly(share, t`A little warmer`, t`Warmer`, t`Much warmer`)
        : muchly(share, t`A little cooler`, t`Cooler`, t`Much cooler`);
    case 'tint':
      return up ? t`A touch of rose` : t`A touch of green`;
    case 'vibrance':
      return up
        ? muchly(share, t`Colours a little livelier`, t`Colours livelier`, t`Colours much livelier`)
        : muchly(share, t`Colours a little paler`, t`Colours paler`, t`Colours much paler`);
    case 'clarity':
      return up ? t`Made clearer` : t`Made softer`;
    case 'sharp':
      return t`Sharpened`;
    default:
      return t`Noise calmed`;
  }
}

const PAPER_NAMES: Readonly<Record<keyof typeof PAPERS, string>> = {
  '10x15': '10 × 15',
  '13x18': '13 × 18',
  '20x25': '20 × 25',
  square: '1 : 1',
  '16x9': '16 : 9',
  '4x3': '4 : 3',
};
export const paperName = (paper: keyof typeof PAPERS): string => PAPER_NAMES[paper];

/** The lines of a recipe in the order in which they are made, each as a sentence. `shape` is width over height of what is shown. */
export function linesOf(recipe: Recipe, shape: number): { id: LineId; said: string }[] {
  const plain = plainRecipe(recipe);
  const lines: { id: LineId; said: string }[] = [];
  const add = (id: LineId, said: string) => void lines.push({ id, said });
  if (plain.spots) add('spots', plural(plain.spots.length, { one: '# spot healed', other: '# spots healed' }));
  if (plain.redEyes)
    add('redEyes', plural(plain.redEyes.length, { one: '# red eye calmed', other: '# red eyes calmed' }));
  if (plain.turn)
    add(
      'turn',
      plain.turn === 1
        ? t`Turned a quarter to the right`
        : plain.turn === 2
          ? t`Turned upside down`
          : t`Turned a quarter to the left`,
    );
  if (plain.mirror) add('mirror', t`Mirrored`);
  if (plain.corners) add('corners', t`A print made upright`);
  if (plain.level) {
    const degrees = sayNumber(Math.max(1, Math.round(Math.abs(plain.level) / 10)) / 10);
    add('level', plain.level > 0 ? t`Made level: ${degrees}° to the right` : t`Made level: ${degrees}° to the left`);
  }
  if (plain.crop) {
    const ratio = shape > 1 ? shape : 1 / shape;
    const paper = (Object.keys(PAPERS) as (keyof typeof PAPERS)[]).find((one) => Math.abs(PAPERS[one] - ratio) < 0.012);
    add('crop', paper ? t`Cut to ${paperName(paper)}` : t`Cut`);
  }
  if (plain.tones)
    add(
      plain.by === 'tired' ? 'tired' : 'automatic',
      plain.by === 'tired' ? t`Tired print brought back` : t`Light and colours by itself`,
    );
  for (const part of ['light', 'colour', 'detail'] as const)
    for (const [id, value] of Object.entries(plain[part] ?? {})) add(id as LineId, sayDial(id as LineId, value));
  if (plain.grey) add('grey', t`Black and white`);
  return lines;
}

/** A recipe without one of its lines. */
export function without(recipe: Recipe, id: LineId): Recipe {
  const next: Recipe = structuredClone(recipe);
  const dial = DIALS[id];
  if (dial) delete (next[dial.part] as Record<string, number> | undefined)?.[id];
  else if (id === 'automatic' || id === 'tired') {
    delete next.tones;
    delete next.by;
  } else delete next[id as 'turn' | 'mirror' | 'corners' | 'level' | 'crop' | 'grey' | 'spots' | 'redEyes'];
  return plainRecipe(next);
}

/** The value of a line with a dial. */
export const dialOf = (recipe: Recipe, id: LineId): number => {
  const dial = DIALS[id]!;
  return (recipe[dial.part] as Record<string, number> | undefined)?.[id] ?? dial.still;
};

/** A recipe with a dial set. */
export const withDial = (recipe: Recipe, id: LineId, value: number): Recipe => {
  const dial = DIALS[id]!;
  return { ...recipe, [dial.part]: { ...(recipe[dial.part] ?? {}), [id]: value } };
};
