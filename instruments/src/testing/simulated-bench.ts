import { parseFault, shippedProfile, shippedProfiles, type Profile } from '@umbral/core';
import { noCalibration, type InstrumentSpec } from '../recorder/index.ts';
import {
  SimulatedAsciiSupply,
  SimulatedBench,
  SimulatedMeter,
  SimulatedRegisterSupply,
  SimulatedSupply,
  usualFrameMeter,
} from '../simulated/index.ts';
import { now } from './until.ts';

/** What is called after a test, the last first. */
export type Closing = (() => Promise<unknown> | unknown)[];

export const phone: Profile = shippedProfile('tallgate-moorcall-2') ?? shippedProfiles[0];

/** What a supply, and what a meter of the simulated bench speak. */
const supplies = {
  'scpi-usual': (on: SimulatedBench) => new SimulatedSupply(on),
  'registers-usual': (on: SimulatedBench) => new SimulatedRegisterSupply(on),
  'ascii-plain': (on: SimulatedBench) => new SimulatedAsciiSupply(on),
};
const meters = { 'lines-usual': 'lines', 'frames-usual': usualFrameMeter } as const;

/** Which languages a simulated bench speaks. */
export interface BenchSpeaks {
  supply: keyof typeof supplies;
  meter: keyof typeof meters;
}

/**
 * A supply and a meter on one simulated phone, listening on loopback.
 *
 * @param closing takes what ends them
 */
export async function simulatedBench(
  closing: Closing,
  fault = 'none',
  speaks: BenchSpeaks = { supply: 'scpi-usual', meter: 'lines-usual' },
) {
  const simulated = new SimulatedBench(phone, [parseFault(phone, fault)], now);
  const supply = supplies[speaks.supply](simulated);
  const meter = new SimulatedMeter(simulated, { rateHz: 200, sends: meters[speaks.meter] });
  const [supplyPort, meterPort] = [await supply.listen(), await meter.listen()];
  closing.push(
    () => supply.close(),
    () => meter.close(),
  );
  const spec = (key: 'supply' | 'meter', port: number): InstrumentSpec => ({
    key,
    name: `the ${key}`,
    kind: key,
    transport: { kind: 'tcp', host: '127.0.0.1', port },
    dialect: speaks[key],
    calibration: noCalibration,
    simulated: true,
  });
  return { simulated, supply, meter, specs: [spec('supply', supplyPort), spec('meter', meterPort)] };
}
