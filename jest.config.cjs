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
  testMatch: ['<rootDir>/**/*.test.ts'],
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
  moduleNameMapper: {
    '^server-only$': require('node:path').join(__dirname, 'node_modules/server-only/empty.js'),
    '^@/(.*)$': '<rootDir>/$1',
  },
  ...extra,
});

/** The interface's own logic, in a page without a browser: tests of components (`*.test.tsx`). */
const screens = {
  ...project('web'),
  displayName: 'screens',
  rootDir: require('node:path').join(__dirname, 'web'),
  testEnvironment: 'jsdom',
  testMatch: ['<rootDir>/**/*.test.tsx'],
  sandboxInjectedGlobals: [],
  moduleNameMapper: { '^lucide-react$': require.resolve('lucide-react'), '^@/(.*)$': '<rootDir>/$1' },
};

module.exports = {
  // Tests judge what comes out, never how long it took; timings belong to the bench.
  testTimeout: 180_000,
  testSequencer: require.resolve('./scripts/lib/longest-first.cjs'),
  projects: [
    ...['core', 'tools', 'instruments', 'cli', 'front', 'web'].map((name) => ({
      ...project(name),
      // The instruments and the door never ask the engine.
      setupFiles:
        name === 'instruments' || name === 'front' ? [] : [require.resolve('./core/src/testing/find-worlds.ts')],
      rootDir: require('node:path').join(__dirname, name),
    })),
    screens,
  ],
};
