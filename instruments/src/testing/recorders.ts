import { fork, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Recorder, type InstrumentSpec, type RecorderOptions } from '../recorder/index.ts';
import { unpackSamples } from '../store/samples.ts';
import { recorderClient, token } from './recorder-client.ts';
import { phone, simulatedBench, type BenchSpeaks, type Closing } from './simulated-bench.ts';
import { makeTestSchema, type TestSchema } from './schema.ts';
import { now, until } from './until.ts';

export { now, phone, token, until };

/** Recorders with a simulated bench against a schema of their own, for the tests of one file; everything is closed after each test. */
export function useRecorders() {
  let schema: TestSchema;
  let jobId: number;
  beforeAll(async () => {
    schema = await makeTestSchema();
    jobId = await insertJob(schema);
  }, 60_000);
  afterAll(() => schema.drop());
  const closing: Closing = [];
  afterEach(async () => {
    for (const close of closing.splice(0).reverse()) await close();
  });

  const ownFolder = (): string => temporaryFolder(closing);
  type Parts = Partial<Pick<Bench, 'specs'>>;
  async function recorder(parts: Parts, databaseUrl = schema.url, more: Partial<RecorderOptions> = {}, waits = true) {
    const own = { record: databaseUrl, token, port: 0, instruments: parts.specs, folder: ownFolder() };
    const made = new Recorder({ ...own, ...more });
    const port = await made.start();
    closing.push(() => made.stop(AbortSignal.timeout(5000)));
    const speak = recorderClient(port, () => jobId);
    if (waits) await speak.measuring();
    return { ...speak, port, recorder: made };
  }
  /** The same without waiting for all of its instruments. */
  const recorderOf = (parts: Parts, more: Partial<RecorderOptions>) => recorder(parts, schema.url, more, false);

  const bench = (fault?: string, speaks?: BenchSpeaks) => simulatedBench(closing, fault, speaks);
  const client = (port: number) => recorderClient(port, () => jobId);
  /** @param given the folder of an earlier one, for its successor */
  async function ownProcess(parts: Bench, given: { folder?: string; databaseUrl?: string; waits?: boolean } = {}) {
    const { folder = ownFolder(), databaseUrl = schema.url, waits = true } = given;
    await describeInstruments(schema, closing, parts.specs);
    const { child, port } = await recorderProcess(closing, databaseUrl, folder);
    const speak = client(port);
    if (waits) await speak.measuring();
    return { ...speak, child, folder };
  }

  const samplesOf = (recordingId: number) => storedTimes(schema, recordingId);
  const rowOf = (id: number) => schema.db('recordings').where({ id }).first<Record<string, unknown>>();

  return {
    bench,
    recorder,
    recorderOf,
    ownProcess,
    ownFolder,
    samplesOf,
    rowOf,
    client,
    closing,
    get schema() {
      return schema;
    },
    get jobId() {
      return jobId;
    },
  };
}

async function insertJob(schema: TestSchema): Promise<number> {
  const [{ id }] = (await schema
    .db('jobs')
    .insert({ label: 'a phone on the bench', device_class: 'phone', model: phone.name, expect: '{}', intake: '{}' })
    .returning('id')) as { id: number }[];
  return id;
}

/** Instruments for a recorder that looks them up in the record. */
async function describeInstruments(schema: TestSchema, closing: Closing, specs: InstrumentSpec[]): Promise<void> {
  await schema.db('instruments').delete();
  await schema.db('instruments').insert(specs.map((spec) => ({ key: spec.key, spec: JSON.stringify(spec) })));
  closing.push(() => schema.db('instruments').delete());
}

/** A folder that goes after everything that uses it has been closed. */
function temporaryFolder(closing: Closing): string {
  const folder = mkdtempSync(join(tmpdir(), 'umbral-recorder-'));
  const isGone = (): boolean => {
    try {
      rmSync(folder, { recursive: true });
    } catch {
      // A watchdog that outlived its recorder has just written down what it did.
    }
    return !existsSync(folder);
  };
  closing.unshift(() => until(isGone, 'the folder is gone'));
  return folder;
}

type Bench = Awaited<ReturnType<typeof simulatedBench>>;

/** Times of the samples in the record, s; its blocks have to follow on one another. */
async function storedTimes(schema: TestSchema, recordingId: number) {
  const rows = (await schema.db('recording_chunks').where({ recording_id: recordingId }).orderBy('seq')) as {
    seq: number;
    rows: number;
    samples: Buffer;
  }[];
  expect(rows.map((r) => r.seq)).toEqual(rows.map((_, k) => k));
  const t: number[] = [];
  for (const row of rows) t.push(...(await unpackSamples(row)).t);
  expect(t.every((x, k) => k === 0 || x > t[k - 1])).toBe(true);
  return t;
}

/** A recorder in a process of its own, as the application starts it. */
async function recorderProcess(
  closing: Closing,
  databaseUrl: string,
  folder: string,
): Promise<{ child: ChildProcess; port: number }> {
  const child = fork(join(__dirname, '../../dist/recorder/main.js'), {
    silent: true,
    execArgv: [],
    env: {
      ...process.env,
      DATABASE_URL: databaseUrl,
      UMBRAL_RECORDER_TOKEN: token,
      UMBRAL_RECORDER_FOLDER: folder,
      UMBRAL_DIALECTS: join(folder, 'dialects'),
    },
  });
  closing.push(() => child.kill('SIGKILL'));
  const [{ port }] = (await once(child, 'message')) as [{ port: number }];
  return { child, port };
}
