const { projects } = require('./jest.config.cjs');
const path = require('node:path');

// What a mutation run holds against the changed code: the tests of its own room (of a file: those that begin with its name).
const [room, file = '*'] = (process.env.UMBRAL_MUTATE ?? 'inference').split('/');
const core = projects.find(({ displayName }) => displayName === 'core');
module.exports = {
  ...core,
  rootDir: path.join(__dirname, 'core'),
  testTimeout: 60_000,
  testMatch: [`<rootDir>/src/${room}/${file}*.test.ts`],
};
