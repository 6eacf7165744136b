import {
  circuitNames,
  correctedP,
  engineVersion,
  inOrderOf,
  patternNames,
  scorecardOf,
  type Recalibration,
  type Scorecard,
  type ScorecardGroup,
} from '@umbral/core';
import { db } from '@/server/record/db';
import { jobsWithOldVerdict } from '@/server/work/entries/reassess';
import { callsCounted, sumsByGroup, sumsOfAll, type CallsAsked, type ShopCall } from '@/server/work/library/calls';
import { loadPolicy } from '@/server/work/shop/policy';
import { jobNames, lastReplay } from '@/server/work/library/replay';
import type { ReplayRow } from '@/server/record/rows';
import { classWords } from '@/features/words';
import { percentagesHold, type Holds } from './holds';

/** A frozen call as a line: what was said, and what it was. */
export interface CallLine {
  job: number;
  label: string;
  said: string;
  p: number;
  was: string;
  /** Place of what it was on the list; null where it was not on it, or nobody knows what it was. */
  rank: number | null;
}

export interface GroupLine {
  key: string;
  name: string;
  card: Pick<Scorecard, 'closed' | 'scored' | 'said' | 'first' | 'notFound' | 'minutesToCause'>;
  holds: Holds;
}

export interface ReplayView {
  id: number;
  state: ReplayRow['state'];
  done: number;
  total: number;
  isThisEngine: boolean;
  problem: string | null;
  better: { job: number; label: string; says: string }[];
  worse: { job: number; label: string; says: string }[];
  same: number;
  /** Mean natural log of what the circuit got, before and now; null where nothing was made again. */
  logs: { before: number; after: number } | null;
  first: { before: number; after: number };
}

export interface ScorecardPageView {
  card: Scorecard;
  /** What an hour of work costs, in the shop's currency. */
  hourlyCost: number;
  holds: Holds;
  group: ScorecardGroup;
  groups: GroupLine[];
  recalibration: { isOn: boolean; found: Recalibration | null; curve: { said: number; becomes: number }[] };
  replay: ReplayView | null;
  engine: string;
  oldVerdicts: number[];
}

/** Groups that are listed. */
const maxGroups = 60;

/** Everything that the scorecard shows. */
export async function loadScorecard(group: ScorecardGroup): Promise<ScorecardPageView> {
  const q = db();
  const card = scorecardOf(await sumsOfAll(q));
  const state = await q('library_state').where({ id: 1 }).first('recalibrate', 'recalibration');
  const { hourlyCost } = await loadPolicy(q);
  const cards = [...(await sumsByGroup(q, group, maxGroups))].map(([key, sums]) => ({ key, card: scorecardOf(sums) }));
  return {
    card,
    hourlyCost,
    holds: percentagesHold(card),
    group,
    groups: inOrderOf(group, cards).map(({ key, card: one }) => {
      const { closed, scored, said, first, notFound, minutesToCause } = one;
      return {
        key,
        name: groupName(group, key),
        card: { closed, scored, said, first, notFound, minutesToCause },
        holds: percentagesHold(one),
      };
    }),
    recalibration: recalibrationView(state?.recalibration ?? null, state?.recalibrate ?? false),
    replay: await replayView(),
    engine: engineName(engineVersion),
    oldVerdicts: await jobsWithOldVerdict(),
  };
}

/** What tells one engine from another: the end of its version. */
const engineName = (version: string): string => version.split('+').at(-1)?.slice(0, 8) ?? version;

function groupName(group: ScorecardGroup, key: string): string {
  if (group === 'pattern') return key === '' ? 'no run' : patternNames[key as keyof typeof patternNames];
  if (group === 'class') return classWords[key as keyof typeof classWords];
  if (group === 'engine') return key === engineVersion ? `${engineName(key)} (runs now)` : engineName(key) || 'none';
  return key || 'not noted';
}

function recalibrationView(found: Recalibration | null, isOn: boolean): ScorecardPageView['recalibration'] {
  const curve = found
    ? Array.from({ length: 21 }, (_, k) => ({ said: k / 20, becomes: correctedP(k / 20, found) }))
    : [];
  return { isOn, found, curve };
}

async function replayView(): Promise<ReplayView | null> {
  const q = db();
  const row = await lastReplay(q);
  if (!row) return null;
  const names = await jobNames(
    q,
    row.results.map((r) => r.job),
  );
  const place = (rank: number | null): string => (rank === null ? 'not listed' : `number ${rank}`);
  const line = (r: ReplayRow['results'][number]) => ({
    job: r.job,
    label: names.get(r.job) ?? '',
    says: `${place(r.before)}, now ${place(r.after)}`,
  });
  const rankOf = (rank: number | null): number => rank ?? Number.MAX_SAFE_INTEGER;
  const better = row.results.filter((r) => rankOf(r.after) < rankOf(r.before));
  const worse = row.results.filter((r) => rankOf(r.after) > rankOf(r.before));
  const n = row.results.length;
  const mean = (of: (r: ReplayRow['results'][number]) => number): number =>
    row.results.reduce((sum, r) => sum + of(r), 0) / n;
  return {
    id: row.id,
    state: row.state,
    done: row.done,
    total: row.total,
    isThisEngine: row.engine === engineVersion,
    problem: row.problem,
    better: better.map(line),
    worse: worse.map(line),
    same: n - better.length - worse.length,
    logs: n === 0 ? null : { before: mean((r) => r.logBefore), after: mean((r) => r.logAfter) },
    first: {
      before: row.results.filter((r) => r.before === 1).length,
      after: row.results.filter((r) => r.after === 1).length,
    },
  };
}

/** Calls that are listed at once. */
const atOnce = 50;

/** The calls behind a figure, some at a time, the newest first. */
export async function callLines(asked: CallsAsked): Promise<{ lines: CallLine[]; hasMore: boolean }> {
  const calls = await callsCounted(db(), asked, atOnce + 1);
  return { lines: calls.slice(0, atOnce).map(callLine), hasMore: calls.length > atOnce };
}

function callLine(call: ShopCall): CallLine {
  const rank = call.circuits.findIndex((x) => x.id === call.circuit);
  return {
    job: call.job,
    label: call.label,
    said: call.circuits[0] ? circuitNames[call.circuits[0].id] : 'no verdict',
    p: call.circuits[0]?.p ?? 0,
    was: call.circuit === null ? '' : circuitNames[call.circuit],
    rank: rank < 0 ? null : rank + 1,
  };
}
