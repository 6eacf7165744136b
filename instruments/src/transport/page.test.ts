import { usualFrames, usualRegisters, usualScpi } from '../dialect/index.ts';
import { supplyFor } from '../instrument/index.ts';
import { SimulatedBench, SimulatedRegisterSupply, SimulatedSupply, frameOf } from '../simulated/index.ts';
import { shippedProfiles } from '@umbral/core';
import { createConnection } from 'node:net';
import { decoderFor } from '../dialect/index.ts';
import { now, until } from '../testing/until.ts';
import { ConnectionProblem, PagePort } from './index.ts';

const closing: (() => Promise<unknown> | void)[] = [];
afterEach(async () => {
  for (const close of closing.splice(0).reverse()) await close();
});
const phone = shippedProfiles.find((p) => p.battery && !p.generic)!;

/** A page as it passes bytes on: between a port of its own computer and the recorder. */
function pageAt(port: PagePort, to: number, by = 'window-one'): { go: () => void; stop: () => void } {
  const socket = createConnection({ host: '127.0.0.1', port: to, noDelay: true });
  let isOn = true;
  socket.on('data', (bytes: Buffer) => port.take(by, [{ ageS: 0, bytes }]));
  socket.on('error', () => undefined);
  const stop = (): void => {
    isOn = false;
    socket.destroy();
  };
  closing.push(stop);
  return {
    stop,
    go: () => {
      port.attach(by);
      void (async () => {
        while (isOn) for (const bytes of (await port.pull(by, 100)) ?? []) socket.write(bytes);
      })();
    },
  };
}

test.each([
  ['text commands', usualScpi, (bench: SimulatedBench) => new SimulatedSupply(bench)],
  ['registers', usualRegisters, (bench: SimulatedBench) => new SimulatedRegisterSupply(bench, { framing: 'rtu' })],
] as const)('a supply with %s behind a page is set, read back and switched', async (_, dialect, simulate) => {
  const simulated = simulate(new SimulatedBench(phone, [], now));
  const port = new PagePort();
  const page = pageAt(port, await simulated.listen());
  closing.push(() => simulated.close());
  const supply = supplyFor(port, dialect);
  await expect(supply.open()).rejects.toThrow('no page is connected to it. Press “Connect here”');
  page.go();
  await supply.open();
  await supply.set(3.85, 1.2);
  await supply.switchOutput(true);
  expect(simulated.panel.on).toBe(true);
  // What the page sends when it loses the recorder switches it off.
  const words = supply.offBytes();
  expect(words.length).toBe(1);
  supply.close();
});

test('the last words of a register supply are a whole request that switches it off', async () => {
  const simulated = new SimulatedRegisterSupply(new SimulatedBench(phone, [], now), { framing: 'rtu' });
  const at = await simulated.listen();
  closing.push(() => simulated.close());
  simulated.turn({ setV: 4, limitA: 1 });
  const port = new PagePort();
  const supply = supplyFor(port, usualRegisters);
  pageAt(port, at).go();
  await supply.open();
  await supply.switchOutput(true);
  const socket = createConnection({ host: '127.0.0.1', port: at });
  closing.push(() => void socket.destroy());
  for (const bytes of supply.offBytes()) socket.write(bytes);
  await until(() => !simulated.panel.on, 'it is off');
  supply.close();
});

describe('one window at a time', () => {
  test('a second is refused until the first lets go; then it is told that it was', async () => {
    const port = new PagePort();
    expect(port.attach('window-one')).toBe(true);
    expect(port.attach('window-two')).toBe(false);
    expect(port.take('window-two', [])).toBe(false);
    expect(await port.pull('window-two', 1)).toBeNull();
    const reasons: (string | null)[] = [];
    await port.connect({ data: () => undefined, closed: (reason) => reasons.push(reason) });
    port.detach('window-two', 'no');
    expect(reasons).toEqual([]);
    port.detach('window-one', 'it was unplugged');
    expect(reasons).toEqual(['it was unplugged']);
    expect(port.attach('window-two')).toBe(true);
    port.detach('window-two', '');
  });

  test('a window that falls silent is gone, and whoever waits is told', async () => {
    const port = new PagePort();
    port.attach('window-one');
    const reasons: (string | null)[] = [];
    await port.connect({ data: () => undefined, closed: (reason) => reasons.push(reason) });
    await until(() => reasons.length > 0, 'that it is gone', 8);
    expect(reasons).toEqual(['the page that it is plugged into went away']);
    await expect(port.connect({ data: () => undefined, closed: () => undefined })).rejects.toThrow(ConnectionProblem);
  });

  test('what is sent is pulled at once, whoever waits', async () => {
    const port = new PagePort();
    port.attach('window-one');
    const connection = await port.connect({ data: () => undefined, closed: () => undefined });
    const pulled = port.pull('window-one', 5000);
    connection.send('*IDN?');
    expect(String.fromCharCode(...((await pulled)?.[0] ?? []))).toBe('*IDN?');
    connection.close();
    port.detach('window-one', '');
  });
});

test('frames that came in reports of HID are the same bytes', () => {
  const seen: number[] = [];
  const decoder = decoderFor(usualFrames, ({ amps }) => seen.push(amps));
  const port = new PagePort();
  port.attach('window-one');
  void port.connect({ data: (piece) => decoder.push(piece), closed: () => undefined });
  const frame = frameOf(usualFrames, { volts: 5, amps: 0.25, seconds: 1 }, 17);
  // A report has a length of its own: what is left of it is nothing.
  const report = Uint8Array.from({ length: 64 }, (_, k) => frame[k] ?? 0);
  for (let k = 0; k < 3; k++) port.take('window-one', [{ ageS: 0, bytes: report }]);
  expect(seen).toEqual([0.25, 0.25, 0.25]);
  port.detach('window-one', '');
});
