import { engine } from '../lib/engine.mjs';
import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import { isMainThread, parentPort, Worker, workerData } from 'node:worker_threads';
import { report, sized } from './report.mjs';

/** Seeds that nothing was chosen by. */
const seedFrom = 700_000;
const patternsFrom = 900_000;
const videos = sized(130, 2);
const pictures = sized(40, 5);
/** Displays on which the network is held against lit segments alone. */
const [comparedFrom, compared] = [720_000, sized(160, 2)];

/** Films in which the two numbers of a display are looked for. */
const [findsFrom, finds] = [800_000, sized(200, 2)];

/** Does something for each of so many, on all processors. */
async function onThreads(what, count) {
  const threads = Math.max(1, availableParallelism());
  const parts = await Promise.all(
    Array.from({ length: threads }, (_, t) => {
      const data = { what, from: Math.floor((t * count) / threads), to: Math.floor(((t + 1) * count) / threads) };
      return new Promise((resolve, reject) => {
        const worker = new Worker(fileURLToPath(import.meta.url), { workerData: data });
        worker.once('message', resolve);
        worker.once('error', reject);
      });
    }),
  );
  return parts.flat();
}

/** Whether a run that is filmed gets the pattern that its log gets. */
export async function benchFilmed() {
  const runs = sized(Number(process.env.UMBRAL_BENCH_FILMED ?? 200), 1);
  const seen = await onThreads('patterns', runs);
  const same = seen.filter((r) => r.filmed === r.logged);
  for (const kind of new Set(seen.map((r) => r.kind))) {
    const of = seen.filter((r) => r.kind === kind);
    const right = of.filter((r) => r.filmed === r.logged).length;
    report(`filmed runs with the pattern of their log: ${kind}`, right, `of ${of.length}`, '', null);
  }
  report(
    'filmed runs with the pattern of their log',
    same.length,
    `of ${seen.length}`,
    '>= 95 %',
    same.length >= 0.95 * seen.length,
  );
  for (const r of seen.filter((one) => one.filmed !== one.logged)) process.stdout.write(`${JSON.stringify(r)}\n`);
}

/** Readings of filmed displays of styles that the classifier was not trained on. */
export async function benchDisplay() {
  const counts = await onThreads('videos', videos);
  const sum = (of) => counts.reduce((s, c) => s + of(c), 0);
  const [all, accepted, right] = [sum((c) => c.pictures), sum((c) => c.accepted), sum((c) => c.right)];
  const doubts = {};
  for (const c of counts) for (const [why, n] of Object.entries(c.doubts)) doubts[why] = (doubts[why] ?? 0) + n;
  report(
    'filmed displays, accepted readings right',
    ((100 * right) / accepted).toFixed(2),
    '%',
    '>= 99.5 %',
    right >= 0.995 * accepted,
  );
  report(
    'filmed displays, pictures accepted',
    ((100 * accepted) / all).toFixed(1),
    '%',
    '>= 90 %',
    accepted >= 0.9 * all,
  );
  const points = sum((c) => c.pointWrong);
  report('filmed displays, point in the wrong place', points, `of ${accepted}`, 'none', points === 0);
  const ms = sum((c) => c.readMs) / counts.length;
  report('one number of one picture read, mean', ms.toFixed(1), 'ms', '', null);
  const looked = await onThreads('finds', finds);
  const rightlyFound = looked.filter((f) => f.isRight).length;
  report(
    'filmed displays, both numbers found without a hand',
    rightlyFound,
    `of ${looked.length}`,
    '>= 95 %',
    rightlyFound >= 0.95 * looked.length,
    `${(looked.reduce((s, f) => s + f.ms, 0) / looked.length / 1000).toFixed(1)} s a film`,
  );
  const core = await engine();
  const { shippedNetwork } = await import('../../core/dist/display/index.js');
  const both = core.compareClassifiers(shippedNetwork(), comparedFrom, compared);
  const of = `of ${both.characters}`;
  report(
    'characters of seven segments, told by the network',
    both.network,
    of,
    '',
    null,
    `lit segments alone: ${both.segments}`,
  );
  process.stdout.write(`doubts: ${JSON.stringify(doubts)}\n`);
  for (const w of counts.flatMap((c) => c.wrong).slice(0, 40)) process.stdout.write(`${JSON.stringify(w)}\n`);
}

if (!isMainThread && workerData) {
  const core = await engine();
  const display = await import('../../core/dist/display/index.js');
  const net = display.shippedNetwork();
  const { what, from, to } = workerData;
  const one = {
    videos: (k) => core.filmDisplay(net, 'strange', seedFrom + k, pictures, () => performance.now()),
    finds: (k) => core.findFilmed(net, k % 2 === 0 ? 'familiar' : 'strange', findsFrom + k, () => performance.now()),
    patterns: (k) => core.filmPattern(net, 'strange', core.filmedKinds[k % core.filmedKinds.length], patternsFrom + k),
  }[what];
  parentPort.postMessage(Array.from({ length: to - from }, (_, k) => one(from + k)));
}
