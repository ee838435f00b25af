const { transformSync } = require('esbuild');
const { createHash } = require('node:crypto');
const { catalogue, expand, speaks } = require('./scripts/words.cjs');

// In a test's own world what is global is looked up anew each time; loops over pixels and faces ask for it all the time.
const OWN =
  'const { Math, Number, Infinity, BigInt, Array, Map, Set, Uint8Array, Uint32Array, Int32Array, Float32Array, Float64Array } = globalThis;';

/**
 * Turns TypeScript, catalogues, and packages that ship only modules, into what jest reads. It lifts no mocks: those need
 * `jest.doMock`.
 */
module.exports = {
  getCacheKey: (code, file) => createHash('sha1').update('6').update(file).update(code).digest('hex'),
  process: (code, file) => {
    if (file.endsWith('.po')) return { code: catalogue(code, file, 'cjs') };
    return {
      code: `${OWN}${
        transformSync(speaks(code) ? expand(code, file) : code, {
          loader: /\.tsx?$/.test(file) ? 'ts' : 'js',
          format: 'cjs',
          target: 'node20',
          // What is imported later is required then: tests know no modules.
          supported: { 'dynamic-import': false },
          sourcefile: file,
          sourcemap: 'inline',
          logLevel: 'silent',
          tsconfigRaw: { compilerOptions: { verbatimModuleSyntax: false } },
        }).code
      }`,
    };
  },
};
