import { circuitIds, type CircuitId, type DeviceClass } from '../catalogue/index.ts';
import {
  expectedValue,
  feeOf,
  repairCost,
  repairGains,
  searchAhead,
  successOf,
  type ShopPolicy,
} from '../decide/index.ts';
import type { Outlook, PerCircuit } from '../inference/index.ts';
import settings from './worth.json';

const minutesPerHour = 60;

/** What can be done with a job, as far as money goes. */
export const worthOptions = ['go-on', 'ask', 'data', 'stop'] as const;
export type WorthOption = (typeof worthOptions)[number];

/** Share of customers who agree to a fee, and what saying what it is brings, where a shop has not stated its own. */
export const usualTerms = {
  approval: settings.approval,
  diagnosisFee: settings.diagnosisFee,
  quoteDays: settings.quoteDays,
};

/** What a decision about a job is made from. */
export interface WorthInput {
  circuits: PerCircuit;
  outlook: Outlook;
  shop: ShopPolicy;
  deviceClass: DeviceClass;
  /** Agreed with the customer; null for the shop's usual fee. */
  fee: number | null;
  /** Earned for saying what it is, where nothing is repaired. */
  diagnosisFee?: number;
  /** The data on it is wanted. */
  dataWanted: boolean;
  /** Chance that the customer agrees to the fee, 0 to 1; 1 where they have. */
  approval?: number;
  /** It works: what is left is to prove it. Chance that it ends with the fee, and bench minutes. */
  proof?: { success: number; minutes: number } | null;
}

/** What each option is expected to bring, in the shop's money. */
export type Worths = Record<WorthOption, number | null>;

/**
 * What each way on is expected to bring: a decision tree with the belief at its chances (Raiffa & Schlaifer 1961).
 *
 * - go on: test, repair where it pays, and the customer is asked when the fault is known;
 * - ask: quote now; what is not agreed to ends here, without the tests;
 * - data: only what is stored on it is brought out; null where nobody wants it;
 * - stop: what saying so brings, less the time to say it.
 *
 * @returns euros; time already spent is spent and counts nowhere
 */
export function worthOf(input: WorthInput): Worths {
  const { circuits, shop, dataWanted } = input;
  const { decided, minutes } = searchAhead(input.outlook, circuits);
  const approval = input.approval ?? settings.approval;
  const diagnosis = input.diagnosisFee ?? settings.diagnosisFee;
  const hour = shop.hourlyCost / minutesPerHour;
  const fee = feeFor(input);
  const gains = repairGains(shop, fee);
  const begun = circuits.reduce((sum, p, k) => sum + (gains[k] > 0 ? p : 0), 0);
  const tests = hour * minutes;
  const talk = approval < 1 ? hour * settings.askMinutes : 0;
  const gain = decided * expectedValue(circuits, gains);
  /** Said what it is, without a repair. */
  const only = diagnosis * (1 - decided * begun);
  const whenAgreed = gain + only - tests;
  const stop = diagnosis - hour * settings.stopMinutes;
  const path = dataPath(circuits);
  const data = dataWanted ? shop.dataFee * path.chance - hour * path.minutes : null;
  // A device that works is paid for once it is proven: nobody is asked any more.
  const { proof } = input;
  if (proof) return { 'go-on': proof.success * fee - hour * proof.minutes, ask: null, data: null, stop };
  return {
    'go-on': approval * gain + only + diagnosis * decided * begun * (1 - approval) - tests - talk,
    ask: approval < 1 ? approval * whenAgreed + (1 - approval) * diagnosis - talk : null,
    data,
    stop,
  };
}

const feeFor = ({ fee, shop, deviceClass, dataWanted }: WorthInput): number =>
  (fee ?? feeOf(shop, deviceClass)) + (dataWanted ? shop.dataFee : 0);

/** Chance that what is stored comes out without a repair, 0 to 1, and how long trying takes. */
export function dataPath(circuits: PerCircuit): { chance: number; minutes: number } {
  return { chance: expectedValue(circuits, circuitIds.map(dataChance)), minutes: settings.dataMinutes };
}

function dataChance(circuit: CircuitId): number {
  return (settings.dataChance as Partial<Record<CircuitId, number>>)[circuit] ?? settings.dataChance.usual;
}

/** The option that brings most; the earlier of two that bring the same. */
export function bestOption(worths: Worths): WorthOption {
  return worthOptions.reduce(
    (best, id) => ((worths[id] ?? -Infinity) > (worths[best] ?? -Infinity) ? id : best),
    'go-on',
  );
}

/** The belief with its leading suspect at a probability, the others as they stand to each other. */
function withLeader(circuits: PerCircuit, leader: number, p: number): number[] {
  const others = 1 - circuits[leader];
  const scale = others <= 0 ? 0 : (1 - p) / others;
  return circuits.map((x, k) => (k === leader ? p : x * scale));
}

/** Where the answer changes when the leading suspect gets likelier. */
export interface WorthCurve {
  /** The leading suspect. */
  circuit: CircuitId;
  /** Its probability now. */
  p: number;
  points: ({ p: number } & Worths)[];
  /** Probabilities of the leading suspect at which another option becomes the best, with both. */
  changes: { p: number; from: WorthOption; to: WorthOption }[];
}

/**
 * How the worth of each option moves with the probability of the leading suspect, everything else in proportion; the
 * planned tests stay as long as they are.
 */
export function worthCurve(input: WorthInput): WorthCurve {
  const named = input.circuits.map((p, k) => (circuitIds[k] === 'unmodelled' ? -1 : p));
  const leader = named.indexOf(Math.max(...named));
  const at = (p: number): Worths => worthOf({ ...input, circuits: withLeader(input.circuits, leader, p) });
  const points = Array.from({ length: settings.points + 1 }, (_, k) => k / settings.points).map((p) => ({
    p,
    ...at(p),
  }));
  const changes: WorthCurve['changes'] = [];
  for (let k = 1; k < points.length; k++) {
    const [from, to] = [bestOption(points[k - 1]), bestOption(points[k])];
    if (from === to) continue;
    let [low, high] = [points[k - 1].p, points[k].p];
    for (let n = 0; n < settings.halvings; n++) {
      const middle = (low + high) / 2;
      if (bestOption(at(middle)) === from) low = middle;
      else high = middle;
    }
    changes.push({ p: high, from, to: bestOption(at(high)) });
  }
  return { circuit: circuitIds[leader], p: input.circuits[leader], points, changes };
}

/** What knowing is worth, in money. */
export interface KnowingWorth {
  /** Expected worth of repairing the leading suspect without another test; never under nothing, which is not to. */
  blind: number;
  /** What it would be worth to know the circuit for certain, over `blind`: no test is worth more. */
  certain: number;
  /** What the tests ahead are worth, over `blind`, before their cost. */
  tests: number;
  /** What the tests ahead cost. */
  cost: number;
}

/** What information is worth in money (Howard 1966): the value of the tests ahead, and the most that any test could be. */
export function valueOfInformation(input: WorthInput): KnowingWorth {
  const { circuits, shop } = input;
  const { decided, minutes } = searchAhead(input.outlook, circuits);
  const fee = feeFor(input);
  const blind = Math.max(
    0,
    ...circuitIds.map((id, k) =>
      successOf(shop, id) === 0 ? 0 : circuits[k] * successOf(shop, id) * fee - repairCost(shop, id),
    ),
  );
  const all = expectedValue(circuits, repairGains(shop, fee));
  return {
    blind,
    certain: Math.max(0, all - blind),
    tests: Math.max(0, decided * all + (1 - decided) * blind - blind),
    cost: (shop.hourlyCost * minutes) / minutesPerHour,
  };
}

/**
 * The share of begun repairs that must succeed for going on to bring more than stopping, the same for every circuit.
 *
 * @returns 0 to 1; null where not even certain success would do
 */
export function breakEvenSuccess(input: WorthInput): number | null {
  const gain = (success: number): number => {
    const shop = { ...input.shop, success, successBy: {} };
    const { 'go-on': goOn, stop } = worthOf({ ...input, shop });
    return (goOn ?? 0) - (stop ?? 0);
  };
  if (gain(1) < 0) return null;
  let [low, high] = [0, 1];
  for (let n = 0; n < settings.halvings; n++) {
    const middle = (low + high) / 2;
    if (gain(middle) < 0) low = middle;
    else high = middle;
  }
  return high;
}

/** A probability as somebody says it to a customer. */
export function inWords(p: number): string {
  return (settings.words.find(([least]) => p >= (least as number)) ??
    settings.words[settings.words.length - 1])[1] as string;
}

/** Closed cases of a circuit: how many repairs were begun, how many succeeded. */
export interface RepairCount {
  circuit: CircuitId;
  begun: number;
  succeeded: number;
}

/**
 * The chance that a repair succeeds, by circuit, from the shop's own cases: the shop's share over all counts as a few
 * cases of each circuit (beta prior).
 *
 * @param share what the shop states, 0 to 1
 * @param worth how many cases that counts as; the usual number where left out
 * @returns circuits with at least one case
 */
export function learnedSuccess(
  counts: readonly RepairCount[],
  share: number,
  worth: number = settings.successWorth,
): Partial<Record<CircuitId, number>> {
  return Object.fromEntries(
    counts.filter((c) => c.begun > 0).map((c) => [c.circuit, (c.succeeded + worth * share) / (c.begun + worth)]),
  );
}
