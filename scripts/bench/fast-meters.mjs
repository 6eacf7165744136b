// Meters on loopback, fed by the twin: `fast-meters.mjs [HOW MANY] [LINES A SECOND]`, four of 1,000 a second by themselves. The volts of a line count the lines, so that whoever
// reads them can tell whether one is missing.
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { root } from '../lib/run.mjs';

const require = createRequire(join(root, 'instruments/package.json'));
const core = require('@umbral/core');
const { SimulatedBench, SimulatedMeter } = require(join(root, 'instruments/dist/simulated/index.js'));

/** Lines after which the count begins again: as volts, steps of a millivolt up to 20 V. */
const countsTo = 20_000;

const [howMany = 4, rateHz = 1000] = process.argv.slice(2).map(Number);
const now = () => performance.now() / 1000;
const ports = [];
for (let n = 0; n < howMany; n++) {
  const bench = new SimulatedBench(
    core.shippedProfiles.find((p) => !p.generic),
    [],
    now,
    n + 1,
  );
  bench.act({ does: 'plug', port: 1, flipped: false });
  let line = 0;
  let device = bench.read();
  const counted = {
    now,
    read() {
      // The device changes more slowly than the meter asks.
      if (line % 20 === 0) device = bench.read();
      return { ...device, port: { ...device.port, volts: (line++ % countsTo) / 1000 } };
    },
  };
  ports.push(await new SimulatedMeter(counted, { rateHz }).listen());
}
process.send({ ports, countsTo });
process.once('SIGTERM', () => process.exit(0));
