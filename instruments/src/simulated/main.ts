import { shippedProfiles } from '@umbral/core';
import { benchClock } from '../clock.ts';
import { SimulatedBench } from './bench.ts';
import { OperatorServer } from './operator.ts';
import { SimulatedMeter } from './meter.ts';
import { SimulatedSupply } from './supply.ts';

/** A bench with a supply, a meter and a device that are not there; its hands are worked over HTTP. */
const main = async (): Promise<void> => {
  const token = process.env.UMBRAL_RECORDER_TOKEN;
  if (!token) throw new Error('UMBRAL_RECORDER_TOKEN is not set; the simulated bench is started by "npm run demo"');
  const profile = shippedProfiles.find((p) => !p.generic) ?? shippedProfiles[0];
  const bench = new SimulatedBench(profile, [], benchClock().now);
  const given = JSON.parse(process.env.UMBRAL_SIMULATED_PORTS ?? '{}') as {
    [of in 'supply' | 'meter' | 'operator']?: number;
  };
  const supply = await new SimulatedSupply(bench).listen(given.supply);
  // Cheap meters are off by this much: something to calibrate against.
  const meter = await new SimulatedMeter(bench, { gainA: 1.015, offsetA: 0.003 }).listen(given.meter);
  const operator = await new OperatorServer(bench, token).listen(given.operator ?? 0);
  for (const signal of ['SIGTERM', 'SIGINT'] as const) process.once(signal, () => process.exit(0));
  // Whoever started it is gone.
  process.once('disconnect', () => process.exit(0));
  process.send?.({ supply, meter, operator });
};

void main();
