/** Tests of plain TypeScript, without a page: no transform of React Native, no DOM. */
module.exports = {
  displayName: 'web, plain',
  rootDir: __dirname,
  testEnvironment: 'node',
  testMatch: ['<rootDir>/src/**/*.test.ts'],
  testPathIgnorePatterns: ['\\.page\\.test\\.ts$'],
  transform: { '^.+\\.tsx?$': require.resolve('../../jest.node.cjs') },
  transformIgnorePatterns: ['/node_modules/'],
  moduleNameMapper: { '^@/(.*)$': '<rootDir>/src/$1' },
};
