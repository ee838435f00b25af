module.exports = {
  displayName: 'contract',
  testEnvironment: 'node',
  setupFiles: [require.resolve('../../jest.seed.cjs')],
  transform: { '^.+\\.[jt]sx?$': require.resolve('../../jest.node.cjs') },
  transformIgnorePatterns: ['/node_modules/(?!fractional-indexing/)'],
};
