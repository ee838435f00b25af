export type Token =
  | 'paper'
  | 'card'
  | 'line'
  | 'ink'
  | 'soft'
  | 'juniper'
  | 'marigold'
  | 'glow'
  | 'plum'
  | 'brick'
  | 'veil'
  | 'bright'
  | 'mist'
  | 'honey'
  | 'lilac'
  | 'lake'
  | 'moss'
  | 'rose'
  | 'slate';
export const light: Record<Token, string>;
export const dark: Record<Token, string>;
export const pairs: [Token, Token][];
export function channels(hex: string): string;
type TypeSize = 'tiny' | 'small' | 'body' | 'lead' | 'head' | 'title' | 'figure';
export const TYPE: Record<TypeSize, number>;
export const LINES: Record<TypeSize, number>;
export const SIZE: Record<
  | 'hair'
  | 'chip'
  | 'touch'
  | 'button'
  | 'field'
  | 'edge'
  | 'brim'
  | 'tile'
  | 'tileWide'
  | 'strip'
  | 'cameo'
  | 'rowName',
  number
>;
export const CORNER: Record<'picture' | 'small' | 'act' | 'card', number>;
