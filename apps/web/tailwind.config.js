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
    },
  },
  plugins: [({ addBase }) => addBase({ ':root': variables(light), '.dark:root': variables(dark) })],
};
