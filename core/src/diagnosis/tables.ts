import { circuitIds, type CheckId } from '../case/index.ts';
import { patternIds, type PatternId, type PatternProbability } from '../shape/index.ts';
import comparisons from './data/comparisons.json';
import outcomeTables from './data/outcomes.json';
import patternTables from './data/patterns.json';
import policy from './data/policy.json';
import priors from './data/priors.json';
import {
  indexOf,
  perCircuit,
  type ComparisonKind,
  type LikelihoodModel,
  type PerCircuit,
  type RunFacts,
} from './model.ts';

interface PatternTable {
  pattern: string;
  when?: { feed?: string[]; class?: string[]; family?: string[]; phase?: string[] };
  /** Share of confirmed causes among cases with this pattern, in per cent. */
  suspects?: Partial<Record<string, number>>;
  /** How often a device with this circuit at fault still shows this healthy pattern. */
  consistent?: Partial<Record<string, number>>;
  others?: number;
}

const base: PerCircuit = perCircuit(priors.base, 0.01);
const tables = patternTables as PatternTable[];
const unmodelled = indexOf.get('unmodelled') ?? 0;
const none = indexOf.get('none') ?? 0;

/** The table that fits best: the most conditions met wins over the general one. */
function tableFor(pattern: PatternId, facts: RunFacts): PatternTable | null {
  let best: { table: PatternTable; met: number } | null = null;
  for (const table of tables) {
    if (table.pattern !== pattern) continue;
    const when = table.when ?? {};
    const wanted: [string[] | undefined, string | null][] = [
      [when.feed, facts.context.feed],
      [when.class, facts.deviceClass],
      [when.family, facts.family],
      [when.phase, facts.phase],
    ];
    const asked = wanted.filter(([list]) => list !== undefined);
    if (asked.some(([list, value]) => !list?.includes(value ?? ''))) continue;
    if (best === null || asked.length > best.met) best = { table, met: asked.length };
  }
  return best?.table ?? null;
}

/** Likelihood of a pattern for each circuit, relative to its average over the base rates. */
function patternLikelihood(pattern: PatternId, facts: RunFacts): PerCircuit {
  const table = tableFor(pattern, facts);
  if (!table) return circuitIds.map(() => 1);
  const raw = table.suspects ? fromShares(table.suspects) : perCircuit(table.consistent ?? {}, table.others ?? 0.05);
  const average = raw.reduce((sum, x, k) => sum + x * base[k], 0);
  const relative = raw.map((x) => x / average);
  if (pattern !== 'unrecognised' && !('unmodelled' in (table.consistent ?? {})))
    relative[unmodelled] = policy.unmodelledPerRun;
  return relative;
}

/** P(pattern | circuit) is proportional to P(circuit | pattern) / P(circuit) (Bayes). What is not named shares the rest. */
function fromShares(suspects: Partial<Record<string, number>>): PerCircuit {
  const named = Object.values(suspects).reduce<number>((sum, x) => sum + (x ?? 0), 0) / 100;
  const unnamedBase = circuitIds.reduce((sum, id, k) => sum + (id in suspects || k === none ? 0 : base[k]), 0);
  const rest = Math.max(0.02, 1 - named) / unnamedBase;
  return circuitIds.map((id, k) => {
    if (k === none && !(id in suspects)) return 0.15 * rest;
    return id in suspects ? (suspects[id] ?? 0) / 100 / base[k] : rest;
  });
}

/** The first likelihoods: tables of what practitioners find, by pattern, check and comparison. */
export const tableModel: LikelihoodModel = {
  run(patterns: PatternProbability[], facts: RunFacts): PerCircuit {
    const total = circuitIds.map(() => 0);
    for (const { id, p } of patterns) {
      if (p < 1e-4 || !patternIds.includes(id)) continue;
      patternLikelihood(id, facts).forEach((x, k) => (total[k] += p * x));
    }
    return total;
  },
  outcomes(check: CheckId): Record<string, PerCircuit> | null {
    const table = (outcomeTables as Record<string, Record<string, Record<string, number>>>)[check];
    if (!table) return null;
    const words = Object.keys(table.default);
    return Object.fromEntries(
      words.map((word) => [
        word,
        circuitIds.map((id) => (id === 'unmodelled' ? 1 / words.length : (table[id] ?? table.default)[word])),
      ]),
    );
  },
  comparison(kind: ComparisonKind): PerCircuit {
    const { likelihood, others } = comparisons[kind] as { likelihood: Partial<Record<string, number>>; others: number };
    const vector = perCircuit(likelihood, others);
    if (!('unmodelled' in likelihood)) vector[unmodelled] = Math.sqrt(Math.max(...vector) * others);
    return vector;
  },
  delay(seconds: number, family: string): PerCircuit {
    const windows = (comparisons.delaysS as unknown as Record<string, Record<string, [number, number]>>)[family] ?? {};
    return circuitIds.map((id) => {
      const window = windows[id];
      if (!window) return 0.6;
      const [low, high] = window;
      const outside = Math.max(
        0,
        Math.log((seconds + 0.02) / (high + 0.02)),
        Math.log((low + 0.02) / (seconds + 0.02)),
      );
      const fit = Math.exp(-((outside / comparisons.delayFade) ** 2) / 2);
      return comparisons.delayOutside + (1 - comparisons.delayOutside) * fit;
    });
  },
};
