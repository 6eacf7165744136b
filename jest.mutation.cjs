const { projects } = require('./jest.config.cjs');
const path = require('node:path');

// The tests that a mutation run holds against the changed code: those of the folders it changes, in one project.
const core = projects.find(({ displayName }) => displayName === 'core');
module.exports = {
  ...core,
  rootDir: path.join(__dirname, 'core'),
  testTimeout: 60_000,
  testMatch: ['inference', 'observation', 'bench', 'quantity'].map((folder) => `<rootDir>/src/${folder}/*.test.ts`),
};
