import {
  drawUnit,
  feedsOf,
  instrumentsOf,
  powerOn,
  practicableCircuits,
  seededRandom,
  shippedProfiles,
  topPattern,
  type Assessment,
  type RecordedPower,
} from '@umbral/core';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { DatabaseKeeper, Recording } from '../../../../instruments/src/recorder/index.ts';
import { Spool } from '../../../../instruments/src/store/spool.ts';
import { giveTestDatabase } from '../../../testing/database.ts';
import { db } from '../../record/db.ts';
import { jobInput } from '../../record/input.ts';
import * as jobEdits from './job-edits.ts';
import { loadContent } from '../jobs/jobs.ts';
import { callOfRecording, saveRecording } from './recordings.ts';

// Threads are bundled by the web build; here the same work runs on the spot.
process.env.UMBRAL_ENGINE = 'here';
jest.mock('../../analysis/pool.ts', () => jest.requireActual<object>('../../../testing/in-process-pool.ts'));

giveTestDatabase();

const folder = mkdtempSync(join(tmpdir(), 'umbral-live-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const profiles = shippedProfiles.filter((p) => !p.generic);

/** Every circuit that a shipped profile can have a fault of, each on another feed and with another instrument than the last. */
function units(): { says: string; profile: string; recorded: RecordedPower }[] {
  let n = 0;
  return profiles.flatMap((profile) =>
    practicableCircuits(profile).map((circuit) => {
      const random = seededRandom(++n);
      const unit = drawUnit({ profile, circuit }, random);
      const feeds = feedsOf(unit.device);
      const feed = feeds[n % feeds.length];
      const instrument = instrumentsOf[feed][Math.floor(n / feeds.length) % instrumentsOf[feed].length];
      const set = { setV: null, limitA: null, port: 1, flipped: false, unplugged: [], battery: feed !== 'battery' };
      const on = { feed, instrument, presses: n % 5 !== 0, ...set };
      const recorded = powerOn(unit.device, unit.faults, [], on, 'r1', random);
      return { says: `${unit.says}, ${feed}, ${instrument}`, profile: profile.id, recorded };
    }),
  );
}

/** Recorded as the recorder does it, with its output going off at the end as it does when it is stopped. */
async function record(jobId: number, { run, trace }: RecordedPower): Promise<Recording> {
  const of = { jobId, feed: run.feed, setup: run.setup, instrument: run.instrument, after: null };
  const kept = { keeper: new DatabaseKeeper(db()), spool: new Spool(folder) };
  const recording = await Recording.begin(kept, `at-${jobId}`, of, { now: 0, wall: () => new Date() }, { everyMs: 5 });
  for (const marker of run.markers) recording.mark(marker);
  for (let k = 0; k < trace.t.length; k++)
    recording.add({ t: Math.max(1e-6, trace.t[k]), v: trace.v[k], i: trace.i[k] });
  await recording.finish();
  return recording;
}

const all = units();

test('the units that are tried have every circuit of the shipped profiles, every feed, and every instrument', () => {
  const tried = all.map(({ recorded }) => recorded.run);
  expect(new Set(tried.map((r) => r.feed)).size).toBe(3);
  expect(new Set(tried.map((r) => r.instrument.kind)).size).toBeGreaterThanOrEqual(3);
  expect(all.length).toBeGreaterThan(40);
});

test('what was said last while it was recorded is what is said of the run that is kept', async () => {
  const patterns = new Set<string>();
  for (const [k, { says, profile, recorded }] of all.entries()) {
    // Half of them as a model that nobody knows: the other way to the same verdict.
    const known = k % 2 === 0 ? { profile } : {};
    const jobId = await jobEdits.createJob(
      jobInput.validateSync({ label: says, deviceClass: 'phone', intake: {}, ...known }),
    );
    const recording = await record(jobId, recorded);
    const said = { feed: recorded.run.feed, setup: recorded.run.setup, after: null };
    await db()('recordings').where({ id: recording.id }).update({ state: 'recording', ended_at: null });
    const call = await callOfRecording(recording.id, said);
    await db()('recordings').where({ id: recording.id }).update({ state: 'finished', ended_at: new Date() });
    const { key } = await saveRecording(recording.id, said);
    const [{ result }] = (await db()('assessments').where({ job_id: jobId }).orderBy('id', 'desc')) as {
      result: Assessment;
    }[];
    const kept = result.runs.find((r) => r.id === key)!;
    if (!call?.assessment) throw new Error(`${says}: nothing was said while it was recorded`);
    patterns.add(topPattern(kept.pattern));
    expect({ says, pattern: kept.pattern }).toEqual({ says, pattern: call.assessment.runs.at(-1)?.pattern });
    expect({ says, circuits: result.circuits.map((c) => [c.id, c.p]) }).toEqual({
      says,
      circuits: call.assessment.circuits.map((c) => [c.id, c.p]),
    });
    expect((await loadContent(db(), jobId)).runs).toHaveLength(1);
  }
  expect(patterns.size).toBeGreaterThanOrEqual(8);
}, 240_000);
