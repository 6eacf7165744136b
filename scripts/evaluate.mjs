// npm run evaluate: thousands of made-up cases, each from a unit that its profile does not quite describe, through the engine.
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { dirname, join } from 'node:path';
import { isMainThread, parentPort, Worker, workerData } from 'node:worker_threads';
import { parseArgs } from 'node:util';

const root = new URL('..', import.meta.url).pathname;

async function work({ seeds, generic, minutes, ids }) {
  const core = await import(join(root, 'core', 'dist', 'index.js'));
  const profiles = new Map(core.shippedProfiles.map((p) => [p.id, p]));
  const list = ids ? ids.map((id) => profiles.get(id)) : core.shippedProfiles.filter((p) => !p.generic);
  return seeds.map((seed) => {
    const profile = list[seed % list.length];
    const one = core.makeCase(profile, core.seededRandom(seed * 7919 + 13), { generic });
    return core.scoreCase(one, profiles, minutes && seed % 5 === 0);
  });
}

async function inWorkers(options, first, count) {
  const threads = Math.max(1, Math.min(availableParallelism(), 8));
  const all = Array.from({ length: count }, (_, k) => first + k);
  const parts = Array.from({ length: threads }, (_, t) => all.filter((_, k) => k % threads === t));
  const done = await Promise.all(
    parts.map(
      (seeds) =>
        new Promise((resolve, reject) => {
          const worker = new Worker(new URL(import.meta.url), { workerData: { ...options, seeds } });
          worker.on('message', resolve);
          worker.on('error', reject);
        }),
    ),
  );
  return done.flat();
}

const percent = (x) => (x === null ? '    –' : `${(100 * x).toFixed(1).padStart(5)} %`);

/** A small set of seeds that are reported nowhere, against the accepted figures. */
async function check(core) {
  const accepted = JSON.parse(readFileSync(join(root, 'core', 'src', 'evaluation', 'accepted.json'), 'utf8'));
  const scores = await inWorkers({ generic: false, minutes: false, ids: null }, 90_000, 40);
  let code = 0;
  for (const stage of core.stagesOfWork) {
    const now = core.figuresFor(scores, stage);
    console.log(
      `${stage}: first suspect right ${percent(now.top1)}, among the first three ${percent(now.top3)} (${now.cases} cases)`,
    );
    for (const fallen of core.clearlyBelow(now, accepted.profile[stage])) {
      console.log(`  clearly below: ${fallen}`);
      code = 1;
    }
  }
  return code;
}

async function main() {
  const { values } = parseArgs({
    options: {
      cases: { type: 'string', default: '2400' },
      seed: { type: 'string', default: '500000' },
      only: { type: 'string' },
      quiet: { type: 'boolean', default: false },
      out: { type: 'string' },
      check: { type: 'boolean', default: false },
    },
  });
  const core = await import(join(root, 'core', 'dist', 'index.js'));
  if (values.check) {
    process.exitCode = await check(core);
    return;
  }
  const count = Number(values.cases);
  const ids = values.only ? values.only.split(',') : null;
  const result = {
    cases: count,
    seed: Number(values.seed),
    profile: {},
    generic: {},
    minutes: null,
    healthy: null,
    outside: null,
  };
  for (const generic of [false, true]) {
    const scores = await inWorkers({ generic, minutes: !generic, ids }, Number(values.seed), count);
    const into = generic ? result.generic : result.profile;
    console.log(`\n${generic ? 'With the generic profile of the class' : 'With the model’s profile'}, ${count} cases`);
    console.log('                 top-1   top-3  target  log loss  calibration error');
    for (const stage of core.stagesOfWork) {
      const f = core.figuresFor(scores, stage);
      into[stage] = f;
      console.log(
        `${stage.padEnd(12)} ${percent(f.top1)} ${percent(f.top3)} ${percent(f.targetTop1)}  ${f.logLoss.toFixed(3)}    ${f.calibrationError.toFixed(3)}`,
      );
    }
    if (generic) continue;
    const healthy = scores.filter((s) => !s.outside && s.verdicts.runs.circuit === 'none');
    const called = (stage) =>
      healthy.filter((s) => s.verdicts[stage].top === 'none').length / Math.max(1, healthy.length);
    const outside = scores.filter((s) => s.outside);
    const minutes = scores.flatMap((s) => (s.minutes ? [s.minutes] : []));
    const mean = (key) => minutes.reduce((sum, m) => sum + m[key], 0) / Math.max(1, minutes.length);
    result.healthy = { cases: healthy.length, runs: called('runs'), checks: called('checks') };
    result.outside = {
      cases: outside.length,
      top3: outside.filter((s) => s.verdicts.runs.unmodelledRank <= 3).length / Math.max(1, outside.length),
    };
    result.minutes = {
      cases: minutes.length,
      engine: mean('engine'),
      checklist: mean('checklist'),
      cheapest: mean('cheapest'),
    };
    console.log(
      `healthy called healthy: ${percent(result.healthy.runs)} from runs, ${percent(result.healthy.checks)} with checks (${healthy.length})`,
    );
    console.log(
      `outside the hypotheses, "unmodelled" among the first three: ${percent(result.outside.top3)} (${outside.length})`,
    );
    console.log(
      `minutes to isolate: ${result.minutes.engine.toFixed(1)}; checklist ${result.minutes.checklist.toFixed(1)}, cheapest first ${result.minutes.cheapest.toFixed(1)} (${minutes.length})`,
    );
    if (!values.quiet) {
      const runs = result.profile.runs;
      console.log(
        'reliability, runs (said → right, cases):',
        runs.reliability
          .map((b) => `${(100 * b.said).toFixed(0)}→${(100 * b.right).toFixed(0)} (${b.cases})`)
          .join('  '),
      );
      console.log('confusions, runs:', runs.confusions.map((c) => `${c.was} as ${c.said} ${c.cases}`).join('; '));
      console.log(
        'confusions, readings:',
        result.profile.readings.confusions
          .slice(0, 12)
          .map((c) => `${c.was} as ${c.said} ${c.cases}`)
          .join('; '),
      );
    }
  }
  if (values.out) {
    mkdirSync(dirname(join(root, values.out)), { recursive: true });
    writeFileSync(join(root, values.out), `${JSON.stringify(result, null, 1)}\n`);
  }
}

if (isMainThread) await main();
else parentPort.postMessage(await work(workerData));
