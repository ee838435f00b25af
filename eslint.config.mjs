import { createRequire } from 'node:module';
import { defineConfig, globalIgnores } from 'eslint/config';
import prettier from 'eslint-config-prettier';
import lingui from 'eslint-plugin-lingui';
import globals from 'globals';

const require = createRequire(import.meta.url);
const expo = require('eslint-config-expo/flat');
const hookRules = Object.keys(expo.find((part) => part.plugins?.['react-hooks']).plugins['react-hooks'].rules);
const reactRules = expo.flatMap((part) => Object.keys(part.rules ?? {})).filter((rule) => rule.startsWith('react/'));
const off = (rules) => Object.fromEntries(rules.map((rule) => [`react-hooks/${rule}`, 'off']));

/** The arrows of the house: each room may import only from those to its left. */
const ARROWS = [
  {
    target: './packages/core',
    from: ['./packages/contract', './apps', './e2e', './bench'],
    message: 'core imports from no other room.',
  },
  { target: './packages/contract', from: ['./apps', './e2e', './bench'], message: 'contract imports from core alone.' },
  {
    target: './apps/server',
    from: ['./apps/web', './e2e', './bench'],
    except: ['./src/words'],
    message: 'the server knows nothing of the web application but its catalogues of sentences.',
  },
  {
    target: './apps/web',
    from: ['./apps/server', './e2e', './bench'],
    message: 'the web application knows the server by its contract alone.',
  },
  // The server's rooms: what is asked for knows nothing of how it is asked.
  {
    target: './apps/server/src/!(http)/**/*',
    from: './apps/server/src/http',
    message: 'only main knows the HTTP side.',
  },
  {
    target: './apps/server/src/db/migrations',
    from: './apps/server/src',
    except: ['./db/migrations'],
    message: 'a migration imports nothing that goes on living.',
  },
  {
    target: ['./apps/server/src/db', './apps/server/src/feed'],
    from: [
      'act',
      'album',
      'event',
      'faces',
      'folder',
      'gather',
      'intake',
      'jobs',
      'library',
      'person',
      'picture',
      'pile',
      'place',
      'question',
      'share',
      'sitting',
      'tag',
      'time',
    ].map((room) => `./apps/server/src/${room}`),
    message: 'the database and the feed know nothing of what they carry.',
  },
  {
    target: './apps/server/src/!(demo|standin)/**/*',
    from: ['./apps/server/src/demo', './apps/server/src/standin'],
    message: 'what is made up is known to the beginnings alone.',
  },
  {
    target: './apps/web/src/ui',
    from: ['./apps/web/src/features', './apps/web/app'],
    message: 'ui parts know no feature.',
  },
  {
    target: './apps/web/src/state',
    from: ['./apps/web/src/features', './apps/web/app'],
    message: 'state knows no feature.',
  },
];

/** Attributes whose text people read or hear. */
const LETTERS = '/^(?!\\s*Gemmel\\s*$).*\\p{L}{2}/su';
const READ = 'label|title|text|placeholder|aria-label|awayLabel|alt';

/** Sentences go through the catalogue; see docs/words.md. What is no sentence: names of things in code, styles, paths. */
const SENTENCES = {
  'lingui/no-unlocalized-strings': [
    'error',
    {
      ignore: [
        // No letters, one word in small letters or capitals (codes, keys, formats), or the name of the house.
        '^[^\\p{L}]*$',
        '^[^A-Z ]*$',
        '^[A-Z0-9_-]+$',
        '^[a-z]+[A-Za-z0-9]*$',
        '^(?=.*[-:/])[a-z0-9 :./%#()\\[\\],-]+$',
        '^Gemmel$',
        '^(LineString|Polygon|Point|Feature|FeatureCollection)$',
      ],
      ignoreNames: [
        { regex: { pattern: 'className$', flags: 'i' } },
        'style',
        'key',
        'id',
        'd',
        'transform',
        'gridTemplateColumns',
        'fontFamily',
        'border',
        'background',
        'boxShadow',
        'method',
      ],
      ignoreFunctions: [
        'require',
        'fetch',
        'new Error',
        'console.*',
        '*.addEventListener',
        '*.querySelector',
        '*.closest',
      ],
    },
  ],
  'lingui/t-call-in-function': 'error',
  // A single small word is taken for a code by the rule above; where people read, it is none.
  'no-restricted-syntax': [
    'error',
    ...[
      `JSXText[value=${LETTERS}]`,
      ...[`JSXAttribute[name.name=/^(${READ})$/]`, 'JSXElement'].flatMap((where) => [
        `${where} > Literal[value=${LETTERS}]`,
        `${where} > JSXExpressionContainer > Literal[value=${LETTERS}]`,
        `${where} > JSXExpressionContainer > ConditionalExpression > Literal.consequent[value=${LETTERS}]`,
        `${where} > JSXExpressionContainer > ConditionalExpression > Literal.alternate[value=${LETTERS}]`,
      ]),
      `CallExpression[callee.name=/^(say|did)$/] > Literal[value=${LETTERS}]`,
    ].map((selector) => ({ selector, message: 'Sentences go through the catalogue: t``, plural() or msg``.' })),
  ],
};

export default defineConfig([
  // The short form leaves tests to oxlint, which looks for what is unused.
  ...(process.env.GEMMEL_LONG
    ? []
    : [globalIgnores(['**/*.test.{ts,tsx}', 'apps/server/test/**', 'apps/web/test/**', 'bench/**'])]),
  globalIgnores(['**/dist/**', '**/.expo/**', '**/public/**', 'data/**', 'demo/**', '**/out/**', '**/*.d.ts']),
  ...expo,
  {
    settings: {
      'import/resolver': {
        typescript: {
          project: ['apps/*/tsconfig.json', 'packages/*/tsconfig.json', 'e2e/tsconfig.json'],
          noWarnOnMultipleProjects: true,
        },
      },
    },
    rules: {
      'import/no-restricted-paths': ['error', { zones: ARROWS }],
      // scripts/read.mjs looks for circles in the programs it has read already.
      // A schema and the type inferred from it share a name on purpose.
      '@typescript-eslint/no-redeclare': 'off',
      'import/no-named-as-default-member': 'off',
      'import/no-named-as-default': 'off',
      // TypeScript looks at these better, and much faster.
      'import/namespace': 'off',
      'import/export': 'off',
      'import/no-unresolved': 'off',
    },
  },
  // Where there is no React, its rules need not read along.
  {
    files: ['packages/**/*.ts', 'apps/server/**/*.ts', 'bench/**/*.ts', 'e2e/**/*.ts', 'scripts/**/*.mjs'],
    rules: { ...off(hookRules), ...Object.fromEntries(reactRules.map((rule) => [rule, 'off'])) },
  },
  // React's compiler takes as long as all other rules together: it reads along in the long form.
  ...(process.env.GEMMEL_LONG
    ? []
    : [{ rules: off(hookRules.filter((rule) => !['rules-of-hooks', 'exhaustive-deps'].includes(rule))) }]),
  {
    files: ['packages/core/src/**/*.ts'],
    ignores: ['**/*.test.ts', '**/*.testing.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              group: ['node:*', 'fs', 'path', 'react', 'react-native', 'knex'],
              message: 'core computes; it has no I/O and no interface.',
            },
          ],
        },
      ],
      'no-restricted-globals': ['error', 'fetch', 'window', 'document', 'process', 'setTimeout'],
    },
  },
  {
    files: ['packages/**/*.ts', 'apps/server/**/*.ts', 'apps/web/**/*.{ts,tsx}', 'e2e/**/*.ts', 'bench/**/*.ts'],
    languageOptions: { globals: globals.node },
  },
  {
    files: ['apps/web/src/**/*.{ts,tsx}', 'apps/web/app/**/*.tsx'],
    ignores: ['**/*.test.{ts,tsx}'],
    plugins: { lingui },
    rules: SENTENCES,
  },
  // The test runner's fixtures are handed a function called use, which is no hook, and say by {} that they need nothing.
  { files: ['e2e/**/*.ts'], rules: { 'react-hooks/rules-of-hooks': 'off', 'no-empty-pattern': 'off' } },
  { files: ['scripts/**/*.mjs', 'e2e/**/*.mjs'], languageOptions: { globals: globals.node } },
  { files: ['**/*.test.{ts,tsx}', '**/jest.*.js'], languageOptions: { globals: globals.jest } },
  {
    files: ['**/*.cjs', '**/*.config.js', '**/jest.*.js', 'apps/web/src/ui/tokens.js'],
    languageOptions: { globals: globals.node },
  },
  prettier,
]);
