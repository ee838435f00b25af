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
};

/** Which text stands on which ground; every pair is held to WCAG AA by a test. */
const pairs = [
  ...['paper', 'card'].flatMap((ground) =>
    ['ink', 'soft', 'juniper', 'marigold', 'plum', 'brick'].map((text) => [text, ground]),
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

module.exports = { light, dark, pairs, channels };
