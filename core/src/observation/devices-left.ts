import { isCheck } from '../catalogue/index.ts';
import { formatPercent } from '../quantity/index.ts';
import { alternativesOf, populationFor, type Alternative } from '../population/index.ts';
import { afterOutcome, devicesBelieved, type WorldWeights } from '../prediction/index.ts';
import type { History } from './kind.ts';
import { populationOf, populationShare, type PopulationView } from './population.ts';

/** One thing that the evidence says of a device that nobody has a profile of. */
export interface DeviceTrait {
  /** Id of the alternative, and of the option that is left. */
  alternative: string;
  option: string;
  /** "two cells". */
  words: string;
  /** Probability, and what it was before anything was seen. */
  p: number;
  before: number;
}

/** What is left of the devices that the model may be. */
export interface DevicesLeft {
  /** Id of the profile that stands for its class. */
  profile: string;
  /** How many devices of the population still count: two to the entropy over them. */
  effective: number;
  of: number;
  /** What may be said of it, the surest first. */
  traits: DeviceTrait[];
  /** The likeliest option of every alternative, said or not. */
  choices: Record<string, string>;
}

/**
 * The devices of the population that what was seen before any change leaves, in words. Null for a model with a profile of
 * its own.
 *
 * @param circuits probability of every circuit as it is believed now
 */
export function devicesLeft(history: History, circuits: readonly number[]): DevicesLeft | null {
  const view = populationOf(history);
  const profile = history.space.twin.classProfile;
  const population = populationFor(profile);
  if (!view || !population) return null;
  const { worlds } = view;
  const weights = afterChecks(history, view);
  const prior = 1 / worlds.devices.length;
  const believed = devicesBelieved(worlds, weights, circuits);
  const bits = believed.reduce((sum, p) => sum - (p > 0 ? p * Math.log2(p) : 0), 0);
  const effective = 2 ** bits;
  const sum = (a: Alternative, option: string, of: (k: number) => number): number =>
    worlds.devices.reduce((total, d, k) => total + (d.choices[a.id] === option ? of(k) : 0), 0);
  const shareOf = (a: Alternative, option: string): number => {
    // Where few devices are left, what they have in common is partly chance: the share before counts for a few of them.
    const seen = sum(a, option, (k) => believed[k]);
    const before = sum(a, option, () => prior);
    return (effective * seen + populationShare.chance * before) / (effective + populationShare.chance);
  };
  const alternatives = alternativesOf(population, profile).map((a) => {
    const [leading] = a.options.map((o) => ({ option: o, p: shareOf(a, o.id) })).sort((x, y) => y.p - x.p);
    return { a, leading, before: sum(a, leading.option.id, () => prior) };
  });
  const said = alternatives.flatMap(({ a, leading: { option, p }, before }): DeviceTrait[] =>
    option.words !== null && p >= populationShare.sayFrom && p - before >= populationShare.sayGain
      ? [{ alternative: a.id, option: option.id, words: option.words, p, before }]
      : [],
  );
  return {
    profile,
    effective,
    of: worlds.devices.length,
    traits: said.sort((x, y) => y.p - x.p),
    choices: Object.fromEntries(alternatives.map(({ a, leading }) => [a.id, leading.option.id])),
  };
}

/**
 * What is left of the devices, as a phrase: "two cells (91 %), it waits for the button (84 %)". Null where nothing may be
 * said of them.
 */
export function sayDevicesLeft(left: DevicesLeft | null): string | null {
  if (!left || left.traits.length === 0) return null;
  return left.traits.map((t) => `${t.words} (${formatPercent(t.p)})`).join(', ');
}

/** The worlds after the checks that were made before any change. */
function afterChecks({ value, epochOf }: History, { worlds, weights }: PopulationView): WorldWeights {
  return value.checks.reduce(
    (w, { id, outcome, after }) =>
      isCheck(id) && outcome !== null && epochOf(after) === 0 ? afterOutcome(worlds, w, id, outcome) : w,
    weights,
  );
}
