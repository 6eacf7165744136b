import { bytesAccess, parseCase, readPackage, zipFiles, type PackageFiles } from '@umbral/core';
import * as words from '@umbral/core/words';
import { applyCatalogues } from '../catalogue-constraints.cjs';
import { giveTestDatabase } from '../../testing/database.ts';
import { loadSamples, readChunks } from '../work/jobs/chunks.ts';
import { db, transaction } from '../record/db.ts';
import { jobInput, outcomeInput, quantityOrNull, runSetupInput } from '../record/input.ts';
import { saveReading } from '../work/opened/measure.ts';
import { measureInput } from '../work/opened/measure-input.ts';
import { exportPackage, importPackage, storePackage } from '../work/exchange/packages.ts';
import { addLogRun, addTypedRun, setMarkers } from '../work/entries/record.ts';
import { fleet } from '../work/sample/fleet.ts';
import { samplePackage } from '../work/sample/load.ts';
import * as jobEdits from '../work/entries/job-edits.ts';
import { putBackEntry, takeBackEntry } from '../work/entries/corrections.ts';
import * as entries from '../work/entries/job-entries.ts';

// Threads are bundled by the web build; here the same work runs on the spot.
process.env.UMBRAL_ENGINE = 'here';
jest.mock('../analysis/pool.ts', () => jest.requireActual<object>('../../testing/in-process-pool.ts'));

giveTestDatabase();

const encoder = new TextEncoder();
const newJob = (label = 'unit'): Promise<number> =>
  jobEdits.createJob(jobInput.validateSync({ label, deviceClass: 'phone', intake: {} }));
const version = async (jobId: number): Promise<number> =>
  ((await db()('jobs').where({ id: jobId }).first('version')) as { version: number }).version;
const count = async (table: string, where: object): Promise<number> =>
  Number((await db()(table).where(where).count({ n: '*' }).first())?.n);
const stall = 'battery 4V: 0 | prompt 0.1 0.25 0.35 hold';
async function* blocks(text: string, size = 4096): AsyncGenerator<Uint8Array> {
  const bytes = encoder.encode(text);
  for (let at = 0; at < bytes.length; at += size) yield bytes.slice(at, at + size);
}
const upload = (text: string, over = {}) => ({
  fileName: 'x.csv',
  setup: runSetupInput.validateSync({ feed: 'battery', setV: '4 V', limitA: '3' }),
  mapping: null,
  source: blocks(text),
  signal: new AbortController().signal,
  ...over,
});
const csv = (n: number): string =>
  `t_s,voltage_V,current_A\n${Array.from({ length: n }, (_, k) => `${k / 20},4,${(k < n / 2 ? 0.001 : 0.3).toFixed(4)}`).join('\n')}\n`;

describe('migrations', () => {
  test('go down and up again', async () => {
    await db().migrate.rollback(undefined, true);
    expect(await db().schema.hasTable('jobs')).toBe(false);
    await db().migrate.latest();
    expect(await db().schema.hasTable('jobs')).toBe(true);
    await applyCatalogues(db(), words);
  });
  test('an id that joins a catalogue can be stored, one that leaves it cannot', async () => {
    const toaster = (): Promise<unknown> => db()('jobs').insert({ label: 'x', device_class: 'toaster' as never });
    await expect(toaster()).rejects.toThrow('jobs_class');
    await applyCatalogues(db(), { ...words, deviceClasses: [...words.deviceClasses, 'toaster'] });
    await toaster();
    await expect(applyCatalogues(db(), words)).rejects.toThrow('jobs_class');
    await db()('jobs').where('device_class', 'toaster').delete();
    await applyCatalogues(db(), words);
    await expect(toaster()).rejects.toThrow('jobs_class');
  });
});

describe('integrity lives in the database', () => {
  test.each([
    ['a class outside its list', () => db()('jobs').insert({ label: 'x', device_class: 'toaster' as never })],
    ['a job without a name', () => db()('jobs').insert({ label: '', device_class: 'phone' })],
    [
      'a run of no job',
      () =>
        db()('runs').insert({
          job_id: 999_999,
          run_key: 'r',
          feed: 'battery',
          quantity: 'current',
          instrument: '{}',
          setup: '{}',
          markers: '[]',
          typed: 'x',
          summary: '{}',
          shape: '{}',
          preview: '{}',
          engine: 'x',
        }),
    ],
    [
      'a closed job without an outcome',
      () => db()('jobs').insert({ label: 'x', device_class: 'phone', closed_at: new Date() }),
    ],
    [
      'a reading with value and open line',
      async () =>
        db()('readings').insert({ job_id: await newJob(), where: 'x', mode: 'diode', unit: 'V', value: 1, ol: true }),
    ],
    [
      'a reading with a unit that does not fit',
      async () => db()('readings').insert({ job_id: await newJob(), where: 'x', mode: 'diode', unit: 'ohm', value: 1 }),
    ],
  ])('%s is refused', async (_, insert) => expect(insert()).rejects.toThrow());

  test('assessments, openings and the audit trail cannot be changed or deleted', async () => {
    const jobId = await newJob();
    await addTypedRun(jobId, stall, null);
    await saveReading(measureInput.validateSync({ jobId, where: 'x', mode: 'voltage', text: '1' }));
    for (const table of ['assessments', 'openings', 'audit']) {
      expect(await count(table, { job_id: jobId })).toBeGreaterThan(0);
      await expect(db()(table).where({ job_id: jobId }).update({ job_id: jobId })).rejects.toThrow(/never changed/);
      await expect(db()(table).where({ job_id: jobId }).delete()).rejects.toThrow(/never changed/);
    }
  });
});

describe('runs', () => {
  test('two feeds on one line are kept together, or neither is', async () => {
    const jobId = await newJob();
    await addTypedRun(jobId, stall, undefined);
    expect(await addTypedRun(jobId, 'battery 4V: 0.3 hold + usb-c port 1: 5V 0.5 hold', undefined)).toBe('r3');
    const rows = await db()('runs').where({ job_id: jobId }).orderBy('id').select('run_key', 'feed', 'extra');
    expect(rows).toMatchObject([
      { run_key: 'r1' },
      { run_key: 'r2', feed: 'battery', extra: { together: ['r3'] } },
      { run_key: 'r3', feed: 'usb-c', extra: { together: ['r2'] } },
    ]);
    await expect(addTypedRun(jobId, 'battery 4V: 0.3 hold + usb-c port 1: nonsense', undefined)).rejects.toThrow();
    expect(await count('runs', { job_id: jobId })).toBe(3);
  });

  test('a typed run is stored with its samples, shape and verdict', async () => {
    const jobId = await newJob();
    expect(await addTypedRun(jobId, stall, null)).toBe('r1');
    const run = (await db()('runs').where({ job_id: jobId }).first())!;
    const { samples } = await loadSamples(db(), run.id, run.instrument);
    expect(samples.t.length).toBe(run.summary.rows);
    expect(Math.max(...samples.i)).toBeCloseTo(0.35, 5);
    const assessment = (await db()('assessments').where({ job_id: jobId }).first()) as {
      result: { runs: { pattern: { id: string }[] }[] };
    };
    expect(assessment.result.runs[0].pattern[0].id).toBe('stall-mid');
  });
  test('a slip stores nothing', async () => {
    const jobId = await newJob();
    await expect(addTypedRun(jobId, 'battery 4V: 300mAh', null)).rejects.toThrow(/column 13/);
    const slip = addTypedRun(jobId, 'battery 9V limit 2A: 0 | prompt 0.19 hold', null);
    await expect(slip).rejects.toMatchObject({ kind: 'asked', message: expect.stringContaining('9.00 V') });
    expect(await count('runs', { job_id: jobId })).toBe(0);
  });
  test('a log is stored block by block, every row', async () => {
    const jobId = await newJob();
    await addLogRun(jobId, upload(csv(150_000)));
    const run = (await db()('runs').where({ job_id: jobId }).first()) as { id: number };
    expect(await count('run_chunks', { run_id: run.id })).toBe(3);
    let rows = 0;
    for await (const chunk of readChunks(db(), run.id)) rows += chunk.t.length;
    expect(rows).toBe(150_000);
  }, 30_000);
  test('a log that breaks off half-way stores nothing', async () => {
    const jobId = await newJob();
    const breaking = async function* (): AsyncGenerator<Uint8Array> {
      yield encoder.encode(csv(90_000));
      throw new Error('the line went dead');
    };
    await expect(addLogRun(jobId, upload('', { source: breaking() }))).rejects.toThrow('the line went dead');
    expect(await count('runs', { job_id: jobId })).toBe(0);
  });
  test('a file that is no log stores nothing', async () => {
    const jobId = await newJob();
    await expect(addLogRun(jobId, upload('Dear bench,\nmend it.\n'))).rejects.toThrow(/x\.csv: this is not a log/);
    expect(await count('runs', { job_id: jobId })).toBe(0);
  });
  test('markers set on an old version are refused', async () => {
    const jobId = await newJob();
    await addTypedRun(jobId, 'battery 4V: 0 @6s 0.3 hold', null);
    const { id } = (await db()('runs').where({ job_id: jobId }).first()) as { id: number };
    await setMarkers(id, 1, [{ t: 5, event: 'prompt' }]);
    await expect(setMarkers(id, 1, [{ t: 3, event: 'prompt' }])).rejects.toThrow(/Someone else saved/);
    const { markers } = (await db()('runs').where({ id }).first()) as { markers: { t: number }[] };
    expect(markers.map((m) => m.t)).toEqual([5]);
  });
  test('two at once get names of their own', async () => {
    const jobId = await newJob();
    const results = await Promise.allSettled([addTypedRun(jobId, stall, null), addTypedRun(jobId, 'usb-c: 0V', null)]);
    const stored = results.filter((r) => r.status === 'fulfilled').length;
    expect(await count('runs', { job_id: jobId })).toBe(stored);
    expect(stored).toBe(2);
  });
});

describe('jobs', () => {
  test('a save with an old version changes nothing', async () => {
    const jobId = await newJob();
    await jobEdits.setStage(jobId, 1, 'record');
    await expect(jobEdits.setStage(jobId, 1, 'close')).rejects.toThrow(/Someone else saved/);
    expect(await db()('jobs').where({ id: jobId }).first('stage')).toEqual({ stage: 'record' });
  });
  test('the same inputs are not assessed twice', async () => {
    const jobId = await newJob();
    await addTypedRun(jobId, stall, null);
    const before = await count('assessments', { job_id: jobId });
    await jobEdits.editJob(
      jobId,
      await version(jobId),
      jobInput.validateSync({ label: 'renamed', deviceClass: 'phone', intake: {} }),
    );
    expect(await count('assessments', { job_id: jobId })).toBe(before);
  });
  test('the call at opening is the one before anything inside was touched', async () => {
    const jobId = await newJob();
    await addTypedRun(jobId, stall, null);
    const first = (await db()('assessments').where({ job_id: jobId }).first()) as { id: number };
    await entries.addCheck({ jobId, check: 'screen', outcome: 'dark', note: '' });
    const opposite = { jobId, check: 'screen', outcome: 'image', note: '' };
    await expect(entries.addCheck({ ...opposite, confirmed: false })).rejects.toMatchObject({
      kind: 'asked',
      message: expect.stringContaining('already answered this with “dark”'),
    });
    await entries.addCheck({ ...opposite, note: 'in the dark part of the room', half: 'upper', confirmed: false });
    expect(await count('openings', { job_id: jobId })).toBe(0);
    const second = (await db()('assessments').where({ job_id: jobId }).orderBy('id', 'desc').first()) as { id: number };
    await entries.addCheck({ jobId, check: 'peripherals-unplugged', outcome: 'same', note: '' });
    await entries.addCheck({ jobId, check: 'main-rail-resistance', outcome: 'normal', note: '' });
    const opening = (await db()('openings').where({ job_id: jobId }).first()) as { assessment_id: number };
    expect(opening.assessment_id).toBe(second.id);
    expect(second.id).toBeGreaterThan(first.id);
  });
  test('a confirmed outcome names its circuit', async () => {
    const jobId = await newJob();
    const close = (over: object) =>
      jobEdits.closeJob(outcomeInput.validateSync({ jobId, version: 1, grade: 'measured', ...over }));
    await expect(close({})).rejects.toThrow(/needs a circuit/);
    await close({ circuit: 'pmic' });
    expect(await count('jobs', { id: jobId, outcome_circuit: 'pmic' })).toBe(1);
  });
  test('taking an entry out keeps it', async () => {
    const jobId = await newJob();
    await addTypedRun(jobId, stall, null);
    const { id } = (await db()('runs').where({ job_id: jobId }).first()) as { id: number };
    await takeBackEntry(jobId, 'runs', id);
    expect(await count('runs', { id })).toBe(1);
    await putBackEntry(jobId, 'runs', id);
    expect(await db()('runs').where({ id }).whereNull('deleted_at').first('id')).toEqual({ id });
  });
  test('text with a zero character does not break the database', async () =>
    expect(await newJob('with\0zero')).toBeGreaterThan(0));
});

describe('what people type', () => {
  test('quantities and readings', () => {
    expect(quantityOrNull('', 'voltage', 'Set voltage')).toBeNull();
    expect(quantityOrNull('3,9 V', 'voltage', 'Set voltage')).toBeCloseTo(3.9, 9);
    expect(() => quantityOrNull('0', 'current', 'Limit')).toThrow('Limit: must be above 0');
    expect(() => quantityOrNull('300 mAh', 'current', 'Limit')).toThrow(/Limit: .*charge/);
  });
  test('forms say which field', () => {
    expect(() => jobInput.validateSync({ label: '', deviceClass: 'phone', intake: {} })).toThrow(/Device: enter/);
    expect(() => jobInput.validateSync({ label: 'x', deviceClass: 'toaster', intake: {} })).toThrow(/Kind of device/);
    expect(() => runSetupInput.validateSync({ feed: 'steam' })).toThrow(/Feed/);
  });
});

describe('packages', () => {
  const inMemory = (contents: Record<string, string>): PackageFiles => ({
    remarks: [],
    stat: (name) => Promise.resolve(name in contents ? { size: contents[name].length, link: false } : null),
    open: (name) => blocks(contents[name]),
  });
  test('a job that was imported is exported with everything it came with', async () => {
    const value = {
      format: 'umbral-case/1',
      id: 'far-away',
      shop: 'x',
      device: { class: 'tablet', model: 'm', colour: 'red', expect: { startPeakA: 1.5 } },
      runs: [
        {
          id: 'r1',
          feed: 'battery',
          file: 'runs/a.csv',
          setup: { setV: 4, seat: 3 },
          markers: [{ t: 1, event: 'prompt', by: 'me' }],
        },
        { id: 'r2', feed: 'battery', typed: stall, after: 'a1' },
      ],
      checks: [
        { id: 'screen', outcome: 'dark', lamp: true },
        { id: 'smell', outcome: 'smoky' },
      ],
      readings: [{ where: 'x', mode: 'diode', value: null, ol: true, reference: 0.5 }],
      actions: [{ id: 'a1', kind: 'clean', circuit: 'input.port' }],
      outcome: { grade: 'cleared', circuit: 'input.port', target: 'pins', fix: 'cleaned' },
    };
    const files = inMemory({ 'case.json': JSON.stringify(value), 'runs/a.csv': csv(600) });
    const jobId = await transaction(async (q) => storePackage(q, await readPackage(files), files));
    const { zip } = await exportPackage(jobId);
    const bytes = new Uint8Array(await new Response(zip).arrayBuffer());
    const back = await readPackage(await zipFiles(bytesAccess(bytes), 'x.zip'));
    expect(back.case).toMatchObject({
      id: 'far-away',
      extra: { shop: 'x' },
      outcome: { grade: 'cleared', circuit: 'input.port' },
    });
    expect(back.case.device).toMatchObject({ class: 'tablet', extra: { colour: 'red' }, expect: { startPeakA: 1.5 } });
    expect(back.case.runs[0]).toMatchObject({
      setup: { setV: 4, extra: { seat: 3 } },
      markers: [{ t: 1, event: 'prompt', extra: { by: 'me' } }],
    });
    expect(back.case.runs[1]).toMatchObject({ typed: stall, after: 'a1' });
    expect(back.case.checks.map((c) => c.id)).toEqual(['screen', 'smell']);
    expect(back.case.readings[0]).toMatchObject({ ol: true, value: null });
    expect(back.runs[0].trace.t).toHaveLength(600);
    expect(parseCase({ ...value, format: 'umbral-case/1' }).findings.filter((f) => f.severity === 'error')).toEqual([]);
  });
  test('what is no package stores no job', async () => {
    const before = await count('jobs', {});
    await expect(importPackage(blocks('no zip'), 'x.zip')).rejects.toThrow(/x\.zip: the file is corrupt/);
    expect(await count('jobs', {})).toBe(before);
  });
  test('the sample fleet: every stage, every feed, most patterns, closed cases among them', async () => {
    const seen = new Set<string>();
    for (const [k, sample] of fleet.entries()) {
      const files = samplePackage(sample, k + 1);
      const jobId = await transaction(async (q) => storePackage(q, await readPackage(files), files));
      const { result } = (await db()('assessments').where({ job_id: jobId }).orderBy('id', 'desc').first()) as {
        result: { runs: { pattern: { id: string; p: number }[] }[] };
      };
      for (const run of result.runs) seen.add(run.pattern[0].id);
    }
    expect(fleet.length).toBeGreaterThanOrEqual(14);
    expect(new Set(fleet.map((j) => j.stage)).size).toBeGreaterThanOrEqual(6);
    expect(fleet.filter((j) => j.outcome).length).toBeGreaterThanOrEqual(6);
    expect(seen.size).toBeGreaterThanOrEqual(14);
  });
});
