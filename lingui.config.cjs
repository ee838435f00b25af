const { formatter } = require('@lingui/format-po');

/** Where sentences are written, and where their catalogues lie: docs/words.md. */
module.exports = {
  sourceLocale: 'en',
  locales: ['en', 'de', 'sv'],
  catalogs: [
    {
      path: '<rootDir>/apps/web/src/words/{locale}/messages',
      include: ['<rootDir>/apps/web/app', '<rootDir>/apps/web/src', '<rootDir>/apps/server/src'],
      exclude: ['**/*.d.ts', '**/*.test.ts', '**/*.test.tsx', '**/node_modules/**', '**/dist/**'],
    },
  ],
  format: formatter({ lineNumbers: false }),
  orderBy: 'origin',
};
