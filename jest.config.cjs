const swc = [
  '@swc/jest',
  {
    jsc: {
      target: 'es2022',
      parser: { syntax: 'typescript', tsx: true },
      transform: { react: { runtime: 'automatic' } },
    },
  },
];

const project = (name, extra = {}) => ({
  displayName: name,
  rootDir: `<rootDir>/${name}`,
  testMatch: ['<rootDir>/**/*.test.{ts,tsx}'],
  testPathIgnorePatterns: ['/node_modules/', '/dist/', '/.next/'],
  modulePathIgnorePatterns: ['/dist/', '/.next/'],
  transform: { '\\.(ts|tsx)$': swc },
  testEnvironmentOptions: { customExportConditions: ['module', 'node', 'node-addons'] },
  // A test file runs in a context of its own, where every look at a global is a call: these are looked at in hot loops.
  sandboxInjectedGlobals: [
    'Math',
    'Number',
    'Infinity',
    'Array',
    'Object',
    'Float64Array',
    'Float32Array',
    'Int32Array',
  ],
  moduleNameMapper: { '^@/(.*)$': '<rootDir>/$1' },
  ...extra,
});

module.exports = {
  // Tests judge what comes out, never how long it took; timings belong to the bench.
  testTimeout: 60_000,
  projects: ['core', 'instruments', 'cli', 'front', 'web'].map((name) => ({
    ...project(name),
    // The instruments and the door never ask the engine.
    setupFiles:
      name === 'instruments' || name === 'front' ? [] : [require.resolve('./core/src/testing/find-worlds.ts')],
    rootDir: require('node:path').join(__dirname, name),
  })),
};
