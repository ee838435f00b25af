const { channels, CORNER, dark, light, LINES, SIZE, TYPE } = require('./src/ui/tokens');

const names = Object.keys(light);
const inPixels = (sizes) => Object.fromEntries(Object.entries(sizes).map(([name, n]) => [name, `${n}px`]));
const variables = (scheme) => Object.fromEntries(names.map((name) => [`--${name}`, channels(scheme[name])]));

/** @type {import('tailwindcss').Config} */
module.exports = {
  content: ['./app/**/*.{ts,tsx}', './src/**/*.{ts,tsx}'],
  presets: [require('nativewind/preset')],
  darkMode: 'class',
  theme: {
    extend: {
      colors: Object.fromEntries(names.map((name) => [name, `rgb(var(--${name}) / <alpha-value>)`])),
      fontFamily: {
        sans: ['Figtree_400Regular', 'sans-serif'],
        medium: ['Figtree_500Medium', 'sans-serif'],
        semi: ['Figtree_600SemiBold', 'sans-serif'],
        bold: ['Figtree_700Bold', 'sans-serif'],
        serif: ['Fraunces_600SemiBold', 'serif'],
      },
      screens: { wide: '900px' },
      fontSize: Object.fromEntries(Object.keys(TYPE).map((name) => [name, [`${TYPE[name]}px`, `${LINES[name]}px`]])),
      spacing: inPixels(SIZE),
      maxWidth: { note: '420px', read: '560px', page: '720px' },
      borderRadius: inPixels(CORNER),
    },
  },
  plugins: [({ addBase }) => addBase({ ':root': variables(light), '.dark:root': variables(dark) })],
};
