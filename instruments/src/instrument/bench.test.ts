import { execFile } from 'node:child_process';
import { existsSync } from 'node:fs';
import { createServer } from 'node:net';
import { promisify } from 'node:util';
import { parseFault, shippedProfile, shippedProfiles, type Profile } from '@umbral/core';
import { usualFrames, usualLines, usualScpi } from '../dialect/index.ts';
import { SimulatedBench, SimulatedMeter, usualFrameMeter, SimulatedSupply } from '../simulated/index.ts';
import { now, until } from '../testing/until.ts';
import { lineEvents, Pauses, tcpTransport } from '../transport/index.ts';
import { AnswerProblem, MeterSource, ScpiSupply } from './index.ts';
import { collect, inOrder } from '../testing/collect.ts';

const phone: Profile = shippedProfile('tallgate-moorcall-2') ?? shippedProfiles[0];
const closing: (() => Promise<unknown> | void)[] = [];
afterEach(async () => {
  for (const close of closing.splice(0).reverse()) await close();
});

async function aSupply(fault = 'none') {
  const bench = new SimulatedBench(phone, [parseFault(phone, fault)], now);
  const simulated = new SimulatedSupply(bench);
  const port = await simulated.listen();
  closing.push(() => simulated.close());
  return { bench, simulated, port, transport: tcpTransport('127.0.0.1', port) };
}

describe('a supply over a socket', () => {
  test('is set, read back, switched, and measured; the press makes the current rise', async () => {
    const { bench, transport } = await aSupply();
    const supply = new ScpiSupply(transport, usualScpi);
    expect(await supply.open()).toContain('Simulated supply');
    closing.push(() => supply.close());
    await supply.set(3.85, 2.5);
    expect(await supply.settings()).toEqual({ volts: 3.85, limitA: 2.5, on: false });
    expect(await supply.mode()).toBe('off');
    await supply.switchOutput(true);
    expect(await supply.mode()).toBe('cv');
    const quiet = await supply.measure();
    expect(quiet.volts).toBeCloseTo(3.85, 2);
    expect(quiet.amps).toBeLessThan(0.02);
    bench.act({ does: 'press' });
    await until(async () => (await supply.measure()).amps > 0.05, 'it draws more');
    await supply.switchOutput(false);
    expect((await supply.measure()).volts).toBeLessThan(0.05);
  });

  test('a short shows as constant current at the limit', async () => {
    const { transport } = await aSupply('short:main=0.05');
    const supply = new ScpiSupply(transport, usualScpi);
    await supply.open();
    closing.push(() => supply.close());
    await supply.set(3.85, 1);
    await supply.switchOutput(true);
    expect(await supply.mode()).toBe('cc');
    expect((await supply.measure()).amps).toBeCloseTo(1, 1);
  });

  test('what the supply cannot do is refused with its own words, and its queue is emptied', async () => {
    const { transport, simulated } = await aSupply();
    const supply = new ScpiSupply(transport, usualScpi);
    await supply.open();
    closing.push(() => supply.close());
    await expect(supply.set(40, 1)).rejects.toThrow('the supply refused: -222 Data out of range');
    expect(simulated.panel.errors).toBe(0);
    expect(simulated.panel.setV).toBe(0);
  });

  test('an error queue that fills up says so and can be emptied', async () => {
    const { transport, port, simulated } = await aSupply();
    const heard: string[] = [];
    const rude = await tcpTransport('127.0.0.1', port).connect(
      lineEvents(
        (line) => heard.push(line),
        () => undefined,
      ),
    );
    for (let k = 0; k < 40; k++) rude.send('NONSENSE\n');
    rude.send('*OPC?\n');
    await until(() => heard.length > 0, 'the end of it');
    expect(simulated.panel.errors).toBe(20);
    rude.close();
    const supply = new ScpiSupply(transport, { ...usualScpi, clear: null });
    await supply.open();
    closing.push(() => supply.close());
    const errors = await supply.errors();
    expect(errors).toHaveLength(20);
    expect(errors[0]).toBe('-113 Undefined header');
    expect(errors[19]).toBe('-350 Queue overflow');
    expect(await supply.errors()).toEqual([]);
  });

  test('a late answer is never taken for that of another question', async () => {
    const { transport, simulated } = await aSupply();
    const supply = new ScpiSupply(transport, usualScpi, { timeoutMs: 150 });
    await supply.open();
    await supply.set(3.85, 1);
    simulated.trouble.delayMs = 400;
    await expect(supply.measure()).rejects.toThrow('no answer to MEAS:VOLT?;CURR? within 0.15 s');
    expect(supply.isOpen).toBe(false);
    simulated.trouble.delayMs = 0;
    await supply.open();
    closing.push(() => supply.close());
    expect((await supply.settings()).limitA).toBe(1);
  });

  test('answers out of order are never taken for settings, and it comes into step again', async () => {
    const { transport, simulated } = await aSupply();
    const supply = new ScpiSupply(transport, usualScpi);
    await supply.open();
    closing.push(() => supply.close());
    simulated.trouble.repeatEvery = 3;
    let refused = 0;
    for (let k = 0; k < 25; k++) {
      try {
        await supply.set(3 + k / 100, 1.5);
        expect(simulated.panel).toMatchObject({ setV: 3 + k / 100, limitA: 1.5 });
        await supply.measure();
        await supply.mode();
      } catch (error) {
        if (!(error instanceof AnswerProblem)) throw error;
        refused++;
      }
    }
    expect(supply.isOpen).toBe(true);
    expect(refused).toBeGreaterThan(0);
    simulated.trouble.repeatEvery = 0;
    await supply.set(4.2, 0.7);
    expect(await supply.settings()).toEqual({ volts: 4.2, limitA: 0.7, on: false });
    expect(supply.unasked).toBeGreaterThan(0);
  });

  test('nothing there is said with where and why', async () => {
    const server = createServer();
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', () => resolve()));
    const address = server.address();
    const port = typeof address === 'object' && address ? address.port : 0;
    await new Promise((resolve) => server.close(resolve));
    await expect(new ScpiSupply(tcpTransport('127.0.0.1', port), usualScpi).open()).rejects.toThrow(
      `127.0.0.1:${port}: nothing is listening there`,
    );
  });

  // From Debian's packages: `npm test` installs it where it may; an ordinary user's machine can be without.
  const ordinary = existsSync('/usr/bin/lxi') ? test : test.skip;
  ordinary('an ordinary SCPI client gets its answers', async () => {
    const { port } = await aSupply();
    const ask = async (command: string): Promise<string> => {
      const args = ['scpi', '-a', '127.0.0.1', '-p', String(port), '-r', command];
      return (await promisify(execFile)('/usr/bin/lxi', args)).stdout.trim();
    };
    expect(await ask('*IDN?')).toBe('Bench Works,Simulated supply,0001,1.0');
    await ask('VOLT 3.9');
    expect(await ask('VOLT?')).toBe('3.900');
    await ask('OUTP ON');
    expect(Number(await ask('MEAS:VOLT?'))).toBeCloseTo(3.9, 2);
    await ask('NONSENSE 1');
    expect(await ask('SYST:ERR?')).toBe('-113,"Undefined header"');
  });
});

describe.each([
  ['text lines', 'lines', usualLines],
  ['binary frames', usualFrameMeter, usualFrames],
] as const)('a meter that sends %s', (_, sends, dialect) => {
  async function listening(clockRate = 1) {
    const bench = new SimulatedBench(phone, [], now);
    const meter = new SimulatedMeter(bench, { rateHz: 100, clockRate, sends });
    const port = await meter.listen();
    const seen = collect();
    const source = new MeterSource(tcpTransport('127.0.0.1', port), dialect, seen.events, {
      now,
      pauses: new Pauses({ min: 20, max: 60 }),
    });
    source.start();
    closing.push(
      () => meter.close(),
      () => source.stop(),
    );
    await until(() => seen.samples.length > 20, 'lines');
    return { bench, meter, source, ...seen };
  }

  test('every line is a sample, at the time it was measured', async () => {
    const { bench, samples, gaps } = await listening();
    bench.act({ does: 'plug', port: 1, flipped: false });
    await until(() => (samples.at(-1)?.v ?? 0) > 8, 'the raised contract');
    expect(inOrder(samples)).toBe(true);
    expect(gaps).toEqual([]);
    const spacing = samples.slice(1).map((s, k) => s.t - samples[k].t);
    expect(spacing.sort((a, b) => a - b)[Math.floor(spacing.length / 2)]).toBeCloseTo(0.01, 3);
  });

  test('noise between the lines is left out and counted', async () => {
    const { meter, samples, source } = await listening();
    meter.garbageEvery = 4;
    const before = samples.length;
    await until(() => samples.length > before + 60, 'lines among noise');
    expect(source.wrong).toBeGreaterThan(10);
    expect(inOrder(samples)).toBe(true);
  });

  test('a pulled cable is looked for again', async () => {
    const { meter, samples, health } = await listening();
    meter.dropConnections();
    await until(() => health.includes('lost'), 'the loss');
    const before = samples.length;
    await until(() => samples.length > before + 20, 'lines after it');
    expect(inOrder(samples)).toBe(true);
    expect(health.at(-1)).toBe('measuring');
  });

  test('what it sends is said where it is in another language', async () => {
    const bench = new SimulatedBench(phone, [], now);
    const meter = new SimulatedMeter(bench, { rateHz: 100, sends: sends === 'lines' ? usualFrameMeter : 'lines' });
    const port = await meter.listen();
    const seen = collect();
    const source = new MeterSource(tcpTransport('127.0.0.1', port), dialect, seen.events, { now });
    source.start();
    closing.push(
      () => meter.close(),
      () => source.stop(),
    );
    await until(() => seen.whys.some((w) => w.includes('not in this language: got')), 'the reason');
    expect(seen.samples).toEqual([]);
    expect(seen.whys.find((w) => w.includes('got'))).toMatch(sends === 'lines' ? /got (A5|..) / : /got "\d/);
  });
});
