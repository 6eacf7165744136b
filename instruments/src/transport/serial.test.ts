import { Pauses } from './pauses.ts';
import { spawn, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { shippedProfiles } from '@umbral/core';
import { usualLines, usualScpi } from '../dialect/index.ts';
import { MeterSource, ScpiSupply, type LiveSample } from '../instrument/index.ts';
import { SimulatedBench, SimulatedMeter, SimulatedSupply } from '../simulated/index.ts';
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
  await expect(serialTransport(path, 9600).connect({ line: () => undefined, closed: () => undefined })).rejects.toThrow(
    ConnectionProblem,
  );
  await expect(new ScpiSupply(serialTransport(path, 9600), usualScpi).open()).rejects.toThrow(`${path} at 9600 baud`);
});

// From Debian's packages: `npm test` installs it where it may; an ordinary user's machine can be without.
const withPorts = existsSync('/usr/bin/socat') ? test : test.skip;

withPorts('a supply at a serial port is set, read back and measured', async () => {
  const bench = new SimulatedBench(
    shippedProfiles.find((p) => p.battery && !p.generic)!,
    [],
    now,
  );
  const simulated = new SimulatedSupply(bench);
  const path = await adapter(await simulated.listen());
  closing.push(() => simulated.close());
  const supply = new ScpiSupply(serialTransport(path, 115_200), usualScpi);
  expect(await supply.open()).toContain('Simulated supply');
  await supply.set(3.85, 1.2);
  await supply.switchOutput(true);
  expect(await supply.settings()).toEqual({ volts: 3.85, limitA: 1.2, on: true });
  expect((await supply.measure()).volts).toBeCloseTo(3.85, 1);
  supply.close();
  await until(() => !supply.isOpen, 'the end');
});

withPorts(
  'a meter at a serial port sends its samples; an adapter that is pulled is told and looked for again',
  async () => {
    const bench = new SimulatedBench(
      shippedProfiles.find((p) => p.ports.length > 0 && !p.generic)!,
      [],
      now,
    );
    const simulated = new SimulatedMeter(bench, { rateHz: 100 });
    const port = await simulated.listen();
    closing.push(() => simulated.close());
    const path = await adapter(port);
    const samples: LiveSample[] = [];
    const said: string[] = [];
    const source = new MeterSource(
      serialTransport(path, 115_200),
      usualLines,
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
