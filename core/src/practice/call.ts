import { circuitIds, circuitNames, type CircuitId, type PatternId } from '../catalogue/index.ts';
import settings from './call.json';

/** What somebody says a unit has, before anything is opened. */
export interface Call {
  pattern: PatternId;
  /** Percentages by circuit, which sum to 100; what is not named has none. */
  shares: { circuit: CircuitId; percent: number }[];
  /** The test that they would make next, by its name; empty where they would stop. */
  test: string;
  /** What they expect of it. */
  expects: string;
}

/**
 * What is wrong with the percentages of a call.
 *
 * @returns a sentence with the place and what is expected; null where they can be scored
 */
export function refusedShares(shares: Call['shares']): string | null {
  if (shares.length === 0) return 'Circuits: enter at least one, with its percentage.';
  const twice = shares.find((s, k) => shares.findIndex((x) => x.circuit === s.circuit) !== k);
  if (twice) return `Circuits: ${circuitNames[twice.circuit]} is entered twice.`;
  const odd = shares.find(({ percent }) => !(percent >= 0 && percent <= whole));
  if (odd) return `${circuitNames[odd.circuit]}: expected a percentage from 0 to 100.`;
  const total = shares.reduce((sum, s) => sum + s.percent, 0);
  return Math.abs(total - whole) <= settings.sumsWithin
    ? null
    : `Percentages: they sum to ${Math.round(total)}; expected 100. Give the rest to "A fault the program does not know".`;
}

const whole = 100;

/** The loss of somebody who knows nothing: the same probability for every circuit. */
const blindLoss = 0.5 * (1 - 1 / circuitIds.length);

/**
 * Points for probabilities once the truth is known: the quadratic score, moved so that 0 is knowing nothing and 100 is being
 * sure and right. Proper: nobody gains by saying anything but what they believe. Sure and wrong costs more than 100.
 *
 * @param p probabilities by circuit, 0 to 1; what is left out has none
 * @param truth the circuit that it was
 * @returns points, at most 100
 * @example pointsFor([{ id: 'pmic', p: 1 }], 'pmic') // 100
 * @see Brier, "Verification of forecasts expressed in terms of probability", Monthly Weather Review 78 (1950)
 */
export function pointsFor(p: readonly { id: CircuitId; p: number }[], truth: CircuitId): number {
  const of = (circuit: CircuitId): number => p.find((x) => x.id === circuit)?.p ?? 0;
  const loss = 0.5 * circuitIds.reduce((sum, c) => sum + (of(c) - (c === truth ? 1 : 0)) ** 2, 0);
  return whole * (1 - loss / blindLoss);
}

/** The circuit that a call thinks likeliest; the first of those that share it. */
export function leadingShare(shares: Call['shares']): Call['shares'][number] {
  return shares.reduce((best, s) => (s.percent > best.percent ? s : best));
}

/** The shares of a call as probabilities. */
export const probabilitiesOf = (shares: Call['shares']): { id: CircuitId; p: number }[] =>
  shares.map(({ circuit, percent }) => ({ id: circuit, p: percent / whole }));
