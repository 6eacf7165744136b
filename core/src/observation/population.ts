import type { Case } from '../case/index.ts';
import type { PerHypothesis } from '../inference/index.ts';
import {
  afterMain,
  afterPatterns,
  fitSettings,
  patternsExpected,
  priorWeights,
  usualSetupsOf,
  worldsOf,
  type Worlds,
  type WorldWeights,
} from '../prediction/index.ts';
import type { PatternId } from '../catalogue/index.ts';
import { topPattern } from '../shape/index.ts';
import type { History } from './kind.ts';
import { sameSetup } from './run-before.ts';
import type { SeenRun } from './observed-run.ts';

type Needed = Pick<History, 'value' | 'seen' | 'space' | 'epochOf'>;

/** How much the population counts beside the tables, 0 to 1 each. */
type Shares = Pick<typeof fitSettings.population, 'patterns' | 'checks'>;

/** What a population says of the runs of a case. */
export interface PopulationView {
  worlds: Worlds;
  /** By run id: probability of every pattern by circuit, after the runs before it. */
  patterns: ReadonlyMap<string, Record<PatternId, (number | null)[]>>;
  /** What is believed of the worlds after all runs that were made before any change. */
  weights: WorldWeights;
  shares: Shares;
}

const views = new WeakMap<readonly SeenRun[], PopulationView | null>();

/**
 * The population of the device's class, narrowed by the runs that were made before any change, in their order. Null for a
 * model with a profile of its own.
 */
export function populationOf({ value, seen, space, epochOf }: Needed): PopulationView | null {
  if (space.closeness === 'own') return null;
  const known = views.get(seen);
  if (known !== undefined) return known;
  const worlds = worldsOf(space.twin.classProfile);
  const view = worlds && { ...viewOf(worlds, value, seen, epochOf), shares: populationShare };
  views.set(seen, view);
  return view;
}

/** What the main rail is known to stand at: as it is stated, fed in place of the battery, or measured. Volts. */
function mainVolts(value: Case): number[] {
  const stated = value.device.expect.batteryV;
  const fed = value.runs.flatMap((r) => (r.feed === 'battery' && r.setup.setV !== null ? [r.setup.setV] : []));
  const measured = value.readings.flatMap((r) =>
    r.circuit === 'rail.main' && r.mode === 'voltage' && r.value !== null && r.value > 0 ? [r.value] : [],
  );
  const [first] = [...(stated === undefined ? [] : [stated]), ...fed];
  return [...(first === undefined ? [] : [first]), ...measured];
}

function viewOf(
  worlds: Worlds,
  value: Case,
  seen: readonly SeenRun[],
  epochOf: History['epochOf'],
): Omit<PopulationView, 'shares'> {
  const patterns = new Map<string, Record<PatternId, (number | null)[]>>();
  let weights = mainVolts(value).reduce((w, volts) => afterMain(worlds, w, volts), priorWeights(worlds));
  seen.forEach((one, k) => {
    const setups = usualSetupsOf(worlds, one.run, one.shape.features);
    const expected = patternsExpected(worlds, weights, setups);
    if (!expected) return;
    patterns.set(one.run.id, expected);
    const repeats = seen
      .slice(0, k)
      .some((other) => sameSetup(other.run, one.run) && topPattern(other.patterns) === topPattern(one.patterns));
    if (!repeats && epochOf(one.run.after) === 0) weights = afterPatterns(worlds, weights, setups, one.patterns);
  });
  return { worlds, patterns, weights };
}

/**
 * What the table and the population expect together: `l · table + (1 - l) · population`, over some of the outcomes. A circuit
 * that no device of the population has an element of goes by the table.
 *
 * @param table probability by outcome and hypothesis
 * @param told probability by outcome and circuit; sums to 1 over `words`
 * @param share of the population, 1 - l
 * @param words the outcomes that the population has a say in
 * @param prior of the hypotheses
 * @param physical the outcomes that it alone has a say in: how often a fault shows nothing, of which no practitioner keeps count
 */
export function withPopulation<Word extends string>(
  table: Readonly<Record<Word, readonly number[]>>,
  predicted: Readonly<Partial<Record<Word, readonly (number | null)[]>>>,
  circuitOf: readonly number[],
  share: number,
  words: readonly Word[],
  prior: PerHypothesis,
  physical: readonly Word[] = [],
): Record<Word, number[]> {
  const failing = words.filter((word) => !physical.includes(word));
  const sumOf = (of: (word: Word, h: number) => number): number =>
    circuitOf.reduce((sum, c, h) => {
      const isKnown = failing.some((word) => (predicted[word]?.[c] ?? null) !== null);
      return sum + (isKnown ? prior[h] * failing.reduce((all, word) => all + of(word, h), 0) : 0);
    }, 0);
  // A table gives odds between circuits: only over all of them together can it be put on the scale of the worlds.
  const scale =
    sumOf((word, h) => table[word][h]) /
    Math.max(
      sumOf((word, h) => predicted[word]?.[circuitOf[h]] ?? 0),
      1e-9,
    );
  const mixed = (word: Word): number[] =>
    table[word].map((t, h) => {
      const q = predicted[word]?.[circuitOf[h]] ?? null;
      if (q !== null && physical.includes(word)) return q;
      return q === null ? t : (1 - share) * t + share * q * scale;
    });
  return Object.fromEntries(
    (Object.keys(table) as Word[]).map((word) => [word, words.includes(word) ? mixed(word) : [...table[word]]]),
  ) as Record<Word, number[]>;
}

/** How much the population counts beside the tables, 0 to 1. */
export const populationShare = fitSettings.population;
