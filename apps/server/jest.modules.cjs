const { transformSync } = require('esbuild');

/** Turns packages that ship only modules into what jest reads. */
module.exports = {
  process: (code, file) => ({
    code: transformSync(code, { format: 'cjs', target: 'node20', sourcefile: file, logLevel: 'silent' }).code,
  }),
};
