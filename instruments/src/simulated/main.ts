import { shippedProfiles } from '@umbral/core';
import { benchClock } from '../clock.ts';
import { SimulatedBench } from './bench.ts';
import { OperatorServer } from './operator.ts';
import { readFrameDialect } from '../dialect/index.ts';
import type { SimulatedPorts } from '../recorder/roster.ts';
import { SimulatedAsciiSupply } from './ascii-supply.ts';
import { SimulatedMeter, usualFrameMeter } from './meter.ts';
import { SimulatedMultimeter } from './multimeter.ts';
import { SimulatedRegisterSupply } from './register-supply.ts';
import { SimulatedSupply } from './supply.ts';

/** A meter whose language nobody described: something to teach. */
const unknownMeter = readFrameDialect({
  format: 'umbral-frames/1',
  id: 'unknown',
  name: 'Meter in an unknown language',
  start: 'D7 1E',
  length: { fixed: 15 },
  checksum: { kind: 'xor8', from: 2 },
  fields: {
    volts: { at: 6, type: 'u16', order: 'little', scale: 0.01 },
    amps: { at: 10, type: 'u16', order: 'little', scale: 0.001 },
  },
  resolutionV: 0.01,
  resolutionA: 0.001,
});

/** Instruments of the bottom shelf on the same device, for whoever looks for them. */
const standInsOn = (bench: SimulatedBench) =>
  [
    ['a supply with registers', new SimulatedRegisterSupply(bench)],
    ['a supply with plain text', new SimulatedAsciiSupply(bench)],
    ['a meter with binary frames', new SimulatedMeter(bench, { sends: usualFrameMeter })],
    ['a meter in an unknown language', new SimulatedMeter(bench, { sends: { dialect: unknownMeter, bytes: 15 } })],
    ['a multimeter with text lines', new SimulatedMultimeter(bench)],
    ['a multimeter with binary frames', new SimulatedMultimeter(bench, 'frames')],
  ] as const;

/** A bench with a supply, a meter and a device that are not there; its hands are worked over HTTP. */
const main = async (): Promise<void> => {
  const token = process.env.UMBRAL_RECORDER_TOKEN;
  if (!token) throw new Error('UMBRAL_RECORDER_TOKEN is not set; the simulated bench is started by "npm run demo"');
  const profile = shippedProfiles.find((p) => !p.generic) ?? shippedProfiles[0];
  const bench = new SimulatedBench(profile, [], benchClock().now);
  const given = JSON.parse(process.env.UMBRAL_SIMULATED_PORTS ?? '{}') as Partial<SimulatedPorts> & {
    operator?: number;
  };
  const supply = await new SimulatedSupply(bench).listen(given.supply);
  // Cheap meters are off by this much: something to calibrate against.
  const meter = await new SimulatedMeter(bench, { gainA: 1.015, offsetA: 0.003 }).listen(given.meter);
  const others = await Promise.all(
    standInsOn(bench).map(async ([says, standIn], k) => ({
      says,
      port: await standIn.listen(given.others?.[k]?.port),
    })),
  );
  const operator = await new OperatorServer(bench, token).listen(given.operator ?? 0);
  for (const signal of ['SIGTERM', 'SIGINT'] as const) process.once(signal, () => process.exit(0));
  // Whoever started it is gone.
  process.once('disconnect', () => process.exit(0));
  process.send?.({ supply, meter, others, operator });
};

void main();
