import { circuitIds, circuitNames, type CircuitId } from '../catalogue/index.ts';
import { type Case } from '../case/index.ts';
import { formatPercent } from '../quantity/index.ts';
import type { Outlook, PerCircuit } from '../inference/index.ts';
import type { FunctionLists } from '../proof/index.ts';
import policy from './policy.json';

const minutesPerHour = 60;

/** Advice to stop, and whether it comes before any further test. */
export interface StopAdvice {
  why: string;
  first: boolean;
}

/** What a shop earns, what its hours cost, and what it does not do. Money in its own currency, once and an hour. */
export interface ShopPolicy {
  /** Functions that are tried after a repair, by kind of device, where the shop has lists of its own. */
  functions?: FunctionLists;
  fee: number;
  /** Earned besides where the data is wanted and comes back. */
  dataFee: number;
  hourlyCost: number;
  /** Share of begun repairs that succeed, 0 to 1. */
  success: number;
  /** Circuits that are not repaired here. */
  notDoneHere: readonly CircuitId[];
}

/** The policy of a shop that has not stated its own. */
export const usualShop: ShopPolicy = {
  fee: policy.economy.fee,
  dataFee: policy.economy.dataFee,
  hourlyCost: policy.economy.hourlyCost,
  success: policy.economy.success,
  notDoneHere: policy.notDoneHere as CircuitId[],
};

/**
 * Bench minutes that the repair of a circuit usually takes.
 *
 * @returns minutes at the bench, without waiting
 */
export function repairMinutes(circuit: CircuitId): number {
  const { repairMinutes: known, usualRepairMinutes } = policy.economy;
  return (known as Partial<Record<CircuitId, number>>)[circuit] ?? usualRepairMinutes;
}

/**
 * What going on is worth: for every circuit the fee times the chance that its repair succeeds, less the bench time of
 * the repair, where that is more than nothing, since a repair that does not pay is not begun; less the testing until
 * then. In the shop's own money.
 *
 * @param circuits probability by circuit
 * @param dataWanted the data on it is wanted: it brings its own fee
 */
export function worthOfGoingOn(
  circuits: PerCircuit,
  outlook: Outlook,
  shop: ShopPolicy = usualShop,
  dataWanted = false,
): number {
  const { hourlyCost, success } = shop;
  const fee = shop.fee + (dataWanted ? shop.dataFee : 0);
  const gain = circuitIds.reduce((sum, id, k) => {
    if (id === 'unmodelled' || shop.notDoneHere.includes(id)) return sum;
    return sum + circuits[k] * Math.max(0, success * fee - (hourlyCost * repairMinutes(id)) / minutesPerHour);
  }, 0);
  const decided = Math.max(outlook.decided, ...circuits);
  return decided * gain - (hourlyCost * outlook.minutes) / minutesPerHour;
}

/**
 * Whether to stop: a hazard, a circuit that this shop does not repair, a plan that moved nothing, or a loss ahead.
 *
 * @param inVain changes in a row that moved nothing
 */
export function stopAdvice(
  value: Case,
  circuits: PerCircuit,
  outlook: Outlook,
  shop: ShopPolicy = usualShop,
  inVain = 0,
): StopAdvice | null {
  const leader = circuitIds
    .map((id, k) => ({ id, p: circuits[k] }))
    .filter((c) => c.id !== 'unmodelled')
    .reduce((best, c) => (c.p > best.p ? c : best));
  const name = circuitNames[leader.id];
  const sure = formatPercent(leader.p);
  if (shop.notDoneHere.includes(leader.id) && leader.p >= policy.stopFrom)
    return {
      why: `It is ${sure} sure to be ${name}, which this shop does not repair: stop, not economical.`,
      first: true,
    };
  if (value.intake.batterySwollen && !value.intake.batteryIsolated && value.outcome === null)
    return {
      why: 'The battery is swollen: isolate it in a fire-safe place before any other test. Do not charge it, do not press on it.',
      first: true,
    };
  if (inVain >= policy.vainChanges)
    return {
      why: `${inVain} changes moved nothing: the plan was wrong rather than the parts. Measure, or stop here as not found.`,
      first: false,
    };
  const worth = worthOfGoingOn(circuits, outlook, shop, value.intake.dataWanted);
  if (worth >= 0) return null;
  const refused = circuitIds.reduce((sum, id, k) => sum + (shop.notDoneHere.includes(id) ? circuits[k] : 0), 0);
  return {
    why:
      `Going on would take about ${Math.round(outlook.minutes)} minutes of tests and cost ${Math.round(-worth)} more than it is ` +
      `expected to bring: the tests settle it in ${formatPercent(outlook.decided)} of such cases, and ${formatPercent(refused)} ` +
      'of the suspicion lies where this shop does not repair. ' +
      (value.intake.dataWanted
        ? 'What the data brings is counted in: ask what it is worth to its owner before stopping.'
        : 'Stop here, not economical, unless the data is wanted.'),
    first: false,
  };
}
