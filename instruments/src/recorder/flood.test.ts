import { createServer, type Socket } from 'node:net';
import { now, until, useRecorders } from '../testing/recorders.ts';
import { noCalibration, type InstrumentSpec } from '../instrument/spec.ts';

const use = useRecorders();

/** A meter that sends so many lines a second, as fast as they are taken from it. */
async function flood(linesPerS: number): Promise<number> {
  const sockets = new Set<Socket>();
  const server = createServer((socket) => {
    sockets.add(socket);
    socket.on('error', () => undefined);
    let n = 0;
    const timer = setInterval(() => {
      let lines = '';
      for (let k = 0; k < linesPerS / 100; k++) lines += `${(n++ / linesPerS).toFixed(6)};4.000;0.1230\n`;
      if (socket.writableLength < 4e6) socket.write(lines);
    }, 10);
    socket.on('close', () => clearInterval(timer));
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  use.closing.push(() => {
    for (const socket of sockets) socket.destroy();
    return new Promise((resolve) => void server.close(resolve));
  });
  return (server.address() as { port: number }).port;
}

test('a meter that floods is said to, and no other output or recording notices', async () => {
  const parts = await use.bench();
  const port = await flood(50_000);
  const flooding: InstrumentSpec = {
    ...{ key: 'flood', name: 'the flood', kind: 'meter', dialect: 'lines-usual', simulated: false },
    transport: { kind: 'tcp', host: '127.0.0.1', port },
    calibration: noCalibration,
  };
  parts.specs.push(flooding);
  const r = await use.ownProcess(parts, { waits: false });
  for (const calm of ['supply', 'meter'])
    await until(async () => (await r.state(calm)).health === 'measuring', `${calm} is measured`);
  const key = await r.switchOn();
  const id = await r.record('meter');
  const flooded = await r.record('flood');
  const beat = setInterval(() => void r.alive(key).catch(() => undefined), 500);
  try {
    const began = now();
    let slowest = 0;
    while (now() - began < 8) {
      const asked = now();
      await r.state('supply');
      slowest = Math.max(slowest, now() - asked);
    }
    expect(parts.supply.panel.on).toBe(true);
    expect(slowest).toBeLessThan(0.5);
    expect(r.child.exitCode ?? r.child.signalCode).toBeNull();
    expect(await r.state('flood')).toMatchObject({
      health: 'troubled',
      why: 'it sends more than can be read; a part of it was left out',
    });
  } finally {
    clearInterval(beat);
  }
  await r.call('/stop', { instrument: 'meter' });
  await r.call('/stop', { instrument: 'flood' });
  expect((await use.rowOf(id))?.gaps).toEqual([]);
  const t = await use.samplesOf(id);
  t.slice(1).forEach((x, k) => expect(x - t[k]).toBeLessThan(0.4));
  // What was read of the flood is in order and says that something is missing.
  await until(async () => (await use.rowOf(flooded))?.state === 'finished', 'it ended');
  expect((await use.rowOf(flooded))?.gaps).toMatchObject([
    { why: expect.stringContaining('a part of it was left out') as string },
  ]);
}, 60_000);
