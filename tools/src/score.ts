import {
  namedChecks,
  checkIds,
  checkTypes,
  type CheckId,
  plainCheck,
  type Case,
  openingMinutes,
  assess,
  describe,
  type Assessment,
  type Shape,
  type Profile,
  type VirtualCase,
} from '@umbral/core';

/** What the engine said of one case at one stage of the work. */
export interface Verdict {
  circuit: string;
  top: string;
  p: number;
  rank: number;
  pTrue: number;
  targetRank: number | null;
  unmodelledRank: number;
}

export const stagesOfWork = ['runs', 'checks', 'readings'] as const;
type StageOfWork = (typeof stagesOfWork)[number];

export interface CaseScore {
  verdicts: Record<StageOfWork, Verdict>;
  minutes: { engine: number; checklist: number; cheapest: number } | null;
  outside: boolean;
  twoFaults: boolean;
}

/** Checks that a bench does early, in the order of the work; and those that lead to the cause, probing included. */
const early: CheckId[] = checkIds.filter((id) => checkTypes[id].depth <= 2);
const reversible: CheckId[] = checkIds.filter((id) => checkTypes[id].depth <= 3);
const maxMinutes = 90;
const enough = 0.6;

function shapesOf(one: VirtualCase): Map<string, Shape> {
  const shapes = new Map<string, Shape>();
  for (const run of one.value.runs) {
    const trace = one.traces.get(run.id);
    if (trace) shapes.set(run.id, describe(one.value, run, trace, null));
  }
  return shapes;
}

/** What an assessment says of a case whose cause is known. */
export function verdictOf(a: Assessment, one: VirtualCase): Verdict {
  const rank = a.circuits.findIndex((c) => c.id === one.circuit);
  const found = a.circuits[rank];
  const target = found?.targets.findIndex((t) => t.name === one.target) ?? -1;
  const unmodelled = a.circuits.findIndex((c) => c.id === 'unmodelled');
  return {
    circuit: one.circuit,
    top: a.circuits[0].id,
    p: a.circuits[0].p,
    rank: rank < 0 ? 99 : rank + 1,
    pTrue: found?.p ?? 1e-4,
    targetRank: one.target === null ? null : target < 0 || rank !== 0 ? 99 : target + 1,
    unmodelledRank: unmodelled < 0 ? 99 : unmodelled + 1,
  };
}

/** Runs one case through the stages of the work, and through three orders of testing. */
export function scoreCase(one: VirtualCase, profiles: ReadonlyMap<string, Profile>, withMinutes: boolean): CaseScore {
  const shapes = shapesOf(one);
  const ask = (value: Case): Assessment => assess(value, shapes, { profiles });
  const checks = early.flatMap((id) => {
    const outcome = one.outcomeOf(id);
    return outcome === null ? [] : [{ ...plainCheck, id, outcome }];
  });
  const withChecks: Case = { ...one.value, checks };
  const withReadings: Case = { ...withChecks, readings: one.readings };
  return {
    verdicts: {
      runs: verdictOf(ask(one.value), one),
      checks: verdictOf(ask(withChecks), one),
      readings: verdictOf(ask(withReadings), one),
    },
    minutes: withMinutes && !one.outside ? minutesOf(one, ask) : null,
    outside: one.outside,
    twoFaults: one.faults.length > 1,
  };
}

type Chooser = (a: Assessment, left: CheckId[], reached: number) => CheckId | undefined;

const costOf = (id: CheckId, reached: number): number =>
  checkTypes[id].minutes + openingMinutes(reached, checkTypes[id].depth);

function minutesOf(one: VirtualCase, ask: (value: Case) => Assessment): CaseScore['minutes'] {
  const bySuggestion: Chooser = (a, left) => {
    const found = a.next.find((n) => n.kind === 'check' && n.check !== null && left.includes(n.check));
    return found?.check ?? left[0];
  };
  const inOrder: Chooser = (_, left) => left[0];
  const cheapest: Chooser = (_, left, reached) => [...left].sort((a, b) => costOf(a, reached) - costOf(b, reached))[0];
  return {
    engine: minutesUntilCalled(one, ask, bySuggestion),
    checklist: minutesUntilCalled(one, ask, inOrder),
    cheapest: minutesUntilCalled(one, ask, cheapest),
  };
}

/** What walking the ladder yields: volts on every rail, or every rail against ground. */
function readingsBy(one: VirtualCase, check: CheckId): Case['readings'] {
  if (checkTypes[check].readBy !== 'ladder') return [];
  return one.readings.filter((r) => (r.mode === 'voltage') === (check === namedChecks.voltages));
}

/** Minutes until the right circuit leads clearly; the whole allowance where it never does. */
function minutesUntilCalled(one: VirtualCase, ask: (value: Case) => Assessment, choose: Chooser): number {
  let left = reversible.filter((id) => one.outcomeOf(id) !== null || readingsBy(one, id).length > 0);
  const checks: Case['checks'] = [];
  const readings: Case['readings'] = [];
  let minutes = 0;
  let reached = one.value.runs.some((r) => r.feed === 'battery') ? 1 : 0;
  for (;;) {
    const a = ask({ ...one.value, checks, readings });
    if (a.circuits[0].id === one.circuit && a.circuits[0].p >= enough) return minutes;
    const next = choose(a, left, reached);
    if (next === undefined) return maxMinutes;
    minutes += costOf(next, reached);
    reached = Math.max(reached, checkTypes[next].depth);
    left = left.filter((id) => id !== next);
    const outcome = one.outcomeOf(next);
    if (outcome === null) readings.push(...readingsBy(one, next));
    else checks.push({ ...plainCheck, id: next, outcome });
  }
}

export interface Figures {
  cases: number;
  top1: number;
  top3: number;
  targetTop1: number | null;
  logLoss: number;
  /** Expected calibration error of the first suspect's percentage, ten bins. */
  calibrationError: number;
  reliability: { said: number; right: number; cases: number }[];
  /** Which circuits were taken for which others, most frequent first. */
  confusions: { was: string; said: string; cases: number }[];
}

/** Figures over many cases; those with a fault outside the hypotheses are counted elsewhere. */
export function figuresFor(scores: CaseScore[], stage: StageOfWork): Figures {
  return figuresOf(scores.filter((s) => !s.outside).map((s) => s.verdicts[stage]));
}

/** Figures over verdicts. */
export function figuresOf(list: readonly Verdict[]): Figures {
  const n = Math.max(1, list.length);
  const share = (test: (v: Verdict) => boolean): number => list.filter(test).length / n;
  const bins = Array.from({ length: 10 }, (_, k) => list.filter((v) => Math.min(9, Math.floor(10 * v.p)) === k));
  const reliability = bins.map((bin) => ({
    said: bin.reduce((sum, v) => sum + v.p, 0) / Math.max(1, bin.length),
    right: bin.filter((v) => v.rank === 1).length / Math.max(1, bin.length),
    cases: bin.length,
  }));
  const confusions = new Map<string, number>();
  for (const v of list)
    if (v.rank !== 1) confusions.set(`${v.circuit} ${v.top}`, (confusions.get(`${v.circuit} ${v.top}`) ?? 0) + 1);
  const targets = list.filter((v) => v.targetRank !== null);
  return {
    cases: list.length,
    top1: share((v) => v.rank === 1),
    top3: share((v) => v.rank <= 3),
    targetTop1: targets.length === 0 ? null : targets.filter((v) => v.targetRank === 1).length / targets.length,
    logLoss: list.reduce((sum, v) => sum - Math.log(Math.max(v.pTrue, 1e-4)), 0) / n,
    calibrationError: reliability.reduce((sum, b) => sum + (b.cases / n) * Math.abs(b.said - b.right), 0),
    reliability,
    confusions: [...confusions]
      .map(([key, cases]) => ({ was: key.split(' ')[0], said: key.split(' ')[1], cases }))
      .sort((a, b) => b.cases - a.cases)
      .slice(0, 25),
  };
}

/** Of figures, what later ones are held against: shares from 0 to 1, and what was said of the first suspect on average. */
interface AcceptedFigures {
  cases: number;
  top1: number;
  top3: number;
  said: number;
}

export const acceptedOf = ({ cases, top1, top3, reliability }: Figures): AcceptedFigures => ({
  cases,
  top1,
  top3,
  said: reliability.reduce((sum, b) => sum + b.said * b.cases, 0) / Math.max(1, cases),
});

/**
 * What has fallen clearly below accepted figures: by more than three standard errors of a share at this number of cases.
 * Calibration is compared as a whole, since its bins scatter too much in a small set.
 *
 * @returns sentences; empty where nothing has fallen
 */
export function clearlyBelow(now: AcceptedFigures, accepted: AcceptedFigures): string[] {
  const error = (share: number): number => 3 * Math.sqrt(Math.max(0.05, share * (1 - share)) / Math.max(1, now.cases));
  const percent = (x: number): string => `${Math.round(100 * x)} %`;
  const out: string[] = [];
  const compare = (what: string, a: number, b: number): void => {
    if (a < b - error(b)) out.push(`${what} in ${percent(a)}, accepted ${percent(b)}`);
  };
  compare('first suspect right', now.top1, accepted.top1);
  compare('among the first three', now.top3, accepted.top3);
  const [gap, before] = [now.said - now.top1, accepted.said - accepted.top1];
  if (gap > Math.max(0, before) + error(now.top1))
    out.push(`says ${percent(now.said)} on average and is right in ${percent(now.top1)}`);
  return out;
}
