import { parseFault, shippedProfile, shippedProfiles, type Profile } from '@umbral/core';
import { plainAscii, usualRegisters, usualScpi, type AskedDialect } from '../dialect/index.ts';
import { SimulatedAsciiSupply, SimulatedBench, SimulatedRegisterSupply, SimulatedSupply } from '../simulated/index.ts';
import { collect, inOrder } from '../testing/collect.ts';
import { now, until } from '../testing/until.ts';
import { Pauses, tcpTransport } from '../transport/index.ts';
import { AnswerProblem, supplyFor, SupplySource } from './index.ts';

const phone: Profile = shippedProfile('tallgate-moorcall-2') ?? shippedProfiles[0];
const closing: (() => Promise<unknown> | void)[] = [];
afterEach(async () => {
  for (const close of closing.splice(0).reverse()) await close();
});

type Simulated = SimulatedSupply | SimulatedRegisterSupply | SimulatedAsciiSupply;

/** Every kind of supply that is asked: its stand-in, and what it speaks. */
const kinds: [string, AskedDialect, (bench: SimulatedBench) => Simulated][] = [
  ['SCPI', usualScpi, (bench) => new SimulatedSupply(bench)],
  ['registers over the network', usualRegisters, (bench) => new SimulatedRegisterSupply(bench, { framing: 'tcp' })],
  [
    'registers as on a serial bus',
    { ...usualRegisters, framing: 'rtu' },
    (bench) => new SimulatedRegisterSupply(bench, { framing: 'rtu' }),
  ],
  ['plain text without line ends', plainAscii, (bench) => new SimulatedAsciiSupply(bench)],
  [
    'plain text that is repeated first',
    { ...plainAscii, echo: true },
    (bench) => new SimulatedAsciiSupply(bench, true),
  ],
];

describe.each(kinds)('a supply that speaks %s', (_name, dialect, simulate) => {
  async function aSupply(fault = 'none') {
    const bench = new SimulatedBench(phone, [parseFault(phone, fault)], now);
    const simulated = simulate(bench);
    const port = await simulated.listen();
    closing.push(() => simulated.close());
    return { bench, simulated, transport: tcpTransport('127.0.0.1', port) };
  }

  async function opened(fault = 'none') {
    const parts = await aSupply(fault);
    const supply = supplyFor(parts.transport, dialect, { timeoutMs: 1000 });
    await supply.open();
    closing.push(() => supply.close());
    return { ...parts, supply };
  }

  test('is set, read back, switched, and measured; the press makes the current rise', async () => {
    const { bench, simulated, supply } = await opened();
    await supply.set(3.85, 2.5);
    expect(await supply.settings()).toEqual({ volts: 3.85, limitA: 2.5, on: false });
    await supply.switchOutput(true);
    expect(simulated.panel).toMatchObject({ on: true, setV: 3.85, limitA: 2.5 });
    expect([null, 'cv']).toContain(await supply.mode());
    const quiet = await supply.measure();
    expect(quiet.volts).toBeCloseTo(3.85, 2);
    expect(quiet.amps).toBeLessThan(0.02);
    bench.act({ does: 'press' });
    await until(async () => (await supply.measure()).amps > 0.05, 'it draws more');
    await supply.switchOutput(false);
    expect((await supply.measure()).volts).toBeLessThan(0.05);
  });

  test('a short shows at the limit, as constant current where it can say so', async () => {
    const { supply } = await opened('short:main=0.05');
    await supply.set(3.85, 1);
    await supply.switchOutput(true);
    expect([null, 'cc']).toContain(await supply.mode());
    expect((await supply.measure()).amps).toBeCloseTo(1, 1);
  });

  test('what it cannot do is told, and what stood there stays', async () => {
    const { simulated, supply } = await opened();
    await supply.set(3.85, 1);
    await expect(supply.set(40, 1)).rejects.toThrow(/refused|was set to 40 V, but the supply says 3.85 V/);
    expect(simulated.panel.setV).toBe(3.85);
  });

  test('it watches itself where its make can: silence switches it off', async () => {
    const { simulated, supply } = await opened();
    await supply.set(3.85, 1);
    const watches = await supply.watchItself({ volts: 4.2, amps: 1.2, silentS: 1 });
    expect(watches.silentS).toBe(dialect.watchdog === null ? null : 1);
    await supply.switchOutput(true);
    if (watches.silentS === null) return;
    expect(watches).toEqual({ overV: 4.2, overA: 1.2, silentS: 1 });
    await until(() => !simulated.panel.on, 'it went off', 5);
  });

  test('a knob that was turned meanwhile is seen', async () => {
    const { simulated, supply } = await opened();
    await supply.set(3.85, 1);
    simulated.turn({ setV: 12 });
    expect(await supply.settings()).toMatchObject({ volts: 12, limitA: 1 });
  });

  test('a late answer is never taken for that of another question', async () => {
    const { simulated, transport } = await aSupply();
    const supply = supplyFor(transport, dialect, { timeoutMs: 300 });
    await supply.open();
    await supply.set(3.85, 1);
    simulated.trouble.delayMs = 500;
    await expect(supply.measure()).rejects.toThrow(/no answer to|did not answer within/);
    expect(supply.isOpen).toBe(false);
    simulated.trouble.delayMs = 0;
    await until(() => supply.open().then(Boolean, () => false), 'it answers again');
    closing.push(() => supply.close());
    expect(await supply.settings()).toEqual({ volts: 3.85, limitA: 1, on: false });
  });

  test('noise, half answers and answers twice never set anything wrong, nor are they taken for settings', async () => {
    const { simulated, supply } = await opened();
    Object.assign(simulated.trouble, { garbageEvery: 5, halfEvery: 7, repeatEvery: 11 });
    let done = 0;
    for (let k = 0; k < 8; k++) {
      try {
        if (!supply.isOpen) await supply.open();
        await supply.set(3 + k / 100, 1.5);
        expect(simulated.panel).toMatchObject({ setV: expect.closeTo(3 + k / 100, 6), limitA: 1.5 });
        done++;
      } catch (error) {
        if (!(error instanceof AnswerProblem)) throw error;
      }
    }
    Object.assign(simulated.trouble, { garbageEvery: 0, halfEvery: 0, repeatEvery: 0 });
    expect(done).toBeLessThan(9);
    if (!supply.isOpen) await until(() => supply.open().then(Boolean, () => false), 'it answers again');
    await until(
      () =>
        supply.set(4.2, 0.7).then(
          () => true,
          () => false,
        ),
      'it is set',
    );
    expect(await supply.settings()).toEqual({ volts: 4.2, limitA: 0.7, on: false });
  });

  test('nothing there is said with where and why', async () => {
    const { simulated, transport } = await aSupply();
    await simulated.close();
    await expect(supplyFor(transport, dialect).open()).rejects.toThrow(/127\.0\.0\.1:\d+: nothing is listening there/);
  });

  describe('measured without end', () => {
    async function running(timeoutMs = 1000, pauses = new Pauses({ min: 20, max: 60 })) {
      const parts = await aSupply();
      const seen = collect();
      const supply = supplyFor(parts.transport, dialect, { timeoutMs });
      const source = new SupplySource(supply, seen.events, {
        now,
        pauses,
        plausible: ({ volts, amps }) => volts >= 0 && volts < 40 && amps >= 0 && amps < 10,
      });
      source.start();
      closing.push(() => source.stop());
      await until(() => seen.samples.length > 5, 'samples');
      return { ...parts, ...seen, source };
    }

    test('samples come in order, without a gap, at the pace of the dialect', async () => {
      const { samples, gaps, health } = await running();
      await until(() => samples.length > 15, 'samples');
      expect(inOrder(samples)).toBe(true);
      expect(gaps).toEqual([]);
      expect(health).toEqual(['connecting', 'measuring']);
      const rate = (samples.length - 1) / (samples[samples.length - 1].t - samples[0].t);
      expect(rate).toBeLessThan(1.1 * dialect.rateHz);
    });

    test('a pulled cable is a gap, and measuring goes on when it is back', async () => {
      const { simulated, samples, gaps, health, whys } = await running(1000, new Pauses({ min: 700, max: 700 }));
      simulated.dropConnections();
      await until(() => health.includes('lost'), 'the loss');
      const before = samples.length;
      await until(() => samples.length > before + 5, 'samples after it');
      expect(gaps).toHaveLength(1);
      expect(gaps[0].to - gaps[0].from).toBeGreaterThan(0.5);
      expect(whys.some((w) => w.includes('the other side closed the connection'))).toBe(true);
      expect(inOrder(samples)).toBe(true);
    });

    test('noise and half answers are left out, counted and said', async () => {
      const { simulated, samples, source, health } = await running(400);
      Object.assign(simulated.trouble, { garbageEvery: 5, halfEvery: 7 });
      const before = samples.length;
      await until(() => samples.length > before + 20, 'samples among noise');
      expect(source.wrong + health.filter((h) => h === 'lost').length).toBeGreaterThan(2);
      expect(samples.every((s) => s.v < 1 && s.i < 1)).toBe(true);
      expect(inOrder(samples)).toBe(true);
    });

    test('a supply that never answers is given up and looked for again', async () => {
      const { simulated, health } = await running(250);
      simulated.trouble.silentEvery = 1;
      await until(() => health.filter((h) => h === 'lost').length >= 2, 'two losses');
      simulated.trouble.silentEvery = 0;
      await until(() => health.at(-1) === 'measuring', 'measuring again');
    });
  });
});
