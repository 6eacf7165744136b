import { parseFault, shippedProfile, shippedProfiles, type Profile } from '@umbral/core';
import { noCalibration, type InstrumentSpec } from '../recorder/index.ts';
import { SimulatedBench, SimulatedMeter, SimulatedSupply } from '../simulated/index.ts';
import { now } from './until.ts';

/** What is called after a test, the last first. */
export type Closing = (() => Promise<unknown> | unknown)[];

export const phone: Profile = shippedProfile('tallgate-moorcall-2') ?? shippedProfiles[0];

/**
 * A supply and a meter on one simulated phone, listening on loopback.
 *
 * @param closing takes what ends them
 */
export async function simulatedBench(closing: Closing, fault = 'none') {
  const simulated = new SimulatedBench(phone, [parseFault(phone, fault)], now);
  const supply = new SimulatedSupply(simulated);
  const meter = new SimulatedMeter(simulated, { rateHz: 200 });
  const [supplyPort, meterPort] = [await supply.listen(), await meter.listen()];
  closing.push(
    () => supply.close(),
    () => meter.close(),
  );
  const spec = (key: string, kind: InstrumentSpec['kind'], port: number): InstrumentSpec => ({
    key,
    name: `the ${key}`,
    kind,
    transport: { kind: 'tcp', host: '127.0.0.1', port },
    dialect: kind === 'supply' ? 'scpi-usual' : 'lines-usual',
    calibration: noCalibration,
    simulated: true,
  });
  return {
    simulated,
    supply,
    meter,
    specs: [spec('supply', 'supply', supplyPort), spec('meter', 'meter', meterPort)],
  };
}
