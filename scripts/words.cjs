// What builds and tests need to know of sentences: macros in sources become calls, catalogues become modules. See docs/words.md.
const { transformSync } = require('@babel/core');
const { createCompiledCatalog } = require('@lingui/cli/api');
const { formatter } = require('@lingui/format-po');
const { readFileSync } = require('node:fs');
const path = require('node:path');

const SOURCE = 'en';

/** Whether a source speaks by macros. */
exports.speaks = (code) => code.includes('@lingui/core/macro');

/** A TypeScript source with its macros put into calls; its types stay. `strip` leaves the English out, which the catalogue has. */
exports.expand = (code, file, { strip = false, maps = false } = {}) => {
  const result = transformSync(code, {
    filename: file,
    babelrc: false,
    configFile: false,
    parserOpts: { plugins: ['typescript', ...(file.endsWith('x') ? ['jsx'] : [])] },
    plugins: [[require.resolve('@lingui/babel-plugin-lingui-macro'), { stripMessageField: strip }]],
    retainLines: true,
    sourceMaps: maps ? 'inline' : false,
  });
  return result.code;
};

/** A catalogue (`…/de/messages.po`) as messages by their number: what it says, or in the language of the sources what they say. */
exports.messagesIn = (text, file) => {
  const locale = path.basename(path.dirname(file));
  const entries = formatter().parse(text, { locale, sourceLocale: SOURCE, filename: file });
  return {
    locale,
    messages: Object.fromEntries(
      Object.entries(entries).map(([id, { translation, message }]) => [id, translation || message || id]),
    ),
  };
};

/** A catalogue as a module; `namespace` is `es` or `cjs`. */
exports.catalogue = (text, file, namespace) => {
  const { locale, messages } = exports.messagesIn(text, file);
  return createCompiledCatalog(locale, messages, { namespace, strict: false }).source;
};

/** Messages as they are spoken: by number, each as parts with what is put into them. */
exports.compiled = (locale, messages) => {
  const { source } = createCompiledCatalog(locale, messages, { namespace: 'es', strict: false });
  return JSON.parse(JSON.parse(source.slice(source.indexOf('JSON.parse(') + 11, source.lastIndexOf(')'))));
};

/** What esbuild needs for sources that speak: macros become calls, catalogues become modules. */
exports.bundled = {
  name: 'words',
  setup({ onLoad }) {
    onLoad({ filter: /\.po$/ }, ({ path: file }) => ({
      contents: exports.catalogue(readFileSync(file, 'utf8'), file, 'es'),
      loader: 'js',
    }));
    onLoad({ filter: /apps\/(server|web\/src)\/.*\.tsx?$/ }, ({ path: file }) => {
      const code = readFileSync(file, 'utf8');
      return exports.speaks(code)
        ? {
            contents: exports.expand(code, file, { strip: true, maps: true }),
            loader: file.endsWith('x') ? 'tsx' : 'ts',
          }
        : undefined;
    });
  },
};
