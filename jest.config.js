/**
 * What the sums look up in their innermost loops. Jest runs files in a context of its own in which each look-up of a
 * global is some eighty times slower (`Math.min` in a loop of a million); named here it is a plain variable.
 */
const FAST = [
  'Math',
  'Number',
  'Infinity',
  'Float32Array',
  'Float64Array',
  'Uint8Array',
  'Uint8ClampedArray',
  'Int8Array',
  'Int16Array',
  'Uint16Array',
  'Int32Array',
  'Uint32Array',
];

const node = (name, folders, extra = {}) => ({
  displayName: name,
  testEnvironment: 'node',
  roots: folders.map((f) => `<rootDir>/${f}`),
  testMatch: ['**/*.test.ts'],
  sandboxInjectedGlobals: FAST,
  setupFilesAfterEnv: ['<rootDir>/scripts/watch-bounds.cjs'],
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

/** Tests of sums, each one module with all that it uses. */
const bundled = (name, folders) =>
  node(name, folders, { transform: { '\\.test\\.ts$': '<rootDir>/scripts/bundle-test.cjs' } });

module.exports = {
  testTimeout: 300000,
  testSequencer: '<rootDir>/scripts/test-order.cjs',
  projects: [
    bundled('core', ['core', 'api']),
    bundled('media', ['media', 'cli', 'packs']),
    bundled('camera', ['standin', 'score']),
    bundled('demo', ['server/demo']),
    node('server', ['server'], { testPathIgnorePatterns: ['/node_modules/', '/server/demo/'] }),
    node('browser', ['e2e']),
    {
      displayName: 'ui',
      preset: 'jest-expo/web',
      roots: ['<rootDir>/ui'],
      testMatch: ['**/*.test.ts', '**/*.test.tsx'],
      sandboxInjectedGlobals: FAST,
    },
  ],
};
