import { formatPower, formatSeconds, formatVoltage } from '../quantity/index.ts';
import type { CircuitId, OutcomeGrade } from '../catalogue/index.ts';
import type { AlikeCase, RunPair } from './alike.ts';
import { likenessOf } from './alike.ts';
import { variances } from './distance.ts';
import { featureTypes, type FeatureDefinition } from './features.ts';
import settings from './settings.json';

/** A confirmed case as a verdict shows it: what it was, and how alike it is. */
export interface NearCase {
  id: string;
  says: string;
  origin: string | null;
  model: string;
  circuit: CircuitId;
  element: string;
  grade: OutcomeGrade;
  /** Of another model than the one in hand. */
  isOtherModel: boolean;
  /** How alike the runs are, 0 to 1. */
  likeness: number;
  /** Probability that the case in hand is this one again, 0 to 1. */
  p: number;
  /** The runs that were held against each other: here, there. */
  runs: { here: string; there: string }[];
  alike: string[];
  differs: string[];
}

/**
 * The nearest confirmed cases in words.
 *
 * @param cases as they were held against the case in hand
 * @param repeats how likely it repeats each of them, by id
 * @returns at most `settings.shown`, those that say most first
 */
export function nearCases(cases: readonly AlikeCase[], repeats: readonly { id: string; p: number }[]): NearCase[] {
  const p = new Map(repeats.map((r) => [r.id, r.p]));
  return cases
    .flatMap((one): NearCase[] => (one.squared === null ? [] : [nearCase(one, one.squared, p.get(one.one.id) ?? 0)]))
    .sort((a, b) => b.p - a.p || b.likeness - a.likeness)
    .slice(0, settings.shown);
}

function nearCase({ one, pairs, weight }: AlikeCase, squared: number, p: number): NearCase {
  const { id, says, origin, model, circuit, element, grade } = one;
  return {
    id,
    says,
    origin,
    model,
    circuit,
    element,
    grade,
    isOtherModel: weight < one.weight,
    likeness: likenessOf(squared),
    p,
    runs: pairs.map((pair) => ({ here: pair.here.run, there: pair.there.run })),
    ...comparedCase(pairs),
  };
}

/** What is alike and what is not over all pairs of runs, each thing once, the plainest first. */
export function comparedCase(pairs: readonly RunPair[]): { alike: string[]; differs: string[] } {
  const alike = new Map<string, string>();
  const differs = new Map<string, { words: string; far: number }>();
  for (const { here, there } of pairs)
    featureTypes.forEach((type, f) => {
      const [x, y] = [here.features[f], there.features[f]];
      if (Number.isNaN(x) || Number.isNaN(y)) return;
      const far = (x - y) ** 2 / (variances[f] + here.blurs[f] ** 2 + there.blurs[f] ** 2);
      if (far > settings.differsFrom) {
        if (far > (differs.get(type.id)?.far ?? 0))
          differs.set(type.id, { words: `${type.says}: ${valueOf(type, x)} here, ${valueOf(type, y)} there`, far });
      } else if (far < settings.alikeUpTo && isWorthSaying(type, x))
        alike.set(type.id, `${type.says} (${valueOf(type, x)})`);
    });
  return {
    alike: [...alike]
      .filter(([id]) => !differs.has(id))
      .map(([, words]) => words)
      .slice(0, settings.said),
    differs: [...differs.values()]
      .sort((a, b) => b.far - a.far)
      .map((d) => d.words)
      .slice(0, settings.said),
  };
}

/** That both stand at nothing is seldom what makes two runs alike. */
const isWorthSaying = (type: FeatureDefinition, x: number): boolean =>
  type.isLevel || type.scale !== 'share' || x > 0.5;

/** A feature in its own unit. */
function valueOf(type: FeatureDefinition, x: number): string {
  if (type.isLevel) return formatPower(settings.floorW * Math.sinh(x));
  if (type.scale === 'volts') return formatVoltage(Math.exp(x) - 1);
  if (type.scale === 'seconds') return formatSeconds(Math.max(0, Math.exp(x) - settings.floors.seconds));
  return `${Math.round(100 * x)} %`;
}
