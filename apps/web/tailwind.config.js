const { channels, dark, light } = require('./src/ui/tokens');

const names = Object.keys(light);
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
      // The seven sizes of type, each with the height of its line; no screen has any other.
      fontSize: {
        tiny: ['12.5px', '17px'],
        small: ['14px', '19px'],
        body: ['16px', '23px'],
        lead: ['18px', '24px'],
        head: ['22px', '27px'],
        title: ['27px', '33px'],
        figure: ['40px', '44px'],
      },
      // Sizes of things, and the edges of the screen on a phone and on a wide one.
      spacing: { hair: '3px', chip: '34px', touch: '44px', button: '48px', field: '52px', edge: '16px', brim: '26px' },
      maxWidth: { note: '420px', read: '560px', page: '720px' },
      borderRadius: { picture: '4px', small: '10px', act: '14px', card: '18px' },
    },
  },
  plugins: [({ addBase }) => addBase({ ':root': variables(light), '.dark:root': variables(dark) })],
};
