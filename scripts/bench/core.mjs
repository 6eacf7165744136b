import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { join } from 'node:path';
import { root, worldsFolder } from '../lib/run.mjs';
import { memoryPeak, report, sized, time } from './report.mjs';

function startUpTrace(core, n, seconds = n / 1000) {
  const random = core.seededRandom(42);
  const t = new Float64Array(n);
  const v = new Float32Array(n);
  const i = new Float32Array(n);
  for (let k = 0; k < n; k++) {
    const at = (k / n) * 60;
    t[k] = (k / n) * seconds;
    v[k] = 4;
    const level =
      at < 5
        ? 0.002
        : at < 7
          ? 0.09
          : at < 10
            ? 0.25
            : 0.3 + 0.5 * Math.abs(Math.sin(at * 1.7)) * (at % 2 < 1.2 ? 1 : 0.2);
    i[k] = level + 0.003 * (random() - 0.5);
  }
  const instrument = { ...core.unknownInstrument, kind: 'current-probe', resolutionA: 0.0005 };
  return { t, v, i, quantity: 'current', feed: 'battery', instrument, limitA: 3, setV: 4, limitSpans: [] };
}

export function benchSegmentation(core) {
  const times = {};
  const sizes = sized([10_000, 100_000, 1_000_000, 10_000_000], [1000, 10_000]);
  for (const n of sizes) {
    const trace = startUpTrace(core, n);
    times[n] = time(() => core.segmentTrace(trace), n > 1e6 ? 3 : 7);
    const target = n === 1_000_000 ? '< 200 ms' : '';
    report(
      `segment ${n.toLocaleString('en')} samples`,
      times[n].toFixed(1),
      'ms',
      target,
      target ? times[n] < 200 : null,
    );
  }
  const growth = times[sizes.at(-1)] / times[sizes.at(-2)];
  report('growth of segmentation, the last ten times', growth.toFixed(1), '×', 'near 10', growth < 15);
}

export function benchAssess(core) {
  const trace = startUpTrace(core, 60_000);
  const run = {
    id: 'r1',
    file: 'x.csv',
    typed: null,
    feed: 'battery',
    quantity: 'current',
    instrument: trace.instrument,
    setup: { ...core.unknownSetup, unplugged: [] },
    markers: [],
    contract: null,
    after: null,
  };
  const value = core.bareCase({ class: 'phone' }, [run]);
  const ms = time(() => core.assess(value, new Map([['r1', core.describe(value, run, trace, null)]])), 9);
  report('assess a 60 s run at 1 kHz, generic profile', ms.toFixed(1), 'ms', '< 300 ms', ms < 300);
  const own = { ...value, device: { ...value.device, profile: 'tallgate-moorcall-2' } };
  const count = core.hypothesesOf(core.shippedProfile('tallgate-moorcall-2')).length;
  const shapes = new Map([['r1', core.describe(own, run, trace, null)]]);
  const first = time(() => core.assess(own, shapes), 1);
  report(`the same, own profile with ${count} hypotheses, cold`, first.toFixed(0), 'ms', '', null);
  const warm = time(() => core.assess(own, new Map([['r1', core.describe(own, run, trace, null)]])), 9);
  report(`the same, warm`, warm.toFixed(1), 'ms', '< 300 ms', warm < 300);
  // Another setup each time: nothing that was predicted before can be used again.
  let k = 0;
  const fresh = time(() => {
    const moved = { ...own, runs: [{ ...run, setup: { ...run.setup, setV: 3.9 + 0.001 * k++ } }] };
    core.assess(moved, shapes);
  }, 9);
  report('the same, a setup not seen before', fresh.toFixed(1), 'ms', '< 300 ms', fresh < 300);
}

export function benchTwin(core) {
  const many = (faults) => {
    const boards = core.shippedProfiles
      .filter((p) => !p.generic && p.battery)
      .map((p) => ({ board: core.compileProfile(p), faults: faults(p) }));
    const workspaces = boards.map(({ board }) => core.makeWorkspace(board));
    let made = 0;
    const began = performance.now();
    while (performance.now() - began < sized(1500, 20)) {
      boards.forEach(({ board, faults: list }, k) => {
        for (const fault of list) core.startUp(board, [fault], core.usualSetup, workspaces[k]);
        made += list.length;
      });
    }
    return (1000 * made) / (performance.now() - began);
  };
  const healthy = many(() => [core.parseFault(core.shippedProfiles[0], 'none')]);
  report('healthy start-ups', Math.round(healthy).toLocaleString('en'), 'a second', '> 2,000', healthy > 2000);
  const faulty = many((p) =>
    core.hypothesesOf(p).flatMap((h) => (h.fault && h.fault.kind !== 'none' ? [h.fault] : [])),
  );
  report('faulty start-ups', Math.round(faulty).toLocaleString('en'), 'a second', '> 1,000', faulty > 1000);
}

/** Assesses jobs of all full profiles in turn, as the thinking thread of the server does, and watches the memory. */
export async function benchMemory(core) {
  const jobs = Array.from({ length: sized(48, 2) }, (_, k) => {
    const full = core.shippedProfiles.filter((p) => !p.generic);
    const one = core.makeCase(full[k % full.length], core.seededRandom(k + 1), { generic: k % 5 === 4 });
    const shapes = new Map(
      one.value.runs.map((run) => [run.id, core.describe(one.value, run, one.traces.get(run.id), null)]),
    );
    return { value: one.value, shapes };
  });
  const script = `
    const core = require(${JSON.stringify(join(root, 'core/dist/index.js'))});
    const { readFileSync } = require('node:fs');
    core.provideWorlds((id) => core.unpackWorlds(readFileSync(${JSON.stringify(worldsFolder)} + '/' + core.worldsFile(id))));
    process.on('message', (jobs) => {
      for (const { value, shapes } of jobs) core.assess(value, shapes);
      process.send(process.memoryUsage().heapUsed, () => process.disconnect());
    });`;
  // The same bound as the thread has.
  const child = spawn(process.execPath, ['--max-old-space-size=192', '-e', script], {
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
    serialization: 'advanced',
  });
  child.send(jobs);
  const [heap] = await once(child, 'message', { signal: AbortSignal.timeout(120_000) });
  const peak = memoryPeak(child.pid);
  await once(child, 'close');
  report(
    `memory of a process that assesses ${jobs.length} jobs of all models`,
    (peak / 1e6).toFixed(0),
    'MB',
    '< 300 MB',
    peak < 300e6,
    `${(heap / 1e6).toFixed(0)} MB of it in use at the end`,
  );
}
