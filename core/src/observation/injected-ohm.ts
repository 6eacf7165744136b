import type { Injection } from '../case/index.ts';
import readings from './readings.json';

/**
 * What flows with a voltage on a rail is a resistance to ground, measured another way: `R = V / I - R_leads`; where the
 * supply limits, at most that. Null where nothing flowed that could be measured.
 *
 * @param injection set voltage and limit of the supply (V, A), current that flowed (A), resistance of both leads (ohm)
 * @returns ohm, never below 0
 */
export function ohmOf({
  setV,
  amps,
  limitA,
  leadsOhm,
}: Pick<Injection, 'setV' | 'amps' | 'limitA' | 'leadsOhm'>): number | null {
  if (amps === null || amps <= 0) return null;
  const isLimiting = limitA !== null && amps >= readings.injectedLimitShare * limitA;
  const ohm = Math.max(0, setV / amps - (leadsOhm ?? 0));
  return isLimiting ? Math.min(ohm, readings.hardShortOhm / 2) : ohm;
}
