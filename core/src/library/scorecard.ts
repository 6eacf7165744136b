import {
  circuitIds,
  gradeTypes,
  type CircuitId,
  type DeviceClass,
  type OutcomeGrade,
  type PatternId,
} from '../catalogue/index.ts';
import { baseRates, nameOverlap } from '../hypotheses/index.ts';
import settings from './scorecard.json';
import { suspectGroup } from './suspect-group.ts';
import { wilsonInterval, type Share } from './wilson.ts';

/** A closed job with the call that was frozen before anybody could know better. */
export interface FrozenCall {
  /** Number of the job. */
  job: number;
  /** Circuits by percentage, the first suspect first; empty where nothing was ever called. */
  circuits: readonly { id: CircuitId; p: number; element: string | null }[];
  grade: OutcomeGrade;
  /** Null where no cause is known. */
  circuit: CircuitId | null;
  /** Empty where only the circuit is known. */
  element: string;
  pattern: PatternId | null;
  deviceClass: DeviceClass;
  model: string;
  technician: string;
  /** Year and month: "2026-04". */
  month: string;
  engine: string;
  /** Natural log of what the circuit gets by the table of patterns alone; null where it was not worked out. */
  patternAlone: number | null;
  /** Minutes of work; null where nothing tells. */
  minutesToCall: number | null;
  minutesToCause: number | null;
  probes: number;
}

/** What calls can be told apart by. */
export const scorecardGroups = ['pattern', 'class', 'model', 'technician', 'month', 'engine'] as const;
export type ScorecardGroup = (typeof scorecardGroups)[number];

/** How many calls there were, and the sum of what each of them adds. */
export interface Sum {
  n: number;
  sum: number;
}

/**
 * What calls add up to, by the name of what is counted. Sums of two lists of calls add up to the sums of both, so they can be
 * kept and need never be made again.
 */
export type CallSums = ReadonlyMap<string, Sum>;

/** A figure, and the name of what is counted by the jobs behind it: see {@link countsOf}. */
export interface Figure<Value> {
  value: Value;
  counted: string;
  /** How many jobs that are. */
  jobs: number;
}

export interface ReliabilityBin {
  /** Percentages from here up to there, 0 to 1. */
  from: number;
  to: number;
  /** Mean of what was said. */
  said: number;
  right: Share;
  counted: string;
}

/** What calls were worth. */
export interface Scorecard {
  closed: number;
  /** Confirmed with a call that was frozen before: what hits are counted over. */
  scored: Figure<number>;
  first: Figure<Share>;
  firstThree: Figure<Share>;
  /** The true circuit is in the smallest group of suspects that reaches four in five together; and how large such groups are. */
  group: Figure<Share>;
  groupSize: number | null;
  element: Figure<Share>;
  notFound: Figure<Share>;
  /** Mean natural log of what the circuit got; and what it would have got otherwise. Null without calls. */
  logScore: number | null;
  baseRates: number | null;
  patternAlone: number | null;
  calibrationError: number | null;
  /** What was said of the first suspect on average, beside how often it was it. */
  said: number | null;
  reliability: ReliabilityBin[];
  confusions: { was: CircuitId; said: CircuitId; jobs: number; counted: string }[];
  minutesToCall: Figure<number | null>;
  minutesToCause: Figure<number | null>;
  probes: Figure<number | null>;
}

type Scored = FrozenCall & { circuit: CircuitId };

const isScored = (c: FrozenCall): c is Scored =>
  gradeTypes[c.grade].isConfirmed && c.circuit !== null && c.circuits.length > 0;
/** The group that a call names, or everything it names where that does not reach it. */
const groupOf = ({ circuits }: Scored): CircuitId[] => suspectGroup(circuits)?.circuits ?? circuits.map((c) => c.id);
const rankOf = (c: Scored): number => c.circuits.findIndex((x) => x.id === c.circuit);

/**
 * What one closed job counts for, each with the number that it adds (0 where it is only counted).
 *
 * A job that went away by itself, was not found or not repaired is never a hit, and counts in the share that was not found.
 */
export function countsOf(call: FrozenCall): Map<string, number> {
  const counts = new Map<string, number>([['closed', 0]]);
  const add = (what: string, x: number | null): void => void (x !== null && counts.set(what, x));
  if (call.grade === 'not-found' || call.grade === 'disappeared') add('not found', 0);
  add('minutes to call', call.minutesToCall);
  if (!isScored(call)) return counts;
  const { circuits, circuit } = call;
  const [{ id: said, p, element }] = circuits;
  const rank = rankOf(call);
  const group = groupOf(call);
  const bin = binOf(p);
  add('scored', p);
  if (rank === 0) add('first', 0);
  else add(`confusion ${circuit} ${said}`, 0);
  if (rank >= 0 && rank < settings.among) add('first three', 0);
  if (group.includes(circuit)) add('group', 0);
  add('group size', group.length);
  if (call.element !== '' && rank === 0 && element !== null) {
    add('element named', 0);
    if (nameOverlap(call.element, element) >= settings.sameElement) add('element', 0);
  }
  add('log score', logScoreOf(call));
  add('base rates', Math.log(baseRates(call.deviceClass)[circuitIds.indexOf(circuit)]));
  add('pattern alone', call.patternAlone);
  add(`bin ${bin}`, p);
  if (rank === 0) add(`bin ${bin} right`, 0);
  add('minutes to cause', call.minutesToCause);
  add('probes', call.probes);
  return counts;
}

/** Place of a percentage among the bins. */
function binOf(p: number): number {
  const above = settings.bins.slice(1, -1).findIndex((to) => p < to);
  return above < 0 ? settings.bins.length - 2 : above;
}

/** What calls add up to. */
export function addUp(calls: readonly FrozenCall[]): CallSums {
  const sums = new Map<string, Sum>();
  for (const call of calls)
    for (const [what, x] of countsOf(call)) {
      const known = sums.get(what) ?? { n: 0, sum: 0 };
      sums.set(what, { n: known.n + 1, sum: known.sum + x });
    }
  return sums;
}

/** Figures over closed jobs, from what they add up to: see {@link addUp}. */
export function scorecardOf(sums: CallSums): Scorecard {
  const count = (what: string): number => sums.get(what)?.n ?? 0;
  const mean = (what: string): number | null => {
    const { n, sum } = sums.get(what) ?? { n: 0, sum: 0 };
    return n === 0 ? null : sum / n;
  };
  const share = (counted: string, among: string): Figure<Share> => ({
    value: wilsonInterval(count(counted), count(among)),
    counted,
    jobs: count(counted),
  });
  const averaged = (counted: string): Figure<number | null> => ({
    value: mean(counted),
    counted,
    jobs: count(counted),
  });
  const scored = count('scored');
  const reliability = settings.bins.slice(1).map((to, k): ReliabilityBin => {
    const from = settings.bins[k];
    const right = wilsonInterval(count(`bin ${k} right`), count(`bin ${k}`));
    return { from, to, said: mean(`bin ${k}`) ?? (from + to) / 2, right, counted: `bin ${k}` };
  });
  return {
    closed: count('closed'),
    scored: { value: scored, counted: 'scored', jobs: scored },
    first: share('first', 'scored'),
    firstThree: share('first three', 'scored'),
    group: share('group', 'scored'),
    groupSize: mean('group size'),
    element: share('element', 'element named'),
    notFound: share('not found', 'closed'),
    logScore: mean('log score'),
    baseRates: mean('base rates'),
    patternAlone: mean('pattern alone'),
    calibrationError:
      scored === 0
        ? null
        : reliability.reduce((sum, b) => sum + (b.right.of / scored) * Math.abs(b.said - b.right.share), 0),
    said: mean('scored'),
    reliability,
    confusions: confusionsOf(sums),
    minutesToCall: averaged('minutes to call'),
    minutesToCause: averaged('minutes to cause'),
    probes: averaged('probes'),
  };
}

function confusionsOf(sums: CallSums): Scorecard['confusions'] {
  return [...sums]
    .flatMap(([counted, { n }]) => {
      const [kind, was, said] = counted.split(' ') as [string, CircuitId, CircuitId];
      return kind === 'confusion' && n > 0 ? [{ was, said, jobs: n, counted }] : [];
    })
    .sort((a, b) => b.jobs - a.jobs || a.counted.localeCompare(b.counted));
}

/** What a call is told apart by, in each way: '' where nobody knows. */
export function groupKeys(call: FrozenCall): Record<ScorecardGroup, string> {
  const { pattern, deviceClass, model, technician, month, engine } = call;
  return { pattern: pattern ?? '', class: deviceClass, model, technician, month, engine };
}

/** Scorecards by what calls can be told apart by: months in their order, of others those with most scored calls first. */
export function inOrderOf(
  group: ScorecardGroup,
  cards: readonly { key: string; card: Scorecard }[],
): { key: string; card: Scorecard }[] {
  return [...cards].sort((a, b) =>
    group === 'month'
      ? a.key.localeCompare(b.key)
      : b.card.scored.value - a.card.scored.value || a.key.localeCompare(b.key),
  );
}

/** Natural log of what the circuit that it was got in a call. */
export function logScoreOf(call: Pick<Scored, 'circuits' | 'circuit'>): number {
  const p = call.circuits.find((c) => c.id === call.circuit)?.p ?? 0;
  return Math.log(Math.max(p, settings.minP));
}

const minuteMs = 60_000;

/** Minutes of work from when things were entered: the time between two entries, a long break counting as a short one. */
export function activeMinutes(entries: readonly Date[]): number | null {
  const times = entries.map((d) => d.getTime()).sort((a, b) => a - b);
  if (times.length < 2) return null;
  return times.slice(1).reduce((sum, t, k) => sum + Math.min(settings.breakMinutes, (t - times[k]) / minuteMs), 0);
}
