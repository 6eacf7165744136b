import {
  checkTypes,
  circuitNames,
  circuitsTaughtBy,
  courseLessonOf,
  feedsOf,
  instrumentsOf,
  patternNames,
  gradeTypes,
  leadingShare,
  outcomeGrades,
  patternTypes,
  pointsToIt,
  practicableCircuits,
  tallyOf,
  topPattern,
  type Assessment,
  type CircuitId,
  type InstrumentName,
  type OutcomeGrade,
  type Fact,
  type PatternId,
  type PowerOn,
  type Suggestion,
  type Tally,
  type ValuedTest,
} from '@umbral/core';
import type { Queries } from '../../record/db.ts';
import { latestAssessment, loadContent } from '../jobs/jobs.ts';
import { loadPolicy } from '../shop/policy.ts';
import { findProfile } from '../shop/profiles.ts';
import {
  caseOf,
  type AssessmentRow,
  type JobContent,
  type PracticeCallRow,
  type PracticeUnitRow,
} from '../../record/rows.ts';
import { checksAtUnit } from '../../analysis/engine.ts';
import { unitAtHand } from './bench.ts';
import { nextTests } from './calls.ts';
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
  /** Empty where none was named. */
  test: string;
  testPoints: number | null;
  expects: string;
  /** How likely the engine thought it, 0 to 1. */
  expectsP: number | null;
  missed: Fact[];
  /** The fact that tells the circuit from the one that was called; null where the evidence does not lead to it yet. */
  decided: Fact | null;
  /** What was recorded does not show the circuit, or the call took it all in. */
  isUndecided: boolean;
  engine: { pattern: string; patternP: number; circuits: Named[]; next: string; nextWhy: string };
}

/** Points of a call beside the engine's. */
export interface Scored {
  points: number;
  engine: number;
}

/** What a unit was, with the points of the call and of what was said at the end; null where there was none. */
interface TruthView {
  circuit: string;
  says: string;
  /** The fact that told it from the likeliest other circuit when the call was made. */
  decided: Fact | null;
  /** How it was closed, and whether that is so; null where it was only finished. */
  closing: { name: string; isRight: boolean; says: string; open: string[] } | null;
  first: Scored | null;
  last: Scored | null;
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
  /** Tests that can be named next, by name, with what can come of each; empty where nobody is to call. */
  tests: { name: string; kind: ValuedTest['kind']; outcomes: string[] }[];
  called: CalledView | null;
  tally: Tally;
  /** Something was entered since the call: it may be said anew at the end. */
  isWorkedOn: boolean;
  /** How it may be closed at the end. */
  grades: { id: OutcomeGrade; name: string }[];
  /** What it was, once it is off the bench. */
  truth: TruthView | null;
}

/** The practice side of a job; null for one of the shop's. */
export async function loadPractice(
  q: Queries,
  content: JobContent,
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
  const toCall = !call && unit.person_id === personId && unit.finished_at === null && content.runs.length > 0;
  const lesson = unit.lesson === null ? null : courseLessonOf(unit.lesson);
  // A lesson asks for what was taught.
  const taught = lesson && circuitsTaughtBy(lesson);
  const ids: CircuitId[] = [...circuits.filter((id) => !taught || taught.includes(id)), 'unmodelled'];
  return {
    jobId: unit.job_id,
    isMine: unit.person_id === personId,
    lesson: unit.lesson,
    source: unit.source,
    bench: await unitBench(unit, content),
    patterns: (Object.keys(patternTypes) as PatternId[]).map((id) => ({ id, name: patternNames[id] })),
    circuits: ids.map((id) => ({ id, name: circuitNames[id] })),
    tests: toCall ? await testsToName(q, content) : [],
    called: call && given ? calledView(call, given.result, unit.circuit, nextName) : null,
    grades: outcomeGrades.map((id) => ({ id, name: gradeTypes[id].name })),
    tally: unit.tally ?? tallyOf(caseOf(content), unit.device, unit.faults, unit.looks, await loadPolicy(q)),
    isWorkedOn: call !== null && (await latestAssessment(q, unit.job_id))?.id !== call.assessment_id,
    truth: unit.finished_at ? truthOf(unit, call) : null,
  };
}

/** In an order that says nothing of what is likely. */
async function testsToName(q: Queries, content: JobContent): Promise<PracticeView['tests']> {
  const tests = await nextTests(q, content);
  return tests.map(({ name, kind, outcomes }) => ({ name, kind, outcomes: outcomes.map((o) => o.says).sort() }));
}

function truthOf({ circuit, says, closing }: PracticeUnitRow, call: PracticeCallRow | null): TruthView {
  const { final_points: points = null, final_engine_points: engine = null } = call ?? {};
  return {
    circuit: circuitNames[circuit],
    says,
    decided: call?.decided ?? null,
    closing: closing && { ...closing, name: gradeTypes[closing.grade].name },
    first: call && { points: call.points, engine: call.engine_points },
    last: points === null || engine === null ? null : { points, engine },
  };
}

async function unitBench(unit: PracticeUnitRow, content: JobContent): Promise<UnitBench> {
  const { device } = unit;
  const shown = unit.lesson === null ? null : courseLessonOf(unit.lesson)?.example.feed;
  const seen = await checksAtUnit(unitAtHand(unit, content));
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

const maxShown = 5;

function calledView(
  call: PracticeCallRow,
  given: Assessment,
  truth: CircuitId,
  nextName: (s: Suggestion) => string,
): CalledView {
  const isPointed = pointsToIt(given, truth);
  const isRight = leadingShare(call.shares).circuit === truth;
  const failing = given.runs.findLast((r) => patternTypes[topPattern(r.pattern)].healthyWhen === undefined);
  const run = failing ?? given.runs.at(-1);
  const top = run?.pattern[0];
  const [next] = given.next;
  return {
    pattern: patternNames[call.pattern],
    shares: call.shares.map((s) => ({ id: s.circuit, name: circuitNames[s.circuit], percent: s.percent })),
    test: call.test,
    testPoints: call.test_points,
    expects: call.expects,
    expectsP: call.expects_p,
    missed: call.missed,
    decided: isPointed ? call.decided : null,
    isUndecided: !isPointed || (!isRight && call.decided === null),
    engine: {
      pattern: top ? patternNames[top.id] : '',
      patternP: top?.p ?? 0,
      circuits: given.circuits.slice(0, maxShown).map(({ id, p }) => ({ id, name: circuitNames[id], p })),
      next: next ? nextName(next) : '',
      nextWhy: next?.why ?? '',
    },
  };
}
