import {
  figuresOf,
  oddSetup,
  unplugSteps,
  type UnplugStep,
  type Assessment,
  type CircuitId,
  type Device,
  type Feed,
  type Marker,
  type PredictedStretch,
  type Profile,
  type Run,
  type Shape,
} from '@umbral/core';
import { describeSamples } from '../../analysis/pool.ts';
import * as engine from '../../analysis/engine.ts';
import { loadSamples, readChunks, RunStore } from '../jobs/chunks.ts';
import { db, transaction, type Queries } from '../../record/db.ts';
import { ExpectedError, missing } from '../../record/errors.ts';
import { noteEntered } from './corrections.ts';
import { askedOf, loadContent } from '../jobs/jobs.ts';
import { actor } from '../../record/actor.ts';
import { isUncalled } from '../jobs/uncalled.ts';
import { forgetLive, liveSamples } from './live-trace.ts';
import { askAbout, deviceOf, insertRun, nextRunKey, writeDescription } from './record.ts';
import { type RecordingRow } from '../../record/rows.ts';
import { heldFor, settingNotes } from './set-to.ts';

/** How a recorded device stands, as it is said when the recording is looked at: what was set at its beginning may be corrected. */
export interface SaidOfRecording {
  feed: Feed;
  setup: Run['setup'];
  after: string | null;
}

/** Until when it was recorded, seconds since it began. */
const endOf = ({ started_at: began, ended_at: ended }: RecordingRow): number =>
  ((ended ?? new Date()).getTime() - began.getTime()) / 1000;

const saidOr = (row: RecordingRow, said: SaidOfRecording | null): SaidOfRecording =>
  said ?? { feed: row.feed, setup: row.setup, after: row.after_action };

/** What somebody says of the device, and what the supply says of itself: live as when it is kept. */
function runOf(row: RecordingRow, key: string, said: SaidOfRecording | null): Run {
  const { feed, setup, after } = saidOr(row, said);
  const held = heldFor(row.set_to, endOf(row));
  return {
    id: key,
    file: `${row.instrument_key} ${row.started_at.toISOString().slice(0, 19)}`,
    typed: null,
    feed,
    quantity: 'current',
    instrument: row.instrument,
    setup: held ? { ...setup, setV: held.volts, limitA: held.limitA } : setup,
    markers: row.markers,
    contract: null,
    after,
  };
}

/** Somebody else saves it than began it: the run says so. */
async function keptByAnother(q: Queries, { person_id: began }: RecordingRow): Promise<string[]> {
  const now = actor()?.person;
  if (began === null || now === undefined || now.id === began) return [];
  const [person] = (await q('people').where({ id: began }).select('name')) as { name: string }[];
  return person ? [`Recorded by ${person.name}, saved by ${now.name}.`] : [];
}

/** What is said of a run whose recording broke off. */
const brokeOff = (why: string | null): string =>
  why === null
    ? 'The recording was interrupted. What was saved is here.'
    : `The recording was interrupted: ${why}. What was saved is here.`;

async function describe(q: Queries, row: RecordingRow, run: Run, device: Device) {
  const { samples, summary } = await loadSamples(q, row.id, run.instrument, 'recording');
  if (samples.t.length < 2) return null;
  return describeSamples({ kind: 'describe', run, device, samples, summary, limitSpans: [] });
}

/**
 * Makes a run of a recording that has ended, or that broke off: its samples move, and the job is assessed.
 *
 * @param said how it stands as the screen has it now; as it was begun where null
 * @param isConfirmed what is odd about it was asked, and is so
 * @returns the name of the run
 * @throws {ExpectedError} where it still goes on, or holds nothing; `asked` where setup and log disagree
 */
export async function saveRecording(
  recordingId: number,
  said: SaidOfRecording | null = null,
  isConfirmed = true,
): Promise<{ jobId: number; key: string }> {
  return transaction(async (q) => {
    const row = await q<RecordingRow>('recordings').where({ id: recordingId }).forUpdate().first();
    if (!row || row.state === 'kept') throw missing('This recording');
    if (row.state === 'recording')
      throw new ExpectedError('conflict', 'This recording is still running. Stop it first.');
    const content = await loadContent(q, row.job_id);
    const key = await nextRunKey(q, row.job_id);
    const run = runOf(row, key, said);
    const described = await describe(q, row, run, deviceOf(content));
    if (!described) throw new ExpectedError('input', 'Nothing was recorded. It ended before the first sample.');
    askAbout(described, deviceOf(content), isConfirmed);
    const runId = await insertRun(q, row.job_id, run, { done_at: row.started_at });
    const store = new RunStore(q, runId);
    for await (const block of readChunks(q, row.id, 'recording')) await store.add(block);
    await store.finish();
    const gaps = row.gaps.map((g) =>
      g.t0 === g.t1
        ? `At ${g.t0.toFixed(1)} s: ${g.why}.`
        : `No readings from ${g.t0.toFixed(1)} s to ${g.t1.toFixed(1)} s: ${g.why}.`,
    );
    const others = await keptByAnother(q, row);
    const set = settingNotes(row.set_to, endOf(row), saidOr(row, said).setup);
    const broke = row.state === 'interrupted' ? [brokeOff(row.problem)] : [];
    await writeDescription(q, runId, {
      ...described,
      startedAt: row.started_at.toISOString(),
      warnings: [...described.warnings, ...set, ...broke, ...others, ...gaps],
    });
    await q('recording_chunks').where({ recording_id: row.id }).delete();
    await q('recordings').where({ id: row.id }).update({ state: 'kept', run_id: runId });
    await noteEntered(q, row.job_id, `run ${key} recorded`, 'runs', [runId]);
    forgetLive(row.id);
    return { jobId: row.job_id, key };
  });
}

/** The call so far, and what its leading suspects would draw. */
export interface CallSoFar {
  /** Null while nothing is to be said: nothing feeds the device yet, or a practice unit was not called. */
  assessment: Assessment | null;
  /** Where the setup and what was measured so far disagree. */
  odd: string[];
  /** Up to when it was looked at, seconds since the recording began. */
  untilS: number;
  /** What was marked, as it is read. */
  markers: Marker[];
  /** What the draw did when something was unplugged or put back meanwhile. */
  pulled: UnplugStep[];
  draws: { id: CircuitId; stretches: PredictedStretch[] }[];
}

const maxDraws = 3;

/**
 * What the engine would say if the recording were kept now; null while there is too little of it.
 *
 * @param said how it stands as the screen has it now; as it was begun where null
 */
export async function callOfRecording(
  recordingId: number,
  said: SaidOfRecording | null = null,
): Promise<CallSoFar | null> {
  const q = db();
  const row = await q<RecordingRow>('recordings').where({ id: recordingId }).first();
  if (!row || row.state === 'kept') throw missing('This recording');
  const content = await loadContent(q, row.job_id);
  const { value, shapes, used, options } = await askedOf(q, content);
  const run = runOf(row, 'now', said);
  const { samples, summary } = await liveSamples(q, row.id, run.instrument);
  if (samples.t.length < 2) return null;
  const device = deviceOf(content);
  const described = await describeSamples({ kind: 'describe', run, device, samples, summary, limitSpans: [] });
  const odd = oddSetup(device, described.run, described.shape);
  const untilS = samples.t[samples.t.length - 1];
  const seen = { odd, untilS, markers: described.shape.markers, pulled: unplugSteps(described.shape) };
  if (isUnfed(described.shape) || (await isUncalled(q, row.job_id))) return { assessment: null, ...seen, draws: [] };
  shapes.set(run.id, described.shape);
  const soFar = { ...value, runs: [...value.runs, described.run] };
  const assessment = await engine.assess(soFar, shapes, used, options);
  const suspects = assessment.circuits.filter((c) => c.id !== 'unmodelled').slice(0, maxDraws);
  const ids = suspects.map((c) => c.id);
  const draws = await engine.predictedDraws(soFar, described.run, described.shape, ids, used);
  return { assessment, ...seen, draws: ids.map((id, k) => ({ id, stretches: draws[k].stretches })) };
}

/** Nothing feeds it yet: no voltage stood at all, and neither a marker nor the trace says that a feed came on. */
function isUnfed({ features }: Shape): boolean {
  const { highest, presentS } = features.voltage;
  return highest !== null && presentS === 0 && !features.onSeen;
}

/** The job of a recording. */
export async function jobOfRecording(recordingId: number): Promise<number> {
  const row = await db()<RecordingRow>('recordings').where({ id: recordingId }).first('job_id');
  if (!row) throw missing('This recording');
  return row.job_id;
}

/** Recordings of a job that ended or broke off and are not runs yet. */
export async function leftRecordings(q: Queries, jobId: number): Promise<RecordingRow[]> {
  return q<RecordingRow>('recordings')
    .where({ job_id: jobId })
    .whereIn('state', ['finished', 'interrupted'])
    .orderBy('id');
}

/** What a feed of this device may get at most, with the reason in words. Volts, amperes. */
export function boundsOf(
  device: Device,
  feed: Feed,
  profile: Profile | null,
): { maxV: number; maxA: number; why: string } {
  const of = profile ? `profile ${profile.name}` : `a ${device.class} in general`;
  if (feed === 'dc-in') {
    const volts = profile?.dcIn?.volts ?? figuresOf(device).dcV;
    return { maxV: round(1.05 * volts), maxA: profile?.dcIn?.limitA ?? 5, why: `DC input of ${of}` };
  }
  const volts = profile?.battery?.fullV ?? 1.15 * figuresOf(device).batteryV;
  return { maxV: round(volts), maxA: 5, why: `full battery of ${of}` };
}

const round = (x: number): number => Math.round(100 * x) / 100;
