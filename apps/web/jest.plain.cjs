/** Tests of plain TypeScript, without a page: no transform of React Native, no DOM. */
module.exports = {
  displayName: 'web, plain',
  rootDir: __dirname,
  testEnvironment: 'node',
  testMatch: ['<rootDir>/src/**/*.test.ts'],
  testPathIgnorePatterns: ['\\.page\\.test\\.ts$'],
  setupFiles: ['./jest.words.js'],
  transform: { '^.+\\.(tsx?|js|po)$': require.resolve('../../jest.node.cjs') },
  transformIgnorePatterns: ['/node_modules/(?!(fractional-indexing|kdbush|supercluster)/)'],
  moduleNameMapper: { '^@/(.*)$': '<rootDir>/src/$1' },
};
