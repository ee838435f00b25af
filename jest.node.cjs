const { transformSync } = require('esbuild');
const { createHash } = require('node:crypto');

/** Turns TypeScript, and packages that ship only modules, into what jest reads. It lifts no mocks: those need `jest.doMock`. */
module.exports = {
  getCacheKey: (code, file) => createHash('sha1').update('2').update(file).update(code).digest('hex'),
  process: (code, file) => ({
    code: transformSync(code, {
      loader: /\.tsx?$/.test(file) ? 'ts' : 'js',
      format: 'cjs',
      target: 'node20',
      sourcefile: file,
      sourcemap: 'inline',
      logLevel: 'silent',
      tsconfigRaw: { compilerOptions: { verbatimModuleSyntax: false } },
    }).code,
  }),
};
