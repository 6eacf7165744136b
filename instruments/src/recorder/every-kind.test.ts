import { useRecorders, until } from '../testing/recorders.ts';

const { bench, recorder, ownProcess, samplesOf, rowOf } = useRecorders();

/** The rules of recording and of outputs, with what the bottom shelf speaks. */
describe.each([
  { supply: 'registers-usual', meter: 'frames-usual' },
  { supply: 'ascii-plain', meter: 'frames-usual' },
] as const)('a bench of $supply and $meter', (speaks) => {
  test('a start is recorded with its markers; a pulled cable is one gap, and what was recorded stays', async () => {
    const parts = await bench('none', speaks);
    const r = await recorder(parts);
    const id = await r.record('supply');
    await r.switchOn();
    parts.simulated.act({ does: 'press' });
    await r.call('/mark', { instrument: 'supply', event: 'prompt' });
    await until(async () => ((await r.state('supply')).amps ?? 0) > 0.05, 'the start');
    const before = (await samplesOf(id)).length;
    parts.supply.dropConnections();
    await until(async () => (await samplesOf(id)).length > before + 10, 'samples after it');
    await r.call('/stop', { instrument: 'supply' });
    const row = await rowOf(id);
    expect(row?.state).toBe('finished');
    expect((row?.gaps as unknown[]).length).toBeLessThanOrEqual(1);
    expect((row?.markers as { event: string }[]).map((m) => m.event)).toEqual(
      expect.arrayContaining(['output-on', 'prompt']),
    );
    const t = await samplesOf(id);
    expect(t.every((x, k) => k === 0 || x > t[k - 1])).toBe(true);
  });

  test('noise on the line of the meter costs what was broken and nothing else', async () => {
    const parts = await bench('none', speaks);
    const r = await recorder(parts);
    parts.meter.garbageEvery = 20;
    const id = await r.record('meter');
    await until(async () => (await samplesOf(id)).length > 300, 'samples among noise');
    await r.call('/stop', { instrument: 'meter' });
    const t = await samplesOf(id);
    const rate = (t.length - 1) / (t[t.length - 1] - t[0]);
    // One in twenty is broken, and no whole one is lost.
    expect(rate).toBeGreaterThan(0.93 * 200);
    expect(rate).toBeLessThan(0.97 * 200);
  });

  test('nobody holds the output any more: it goes off', async () => {
    const parts = await bench('none', speaks);
    const r = await recorder(parts);
    await r.switchOn();
    expect(parts.supply.panel.on).toBe(true);
    await until(() => !parts.supply.panel.on, 'the output goes off', 8);
  });

  test('the recorder is killed: its watchdog switches off in the same language', async () => {
    const parts = await bench('none', speaks);
    const r = await ownProcess(parts);
    await r.switchOn();
    expect(parts.supply.panel.on).toBe(true);
    r.child.kill('SIGKILL');
    await until(() => !parts.supply.panel.on, 'the output goes off', 5);
  });

  test('somebody turned its knobs after it was armed: it does not go on', async () => {
    const parts = await bench('none', speaks);
    const r = await recorder(parts);
    const armed = await r.arm();
    parts.supply.turn({ setV: 20 });
    const { key } = armed.value as { key: string };
    const on = await r.call('/output', { instrument: 'supply', on: true, key });
    expect(on.value.problem).toMatch(/is now set to 20 V/);
    expect(parts.supply.panel.on).toBe(false);
  });
});
