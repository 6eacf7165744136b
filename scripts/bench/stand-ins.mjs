// Instruments of every kind on loopback, on one simulated device, in a process of their own.
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { root } from '../lib/run.mjs';

const require = createRequire(join(root, 'instruments/package.json'));
const core = require('@umbral/core');
const simulated = require(join(root, 'instruments/dist/simulated/index.js'));

const now = () => performance.now() / 1000;
const profile = core.shippedProfiles.find((p) => p.ports.length > 0 && p.battery && !p.generic);
const bench = new simulated.SimulatedBench(profile, [], now);
bench.act({ does: 'plug', port: 1, flipped: false });
const { SimulatedSupply, SimulatedRegisterSupply, SimulatedAsciiSupply, SimulatedMeter, usualFrameMeter } = simulated;
const ports = {
  'scpi-usual': await new SimulatedSupply(bench, { measureMs: 0 }).listen(),
  'registers-usual': await new SimulatedRegisterSupply(bench, { framing: 'tcp' }, { measureMs: 0 }).listen(),
  'ascii-plain': await new SimulatedAsciiSupply(bench, false, { measureMs: 0 }).listen(),
  'lines-usual': await new SimulatedMeter(bench, { rateHz: 100 }).listen(),
  'frames-usual': await new SimulatedMeter(bench, { rateHz: 100, sends: usualFrameMeter }).listen(),
};
process.send(ports);
process.once('SIGTERM', () => process.exit(0));
