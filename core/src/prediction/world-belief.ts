import type { PerCircuit } from '../inference/index.ts';
import { circuitIds, checkTypes, type CheckId, patternIds, type PatternId } from '../catalogue/index.ts';
import { type Features, type PatternProbability } from '../shape/index.ts';
import type { Run } from '../case/index.ts';
import settings from './worlds.json';
import type { Worlds } from './worlds.ts';

/** A share of 1 in a byte of the table. */
const fullByte = 255;

/** How much every world is believed within its circuit: sums to 1 for every circuit that has a world. */
export type WorldWeights = Float64Array;

/** By outcome, one probability a circuit; null for a circuit that has no world. */
export type ByCircuit<Id extends string = string> = Record<Id, (number | null)[]>;

/** What is believed of the worlds before anything was seen. */
export function priorWeights(worlds: Worlds): WorldWeights {
  return Float64Array.from(worlds.share);
}

/**
 * The usual setups that a run may have been made in: more than one where it was not said whether the battery was in, or
 * whether anybody pressed.
 */
export function usualSetupsOf(worlds: Worlds, run: Run, features: Features): string[] {
  if (run.quantity !== 'current') return [];
  const { battery, assembly, deviceState } = run.setup;
  const runs = deviceState === 'running' || deviceState === 'asleep';
  const without = battery === 'disconnected' || battery === 'absent' || assembly === 'board-alone';
  return settings.setups
    .filter(({ id, feed, battery: withBattery, pressed, state }) => {
      if (feed !== run.feed || !worlds.patterns[id]) return false;
      if (feed === 'battery') return pressed === features.prompted;
      if (runs) return state === 'running' || !worlds.patterns[`${id.split('-')[0]}-running`];
      if (state === 'running') return false;
      if (battery !== null || without) if (withBattery === without) return false;
      // A device on a charger may have been asked to start without a mark that says so.
      return !features.prompted || pressed;
    })
    .map(({ id }) => id);
}

/**
 * Probability of every pattern by circuit, over the worlds as they are believed and over setups that are equally likely.
 *
 * @param worlds devices of the class, each with one fault
 * @param weights what is believed of them: within a circuit they sum to 1
 * @param setups names of usual setups
 * @returns by pattern, then by circuit
 */
export function patternsExpected(
  worlds: Worlds,
  weights: WorldWeights,
  setups: readonly string[],
): ByCircuit<PatternId> | null {
  if (setups.length === 0) return null;
  const n = patternIds.length;
  const sums = new Float64Array(circuitIds.length * n);
  const total = new Float64Array(circuitIds.length);
  for (let w = 0; w < weights.length; w++) total[worlds.circuit[w]] += weights[w];
  for (const id of setups) {
    const shown = worlds.patterns[id];
    if (!shown) continue;
    for (let w = 0; w < weights.length; w++) {
      const at = worlds.circuit[w] * n;
      for (let k = 0; k < n; k++) if (shown[w * n + k] > 0) sums[at + k] += (weights[w] * shown[w * n + k]) / fullByte;
    }
  }
  return Object.fromEntries(
    patternIds.map((id, k) => [
      id,
      circuitIds.map((_, c) =>
        total[c] > 0 ? settings.slip / n + (1 - settings.slip) * (sums[c * n + k] / (total[c] * setups.length)) : null,
      ),
    ]),
  ) as ByCircuit<PatternId>;
}

/**
 * The worlds after a run that was recognised as these patterns; within each circuit, so that no circuit gains by it.
 *
 * @param weights what is believed of the worlds: within a circuit they sum to 1
 * @param seen probabilities of patterns, sum to 1
 */
export function afterPatterns(
  worlds: Worlds,
  weights: WorldWeights,
  setups: readonly string[],
  seen: readonly PatternProbability[],
): WorldWeights {
  const n = patternIds.length;
  const p = new Float64Array(n);
  for (const { id, p: x } of seen) p[patternIds.indexOf(id)] = x;
  return reweighed(worlds, weights, (w) => {
    let agrees = 0;
    for (const id of setups) {
      const shown = worlds.patterns[id];
      if (shown) for (let k = 0; k < n; k++) agrees += (p[k] * shown[w * n + k]) / fullByte;
    }
    return settings.slip + (1 - settings.slip) * (agrees / setups.length);
  });
}

/** Worlds that come out alike in every check, one to a circuit. */
interface WorldGroup {
  /** Index of the first of them, by circuit; -1 where the circuit has none in this group. */
  first: number[];
  /** How much they are believed within their circuit. */
  share: number[];
}

const alike = new WeakMap<Worlds, number[][][]>();

/** By circuit, the worlds that no check tells apart. */
function alikeInChecks(worlds: Worlds): number[][][] {
  let known = alike.get(worlds);
  if (!known) {
    const checks = Object.values(worlds.checks);
    const byCircuit = circuitIds.map(() => new Map<string, number[]>());
    worlds.circuit.forEach((c, w) => {
      const key = checks.map((of) => of?.[w] ?? 0).join(' ');
      byCircuit[c].set(key, [...(byCircuit[c].get(key) ?? []), w]);
    });
    alike.set(worlds, (known = byCircuit.map((groups) => [...groups.values()])));
  }
  return known;
}

const grouped = new WeakMap<WorldWeights, WorldGroup[]>();

/**
 * The worlds in groups that no check tells apart, each with how much it is believed.
 *
 * @param weights what is believed of the worlds: within a circuit they sum to 1
 * @returns as many groups as the circuit with the most of them has; over all of them the shares of a circuit sum to 1
 */
export function groupedWorlds(worlds: Worlds, weights: WorldWeights): WorldGroup[] {
  let known = grouped.get(weights);
  if (!known) {
    const lists = alikeInChecks(worlds);
    const sum = (list: readonly number[]): number => list.reduce((total, w) => total + weights[w], 0);
    const total = lists.map((of) => Math.max(sum(of.flat()), 1e-12));
    known = Array.from({ length: Math.max(...lists.map((of) => of.length)) }, (_, g) => ({
      first: lists.map((of) => of[g]?.[0] ?? -1),
      share: lists.map((of, c) => sum(of[g] ?? []) / total[c]),
    }));
    grouped.set(weights, known);
  }
  return known;
}

/** What a check shows in a group, by circuit; null where its worlds do not tell. */
export function outcomeOfGroup(worlds: Worlds, { first }: WorldGroup, check: CheckId): (string | null)[] {
  const predicted = worlds.checks[check];
  return first.map((w) => (w < 0 || !predicted?.[w] ? null : checkTypes[check].outcomes[predicted[w] - 1]));
}

/** The worlds after a check came out as a word. */
export function afterOutcome(worlds: Worlds, weights: WorldWeights, check: CheckId, word: string): WorldWeights {
  const predicted = worlds.checks[check];
  const at = 1 + checkTypes[check].outcomes.indexOf(word);
  if (!predicted || at === 0) return weights;
  return reweighed(worlds, weights, (w) =>
    predicted[w] === 0 ? settings.untold : predicted[w] === at ? 1 : settings.slip,
  );
}

/**
 * The worlds after a main rail was seen standing at a voltage: the devices that live on another one fade, in every circuit
 * alike. A rail that stands nowhere near any of them says nothing of the device.
 *
 * @param volts measured with the device fed
 */
export function afterMain(worlds: Worlds, weights: WorldWeights, volts: number): WorldWeights {
  const fits = worlds.devices.map(({ mainV }) =>
    mainV > 0 ? Math.exp(-((Math.log(volts / mainV) / settings.mainSpread) ** 2) / 2) : 0,
  );
  if (Math.max(...fits) < settings.mainFits) return weights;
  return Float64Array.from(
    weights,
    (x, w) => x * (settings.mainSlip + (1 - settings.mainSlip) * fits[worlds.device[w]]),
  );
}

function reweighed(worlds: Worlds, weights: WorldWeights, likelihood: (w: number) => number): WorldWeights {
  const out = new Float64Array(weights.length);
  const total = new Float64Array(circuitIds.length);
  for (let w = 0; w < out.length; w++) {
    out[w] = weights[w] * likelihood(w);
    total[worlds.circuit[w]] += out[w];
  }
  for (let w = 0; w < out.length; w++) if (total[worlds.circuit[w]] > 0) out[w] /= total[worlds.circuit[w]];
  return out;
}

/**
 * Probability of every device of the population, over circuits that are believed as given.
 *
 * @param weights what is believed of the worlds: within a circuit they sum to 1
 * @param circuits probability of every circuit, in the order of `circuitIds`
 * @returns one probability a device, sums to 1
 */
export function devicesBelieved(worlds: Worlds, weights: WorldWeights, circuits: PerCircuit): number[] {
  const out = worlds.devices.map(() => 0);
  for (let w = 0; w < weights.length; w++) out[worlds.device[w]] += circuits[worlds.circuit[w]] * weights[w];
  const total = out.reduce((sum, p) => sum + p, 0);
  return out.map((p) => (total > 0 ? p / total : 1 / out.length));
}
