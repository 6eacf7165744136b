// npm run fuzz -- [MINUTES] [--kind NAME] [--seed N]: what strangers may send, at random, to a whole application.
import { appendFileSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { kindsOf } from './fuzz/kinds.mjs';
import { startTarget } from './fuzz/target.mjs';
import { watchTarget } from './fuzz/watch.mjs';
import { ensureCompiled, ensurePackages, ensureWebBuild } from './lib/install.mjs';
import { main, Problem, root, say } from './lib/run.mjs';

const { values, positionals } = parseArgs({
  options: { kind: { type: 'string' }, seed: { type: 'string' } },
  allowPositionals: true,
});
const keptFile = join(root, 'scripts/fuzz/kept.json');
const foundFile = join(root, '.data/fuzz/found.ndjson');
const lanes = 4;

/** What was found once is tried first, each time. */
function* tasks(kinds, seed) {
  for (const kept of JSON.parse(readFileSync(keptFile, 'utf8'))) {
    const kind = kinds.find((k) => k.name === kept.kind);
    if (kind) yield { kind, seed: kept.seed };
  }
  for (let n = 0; ; n++) yield { kind: kinds[n % kinds.length], seed: seed + n };
}

async function tryOne({ kind, seed }, target) {
  const { default: fc } = await import('fast-check');
  const [input] = fc.sample(kind.input, { seed, numRuns: 1 });
  const began = performance.now();
  const problem = await kind
    .attack(input, target)
    .catch((error) => `threw ${String(error?.stack ?? error).slice(0, 600)}`);
  return problem === null ? null : { kind: kind.name, seed, problem, ms: Math.round(performance.now() - began) };
}

main(async () => {
  const minutes = Number(positionals[0] ?? 2);
  if (!(minutes > 0)) throw new Problem(`"${positionals[0]}" is no number of minutes.`);
  await ensurePackages({ forWork: true });
  await ensureCompiled();
  await ensureWebBuild();
  const folder = join(root, '.data', `fuzz-${process.pid}`);
  const target = await startTarget(folder);
  const found = [];
  const counts = {};
  try {
    const all = await kindsOf(target);
    const kinds = values.kind ? all.filter((k) => k.name === values.kind) : all;
    if (kinds.length === 0)
      throw new Problem(`There is no kind "${values.kind}"; there are ${all.map((k) => k.name).join(', ')}.`);
    const seed = Number(values.seed ?? Date.now() % 1_000_000_000);
    say(`Fuzzing for ${minutes} min from seed ${seed}: ${kinds.map((k) => k.name).join(', ')}.`);
    const watch = watchTarget(target);
    const source = tasks(kinds, seed);
    const end = values.seed && values.kind ? 0 : Date.now() + 60_000 * minutes;
    const lane = async () => {
      do {
        const task = source.next().value;
        counts[task.kind.name] = (counts[task.kind.name] ?? 0) + 1;
        const problem = await tryOne(task, target);
        if (problem) found.push(problem);
      } while (Date.now() < end && found.length < 40);
    };
    await Promise.all(Array.from({ length: end === 0 ? 1 : lanes }, lane));
    found.push(...(await watch.end()).map((problem) => ({ kind: 'whole', problem })));
    say(
      `Tried: ${Object.entries(counts)
        .map(([name, n]) => `${name} ${n}`)
        .join(', ')}.`,
    );
    say(watch.figures());
  } finally {
    await target.stop();
    rmSync(folder, { recursive: true, force: true });
  }
  if (found.length === 0) return say('Nothing was found.');
  mkdirSync(join(root, '.data/fuzz'), { recursive: true });
  for (const one of found) {
    appendFileSync(foundFile, `${JSON.stringify(one)}\n`);
    say(`${one.kind}${one.seed === undefined ? '' : ` --seed ${one.seed}`}: ${one.problem}`);
  }
  throw new Problem(
    `${found.length} found; they are in ${foundFile}. What is mended becomes a test, and its seed is kept.`,
  );
});
