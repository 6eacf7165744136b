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
import { wilson, type Share } from './wilson.ts';

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
  /** In the shop's currency. */
  cost: number | null;
}

/** What calls can be told apart by. */
export const scorecardGroups = ['pattern', 'class', 'model', 'technician', 'month', 'engine'] as const;
export type ScorecardGroup = (typeof scorecardGroups)[number];

/** A figure with the jobs behind it. */
export interface Figure<Value> {
  value: Value;
  jobs: number[];
}

export interface ReliabilityBin {
  /** Percentages from here up to there, 0 to 1. */
  from: number;
  to: number;
  /** Mean of what was said. */
  said: number;
  right: Share;
  jobs: number[];
}

/** What calls were worth. */
export interface Scorecard {
  closed: number;
  /** Confirmed with a call that was frozen before: what hits are counted over. */
  scored: number[];
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
  confusions: { was: CircuitId; said: CircuitId; jobs: number[] }[];
  minutesToCall: Figure<number | null>;
  minutesToCause: Figure<number | null>;
  probes: Figure<number | null>;
  cost: Figure<number | null>;
}

type Scored = FrozenCall & { circuit: CircuitId };

const isScored = (c: FrozenCall): c is Scored =>
  gradeTypes[c.grade].isConfirmed && c.circuit !== null && c.circuits.length > 0;
/** The group that a call names, or everything it names where that does not reach it. */
const groupOf = ({ circuits }: Scored): CircuitId[] => suspectGroup(circuits)?.circuits ?? circuits.map((c) => c.id);
const rankOf = (c: Scored): number => c.circuits.findIndex((x) => x.id === c.circuit);

/**
 * Figures over closed jobs. A job that went away by itself, was not found or not repaired is never a hit, and counts in the
 * share that was not found.
 *
 * @param calls each job once
 */
export function scorecardOf(calls: readonly FrozenCall[]): Scorecard {
  const scored = calls.filter(isScored);
  const share = (list: readonly FrozenCall[], among: readonly FrozenCall[]): Figure<Share> => ({
    value: wilson(list.length, among.length),
    jobs: list.map((c) => c.job),
  });
  const named = scored.filter((c) => c.element !== '' && rankOf(c) === 0 && c.circuits[0].element !== null);
  const logs = scored.map((c) => logScoreOf(c));
  const prior = scored.map((c) => Math.log(baseRates(c.deviceClass)[circuitIds.indexOf(c.circuit)]));
  const alone = scored.flatMap((c) => (c.patternAlone === null ? [] : [c.patternAlone]));
  const reliability = reliabilityOf(scored);
  return {
    closed: calls.length,
    scored: scored.map((c) => c.job),
    first: share(
      scored.filter((c) => rankOf(c) === 0),
      scored,
    ),
    firstThree: share(
      scored.filter((c) => rankOf(c) >= 0 && rankOf(c) < settings.among),
      scored,
    ),
    group: share(
      scored.filter((c) => groupOf(c).includes(c.circuit)),
      scored,
    ),
    groupSize: mean(scored.map((c) => groupOf(c).length)),
    element: share(
      named.filter((c) => nameOverlap(c.element, c.circuits[0].element ?? '') >= settings.sameElement),
      named,
    ),
    notFound: share(
      calls.filter((c) => c.grade === 'not-found' || c.grade === 'disappeared'),
      calls,
    ),
    logScore: mean(logs),
    baseRates: mean(prior),
    patternAlone: mean(alone),
    calibrationError:
      scored.length === 0
        ? null
        : reliability.reduce((sum, b) => sum + (b.right.of / scored.length) * Math.abs(b.said - b.right.share), 0),
    said: mean(scored.map((c) => c.circuits[0].p)),
    reliability,
    confusions: confusionsOf(scored),
    minutesToCall: averaged(calls, (c) => c.minutesToCall),
    minutesToCause: averaged(scored, (c) => c.minutesToCause),
    probes: averaged(scored, (c) => c.probes),
    cost: averaged(scored, (c) => c.cost),
  };
}

/** The same by what calls can be told apart by, those with most scored calls first. */
export function scorecardsBy(calls: readonly FrozenCall[], group: ScorecardGroup): { key: string; card: Scorecard }[] {
  const lists = new Map<string, FrozenCall[]>();
  for (const call of calls) {
    const key = keyOf(call, group);
    const list = lists.get(key);
    if (list) list.push(call);
    else lists.set(key, [call]);
  }
  const cards = [...lists].map(([key, list]) => ({ key, card: scorecardOf(list) }));
  return group === 'month'
    ? cards.sort((a, b) => a.key.localeCompare(b.key))
    : cards.sort((a, b) => b.card.scored.length - a.card.scored.length || a.key.localeCompare(b.key));
}

function keyOf(call: FrozenCall, group: ScorecardGroup): string {
  if (group === 'class') return call.deviceClass;
  return call[group] ?? '';
}

/** Natural log of what the circuit that it was got in a call. */
export function logScoreOf(call: Pick<Scored, 'circuits' | 'circuit'>): number {
  const p = call.circuits.find((c) => c.id === call.circuit)?.p ?? 0;
  return Math.log(Math.max(p, settings.leastP));
}

function reliabilityOf(scored: readonly Scored[]): ReliabilityBin[] {
  return settings.bins.slice(1).map((to, k) => {
    const from = settings.bins[k];
    const isLast = k === settings.bins.length - 2;
    const list = scored.filter(({ circuits: [{ p }] }) => p >= from && (p < to || isLast));
    return {
      from,
      to,
      said: mean(list.map((c) => c.circuits[0].p)) ?? (from + to) / 2,
      right: wilson(list.filter((c) => rankOf(c) === 0).length, list.length),
      jobs: list.map((c) => c.job),
    };
  });
}

function confusionsOf(scored: readonly Scored[]): Scorecard['confusions'] {
  const by = new Map<string, { was: CircuitId; said: CircuitId; jobs: number[] }>();
  for (const c of scored) {
    if (rankOf(c) === 0) continue;
    const said = c.circuits[0].id;
    const key = `${c.circuit} ${said}`;
    const known = by.get(key) ?? { was: c.circuit, said, jobs: [] };
    by.set(key, { ...known, jobs: [...known.jobs, c.job] });
  }
  return [...by.values()].sort((a, b) => b.jobs.length - a.jobs.length || a.was.localeCompare(b.was));
}

function averaged<Call extends FrozenCall>(
  calls: readonly Call[],
  of: (call: Call) => number | null,
): Figure<number | null> {
  const known = calls.filter((c) => of(c) !== null);
  return { value: mean(known.map((c) => of(c) ?? 0)), jobs: known.map((c) => c.job) };
}

function mean(list: readonly number[]): number | null {
  return list.length === 0 ? null : list.reduce((a, b) => a + b, 0) / list.length;
}

const minuteMs = 60_000;

/** Minutes of work from when things were entered: the time between two entries, a long break counting as a short one. */
export function activeMinutes(entries: readonly Date[]): number | null {
  const times = entries.map((d) => d.getTime()).sort((a, b) => a - b);
  if (times.length < 2) return null;
  return times.slice(1).reduce((sum, t, k) => sum + Math.min(settings.breakMinutes, (t - times[k]) / minuteMs), 0);
}
