import {
  checkIds,
  checkTypes,
  circuitNames,
  courseLessonOf,
  feedsOf,
  instrumentsOf,
  patternNames,
  patternTypes,
  practicableCircuits,
  tallyOf,
  topPattern,
  type Assessment,
  type CircuitId,
  type InstrumentName,
  type Overlooked,
  type PatternId,
  type PowerOn,
  type Suggestion,
  type Tally,
} from '@umbral/core';
import type { Queries } from '../db.ts';
import { loadContent } from '../jobs.ts';
import { loadPolicy } from '../policy.ts';
import { findProfile } from '../profiles.ts';
import { caseOf, type AssessmentRow, type JobContent, type PracticeCallRow, type PracticeUnitRow } from '../rows.ts';
import { benchOf } from './bench.ts';
import { findUnit } from './units.ts';

/** What of a unit its bench offers. */
export interface UnitBench {
  feeds: PowerOn['feed'][];
  instruments: Record<PowerOn['feed'], readonly InstrumentName[]>;
  ports: number;
  hasBattery: boolean;
  nominalV: number | null;
  peripherals: { id: string; name: string }[];
  rails: { id: string; name: string; nominalV: number }[];
  checks: { id: string; name: string; ask: string }[];
}

/** A circuit with its probability, for a list. */
export interface Named {
  id: CircuitId;
  name: string;
  p: number;
}

/** A call with what the engine said of the same. */
export interface CalledView {
  pattern: string;
  shares: { id: CircuitId; name: string; percent: number }[];
  test: string;
  expects: string;
  overlooked: Overlooked[];
  engine: { pattern: string; patternP: number; circuits: Named[]; next: string; nextWhy: string };
}

/** What a practice unit adds to the page of its job. */
export interface PracticeView {
  jobId: number;
  isMine: boolean;
  lesson: string | null;
  source: PracticeUnitRow['source'];
  bench: UnitBench;
  patterns: { id: PatternId; name: string }[];
  circuits: { id: CircuitId; name: string }[];
  /** Tests that the engine would think of, in the order of their names. */
  tests: string[];
  called: CalledView | null;
  tally: Tally;
  /** What it was, once it is off the bench. */
  truth: { circuit: string; says: string; points: number | null; enginePoints: number | null } | null;
}

/** The practice side of a job; null for one of the shop's. */
export async function loadPractice(
  q: Queries,
  content: JobContent,
  latest: Assessment | null,
  personId: number,
  nextName: (s: Suggestion) => string,
): Promise<PracticeView | null> {
  if (!content.job.is_practice) return null;
  const unit = await findUnit(q, content.job.id);
  if (!unit) return null;
  const call = (await q('practice_calls').where({ job_id: unit.job_id }).first()) ?? null;
  const given = call ? await q<AssessmentRow>('assessments').where({ id: call.assessment_id }).first() : undefined;
  const known = await findProfile(q, unit.profile, unit.profile_version);
  const circuits = known ? practicableCircuits(known.profile) : practicableCircuits(unit.device);
  const ids: CircuitId[] = [...circuits, 'unmodelled'];
  return {
    jobId: unit.job_id,
    isMine: unit.person_id === personId,
    lesson: unit.lesson,
    source: unit.source,
    bench: unitBench(unit, content),
    patterns: (Object.keys(patternTypes) as PatternId[]).map((id) => ({ id, name: patternNames[id] })),
    circuits: ids.map((id) => ({ id, name: circuitNames[id] })),
    tests: [...new Set((latest?.next ?? []).map(nextName))].sort((a, b) => a.localeCompare(b)),
    called: call && given ? calledView(call, given.result, nextName) : null,
    tally: unit.tally ?? tallyOf(caseOf(content), unit.device, unit.faults, unit.looks, await loadPolicy(q)),
    truth: unit.finished_at ? truthOf(unit, call) : null,
  };
}

function truthOf(unit: PracticeUnitRow, call: PracticeCallRow | null): PracticeView['truth'] {
  const [points, enginePoints] = [call?.points ?? null, call?.engine_points ?? null];
  return { circuit: circuitNames[unit.circuit], says: unit.says, points, enginePoints };
}

function unitBench(unit: PracticeUnitRow, content: JobContent): UnitBench {
  const { device } = unit;
  const shown = unit.lesson === null ? null : courseLessonOf(unit.lesson)?.example.feed;
  const bench = benchOf(unit, content);
  const seen = checkIds.filter((id) => checkTypes[id].outcomes.length > 0 && bench.check(id) !== null);
  return {
    // What the lesson showed comes first.
    feeds: feedsOf(device).sort((a, b) => Number(b === shown) - Number(a === shown)),
    instruments: instrumentsOf,
    ports: device.ports.length,
    hasBattery: device.battery !== null,
    nominalV: device.battery?.nominalV ?? null,
    peripherals: device.peripherals.map(({ id, name }) => ({ id, name })),
    rails: device.rails.map(({ id, name, nominalV }) => ({ id, name, nominalV })),
    checks: seen.map((id) => ({ id, name: checkTypes[id].name, ask: checkTypes[id].ask })),
  };
}

/** The bench of a person's own unit that is worked on; null for any other job. */
export async function loadOwnBench(q: Queries, jobId: number, personId: number): Promise<UnitBench | null> {
  const unit = await findUnit(q, jobId);
  if (!unit || unit.person_id !== personId || unit.finished_at !== null) return null;
  return unitBench(unit, await loadContent(q, jobId));
}

const mostShown = 5;

function calledView(call: PracticeCallRow, given: Assessment, nextName: (s: Suggestion) => string): CalledView {
  const failing = given.runs.findLast((r) => patternTypes[topPattern(r.pattern)].healthyWhen === undefined);
  const run = failing ?? given.runs.at(-1);
  const top = run?.pattern[0];
  const [next] = given.next;
  return {
    pattern: patternNames[call.pattern],
    shares: call.shares.map((s) => ({ id: s.circuit, name: circuitNames[s.circuit], percent: s.percent })),
    test: call.test,
    expects: call.expects,
    overlooked: call.overlooked,
    engine: {
      pattern: top ? patternNames[top.id] : '',
      patternP: top?.p ?? 0,
      circuits: given.circuits.slice(0, mostShown).map(({ id, p }) => ({ id, name: circuitNames[id], p })),
      next: next ? nextName(next) : '',
      nextWhy: next?.why ?? '',
    },
  };
}
