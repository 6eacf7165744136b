import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { usualLines, usualScpi, shippedDialects } from '../dialect/index.ts';
import { until, useRecorders } from '../testing/recorders.ts';
import { loadKept, noCalibration, rosterOf, type BenchSettings, type InstrumentSpec } from './index.ts';

const use = useRecorders();
let folder: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'umbral-dialects-'));
});
afterEach(async () => {
  rmSync(folder, { recursive: true, force: true });
  await use.schema.db('instruments').delete();
});

const write = (name: string, value: unknown): void =>
  writeFileSync(join(folder, name), typeof value === 'string' ? value : JSON.stringify(value));
const keep = (spec: Partial<InstrumentSpec> & { key: string }): Promise<unknown> =>
  use.schema
    .db('instruments')
    .insert({ key: spec.key, spec: JSON.stringify(spec) })
    .onConflict('key')
    .merge();
const load = (simulated = false) =>
  loadKept(use.schema.db).then((kept) =>
    rosterOf(kept, { simulated: simulated ? { supply: 5001, meter: 5002 } : null, dialectFolder: folder }),
  );

describe('what a bench has', () => {
  test('other makes are files; one that cannot be read is told with its place and keeps no other away', async () => {
    write('a-make.json', { ...usualScpi, id: 'a-make', setVolts: 'VSET1:{value}' });
    write('b-meter.json', { ...usualLines, id: 'b-meter', columns: { volts: 2, amps: 3, seconds: null }, rateHz: 100 });
    write('c-broken.json', '{"format": ');
    write('d-wrong.json', { ...usualScpi, id: 'd-wrong', setVolts: 'VSET1' });
    write('e-twice.json', { ...usualScpi, id: 'a-make' });
    write('f-other.json', { format: 'something/1' });
    write('notes.txt', 'no dialect');
    const { dialects, problems } = await load();
    const shipped = shippedDialects.map((d) => d.id);
    expect([...dialects.keys()]).toEqual([...shipped, 'a-make', 'b-meter']);
    expect(problems).toHaveLength(4);
    expect(problems[0]).toMatch(/^c-broken\.json: .*not JSON/);
    expect(problems[1]).toMatch(/^d-wrong\.json: line \d+: commands: setVolts needs \{value\}/);
    expect(problems[2]).toMatch(/^e-twice\.json: id: "a-make" is already/);
    expect(problems[3]).toMatch(/^f-other\.json: line 1: format: expected/);
  });

  test('one serial port is one instrument’s, or a bus on which each has an address of its own', async () => {
    const at = (key: string, dialect: string, unit?: number): InstrumentSpec => ({
      key,
      name: `the ${key}`,
      kind: dialect === 'lines-usual' ? 'meter' : 'supply',
      transport: { kind: 'serial', path: '/dev/ttyX0', baudRate: 9600, ...(unit === undefined ? {} : { unit }) },
      dialect,
      calibration: noCalibration,
      simulated: false,
    });
    for (const spec of [
      at('first', 'registers-usual'),
      at('second', 'registers-usual', 2),
      at('same', 'registers-usual', 1),
      at('meter', 'lines-usual'),
    ])
      await keep(spec);
    const { instruments, problems } = await load();
    expect(instruments.map((s) => s.key)).toEqual(['first', 'second']);
    expect(problems).toEqual([
      'the same: /dev/ttyX0 is already used by the first, also at address 1. Give each an address of its own',
      'the meter: /dev/ttyX0 is already used by the first',
    ]);
  });

  test('no folder is no problem; the simulated ones are there while there is a simulated bench', async () => {
    rmSync(folder, { recursive: true });
    expect(await load()).toMatchObject({ instruments: [], problems: [] });
    const { instruments } = await load(true);
    expect(instruments.map((s) => s.transport)).toEqual([
      { kind: 'tcp', host: '127.0.0.1', port: 5001 },
      { kind: 'tcp', host: '127.0.0.1', port: 5002 },
    ]);
    const calibration = { ...noCalibration, gainA: 1.02 };
    await keep({ ...instruments[0], transport: { kind: 'simulated', which: 'supply' }, name: 'Ours', calibration });
    const after = await load(true);
    expect(after.instruments.map((s) => s.name).sort()).toEqual(['Ours', 'Simulated USB-C meter']);
    expect(after.instruments.find((s) => s.name === 'Ours')?.calibration.gainA).toBe(1.02);
  });

  test('a description that cannot be read is told by its key', async () => {
    await keep({ key: 'odd', name: 'Odd' });
    const { instruments, problems } = await load();
    expect(instruments).toEqual([]);
    expect(problems[0]).toMatch(/^odd: .*kind is a required field/);
  });
});

describe('settings that are read again', () => {
  const reload = async (r: Awaited<ReturnType<typeof use.recorder>>): Promise<BenchSettings> =>
    (await r.call('/reload', {})).value as unknown as BenchSettings;

  test('what is new is connected, what changed is taken, what went is gone; a recording is not disturbed', async () => {
    const [supply, meter] = (await use.bench()).specs;
    await keep(supply);
    const r = await use.recorder({}, use.schema.url, { dialectFolder: folder });
    await keep(meter);
    expect((await reload(r)).problems).toEqual([]);
    await until(async () => (await r.states()).every((s) => s.health === 'measuring'), 'both measure');
    expect((await r.states()).map((s) => s.key)).toEqual(['supply', 'meter']);

    const id = await r.record('meter');
    const wrong = { ...meter, name: 'Other name', transport: { kind: 'tcp' as const, host: '127.0.0.1', port: 9 } };
    await keep(wrong);
    expect((await reload(r)).problems).toEqual(['the meter is in use. Its new settings apply when it is free.']);
    await use.schema.db('instruments').where({ key: 'meter' }).delete();
    expect((await reload(r)).problems).toEqual(['the meter is in use. It will be removed when it is free.']);
    expect((await r.state('meter')).recording?.id).toBe(id);
    await keep({ ...meter, calibration: { ...noCalibration, gainA: 1.1 } });
    await reload(r);
    await r.call('/stop', { instrument: 'meter' });
    const t = await use.samplesOf(id);
    expect(Math.max(...t.slice(1).map((x, k) => x - t[k]))).toBeLessThan(0.5);

    await use.schema.db('instruments').where({ key: 'supply' }).delete();
    await reload(r);
    expect((await r.states()).map((s) => s.key)).toEqual(['meter']);
  });

  test('a calibration counts from the next recording on, and the display at once', async () => {
    const [supply] = (await use.bench()).specs;
    await keep(supply);
    const r = await use.recorder({}, use.schema.url, { dialectFolder: folder });
    await keep({ ...supply, name: 'Left', calibration: { gainV: 1, offsetV: 0.5, gainA: 1, offsetA: 0.01 } });
    await reload(r);
    const state = await until(async () => {
      const s = await r.state('supply');
      return s.shown !== null && s.volts !== null && s.name === 'Left' && s;
    }, 'the new name');
    expect(state.volts! + 0.5).toBeCloseTo(state.shown!.volts, 9);
    expect(state.amps! + 0.01).toBeCloseTo(state.shown!.amps, 9);
    const id = await r.record('supply');
    await r.call('/stop', { instrument: 'supply' });
    expect((await use.rowOf(id))?.instrument).toMatchObject({ offsetV: 0.5, offsetA: 0.01 });
  });

  test('one with commands that nobody described is told and left out', async () => {
    const [supply, meter] = (await use.bench()).specs;
    await keep({ ...supply, dialect: 'nobodys' });
    await keep(meter);
    const r = await use.recorder({}, use.schema.url, { dialectFolder: folder });
    expect((await r.states()).map((s) => s.key)).toEqual(['meter']);
    expect((await r.call('/settings')).value.problems).toEqual(['the supply: there is no dialect called "nobodys"']);
    const one = { id: 'nobodys', name: 'Nobody’s', format: 'umbral-scpi/1' };
    write('nobodys.json', { ...usualScpi, ...one });
    expect((await reload(r)).problems).toEqual([]);
    await until(async () => (await r.state('supply')).health === 'measuring', 'the supply');
  });
});
