import { countedCase, type Case, type Reading, type Run } from '../case/index.ts';
import { priorOf, priorOfHypotheses, withNames } from '../hypotheses/index.ts';
import { normaliseWeights, type PerHypothesis } from '../inference/index.ts';
import type { Memory, Recalibration } from '../library/index.ts';
import {
  assembliesOf,
  profileTrust,
  seenRun,
  withUndone,
  withWaiting,
  type History,
  type SeenRun,
} from '../observation/index.ts';
import { figuresOf, informedBy, spaceOf } from '../prediction/index.ts';
import type { Shape } from '../shape/index.ts';
import type { Profile } from '../twin/index.ts';
import { divideStates } from './states.ts';

export interface AssessOptions {
  /** The shop's own profiles by id. */
  profiles?: ReadonlyMap<string, Profile>;
  /** What confirmed cases say of the outside of this one, without it. */
  memory?: Memory | null;
  /** A correction of percentages from the shop's own calls. */
  recalibration?: Recalibration | null;
}

/** Gathers a case as its kinds of observation take it. */
export function historyOf(
  given: Case,
  shapes: ReadonlyMap<string, Shape>,
  options: AssessOptions = {},
): { history: History; reasons: ReturnType<typeof priorOf>['reasons']; base: PerHypothesis } {
  const counted = withReferences(countedCase(given));
  const named = withNames({ ...counted, actions: withUndone(counted.actions) });
  const space = spaceOf(named, options.profiles);
  const informed = informedBy(named, space.twin);
  const finest = finestDigits(informed, shapes);
  const recognised = informed.runs.flatMap((run): SeenRun[] => {
    const shape = shapes.get(run.id);
    return shape ? [seenRun(informed, run, withDigits(run, shape, finest))] : [];
  });
  const { value, seen } = divideStates(informed, withWaiting(recognised));
  const { base, reasons } = priorOf(value);
  const full = reasons.reduce((p, reason) => p.map((x, k) => x * Math.exp(reason.logs[k])), base);
  const places = new Map(value.actions.map((a, k) => [a.id, k + 1]));
  const epochOf = (after: string | null): number => (after === null ? 0 : (places.get(after) ?? 0));
  const history: History = {
    value,
    space,
    seen,
    figures: figuresOf(value.device),
    over: {
      prior: priorOfHypotheses(normaliseWeights(full), space.hypotheses),
      none: space.none,
      unmodelled: space.unmodelled,
    },
    assemblies: assembliesOf(value, epochOf, space.closeness !== 'own'),
    plausible: () => true,
    epochOf,
  };
  const trusted = { ...history, space: { ...space, trust: profileTrust(history, named, normaliseWeights(full)) } };
  return { history: trusted, reasons, base: priorOfHypotheses(base, space.hypotheses) };
}

/** What a known-good board reads at a place holds for every reading of that place, whichever it was entered with. */
function withReferences(value: Case): Case {
  const of = ({ where, mode, across }: Reading): string => `${where.trim().toLowerCase()} ${mode} ${across}`;
  const known = new Map(
    value.readings.flatMap((r) =>
      r.reference === null || r.where.trim() === '' ? [] : [[of(r), r.reference] as const],
    ),
  );
  if (known.size === 0) return value;
  return {
    ...value,
    readings: value.readings.map((r) => ({ ...r, reference: r.reference ?? known.get(of(r)) ?? null })),
  };
}

/** The finest digit that was typed of each feed, A: all lines of a job were read off one display. */
function finestDigits({ runs }: Case, shapes: ReadonlyMap<string, Shape>): ReadonlyMap<string, number> {
  const finest = new Map<string, number>();
  for (const run of runs) {
    const digit = run.typed === null ? 0 : (shapes.get(run.id)?.features.resolutionA ?? 0);
    if (digit > 0) finest.set(run.feed, Math.min(digit, finest.get(run.feed) ?? Infinity));
  }
  return finest;
}

/** A typed run with the digits of its display: a trailing zero that nobody wrote is no coarse reading. */
function withDigits(run: Run, shape: Shape, finest: ReadonlyMap<string, number>): Shape {
  const { features } = shape;
  const digit = run.typed === null ? undefined : finest.get(run.feed);
  if (digit === undefined || digit >= features.resolutionA) return shape;
  const noiseA = (features.noiseA * digit) / features.resolutionA;
  return { ...shape, features: { ...features, resolutionA: digit, noiseA } };
}
