module.exports = {
  projects: [
    '<rootDir>/packages/core',
    '<rootDir>/packages/contract',
    '<rootDir>/apps/server',
    '<rootDir>/apps/web',
    '<rootDir>/apps/web/jest.plain.cjs',
  ],
  testTimeout: 120_000,
};
