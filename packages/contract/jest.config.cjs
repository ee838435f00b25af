module.exports = {
  displayName: 'contract',
  testEnvironment: 'node',
  transform: { '^.+\\.tsx?$': ['babel-jest', { configFile: require.resolve('../../babel.node.cjs') }] },
  transformIgnorePatterns: ['/node_modules/'],
};
