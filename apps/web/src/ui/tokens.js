/** The colours of the house, by scheme: paper for the day, evening for the dark. Shared with Tailwind, so plain JavaScript. */
const light = {
  paper: '#F6F1E7',
  card: '#FFFBF3',
  line: '#E0D6C3',
  ink: '#1E2C2B',
  soft: '#5B6965',
  juniper: '#1C5A50',
  marigold: '#8F5A0A',
  glow: '#C97F12',
  plum: '#5F3A59',
  brick: '#A3412E',
  veil: '#1E2C2B',
  bright: '#FFFBF3',
  mist: '#D9E6DC',
  honey: '#FBE9C6',
  lilac: '#EBDDE8',
  lake: '#2B5A7A',
  moss: '#556014',
  rose: '#9A3559',
  slate: '#4A5460',
};
const dark = {
  paper: '#131A19',
  card: '#1B2423',
  line: '#2C3937',
  ink: '#F0EADD',
  soft: '#A7B3AD',
  juniper: '#7CC2AC',
  marigold: '#F0B356',
  glow: '#F0B356',
  plum: '#C9A3C2',
  brick: '#E58B76',
  veil: '#0B100F',
  bright: '#FFFBF3',
  mist: '#233B36',
  honey: '#3A2E18',
  lilac: '#352935',
  lake: '#8DB9D8',
  moss: '#B9C46A',
  rose: '#E59AB4',
  slate: '#B4BEC9',
};

/** Which text stands on which ground; every pair is held to WCAG AA by a test. */
const pairs = [
  ...['paper', 'card'].flatMap((ground) =>
    ['ink', 'soft', 'juniper', 'marigold', 'plum', 'brick', 'lake', 'moss', 'rose', 'slate'].map((text) => [
      text,
      ground,
    ]),
  ),
  ['ink', 'mist'],
  ['juniper', 'mist'],
  ['ink', 'honey'],
  ['soft', 'honey'],
  ['marigold', 'honey'],
  ['plum', 'lilac'],
  ['ink', 'lilac'],
  ['bright', 'veil'],
  ['card', 'juniper'],
  ['card', 'marigold'],
  ['card', 'plum'],
  ['card', 'brick'],
];

/** "30 44 43" for "#1E2C2B": what CSS wants between the brackets of rgb(). */
const channels = (hex) => [1, 3, 5].map((i) => parseInt(hex.slice(i, i + 2), 16)).join(' ');

/** The seven sizes of type, in pixels; no screen has any other. */
const TYPE = { tiny: 12.5, small: 14, body: 16, lead: 18, head: 22, title: 27, figure: 40 };
/** How high the line of each of them is. */
const LINES = { tiny: 17, small: 19, body: 23, lead: 24, head: 27, title: 33, figure: 44 };
/** Sizes of things, how high rows of pictures and their strips are, ovals of a table and what stands before them, and the edges of the screen on a phone (`edge`) and on a wide one (`brim`), in pixels. */
const SIZE = {
  hair: 3,
  chip: 34,
  touch: 44,
  button: 48,
  field: 52,
  edge: 16,
  brim: 26,
  tile: 112,
  tileWide: 165,
  strip: 72,
  cameo: 55,
  rowName: 72,
};
/** How round corners are, in pixels. */
const CORNER = { picture: 4, small: 10, act: 14, card: 18 };

module.exports = { light, dark, pairs, channels, TYPE, LINES, SIZE, CORNER };
