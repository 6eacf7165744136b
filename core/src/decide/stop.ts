import { circuitIds, circuitNames, type CircuitId, type DeviceClass } from '../catalogue/index.ts';
import { type Case } from '../case/index.ts';
import { formatPercent } from '../quantity/index.ts';
import type { Outlook, PerCircuit } from '../inference/index.ts';
import { swollenPack } from '../observation/index.ts';
import { expectedValue, feeOf, repairGains, usualShop, type ShopPolicy } from './economy.ts';
import policy from './policy.json';

const minutesPerHour = 60;

/** Advice to stop, and whether it comes before any further test. */
export interface StopAdvice {
  why: string;
  first: boolean;
  /** The circuit that it is about: one that this shop does not repair. */
  circuit?: CircuitId;
}

/**
 * What going on is worth: for every circuit the fee times the chance that its repair succeeds, less the bench time of
 * the repair, where that is more than nothing, since a repair that does not pay is not begun; less the testing until
 * then. In the shop's own money.
 *
 * @param circuits probability by circuit
 * @param dataWanted the data on it is wanted: it brings its own fee
 * @param deviceClass for its fee; the usual one where left out
 */
export function valueOfContinuing(
  circuits: PerCircuit,
  outlook: Outlook,
  shop: ShopPolicy = usualShop,
  dataWanted = false,
  deviceClass?: DeviceClass,
): number {
  const fee = feeOf(shop, deviceClass) + (dataWanted ? shop.dataFee : 0);
  const decided = Math.max(outlook.decided, ...circuits);
  return (
    decided * expectedValue(circuits, repairGains(shop, fee)) - (shop.hourlyCost * outlook.minutes) / minutesPerHour
  );
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
      why: `It is ${sure} likely to be ${name}, which this shop does not repair. Stop here, not economical.`,
      first: true,
      circuit: leader.id,
    };
  if (swollenPack(value) === 'in' && value.outcome === null)
    return {
      why: 'The battery is swollen. Move it to a fire-safe place before any other test. Do not charge it or press on it.',
      first: true,
    };
  if (inVain >= policy.vainChanges)
    return {
      why: `${inVain} repairs changed nothing, so the diagnosis is probably wrong. Measure, or stop here as not found.`,
      first: false,
    };
  const worth = valueOfContinuing(circuits, outlook, shop, value.intake.dataWanted, value.device.class);
  if (worth >= 0) return null;
  const refused = circuitIds.reduce((sum, id, k) => sum + (shop.notDoneHere.includes(id) ? circuits[k] : 0), 0);
  return {
    why:
      `Continuing would take about ${Math.round(outlook.minutes)} minutes of tests and cost ${Math.round(-worth)} more than it is ` +
      `expected to bring: the tests settle it in ${formatPercent(outlook.decided)} of such cases, and ${formatPercent(refused)} ` +
      'of the probability is on circuits this shop does not repair. ' +
      (value.intake.dataWanted
        ? 'The value of the data is included. Ask the owner what it is worth before stopping.'
        : 'Stop here, not economical, unless the data is needed.'),
    first: false,
  };
}
