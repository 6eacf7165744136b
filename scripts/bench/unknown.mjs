import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { root, worldsFolder } from '../lib/run.mjs';
import { report, sized } from './report.mjs';

/** One unit of a model that nobody has a profile of, in three setups. */
const lines = [
  'usb-c port 1 with-battery: 5V 0.06 hold',
  'usb-c port 2 with-battery: 5V 0.06 hold',
  'battery 11.4V limit 3A: 0 | prompt 0.1 0.2 hold',
];

/** What a first and a later assessment of the same job take in a process of their own. */
function inOwnProcess() {
  const script = `
    const core = require(${JSON.stringify(join(root, 'core/dist/index.js'))});
    const { readFileSync } = require('node:fs');
    const { join } = require('node:path');
    core.provideWorlds((id) => core.unpackWorlds(readFileSync(join(${JSON.stringify(worldsFolder)}, core.worldsFile(id)))));
    const read = ${JSON.stringify(lines)}.map((line, k) => core.readTypedRun(line, 'r' + (k + 1)));
    const value = core.bareCase({ class: 'laptop', model: '', serial: '', profile: null, expect: {} }, read.map((r) => r.run), 't');
    const shapes = new Map(read.map((r) => [r.run.id, core.describe(value, r.run, r.trace, null)]));
    const once = () => { const at = performance.now(); core.assess(value, shapes); return performance.now() - at; };
    const cold = once();
    const warm = Array.from({ length: 9 }, once).sort((a, b) => a - b)[4];
    process.stdout.write(JSON.stringify({ cold, warm }));`;
  const done = spawnSync(process.execPath, ['--require', join(root, 'scripts/bench/cpu-at-exit.cjs'), '-e', script], {
    encoding: 'utf8',
  });
  return { ...JSON.parse(done.stdout), ...JSON.parse(done.stderr.trim().split('\n').at(-1)) };
}

function commandLine() {
  const args = ['--require', join(root, 'scripts/bench/cpu-at-exit.cjs'), join(root, 'cli/dist/main.js'), 'assess'];
  const done = spawnSync(
    process.execPath,
    [...args, ...lines.flatMap((line) => ['--typed', line]), '--class', 'laptop', '--json'],
    { encoding: 'utf8' },
  );
  return JSON.parse(done.stderr.trim().split('\n').at(-1));
}

const middle = (list) => [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)];

/** A model without a profile: what most calls are about. */
export function benchUnknown() {
  const own = Array.from({ length: sized(5, 1) }, inOwnProcess);
  const cold = middle(own.map((r) => r.cold));
  const warm = middle(own.map((r) => r.warm));
  const peak = middle(own.map((r) => r.peakMB));
  report('assess an unknown model in three setups, cold', cold.toFixed(0), 'ms', '< 700 ms', cold < 700);
  report('the same, warm', warm.toFixed(1), 'ms', '< 150 ms', warm < 150);
  report('the same, peak of the process', peak.toFixed(0), 'MB', '< 400 MB', peak < 400);
  const cpu = middle(Array.from({ length: sized(5, 1) }, () => commandLine().cpuMs));
  report('the same from the command line, processor time', cpu.toFixed(0), 'ms', '< 1000 ms', cpu < 1000);
}
