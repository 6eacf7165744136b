import { engineVersion } from '@umbral/core';
import { packSamples } from '@umbral/instruments/samples';
import type { MadeJob } from '../../analysis/engine-answers.ts';
import { json, type Queries } from '../../record/db.ts';
import { insertMany } from '../../record/insert-many.ts';

/** When things of a job were, from its plan. */
export interface Times {
  cameIn: Date;
  at: (minutes: number) => Date;
  opened: Date;
  closed: Date;
}

export const isOpened = (value: MadeJob['job']['value']): boolean => value.actions.length + value.readings.length > 0;

type Value = MadeJob['job']['value'];

interface RunToStore {
  row: object;
  isAfter: boolean;
  samples: Parameters<typeof packSamples>[0];
}

function runRow(one: MadeJob, run: Value['runs'][number], job_id: number, created_at: Date): RunToStore[] {
  const described = one.described.get(run.id);
  const samples = one.samples.get(run.id);
  if (!described || !samples) return [];
  const row = {
    job_id,
    run_key: run.id,
    feed: run.feed,
    quantity: run.quantity,
    instrument: json(run.instrument),
    setup: json(run.setup),
    markers: json(run.markers),
    after_action: run.after,
    file_name: run.file,
    limit_spans: '[]',
    summary: json(described.shape.summary),
    shape: json(described.shape),
    preview: json(described.preview),
    engine: engineVersion,
    created_at,
  };
  return [{ row, isAfter: run.after !== null, samples }];
}

const checkRow = ({ id, outcome, note, where, rail }: Value['checks'][number]) => ({
  check_id: id,
  outcome,
  note,
  where,
  rail,
});

const readingRow = (r: Value['readings'][number]) => ({
  where: r.where,
  circuit: r.circuit,
  state: r.state,
  prompted: r.prompted,
  mode: r.mode,
  value: r.value,
  unit: r.unit,
  ol: r.ol,
  reference: r.reference,
  powered: r.powered,
  across: r.across,
});

const actionRow = (a: Value['actions'][number]) => ({
  action_key: a.id,
  kind: a.kind,
  circuit: a.circuit,
  target: a.target,
  note: a.note,
  run_before: a.runBefore,
});

/** Everything that was entered of the jobs, each thing at its time: what was seen from outside, and what came after. */
export async function storeEntries(
  q: Queries,
  made: readonly MadeJob[],
  times: readonly Times[],
  jobIds: readonly number[],
): Promise<void> {
  const [checks, readings, actions, runs] = [[] as object[], [] as object[], [] as object[], [] as RunToStore[]];
  made.forEach((one, k) => {
    const { value, minutes } = one.job;
    const [before, after] = [[...minutes.before], [...minutes.after]];
    const next = (isAfter: boolean): Date => times[k].at((isAfter ? after : before).shift() ?? minutes.closed);
    const entry = (row: object, isAfter: boolean): object => ({ ...row, job_id: jobIds[k], created_at: next(isAfter) });
    const runsWhere = (isAfter: boolean): void =>
      value.runs
        .filter((r) => (r.after !== null) === isAfter)
        .forEach((run) => runs.push(...runRow(one, run, jobIds[k], next(isAfter))));
    runsWhere(false);
    checks.push(...value.checks.map((c) => entry(checkRow(c), false)));
    readings.push(...value.readings.map((r) => entry(readingRow(r), true)));
    actions.push(...value.actions.map((a) => entry(actionRow(a), true)));
    runsWhere(true);
  });
  // A change names the run before it, and a run the change that it follows.
  await storeRuns(
    q,
    runs.filter((r) => !r.isAfter),
  );
  await insertMany(q, 'actions', actions);
  await storeRuns(
    q,
    runs.filter((r) => r.isAfter),
  );
  await insertMany(q, 'checks', checks);
  await insertMany(q, 'readings', readings);
}

async function storeRuns(q: Queries, runs: readonly RunToStore[]): Promise<void> {
  const ids = await insertMany(
    q,
    'runs',
    runs.map((r) => r.row),
  );
  const chunks = await Promise.all(
    runs.map(async ({ samples }, k) => ({ run_id: ids[k].id, seq: 0, ...(await packSamples(samples)) })),
  );
  await insertMany(q, 'run_chunks', chunks);
}
