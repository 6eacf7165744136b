import {
  engineVersion,
  oddSetup,
  readTypedTogether,
  type ColumnMapping,
  type Device,
  type Marker,
  type Run,
  type Trace,
} from '@umbral/core';
import { describeSamples, readLogOnThread } from '../../analysis/pool.ts';
import type { Described, Samples } from '../../analysis/protocol.ts';
import { droppedNote, loadSamples, RunStore } from '../jobs/chunks.ts';
import { json, plainText, transaction, type Queries } from '../../record/db.ts';
import { asked, conflict, ExpectedError, missing } from '../../record/errors.ts';
import { type RunSetupInput } from '../../record/input.ts';
import { addAudit } from '../../record/audit.ts';
import { teachLibrary } from '../library/teach.ts';
import { changeRows, noteEntered } from './corrections.ts';
import { followedAction, loadContent, verdictDue, refuseCircle } from '../jobs/jobs.ts';
import { caseOf, runOf, type JobContent, type RunRow } from '../../record/rows.ts';
import { setupOf, contractOf } from './run-setup.ts';

/** The next free name for a run of the job; runs that were taken out keep theirs. Others wait until this one is stored. */
export async function nextRunKey(q: Queries, jobId: number): Promise<string> {
  await q.raw('SELECT pg_advisory_xact_lock(?, ?)', [4713, jobId]);
  const taken = new Set((await q('runs').where({ job_id: jobId }).pluck('run_key')) as string[]);
  let n = taken.size + 1;
  while (taken.has(`r${n}`)) n++;
  return `r${n}`;
}

/** Inserts the run; its samples follow with a {@link RunStore}. */
export async function insertRun(q: Queries, jobId: number, run: Run, fields: Partial<RunRow> = {}): Promise<number> {
  const [{ id }] = await q('runs')
    .insert({
      job_id: jobId,
      run_key: run.id,
      feed: run.feed,
      quantity: run.quantity,
      instrument: json(run.instrument),
      setup: json(run.setup),
      markers: json(run.markers),
      contract: run.contract ? json(run.contract) : null,
      after_action: run.after,
      ...(fields.done_at === undefined ? {} : { done_at: fields.done_at }),
      void_why: run.void?.why ?? null,
      typed: run.typed === null ? null : plainText(run.typed),
      file_name: run.file === null ? null : plainText(run.file),
      limit_spans: json(fields.limit_spans ?? []),
      summary: '{}',
      shape: '{}',
      preview: '{}',
      engine: engineVersion,
      extra: run.extra ? json(run.extra) : null,
    })
    .returning('id');
  return id as number;
}

/** Writes what was found out about a run. */
export async function writeDescription(q: Queries, runId: number, d: Described): Promise<void> {
  await q('runs')
    .where({ id: runId })
    .update({
      quantity: d.run.quantity,
      repairs: json(d.repairs),
      warnings: json(d.warnings),
      summary: json(d.shape.summary),
      shape: json(d.shape),
      preview: json(d.preview),
      engine: engineVersion,
      started_at: d.startedAt,
    });
}

export function deviceOf(content: JobContent): Device {
  return caseOf(content).device;
}

/**
 * Asks about a run whose setup and log disagree before it is kept. One that is kept all the same says so when it is looked at.
 *
 * @throws {ExpectedError} `asked`, with both values, unless it was confirmed
 */
export function askAbout({ run, shape }: Pick<Described, 'run' | 'shape'>, device: Device, isConfirmed: boolean): void {
  const odd = isConfirmed ? [] : oddSetup(device, run, shape);
  if (odd.length > 0) throw asked(odd);
}

/** Feeds that one device has at most. */
const maxTogether = 3;

/**
 * A run from what a person read off a display, or one of each feed that was read at once. What the form says of the setup stands unless the line says otherwise.
 *
 * @throws {ExpectedError} for more feeds at once than a device has; {@link FormatError} for a line that cannot be read
 */
export async function addTypedRun(
  jobId: number,
  line: string,
  after: string | null | undefined,
  isConfirmed = false,
): Promise<string> {
  return transaction(async (q) => {
    const content = await loadContent(q, jobId);
    const key = await nextRunKey(q, jobId);
    // Further feeds of the same line take the next free names.
    const taken = await q('runs').where({ job_id: jobId }).pluck<string[]>('run_key');
    const keys = [key];
    for (let n = Number(key.slice(1)) + 1; keys.length < maxTogether; n++)
      if (!taken.includes(`r${n}`)) keys.push(`r${n}`);
    const read = readTypedTogether(plainText(line), (k) => keys[k] ?? '');
    if (read.length > maxTogether) throw new ExpectedError('input', `Readings: at most ${maxTogether} feeds at once.`);
    for (const { run, trace } of read)
      await storeRun(q, jobId, { ...run, after: followedAction(content, after) }, deviceOf(content), trace, {
        isConfirmed,
      });
    const names = read.map(({ run }) => run.id);
    await noteRuns(q, jobId, `run ${names.join(' and ')} typed`, names);
    return names.at(-1) ?? key;
  });
}

/** Notes runs by their names as one step. */
async function noteRuns(q: Queries, jobId: number, what: string, keys: readonly string[]): Promise<void> {
  const ids = await q('runs')
    .where({ job_id: jobId })
    .whereIn('run_key', [...keys])
    .pluck<number[]>('id');
  await noteEntered(q, jobId, what, 'runs', ids);
}

/**
 * Corrects a line that was typed: the run that it was stays as one that was entered by mistake, and the new one takes its place.
 *
 * @returns the name of the new run
 * @throws {ExpectedError} for a run that was not typed; {@link FormatError} for a line that cannot be read
 */
export async function retypeRun(jobId: number, entryId: number, line: string, isConfirmed = false): Promise<string> {
  return transaction(async (q) => {
    const content = await loadContent(q, jobId);
    const row = content.record.runs.find((r) => r.id === entryId);
    if (!row) throw missing('This run');
    if (row.typed === null)
      throw new ExpectedError('input', `Run ${row.run_key} was recorded, not typed. Correct its setup instead.`);
    const key = await nextRunKey(q, jobId);
    const [read, more] = readTypedTogether(plainText(line), () => key);
    if (more)
      throw new ExpectedError('input', 'Readings: one feed in a corrected line. Type the other one as a new run.');
    await storeRun(q, jobId, { ...read.run, after: row.after_action }, deviceOf(content), read.trace, { isConfirmed });
    const [id] = await q('runs').where({ job_id: jobId, run_key: key }).pluck<number[]>('id');
    await q('runs')
      .where({ id })
      .update({ done_at: row.done_at ?? row.created_at, void_why: row.void_why });
    // What named the old run names the new one.
    const named = [
      ...content.record.actions
        .filter((a) => a.run_before === row.run_key)
        .map((a) => ({ table: 'actions' as const, id: a.id, columns: { run_before: key } })),
      ...content.record.proofs
        .filter((p) => p.run_key === row.run_key)
        .map((p) => ({ table: 'proofs' as const, id: p.id, columns: { run_key: key } })),
    ];
    await changeRows(
      q,
      jobId,
      `run ${row.run_key} typed again as ${key}`,
      [...named, { table: 'runs', id: row.id, columns: { deleted_at: q.fn.now() } }],
      [{ table: 'runs', id }],
    );
    return key;
  });
}

/**
 * Describes and stores a run whose samples are at hand.
 *
 * @param options `doneAt`: when it was made, ISO 8601; null where nobody said, now where left out. `isConfirmed`: false where
 * what is odd about it is to be asked first
 * @throws {ExpectedError} as {@link askAbout}
 */
export async function storeRun(
  q: Queries,
  jobId: number,
  run: Run,
  device: Device,
  trace: Trace,
  { doneAt, isConfirmed = true }: { doneAt?: string | null; isConfirmed?: boolean } = {},
): Promise<void> {
  const samples: Samples = { t: trace.t, v: trace.v, i: trace.i };
  const described = await describeSamples({
    kind: 'describe',
    run,
    device,
    samples,
    summary: null,
    limitSpans: trace.limitSpans,
  });
  askAbout(described, device, isConfirmed);
  const at = doneAt === undefined ? {} : { done_at: doneAt === null ? null : new Date(doneAt) };
  const runId = await insertRun(q, jobId, run, { limit_spans: trace.limitSpans, ...at });
  const store = new RunStore(q, runId);
  await store.add(samples);
  await store.finish();
  await writeDescription(q, runId, described);
}

interface LogUpload {
  fileName: string;
  setup: RunSetupInput;
  mapping: ColumnMapping | null;
  source: AsyncIterable<Uint8Array>;
  signal: AbortSignal;
  /** What is odd about it was asked, and is so. */
  isConfirmed?: boolean;
}

/** A run from a log file, stored block by block in one transaction: all of it or nothing. */
export async function addLogRun(jobId: number, upload: LogUpload): Promise<string> {
  const { setup, instrument } = setupOf(upload.setup);
  return transaction(async (q) => {
    const content = await loadContent(q, jobId);
    const key = await nextRunKey(q, jobId);
    const run: Run = {
      id: key,
      file: upload.fileName,
      typed: null,
      contract: contractOf(upload.setup),
      feed: upload.setup.feed,
      quantity: 'current',
      instrument,
      setup,
      markers: [],
      after: followedAction(content, upload.setup.after),
    };
    await storeLog(q, jobId, run, deviceOf(content), { isConfirmed: false, ...upload });
    await noteRuns(q, jobId, `run ${key} from ${upload.fileName}`, [key]);
    return key;
  });
}

/** Reads a log on a thread and stores its samples as they come. */
export async function storeLog(
  q: Queries,
  jobId: number,
  run: Run,
  device: Device,
  upload: Pick<LogUpload, 'fileName' | 'mapping' | 'source'> & {
    isConfirmed?: boolean;
    signal?: AbortSignal;
    units?: Record<string, string>;
    doneAt?: Date | null;
  },
): Promise<Described> {
  const at = upload.doneAt === undefined ? {} : { done_at: upload.doneAt };
  const runId = await insertRun(q, jobId, run, at);
  const store = new RunStore(q, runId);
  const task = {
    kind: 'log' as const,
    run,
    device,
    fileName: upload.fileName,
    mapping: upload.mapping,
    units: upload.units ?? {},
  };
  const described = await readLogOnThread(task, upload.source, (samples) => store.add(samples), upload.signal);
  askAbout(described, device, upload.isConfirmed ?? true);
  await store.finish();
  await writeDescription(q, runId, described);
  return described;
}

/**
 * Puts the markers of a run where a person says they are, and assesses anew.
 *
 * @returns the version of the run that this made
 */
export async function setMarkers(runId: number, version: number, markers: Marker[]): Promise<number> {
  return transaction(async (q) => {
    const row = await lockRun(q, runId, version);
    const content = await loadContent(q, row.job_id);
    const given = markers.map(({ t, event, note, said }): Marker => ({
      t,
      event,
      ...(note ? { note } : {}),
      ...(said === undefined ? {} : { said }),
    }));
    const run: Run = { ...runOf(row), markers: given };
    await redescribe(q, row, run, deviceOf(content), { markers: json(given) });
    await addAudit(q, row.job_id, `markers of run ${row.run_key} set`, { markers: given });
    await verdictDue(q, row.job_id, `markers of run ${row.run_key}`);
    await teachLibrary(q, row.job_id);
    return row.version + 1;
  });
}

/**
 * Corrects how a run was made.
 *
 * @throws {ExpectedError} as {@link askAbout}
 */
export async function setRunSetup(
  runId: number,
  version: number,
  input: RunSetupInput,
  isConfirmed = false,
): Promise<void> {
  const { setup, instrument } = setupOf(input);
  const contract = contractOf(input);
  await transaction(async (q) => {
    const row = await lockRun(q, runId, version);
    const content = await loadContent(q, row.job_id);
    const after = input.after === undefined ? row.after_action : followedAction(content, input.after);
    refuseCircle(content, row.run_key, after);
    const { kind, resolutionA } = instrument;
    const kept = {
      ...row.instrument,
      kind: kind ?? row.instrument.kind,
      resolutionA: resolutionA ?? row.instrument.resolutionA,
    };
    const run: Run = { ...runOf(row), feed: input.feed, setup, contract, instrument: kept, after };
    const device = deviceOf(content);
    const described = await redescribe(q, row, run, device, {
      feed: input.feed,
      setup: json(setup),
      contract: contract ? json(contract) : null,
      instrument: json(kept),
      after_action: after,
    });
    askAbout(described, device, isConfirmed);
    await addAudit(q, row.job_id, `setup of run ${row.run_key} corrected`);
    await verdictDue(q, row.job_id, `setup of run ${row.run_key}`);
    await teachLibrary(q, row.job_id);
  });
}

async function lockRun(q: Queries, runId: number, version: number): Promise<RunRow> {
  const row = await q<RunRow>('runs').where({ id: runId }).whereNull('deleted_at').forUpdate().first();
  if (!row) throw missing('This run');
  if (row.version !== version) throw conflict();
  return row;
}

async function redescribe(q: Queries, row: RunRow, run: Run, device: Device, changes: object): Promise<Described> {
  const [dropped] = droppedNote(row);
  if (dropped) throw new ExpectedError('input', `Run ${row.run_key} cannot be analysed again. ${dropped}`);
  const { samples, summary } = await loadSamples(q, row.id, run.instrument);
  const described = await describeSamples({
    kind: 'describe',
    run,
    device,
    samples,
    summary,
    limitSpans: row.limit_spans,
  });
  await q('runs')
    .where({ id: row.id })
    .update({
      ...changes,
      version: row.version + 1,
      shape: json(described.shape),
      summary: json(described.shape.summary),
      preview: json(described.preview),
      engine: engineVersion,
    });
  return described;
}

/** Describes a run anew that an older engine described; nothing of what was recorded changes. */
export async function describeAgain(q: Queries, row: RunRow, device: Device): Promise<void> {
  if (row.engine !== engineVersion && row.samples_dropped_at === null) await redescribe(q, row, runOf(row), device, {});
}
