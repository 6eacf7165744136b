import { fork } from 'node:child_process';
import { once } from 'node:events';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { root } from '../lib/run.mjs';
import { report, sized } from './report.mjs';

const require = createRequire(join(root, 'instruments/package.json'));

/** What decoding costs, and how often each kind of instrument is really read. */
export async function benchInstruments() {
  const dialects = require(join(root, 'instruments/dist/dialect/index.js'));
  const { frameOf } = require(join(root, 'instruments/dist/simulated/index.js'));
  decoding(dialects, frameOf);
  await reading(dialects);
}

function decoding({ decoderFor, usualFrames, usualLines }, frameOf) {
  const frames = Array.from({ length: 500 }, (_, k) =>
    frameOf(usualFrames, { volts: 5 + k / 1000, amps: k / 100, seconds: k / 100 }, 17),
  );
  const lines = Array.from({ length: 500 }, (_, k) => Buffer.from(`${k / 100};${5 + k / 1000};${k / 100}\n`));
  for (const [name, dialect, pieces] of [
    ['binary frames', usualFrames, frames],
    ['text lines', usualLines, lines],
  ]) {
    let got = 0;
    const decoder = decoderFor(dialect, () => got++);
    const turns = sized(400, 4);
    const began = performance.now();
    for (let k = 0; k < turns; k++) for (const piece of pieces) decoder.push(piece);
    const perSecond = (1000 * got) / (performance.now() - began);
    const isWhole = got === turns * pieces.length;
    report(
      `${name} decoded`,
      Math.round(perSecond).toLocaleString('en'),
      'a second',
      '> 100,000',
      perSecond > 100_000 && isWhole,
    );
  }
}

async function reading({ shippedDialects, isAsked }) {
  const { MeterSource, SupplySource, supplyFor } = require(join(root, 'instruments/dist/instrument/index.js'));
  const { tcpTransport } = require(join(root, 'instruments/dist/transport/index.js'));
  const child = fork(join(root, 'scripts/bench/stand-ins.mjs'), { stdio: ['ignore', 'inherit', 'inherit', 'ipc'] });
  const [ports] = await once(child, 'message');
  const now = () => performance.now() / 1000;
  const seconds = sized(8, 1);
  for (const [id, port] of Object.entries(ports)) {
    const dialect = shippedDialects.find((d) => d.id === id);
    const transport = tcpTransport('127.0.0.1', port);
    let got = 0;
    const events = { sample: () => got++, gap: () => undefined, health: () => undefined };
    const source = isAsked(dialect)
      ? new SupplySource(supplyFor(transport, dialect), events, { now })
      : new MeterSource(transport, dialect, events, { now });
    source.start();
    while (got === 0) await new Promise((resolve) => setTimeout(resolve, 10));
    const [from, cpu, at] = [got, process.cpuUsage(), now()];
    await new Promise((resolve) => setTimeout(resolve, 1000 * seconds));
    const took = now() - at;
    const { user, system } = process.cpuUsage(cpu);
    const ms = (user + system) / 1000 / took;
    report(
      `${id}: read`,
      ((got - from) / took).toFixed(1),
      'a second',
      '< 50 ms of a processor a second',
      ms < 50,
      `${ms.toFixed(1)} ms of a processor a second`,
    );
    await source.stop();
  }
  child.kill('SIGTERM');
}
