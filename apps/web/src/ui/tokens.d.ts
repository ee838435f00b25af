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
  | 'lilac';
export const light: Record<Token, string>;
export const dark: Record<Token, string>;
export const pairs: [Token, Token][];
export function channels(hex: string): string;
