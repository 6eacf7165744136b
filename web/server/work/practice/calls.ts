import {
  beginner,
  circuitIds,
  courseLessonOf,
  difficultyOf,
  decidingFact,
  gradeTypes,
  isGrade,
  judgeClosing,
  leadingShare,
  missedBy,
  pairsAfter,
  patternIds,
  pointsFor,
  probabilitiesOf,
  ratedAbility,
  refusedShares,
  rivalOf,
  stateAfter,
  tallyOf,
  type Call,
  type CircuitId,
  type DrawnBoth,
  type OutcomeGrade,
  type Review,
  type ValuedTest,
} from '@umbral/core';
import { LRUCache } from 'lru-cache';
import * as yup from 'yup';
import * as engine from '../../analysis/engine.ts';
import { addAudit } from '../../record/audit.ts';
import { json, transaction, type Queries } from '../../record/db.ts';
import { ExpectedError } from '../../record/errors.ts';
import { openProofsOf } from '../entries/job-edits.ts';
import { askedOf, latestAssessment } from '../jobs/jobs.ts';
import type { Person } from '../../record/actor.ts';
import { loadPolicy } from '../shop/policy.ts';
import { findProfile } from '../shop/profiles.ts';
import {
  actionOf,
  caseOf,
  runOf,
  type JobContent,
  type PracticeClosing,
  type PracticeReviewRow,
  type PracticeUnitRow,
} from '../../record/rows.ts';
import { unitAtWork } from './bench.ts';
import { closeLesson } from './course.ts';

const shareInput = yup.object({
  circuit: yup.string().oneOf(circuitIds, 'Circuit: not one that is known').required(),
  percent: yup.number().required(),
});

export const callInput = yup.object({
  jobId: yup.number().integer().positive().required(),
  pattern: yup.string().oneOf(patternIds, 'Pattern: choose what the run shows').required(),
  shares: yup.array(shareInput).max(circuitIds.length).required(),
  test: yup.string().max(200).default(''),
  expects: yup.string().max(200).default(''),
});

export const finishInput = yup.object({
  jobId: yup.number().integer().positive().required(),
  /** What is said at the end; null where nothing is. */
  shares: yup.array(shareInput).max(circuitIds.length).nullable().default(null),
  /** How the job would be closed, with what fixed it or what is known; empty where it is only finished. */
  grade: yup
    .string()
    .test('grade', 'Outcome: choose one of the list', (value) => !value || isGrade(value))
    .default(''),
  fix: yup.string().max(2000).default(''),
});

/**
 * Keeps what somebody says a unit has, with what the engine said of the same and what the call missed. Once: an answer
 * that is given again changes nothing.
 *
 * @throws {ExpectedError} for percentages that do not sum, a unit that was called, or one of which nothing is known
 */
export async function callUnit(input: yup.InferType<typeof callInput>, person: Person): Promise<void> {
  const call = input as Call & { jobId: number };
  const refused = refusedShares(call.shares);
  if (refused !== null) throw new ExpectedError('input', refused);
  await transaction(async (q) => {
    const { unit, content } = await unitAtWork(q, call.jobId, person);
    const given = await latestAssessment(q, call.jobId);
    if (!given || content.runs.length === 0)
      throw new ExpectedError('input', 'There is no run yet. Switch the unit on first, then make your call.');
    const said = leadingShare(call.shares).circuit;
    const draws = await drawsOf(q, content, unit.circuit, rivalOf(call, given.result, unit.circuit));
    const held = { call, given: given.result, truth: unit.circuit, draws };
    const next = await valueOf(q, content, call);
    const points = pointsFor(probabilitiesOf(call.shares), unit.circuit);
    const enginePoints = pointsFor(given.result.circuits, unit.circuit);
    const made = await q('practice_calls')
      .insert({
        job_id: call.jobId,
        pattern: call.pattern,
        shares: json(call.shares),
        test: call.test,
        expects: call.expects,
        test_points: next.points,
        expects_p: next.expectsP,
        assessment_id: given.id,
        missed: json(missedBy(held)),
        decided: json(decidingFact(held)),
        points,
        engine_points: enginePoints,
      })
      .onConflict('job_id')
      .ignore()
      .returning('job_id');
    if (made.length === 0)
      throw new ExpectedError('conflict', 'You have already called this unit. The first call counts.');
    await learn(q, unit, said, points, enginePoints);
    const lesson = unit.lesson === null ? null : courseLessonOf(unit.lesson);
    if (lesson) await closeLesson(q, lesson, person.id);
    await addAudit(q, call.jobId, 'practice unit called');
  });
}

async function drawsOf(
  q: Queries,
  content: JobContent,
  truth: CircuitId,
  rival: CircuitId | null,
): Promise<DrawnBoth[]> {
  if (rival === null) return [];
  const { job, runs } = content;
  const known = job.profile ? await findProfile(q, job.profile, job.profile_version) : null;
  const value = caseOf(content);
  const out: DrawnBoth[] = [];
  for (const row of runs) {
    const [own, other] = await engine.predictedDraws(value, runOf(row), row.shape, [truth, rival], known);
    out.push({ run: row.run_key, own, other });
  }
  return out;
}

/**
 * What the test is worth that was named as the next, and how likely what is expected of it.
 *
 * @throws {ExpectedError} for a test that cannot be made here, or an outcome that it does not have
 */
async function valueOf(
  q: Queries,
  content: JobContent,
  { test, expects }: Call,
): Promise<{ points: number | null; expectsP: number | null }> {
  if (test === '' && expects === '') return { points: null, expectsP: null };
  const named = (await nextTests(q, content)).find((t) => t.name === test);
  if (!named) throw new ExpectedError('input', `Next test: choose one of the list; "${test}" is not possible now.`);
  if (expects === '') return { points: named.points, expectsP: null };
  const outcome = named.outcomes.find((o) => o.says === expects);
  if (outcome) return { points: named.points, expectsP: outcome.p };
  const expected = named.outcomes.map((o) => o.says).join(', ') || 'nothing, because it is not a test';
  throw new ExpectedError('input', `Expected result: expected one of ${expected}; got "${expects}".`);
}

/** By the assessment that they go with, since a page that is loaded again asks the same. */
const valued = new LRUCache<number, ValuedTest[]>({ max: 50 });

/** Every test that can be named next, with what it is worth as the job stands. */
export async function nextTests(q: Queries, content: JobContent): Promise<ValuedTest[]> {
  const given = await latestAssessment(q, content.job.id);
  const known = given && valued.get(given.id);
  if (known) return known;
  const { value, shapes, used, options } = await askedOf(q, content);
  const tests = await engine.valuedTests(value, shapes, used, options);
  if (given) valued.set(given.id, tests);
  return tests;
}

/** What one call shows of the person: how well they read, and which circuits they mix up. */
async function learn(
  q: Queries,
  unit: PracticeUnitRow,
  said: CircuitId,
  points: number,
  enginePoints: number,
): Promise<void> {
  const person_id = unit.person_id;
  const now = new Date();
  const before = (await q('practice_learners').where({ person_id }).forUpdate().first())?.ability ?? beginner;
  const ability = ratedAbility(before, unit.circuit, difficultyOf(enginePoints), points);
  await q('practice_learners')
    .insert({ person_id, ability: json(ability) })
    .onConflict('person_id')
    .merge({ ability: json(ability), updated_at: now });
  const reviews = await loadReviews(q, person_id, 'pair');
  for (const r of pairsAfter(reviews, unit.circuit, said, now)) await saveReview(q, person_id, 'pair', r);
}

/** What a person is asked again, of one kind. */
export async function loadReviews(q: Queries, personId: number, kind: PracticeReviewRow['kind']): Promise<Review[]> {
  const rows = await q<PracticeReviewRow>('practice_reviews').where({ person_id: personId, kind });
  return rows.map(({ key, card, last_right, wrong }) => ({ key, card, lastRight: last_right, wrong }));
}

/** Keeps when something is asked again. */
export async function saveReview(
  q: Queries,
  personId: number,
  kind: PracticeReviewRow['kind'],
  { key, card, lastRight, wrong }: Review,
): Promise<void> {
  const row = { card: json(card), last_right: lastRight, wrong, due_at: new Date(card.due) };
  await q('practice_reviews')
    .insert({ person_id: personId, key, kind, ...row })
    .onConflict(['person_id', 'kind', 'key'])
    .merge(row);
}

/**
 * Takes a unit off the bench: what it was is shown, and what it took is added up for good. A unit that was not called ends
 * without points; one that was called may be said anew at the end, after measuring, with points of its own, and closed as a job
 * would be.
 *
 * @throws {ExpectedError} for percentages that do not sum, for a last word without a first, and for an outcome without a call
 */
export async function finishUnit(
  {
    jobId,
    shares,
    grade = '',
    fix = '',
  }: { jobId: number; shares: Call['shares'] | null; grade?: string; fix?: string },
  person: Person,
): Promise<void> {
  await transaction(async (q) => {
    const { unit, content } = await unitAtWork(q, jobId, person);
    if (shares) await keepFinal(q, unit, shares);
    const shop = await loadPolicy(q);
    const tally = tallyOf(caseOf(content), unit.device, unit.faults, unit.looks, shop, true);
    const closing = isGrade(grade) ? await closingOf(q, unit, content, { grade, fix }) : null;
    await q('practice_units')
      .where({ job_id: jobId })
      .update({ finished_at: q.fn.now(), tally: json(tally), closing: json(closing) });
    await q('jobs').where({ id: jobId }).update({ stage: 'close' });
    await addAudit(q, jobId, 'practice unit finished');
  });
}

/** A unit as it is closed with an outcome, its circuit being the last that was called. */
async function closingOf(
  q: Queries,
  unit: PracticeUnitRow,
  content: JobContent,
  { grade, fix }: { grade: OutcomeGrade; fix: string },
): Promise<PracticeClosing> {
  const call = await q('practice_calls').where({ job_id: unit.job_id }).first();
  if (!call) throw new ExpectedError('input', 'Make your call before you close the unit.');
  const given = (await latestAssessment(q, unit.job_id))?.result ?? null;
  const { device, faults } = unit;
  const left = stateAfter(device, faults, content.actions.map(actionOf)).faults;
  const judged = judgeClosing(grade, { device, faults, left, supported: given?.conclusion?.outcome?.grade ?? null });
  const { circuit } = leadingShare(call.final_shares ?? call.shares);
  return {
    ...judged,
    grade,
    circuit: gradeTypes[grade].circuit === 'none' ? null : circuit,
    fix,
    open: openProofsOf(given),
  };
}

async function keepFinal(q: Queries, unit: PracticeUnitRow, shares: Call['shares']): Promise<void> {
  const refused = refusedShares(shares);
  if (refused !== null) throw new ExpectedError('input', refused);
  const given = await latestAssessment(q, unit.job_id);
  const kept = await q('practice_calls')
    .where({ job_id: unit.job_id })
    .update({
      final_shares: json(shares),
      final_points: pointsFor(probabilitiesOf(shares), unit.circuit),
      final_engine_points: pointsFor(given?.result.circuits ?? [], unit.circuit),
    });
  if (kept === 0) throw new ExpectedError('input', 'Make your first call before the final one.');
}
