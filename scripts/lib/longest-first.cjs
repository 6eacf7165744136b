const { relative } = require('node:path');
const durations = require('./durations.json');

/** The order of the unit tests: what took longest begins first, so that what is left at the end is short. */
module.exports = class LongestFirst {
  sort(tests) {
    const took = ({ path }) => durations[relative(process.cwd(), path)] ?? 0;
    return [...tests].sort((a, b) => took(b) - took(a));
  }
  shard(tests) {
    return tests;
  }
  allFailedTests(tests) {
    return tests;
  }
  cacheResults() {}
};
