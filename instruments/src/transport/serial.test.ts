import { Pauses } from './pauses.ts';
import { spawn, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { createConnection, createServer } from 'node:net';
import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { shippedProfiles } from '@umbral/core';
import { plainAscii, usualFrames, usualLines, usualRegisters, usualScpi } from '../dialect/index.ts';
import { MeterSource, ScpiSupply, supplyFor, type LiveSample } from '../instrument/index.ts';
import {
  SimulatedAsciiSupply,
  SimulatedBench,
  SimulatedMeter,
  usualFrameMeter,
  SimulatedRegisterSupply,
  SimulatedSupply,
} from '../simulated/index.ts';
import { now, until } from '../testing/until.ts';
import { ConnectionProblem } from './index.ts';
import { serialTransport } from './serial.ts';

let folder: string;
let way: ChildProcess | null = null;
const closing: (() => Promise<unknown> | void)[] = [];
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'umbral-serial-'));
});
afterEach(async () => {
  for (const close of closing.splice(0).reverse()) await close();
  rmSync(folder, { recursive: true, force: true });
});

/** A pseudo-terminal that leads to a port of the simulated bench, as an adapter at the instrument would. */
async function adapter(port: number): Promise<string> {
  const path = join(folder, 'port');
  const child = spawn('/usr/bin/socat', [`PTY,link=${path},raw,echo=0`, `TCP:127.0.0.1:${port}`], { stdio: 'ignore' });
  way = child;
  closing.push(async () => {
    if (child.exitCode !== null || child.signalCode !== null) return;
    const ended = once(child, 'exit');
    child.kill('SIGKILL');
    await ended;
  });
  await until(() => existsSync(path), 'the port');
  return path;
}

test('a port that is missing is said with its path', async () => {
  const path = join(folder, 'no-port');
  await expect(serialTransport(path, 9600).connect({ data: () => undefined, closed: () => undefined })).rejects.toThrow(
    ConnectionProblem,
  );
  await expect(new ScpiSupply(serialTransport(path, 9600), usualScpi).open()).rejects.toThrow(`${path} at 9600 baud`);
});

// From Debian's packages: `npm test` installs it where it may; an ordinary user's machine can be without.
const withPorts = existsSync('/usr/bin/socat') ? test : test.skip;

const phone = shippedProfiles.find((p) => p.battery && !p.generic)!;

withPorts.each([
  ['text commands', usualScpi, (bench: SimulatedBench) => new SimulatedSupply(bench)],
  ['registers', usualRegisters, (bench: SimulatedBench) => new SimulatedRegisterSupply(bench, { framing: 'rtu' })],
  ['plain text', plainAscii, (bench: SimulatedBench) => new SimulatedAsciiSupply(bench)],
] as const)('a supply at a serial port that speaks %s is set, read back and measured', async (_, dialect, simulate) => {
  const simulated = simulate(new SimulatedBench(phone, [], now));
  const path = await adapter(await simulated.listen());
  closing.push(() => simulated.close());
  const supply = supplyFor(serialTransport(path, 115_200), dialect);
  expect(await supply.open()).not.toBe('');
  await supply.set(3.85, 1.2);
  await supply.switchOutput(true);
  expect(await supply.settings()).toEqual({ volts: 3.85, limitA: 1.2, on: true });
  expect((await supply.measure()).volts).toBeCloseTo(3.85, 1);
  supply.close();
  await until(() => !supply.isOpen, 'the end');
});

/** Two instruments on one line: each hears everything, and whoever is meant answers. */
async function onOneLine(ports: number[]): Promise<number> {
  const server = createServer((line) => {
    const ends = ports.map((port) => createConnection({ host: '127.0.0.1', port, noDelay: true }));
    for (const end of ends) {
      line.pipe(end);
      end.on('data', (bytes) => line.write(bytes));
      end.on('error', () => line.destroy());
      line.on('close', () => end.destroy());
    }
    line.on('error', () => line.destroy());
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', () => resolve()));
  closing.push(() => void server.close());
  const address = server.address();
  return typeof address === 'object' && address ? address.port : 0;
}

withPorts('two supplies on one bus are each set and measured by their own address, at the same time', async () => {
  const simulated = [1, 2].map(
    (unit) => new SimulatedRegisterSupply(new SimulatedBench(phone, [], now), { framing: 'rtu', unit }),
  );
  closing.push(...simulated.map((s) => () => s.close()));
  const path = await adapter(await onOneLine(await Promise.all(simulated.map((s) => s.listen()))));
  const supplies = [1, 2].map((unit) => supplyFor(serialTransport(path, 9600), usualRegisters, { unit }));
  await Promise.all(supplies.map((s) => s.open()));
  await Promise.all(supplies.map((s, k) => s.set(3 + k, 1 + k)));
  const [one, two] = await Promise.all(supplies.map((s) => s.settings()));
  expect([one, two]).toEqual([
    { volts: 3, limitA: 1, on: false },
    { volts: 4, limitA: 2, on: false },
  ]);
  // One that is taken off the bus leaves the other where it is.
  supplies[0].close();
  await supplies[1].switchOutput(true);
  expect(simulated.map((s) => s.panel.on)).toEqual([false, true]);
  // Nobody is at the third address.
  const nobody = supplyFor(serialTransport(path, 9600), usualRegisters, { unit: 3, timeoutMs: 200 });
  await expect(nobody.open()).rejects.toThrow('address 3 did not answer within 200 ms');
  expect((await supplies[1].measure()).volts).toBeCloseTo(4, 1);
  supplies[1].close();
});

withPorts.each([
  ['text lines', 'lines', usualLines],
  ['binary frames', usualFrameMeter, usualFrames],
] as const)(
  'a meter at a serial port sends its samples as %s; an adapter that is pulled is told and looked for again',
  async (_, sends, dialect) => {
    const bench = new SimulatedBench(
      shippedProfiles.find((p) => p.ports.length > 0 && !p.generic)!,
      [],
      now,
    );
    const simulated = new SimulatedMeter(bench, { rateHz: 100, sends });
    const port = await simulated.listen();
    closing.push(() => simulated.close());
    const path = await adapter(port);
    const samples: LiveSample[] = [];
    const said: string[] = [];
    const source = new MeterSource(
      serialTransport(path, 115_200),
      dialect,
      {
        sample: (s) => void samples.push(s),
        gap: () => undefined,
        health: (health) => void said.push(health),
      },
      { now, pauses: new Pauses({ min: 20, max: 60 }) },
    );
    source.start();
    closing.push(() => source.stop());
    await until(() => samples.length > 50, 'samples');
    expect(samples.every((s, k) => k === 0 || s.t > samples[k - 1].t)).toBe(true);
    way?.kill('SIGKILL');
    await until(() => said.includes('lost'), 'the loss');
    rmSync(path, { force: true });
    await adapter(port);
    const before = samples.length;
    await until(() => samples.length > before + 20, 'samples again');
  },
);
