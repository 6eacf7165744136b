import {
  engineVersion,
  isHealthy,
  outsideOnly,
  seenRun,
  topPattern,
  type Assessment,
  type SignatureSetup,
} from '@umbral/core';
import { withOwnEngine, type OwnEngine } from '../../analysis/engine.ts';
import type { MadeJob } from '../../analysis/engine-answers.ts';
import { db, json, transaction, type Queries } from '../../record/db.ts';
import { openProofsOf } from '../entries/job-edits.ts';
import { countCalls } from '../library/calls.ts';
import { libraryCaseOf } from '../../analysis/known-library.ts';
import { keyOfJob, runOfLibrary, weightOf } from '../library/teach.ts';
import { loadPolicy } from '../shop/policy.ts';
import { insertMany } from '../../record/insert-many.ts';
import { isOpened, storeEntries, type Times } from './year-entries.ts';

/** Closed jobs in the made-up year. */
export const yearJobs = 400;
const minute = 60_000;
const day = 86_400_000;

function timesOf({ job }: MadeJob, now: Date): Times {
  const start = new Date(now.getTime() - job.daysAgo * day);
  start.setHours(0, 0, 0, 0);
  const cameIn = new Date(start.getTime() + job.hour * 3_600_000);
  const at = (minutes: number): Date => new Date(cameIn.getTime() + minutes * minute);
  return { cameIn, at, opened: at((job.minutes.before.at(-1) ?? 0) + 1), closed: at(job.minutes.closed) };
}

/** How far the loading of the year is: steps that are done, of so many; null while none is under way. */
export interface YearProgress {
  done: number;
  of: number;
}

declare global {
  var umbralYear: YearProgress | null | undefined;
}

/** How far it is, for the pages and for whoever asked for it. */
export const yearProgress = (): YearProgress | null => globalThis.umbralYear ?? null;

/** Jobs that are worked out at once: between them it is said how far it is. */
const atOnce = 20;

/** Works through a list some at once; every one counts as a step. */
async function inSteps<A, B>(list: readonly A[], work: (some: readonly A[]) => Promise<B[]>): Promise<B[]> {
  const out: B[] = [];
  for (let k = 0; k < list.length; k += atOnce) {
    const some = list.slice(k, k + atOnce);
    out.push(...(await work(some)));
    if (globalThis.umbralYear) globalThis.umbralYear.done += some.length;
  }
  return out;
}

const isLoaded = async (q: Queries): Promise<boolean> =>
  (await q('jobs')
    .where({ case_id: caseId(0) })
    .first('id')) !== undefined;

/**
 * Loads a made-up year of closed jobs beside whatever is there, on a thread of its own: nobody's verdict waits for it. Does
 * nothing where it was loaded before or is being loaded. All of it or nothing; the same every time but for the dates.
 *
 * @returns how many jobs were loaded
 */
export async function loadSampleYear(now: Date, count = yearJobs): Promise<number> {
  if (yearProgress() || (await isLoaded(db()))) return 0;
  globalThis.umbralYear = { done: 0, of: 2 * count };
  try {
    return await withOwnEngine(async (engine) => {
      const numbers = Array.from({ length: count }, (_, k) => k);
      const made = await inSteps(numbers, (some) => engine.madeJobs(some[0], some[0] + some.length, count));
      return transaction((q) => store(q, engine, made, now));
    });
  } finally {
    globalThis.umbralYear = null;
  }
}

async function store(q: Queries, engine: OwnEngine, made: readonly MadeJob[], now: Date): Promise<number> {
  await q.raw('SELECT pg_advisory_xact_lock(?)', [4712]);
  if (await isLoaded(q)) return 0;
  const times = made.map((m) => timesOf(m, now));
  const jobIds = await storeJobs(q, made, times);
  await storeEntries(q, made, times, jobIds);
  const lessons = lessonsOf(made, times, jobIds);
  await storeCalls(q, engine, made, times, jobIds, lessons);
  // From here to the end nobody else's job can teach.
  await storeLessons(q, lessons);
  await countCalls(q, jobIds);
  return made.length;
}

const caseId = (k: number): string => `year-${k + 1}`;

async function storeJobs(q: Queries, made: readonly MadeJob[], times: readonly Times[]): Promise<number[]> {
  const rows = made.map(({ job, last }, k) => {
    const { device, outcome, complaintKind, intake } = job.value;
    return {
      case_id: caseId(k),
      label: job.label,
      device_class: device.class,
      model: device.model,
      serial: device.serial,
      profile: device.profile,
      profile_version: 0,
      expect: json(device.expect),
      complaint: complaintKind ? complaintKind.replace('-', ' ') : '',
      complaint_kind: complaintKind,
      intake: json(intake),
      stage: 'close' as const,
      technician: job.technician,
      opened_at: isOpened(job.value) ? times[k].opened : null,
      outcome_grade: outcome?.grade ?? null,
      outcome_circuit: outcome?.circuit ?? null,
      outcome_target: outcome?.target ?? '',
      outcome_fix: outcome?.fix ?? '',
      outcome_open: json(openProofsOf(last)),
      closed_at: times[k].closed,
      extra: '{}',
      is_sample: true,
      created_at: times[k].cameIn,
      updated_at: times[k].closed,
    };
  });
  const ids = await insertMany(q, 'jobs', rows);
  return ids.map(({ id }) => id);
}

/** What a confirmed job teaches, as it is stored. */
interface StoredLesson {
  confirmation: Record<string, unknown>;
  row: Parameters<typeof libraryCaseOf>[0] & { technician: string };
  runs: ReturnType<typeof runOfLibrary>[];
}

function lessonsOf(made: readonly MadeJob[], times: readonly Times[], jobIds: readonly number[]): StoredLesson[] {
  const confirmed = made.flatMap((one, k) => (one.lesson && one.job.value.outcome?.circuit ? [k] : []));
  const outcomeAt = (k: number) => made[k].job.value.outcome!;
  return confirmed.map((k): StoredLesson => {
    const { job, lesson, described } = made[k];
    const { device, runs, actions } = job.value;
    const seen = runs
      .filter((r) => r.after === null)
      .flatMap((run) => (described.has(run.id) ? [seenRun(job.value, run, described.get(run.id)!.shape)] : []));
    const shown = seen.find((s) => !isHealthy(s)) ?? seen[0];
    const { grade, circuit, target } = outcomeAt(k);
    return {
      confirmation: { job_id: jobIds[k], grade, circuit: circuit!, target, created_at: times[k].closed },
      row: {
        case_key: keyOfJob(jobIds[k]),
        job_id: jobIds[k],
        technician: job.technician,
        origin: '',
        model: device.model,
        device_class: device.class,
        circuit: circuit!,
        element: target,
        part: '',
        cure: actions[0] ? `${actions[0].kind} ${target}`.trim() : '',
        grade,
        weight: weightOf(grade),
        pattern: shown ? topPattern(shown.patterns) : null,
        pattern_alone: lesson!.patternAlone,
        closed_at: times[k].closed,
      },
      runs: lesson!.signatures.flatMap((signature) => {
        const run = runs.find((r) => r.id === signature.run);
        const shape = described.get(signature.run);
        return run && shape ? [runOfLibrary(job.value, run, shape.shape, signature, shape)] : [];
      }),
    };
  });
}

/** Confirmations and what they teach. */
async function storeLessons(q: Queries, lessons: readonly StoredLesson[]): Promise<void> {
  await insertMany(
    q,
    'confirmations',
    lessons.map((l) => l.confirmation),
  );
  const ids = await insertMany(
    q,
    'library_cases',
    lessons.map((l) => l.row),
  );
  const runs = lessons.flatMap((l, k) => l.runs.map((run) => ({ ...run, case_id: ids[k].id })));
  await insertMany(q, 'library_runs', runs);
}

/** A run of the library as it is read back. */
const asRead = ({ run_key, setup, data }: StoredLesson['runs'][number]) => ({
  run_key: String(run_key),
  setup: JSON.parse(String(setup)) as SignatureSetup,
  data: data as Buffer,
});

/** The call from outside of every job with what was confirmed before it, frozen; and the last one. */
async function storeCalls(
  q: Queries,
  engine: OwnEngine,
  made: readonly MadeJob[],
  times: readonly Times[],
  jobIds: readonly number[],
  lessons: readonly StoredLesson[],
): Promise<void> {
  const shop = await loadPolicy(q);
  const cases = lessons.map(({ row, runs }) => libraryCaseOf(row, runs.map(asRead)));
  await engine.learn({ gone: [], cases, revision: 0 });
  const known = { version: `year ${engineVersion}`, revision: null, recalibration: null };
  const outside = made.map((m) => outsideOnly(m.job.value));
  const asked = made.map(({ described }, k) => ({
    value: outside[k],
    shapes: new Map([...described].map(([id, d]) => [id, d.shape])),
    used: null,
    options: { shop, library: { known, without: keyOfJob(jobIds[k]), before: times[k].opened.getTime() } },
  }));
  const calls = await inSteps(asked, (some) => engine.callAll(some));
  const row = (k: number, result: Assessment, reason: string, created_at: Date, value: object) => ({
    job_id: jobIds[k],
    engine: engineVersion,
    profile: null,
    profile_version: null,
    inputs_hash: `year ${k} ${reason}`,
    reason,
    result: json(result),
    inputs: json({ value, runs: made[k].job.value.runs.map((r) => r.id) }),
    created_at,
  });
  const frozen = calls.map((result, k) => row(k, result, 'looked at from outside', times[k].opened, outside[k]));
  const ids = await insertMany(q, 'assessments', frozen);
  const openings = ids.flatMap(({ id }, k) =>
    isOpened(made[k].job.value)
      ? [{ job_id: jobIds[k], assessment_id: id, reason: 'opened', created_at: times[k].opened }]
      : [],
  );
  await insertMany(q, 'openings', openings);
  const last = made.flatMap((m, k) =>
    m.last ? [row(k, m.last, 'repaired', times[k].closed, { ...m.job.value, outcome: null })] : [],
  );
  await insertMany(q, 'assessments', last);
}
