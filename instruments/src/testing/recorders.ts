import { fork, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { parseFault, shippedProfile, shippedProfiles, unknownSetup, type Profile } from '@umbral/core';
import {
  noCalibration,
  Recorder,
  type InstrumentSpec,
  type RecorderOptions,
  type StationState,
} from '../recorder/index.ts';
import { SimulatedBench, SimulatedMeter, SimulatedSupply } from '../simulated/index.ts';
import { unpackSamples } from '../store/samples.ts';
import { makeTestSchema, type TestSchema } from './schema.ts';
import { now, until } from './until.ts';

export { now, until };

export const phone: Profile = shippedProfile('tallgate-moorcall-2') ?? shippedProfiles[0];
export const token = 'a-token-for-tests';
/** Recorders with a simulated bench against a schema of their own, for the tests of one file; everything is closed after each test. */
export function useRecorders() {
  let schema: TestSchema;
  let jobId: number;
  beforeAll(async () => {
    schema = await makeTestSchema();
    const [{ id }] = (await schema
      .db('jobs')
      .insert({ label: 'a phone on the bench', device_class: 'phone', model: phone.name, expect: '{}', intake: '{}' })
      .returning('id')) as { id: number }[];
    jobId = id;
  }, 60_000);
  afterAll(() => schema.drop());
  const closing: (() => Promise<unknown> | unknown)[] = [];
  afterEach(async () => {
    for (const close of closing.splice(0).reverse()) await close();
  });

  async function bench(fault = 'none') {
    const simulated = new SimulatedBench(phone, [parseFault(phone, fault)], now);
    const supply = new SimulatedSupply(simulated);
    const meter = new SimulatedMeter(simulated, { rateHz: 200 });
    const [supplyPort, meterPort] = [await supply.listen(), await meter.listen()];
    closing.push(
      () => supply.close(),
      () => meter.close(),
    );
    const spec = (key: string, kind: InstrumentSpec['kind'], port: number): InstrumentSpec => ({
      key,
      name: `the ${key}`,
      kind,
      transport: { kind: 'tcp', host: '127.0.0.1', port },
      dialect: kind === 'supply' ? 'scpi-usual' : 'lines-usual',
      calibration: noCalibration,
      simulated: true,
    });
    return {
      simulated,
      supply,
      meter,
      specs: [spec('supply', 'supply', supplyPort), spec('meter', 'meter', meterPort)],
    };
  }

  function ownFolder(): string {
    const folder = mkdtempSync(join(tmpdir(), 'umbral-recorder-'));
    closing.unshift(() => rmSync(folder, { recursive: true, force: true }));
    return folder;
  }

  /** Speaks to a recorder as the web application does. */
  function client(port: number) {
    const call = async (path: string, body?: unknown, withToken = token) => {
      const answer = await fetch(`http://127.0.0.1:${port}${path}`, {
        method: body === undefined ? 'GET' : 'POST',
        headers: { authorization: `Bearer ${withToken}` },
        body: body === undefined ? undefined : JSON.stringify(body),
      });
      return { status: answer.status, value: (await answer.json()) as Record<string, unknown> };
    };
    const states = async () => (await call('/state')).value as unknown as StationState[];
    const state = async (key: string) => {
      const found = (await states()).find((s) => s.key === key);
      if (!found) throw new Error(`no ${key}`);
      return found;
    };
    return {
      call,
      states,
      state,
      /** Waits until so many more samples of a recording have come. */
      moreSamples: async (key: string, count: number) => {
        const { rows = 0 } = (await state(key)).recording ?? {};
        await until(async () => ((await state(key)).recording?.rows ?? 0) >= rows + count, `${count} samples more`);
      },
      measuring: () => until(async () => (await states()).every((s) => s.health === 'measuring'), 'all measure'),
      record: async (key: string): Promise<number> => {
        const body = { instrument: key, jobId, feed: key === 'meter' ? 'usb-c' : 'battery', setup: unknownSetup };
        const { status, value } = await call('/record', body);
        if (status !== 200) throw new Error(String(value.problem));
        return value.recording as number;
      },
    };
  }

  async function recorder(
    parts: { specs?: InstrumentSpec[] },
    databaseUrl = schema.url,
    more: Partial<RecorderOptions> = {},
  ) {
    const made = new Recorder({
      record: databaseUrl,
      token,
      port: 0,
      instruments: parts.specs,
      folder: ownFolder(),
      ...more,
    });
    const port = await made.start();
    closing.push(() => made.stop(AbortSignal.timeout(5000)));
    const speak = client(port);
    await speak.measuring();
    return { ...speak, port, recorder: made };
  }

  /** @param given the folder of an earlier one, for its successor */
  async function ownProcess(
    parts: Awaited<ReturnType<typeof bench>>,
    given?: { folder?: string; databaseUrl?: string },
  ) {
    const folder = given?.folder ?? ownFolder();
    const databaseUrl = given?.databaseUrl ?? schema.url;
    await schema.db('instruments').delete();
    await schema.db('instruments').insert(parts.specs.map((spec) => ({ key: spec.key, spec: JSON.stringify(spec) })));
    const child: ChildProcess = fork(join(__dirname, '../../dist/recorder/main.js'), {
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
    closing.push(() => {
      child.kill('SIGKILL');
      return schema.db('instruments').delete();
    });
    const [{ port }] = (await once(child, 'message')) as [{ port: number }];
    const speak = client(port);
    await speak.measuring();
    return { ...speak, child, folder };
  }

  async function samplesOf(recordingId: number) {
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
  const rowOf = (id: number) => schema.db('recordings').where({ id }).first<Record<string, unknown>>();

  return {
    bench,
    recorder,
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
