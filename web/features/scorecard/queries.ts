import {
  circuitNames,
  correctedP,
  engineVersion,
  fitRecalibration,
  patternNames,
  scorecardOf,
  scorecardsBy,
  type Recalibration,
  type Scorecard,
  type ScorecardGroup,
} from '@umbral/core';
import { db } from '@/server/db';
import { jobsWithOldVerdict } from '@/server/anew';
import { frozenCalls, type ShopCall } from '@/server/library/frozen';
import { jobNames, lastReplay } from '@/server/library/replay';
import type { ReplayRow } from '@/server/rows';
import { classWords } from '@/features/words';
import { holds, type Holds } from './holds';

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
  card: Scorecard;
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
  holds: Holds;
  group: ScorecardGroup;
  groups: GroupLine[];
  recalibration: { isOn: boolean; found: Recalibration | null; curve: { said: number; becomes: number }[] };
  replay: ReplayView | null;
  engine: string;
  oldVerdicts: number[];
}

/** Everything that the scorecard shows. */
export async function loadScorecard(group: ScorecardGroup): Promise<ScorecardPageView> {
  const q = db();
  const calls = await frozenCalls(q);
  const card = scorecardOf(calls);
  const state = await q('library_state').where({ id: 1 }).first('recalibrate');
  return {
    card,
    holds: holds(card),
    group,
    groups: scorecardsBy(calls, group).map(({ key, card: one }) => ({
      key,
      name: groupName(group, key),
      card: one,
      holds: holds(one),
    })),
    recalibration: recalibrationView(calls, state?.recalibrate ?? false),
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

function recalibrationView(calls: readonly ShopCall[], isOn: boolean): ScorecardPageView['recalibration'] {
  const known = calls.filter((c) => c.isConfirmed && c.circuit !== null && c.circuits.length > 0);
  const found = fitRecalibration(
    known.map((c) => c.circuits.map(({ id, uncorrected }) => ({ p: uncorrected, wasIt: id === c.circuit }))),
  );
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

/** The calls behind a figure. */
export async function callLines(jobs: readonly number[]): Promise<CallLine[]> {
  const wanted = new Set(jobs);
  const calls = await frozenCalls(db());
  return calls
    .filter((c) => wanted.has(c.job))
    .map((c) => {
      const rank = c.circuits.findIndex((x) => x.id === c.circuit);
      return {
        job: c.job,
        label: c.label,
        said: c.circuits[0] ? circuitNames[c.circuits[0].id] : 'nothing was called',
        p: c.circuits[0]?.p ?? 0,
        was: c.circuit === null ? '' : circuitNames[c.circuit],
        rank: rank < 0 ? null : rank + 1,
      };
    })
    .reverse();
}
