import { supplyFor } from '../instrument/index.ts';
import { unitOf } from '../instrument/spec.ts';
import { transportOf } from '../instrument/transport-of.ts';
import type { WatchedSupply } from './guard.ts';

/**
 * Connects to a supply, switches its output off, and reads back that it is.
 *
 * @throws {Error} where it cannot be reached or does not say that it is off
 */
export async function switchOff({ spec, dialect, networks }: WatchedSupply, timeoutMs: number): Promise<void> {
  const supply = supplyFor(transportOf(spec, networks), dialect, { timeoutMs, unit: unitOf(spec) });
  try {
    await supply.open();
    await supply.switchOutput(false);
  } finally {
    supply.close();
  }
}
