const { transformSync } = require('esbuild');
const babel = require('babel-jest').default.createTransformer({
  caller: { name: 'metro', bundler: 'metro', platform: 'web' },
});

/** Packages are turned into what jest reads by esbuild, in a tenth of the time; what it cannot read (types of another kind) by babel. */
module.exports = {
  getCacheKey: (code, file, options) => `${babel.getCacheKey(code, file, options)}-2`,
  process: (code, file, options) => {
    // Babel leads what asks for React Native to its form for the web.
    if (code.includes('@flow') || /['"]react-native['"\/]/.test(code)) return babel.process(code, file, options);
    try {
      return transformSync(code, {
        loader: /\.tsx?$/.test(file) ? 'tsx' : 'jsx',
        jsx: 'automatic',
        format: 'cjs',
        target: 'node20',
        define: { 'process.env.EXPO_OS': '"web"' },
        logLevel: 'silent',
      });
    } catch {
      return babel.process(code, file, options);
    }
  },
};
