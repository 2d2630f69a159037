const node = (name, folders, extra = {}) => ({
  displayName: name,
  testEnvironment: 'node',
  roots: folders.map((f) => `<rootDir>/${f}`),
  testMatch: ['**/*.test.ts'],
  // Plain TypeScript for Node: no rewriting of syntax that Node has, which would slow the sums down.
  transform: {
    '\\.[jt]s$': [
      'babel-jest',
      {
        babelrc: false,
        configFile: false,
        presets: ['@babel/preset-typescript'],
        plugins: ['@babel/plugin-transform-modules-commonjs'],
      },
    ],
  },
  ...extra,
});

module.exports = {
  testTimeout: 300000,
  testSequencer: '<rootDir>/scripts/test-order.cjs',
  projects: [
    node('core', ['core', 'api']),
    node('media', ['media', 'cli', 'packs']),
    node('camera', ['standin']),
    node('server', ['server']),
    node('browser', ['e2e']),
    {
      displayName: 'ui',
      preset: 'jest-expo/web',
      roots: ['<rootDir>/ui'],
      testMatch: ['**/*.test.ts', '**/*.test.tsx'],
    },
  ],
};
