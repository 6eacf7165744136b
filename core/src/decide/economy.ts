import { circuitIds, type CircuitId, type DeviceClass } from '../catalogue/index.ts';
import type { Outlook, PerCircuit } from '../inference/index.ts';
import type { FunctionLists } from '../proof/index.ts';
import policy from './policy.json';

const minutesPerHour = 60;

/** What a shop earns, what its hours cost, and what it does not do. Money in its own currency, once and an hour. */
export interface ShopPolicy {
  /** Functions that are tried after a repair, by kind of device, where the shop has lists of its own. */
  functions?: FunctionLists;
  /** For a repair that succeeded. */
  fee: number;
  /** The same by kind of device, where it differs. */
  fees?: Partial<Record<DeviceClass, number>>;
  /** Earned besides where the data is wanted and comes back. */
  dataFee: number;
  hourlyCost: number;
  /** Share of begun repairs that succeed, 0 to 1. */
  success: number;
  /** The same by circuit, from the shop's own cases. */
  successBy?: Partial<Record<CircuitId, number>>;
  /** What the parts of a circuit usually cost; nothing where left out. */
  partCosts?: Partial<Record<CircuitId, number>>;
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

/** What a repair of such a device brings, in the shop's money. */
export function feeOf(shop: ShopPolicy, deviceClass?: DeviceClass): number {
  return (deviceClass && shop.fees?.[deviceClass]) ?? shop.fee;
}

/** Share of begun repairs of a circuit that succeed, 0 to 1; 0 for what is not repaired here. */
export function successOf(shop: ShopPolicy, circuit: CircuitId): number {
  if (circuit === 'unmodelled' || shop.notDoneHere.includes(circuit)) return 0;
  return shop.successBy?.[circuit] ?? shop.success;
}

/**
 * Bench minutes that the repair of a circuit usually takes.
 *
 * @returns minutes at the bench, without waiting
 */
export function repairMinutes(circuit: CircuitId | null): number {
  const { repairMinutes: known, usualRepairMinutes } = policy.economy;
  return (circuit && (known as Partial<Record<CircuitId, number>>)[circuit]) ?? usualRepairMinutes;
}

/** What a repair costs the shop: bench time and parts, in its own money. */
export function repairCost(shop: ShopPolicy, circuit: CircuitId): number {
  return (shop.hourlyCost * repairMinutes(circuit)) / minutesPerHour + (shop.partCosts?.[circuit] ?? 0);
}

/**
 * What the repair of a known fault brings: the fee times the chance that it succeeds, less bench time and parts; nothing
 * where that is a loss, since a repair that does not pay is not begun.
 *
 * @param fee what is earned if it succeeds
 * @returns by circuit, in the order of `circuitIds`
 */
export function repairGains(shop: ShopPolicy, fee: number): number[] {
  return circuitIds.map((id) => {
    const success = successOf(shop, id);
    return success === 0 ? 0 : Math.max(0, success * fee - repairCost(shop, id));
  });
}

/** The expectation of what stands by circuit. */
export function expectedValue(circuits: PerCircuit, values: readonly number[]): number {
  return circuits.reduce((sum, p, k) => sum + p * values[k], 0);
}

/**
 * The search ahead as a bench lives it: the tests that are planned, and where they do not decide it, the measuring at the
 * board that follows, with how often that finds the cause.
 *
 * @param circuits a circuit that is likelier than the tests decide counts as decided that far
 */
export function searchAhead(outlook: Outlook, circuits: PerCircuit): Outlook {
  const { decided, minutes } = policy.economy.board;
  const byTests = Math.max(outlook.decided, ...circuits);
  return {
    decided: byTests + (1 - byTests) * decided,
    minutes: outlook.minutes + (1 - byTests) * minutes,
  };
}
