import type { StationState } from '@umbral/instruments';
import { db } from '../../record/db.ts';
import type { BenchRow } from '../benches/benches.ts';
import { ask } from './recorder.ts';

/** A supply that was lost while its output was on. */
export interface UnknownOutput {
  key: string;
  name: string;
  /** The bench elsewhere that it stands at; null for here. */
  bench: string | null;
}

const lostOf = (states: readonly StationState[], bench: string | null): UnknownOutput[] =>
  states.filter((s) => s.outputUnknown).map(({ key, name }) => ({ key, name, bench }));

/** Supplies here and at benches elsewhere whose output may be on and that nobody can switch off from here. */
export async function unknownOutputs(): Promise<UnknownOutput[]> {
  const here = process.env.UMBRAL_RECORDER_URL ? await ask<StationState[]>('recorder', '/state').catch(() => []) : [];
  const benches = await db()<BenchRow>('benches').select('name', 'state');
  return [...lostOf(here, null), ...benches.flatMap(({ name, state }) => lostOf(state ?? [], name))];
}
