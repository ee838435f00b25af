module.exports = {
  displayName: 'contract',
  testEnvironment: 'node',
  transform: { '^.+\\.tsx?$': require.resolve('../../jest.node.cjs') },
  transformIgnorePatterns: ['/node_modules/'],
};
