import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync, readFileSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { watchMachine } from '../lib/machine.mjs';
import { startCluster } from '../lib/postgres.mjs';
import { migrate } from '../lib/schema.mjs';
import { root, say } from '../lib/run.mjs';
import { startWeb } from '../lib/web.mjs';
import { growRecord } from './growth-record.mjs';
import { isSmallest, memoryOf, quantile, report, sized } from './report.mjs';

/** Closed jobs at which everything is measured; the made-up year that they grow from. */
const sizes = sized((process.env.UMBRAL_BENCH_GROWTH ?? '1000,10000,100000').split(',').map(Number), [60]);
const yearJobs = sized(200, 12);
/** How often a page is asked for, and how often something is entered, after two that warm up. */
const [asks, entries] = [sized(12, 2), sized(6, 1)];

const pages = [
  '/',
  '/day',
  '/wall',
  '/scorecard',
  '/scorecard?by=model',
  '/atlas',
  '/api/atlas',
  '/api/atlas?pattern=stall-low&text=coil',
  '/notebook',
  '/notebook?q=0.19+A',
  '/models',
  '/parts',
  '/practice',
  '/health',
  '/settings',
];

const pause = (ms) => new Promise((resolve) => setTimeout(resolve, ms));

/** Asks the application as its pages do. */
function visitor(url) {
  const manifest = JSON.parse(readFileSync(join(root, 'web/.next/server/server-reference-manifest.json'), 'utf8'));
  const actions = Object.entries(manifest.node);
  const timed = async (work) => {
    const began = performance.now();
    const value = await work();
    return { ms: performance.now() - began, value };
  };
  const page = (path) =>
    timed(async () => {
      const answer = await fetch(url + path);
      const text = await answer.text();
      if (!answer.ok) throw new Error(`${path}: ${answer.status} ${text.slice(0, 200)}`);
      return text.length;
    });
  /** Does what a form of a page does; gives what the action answers. */
  const act = (name, path, ...given) =>
    timed(async () => {
      const [id] = actions.find(([, { exportedName }]) => exportedName === name);
      const answer = await fetch(url + path, {
        method: 'POST',
        headers: { 'next-action': id, 'content-type': 'text/plain;charset=UTF-8', accept: 'text/x-component' },
        body: JSON.stringify(given),
      });
      const line = (await answer.text()).split('\n').find((l) => /^[0-9a-f]+:\{"ok"/.test(l));
      const result = line ? JSON.parse(line.slice(line.indexOf(':') + 1)) : null;
      if (!result?.ok) throw new Error(`${name}: ${answer.status} ${JSON.stringify(result)}`);
      return result.value;
    });
  return { page, act };
}

/** The longest that the web process did not answer while `work` was done: a request that costs nothing, again and again. */
async function longestStall(url, work) {
  let [isOver, longest] = [false, 0];
  const watch = (async () => {
    while (!isOver) {
      const began = performance.now();
      await fetch(`${url}/api/alive`).then((r) => r.text());
      longest = Math.max(longest, performance.now() - began);
      await pause(20);
    }
  })();
  const value = await work();
  isOver = true;
  await watch;
  return { longest, value };
}

/** Keeps a job, a reading, closes it, and asks: each also right after somebody else's close. */
async function enter({ act }, times, k) {
  const add = (what, ms) => (times[what] ??= []).push(ms);
  const line = `battery 4V limit 2A: 0 | prompt 0.1 0.2${k % 10} 0.3 hold`;
  const quick = await act('quickRead', '/', { line, deviceClass: 'phone' });
  add('quick read', quick.ms);
  const kept = await act('keepTyped', '/', { line, deviceClass: 'phone' });
  add('keep a typed run as a job', kept.ms);
  const path = `/jobs/${kept.value}`;
  const reading = { jobId: kept.value, where: 'coil', mode: 'resistance', text: `${10 + k}` };
  add('save a reading', (await act('addReading', path, reading)).ms);
  const closing = {
    jobId: kept.value,
    version: 1,
    grade: 'measured',
    circuit: 'pmic',
    target: 'coil',
    fix: 'replaced',
  };
  add('close a job', (await closed(act, path, closing)).ms);
  // What somebody closed a moment ago is known to the next who saves.
  const next = await act('keepTyped', '/', { line, deviceClass: 'phone' });
  add('keep, right after a close', next.ms);
  add(
    'save, right after a close',
    (await act('addReading', `/jobs/${next.value}`, { ...reading, jobId: next.value })).ms,
  );
}

/** Closes a job in whatever version it is. */
async function closed(act, path, closing) {
  for (let version = closing.version; version < closing.version + 5; version++)
    try {
      return await act('closeJob', path, { ...closing, version });
    } catch (error) {
      if (!String(error).includes('conflict') || version === closing.version + 4) throw error;
    }
}

async function timedScript(name, args, env) {
  const began = performance.now();
  const child = spawn(process.execPath, [join(root, 'scripts', `${name}.mjs`), ...args], {
    env: { ...process.env, ...env },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  let said = '';
  for (const stream of [child.stdout, child.stderr]) stream.on('data', (d) => (said += d));
  const [code] = await once(child, 'close');
  if (code !== 0) throw new Error(`${name}: ${said.slice(-800)}`);
  return performance.now() - began;
}

/** Processes that one began: behind the door the pages are one of their own. */
const childrenOf = (pid) => readFileSync(`/proc/${pid}/task/${pid}/children`, 'utf8').trim().split(' ').map(Number);

/** Does it again, twice at most, where others took the machine away meanwhile; gives what it was the last time. */
async function onQuietMachine(work) {
  for (let left = 2; ; left--) {
    const machine = watchMachine();
    const value = await work();
    if (left === 0 || isSmallest || !machine.end().isSlow) return value;
  }
}

/** Everything that somebody waits for, at one size of the record. */
async function measure({ cluster, folder, baseline }, size) {
  const say = (what, value, unit, target = '', met = null) =>
    report(`${size.toLocaleString('en')} closed jobs: ${what}`, value, unit, target, met);
  const began = performance.now();
  const web = await startWeb({ databaseUrl: cluster.url, quiet: true, env: { UMBRAL_DEMO: 'yes' } });
  try {
    const visit = visitor(web.url);
    await visit.page('/');
    const started = (performance.now() - began) / 1000;
    say('from the start of the web process to its first page', started.toFixed(1), 's', '≤ 8 s', started <= 8);
    const told = await visit.act('quickRead', '/', {
      line: 'battery 4V: 0 | prompt 0.1 0.2 hold',
      deviceClass: 'phone',
    });
    say('the first question to the engine, which is told of all cases', (told.ms / 1000).toFixed(1), 's');
    const stall = await longestStall(web.url, async () => {
      for (const path of pages) {
        const times = await onQuietMachine(async () => {
          const list = [];
          for (let k = 0; k < asks + 2; k++) list.push(await visit.page(path));
          return list;
        });
        const worst = quantile(
          times.slice(2).map((t) => t.ms),
          0.95,
        );
        const kB = times.at(-1).value / 1000;
        const first = (baseline[path] ??= worst);
        const fits = worst <= 400 && kB <= 300;
        say(
          `${path}, 95 % of times, and size`,
          `${worst.toFixed(0)} ms, ${kB.toFixed(0)}`,
          'kB',
          '≤ 400 ms, 300 kB',
          fits,
        );
        if (first !== worst)
          say(
            `${path}, beside the smallest record`,
            (worst / first).toFixed(2),
            '×',
            '≤ 1.5 ×',
            worst <= 1.5 * first || worst < 100,
          );
      }
    });
    say('longest stall while pages are read', stall.longest.toFixed(0), 'ms', '≤ 200 ms', stall.longest <= 200);
    const times = {};
    const entering = await longestStall(web.url, async () => {
      await enter(visit, {}, 0);
      Object.assign(
        times,
        await onQuietMachine(async () => {
          const list = {};
          for (let k = 0; k < entries; k++) await enter(visit, list, k);
          return list;
        }),
      );
    });
    for (const [what, list] of Object.entries(times)) {
      const worst = quantile(list, 0.95);
      const limit = what === 'quick read' ? 1200 : 600;
      say(`${what}, 95 % of times`, worst.toFixed(0), 'ms', `≤ ${limit} ms`, worst <= limit);
    }
    say(
      'longest stall while jobs are entered and closed',
      entering.longest.toFixed(0),
      'ms',
      '≤ 200 ms',
      entering.longest <= 200,
    );
    const memory = [web.child.pid, ...childrenOf(web.child.pid)].reduce((sum, pid) => sum + memoryOf(pid), 0) / 1e6;
    const least = (baseline.memory ??= memory);
    say('memory of the web processes', memory.toFixed(0), 'MB', '≤ 900 MB', memory <= 900);
    say('memory beside the smallest record', (memory / least).toFixed(2), '×', '≤ 1.3 ×', memory <= 1.3 * least);
    const file = join(folder, `backup-${size}.tar`);
    const env = { DATABASE_URL: cluster.url, DATABASE_OWNER_URL: cluster.ownerUrl };
    const backedUp = await longestStall(web.url, () => timedScript('backup', ['--data', folder, '--to', file], env));
    const seconds = backedUp.value / 1000;
    const megabytes = statSync(file).size / 1e6;
    say(`backup of ${megabytes.toFixed(0)} MB`, seconds.toFixed(0), 's', '≤ 180 s', seconds <= 180);
    say('longest stall meanwhile', backedUp.longest.toFixed(0), 'ms', '≤ 200 ms', backedUp.longest <= 200);
    const restored = await timedScript('restore', [file, '--data', join(folder, `restored-${size}`)], {});
    say('restore of it, every table compared', (restored / 1000).toFixed(0), 's');
    rmSync(file);
    // The second adds what was written while the first was made, and since.
    const grow = ['--data', join(folder, 'db'), '--grow', join(folder, `grown-${size}`)];
    for (const what of ['begun', 'added to']) {
      const { value, longest } = await longestStall(web.url, () => timedScript('backup', grow, {}));
      say(
        `backup that grows, ${what}; longest stall meanwhile`,
        `${(value / 1000).toFixed(0)} s, ${longest.toFixed(0)}`,
        'ms',
      );
      await enter(visit, {}, 0);
    }
  } finally {
    await web.stop();
  }
}

/** How everything that somebody waits for grows with the record. */
export async function benchGrowth() {
  const folder = mkdtempSync(join(tmpdir(), 'umbral-growth-'));
  const cluster = await startCluster(join(folder, 'db'), { throwAway: true });
  const { default: knex } = await import('knex');
  const db = knex({ client: 'pg', connection: cluster.ownerUrl, pool: { min: 0, max: 2 } });
  try {
    await migrate(cluster.ownerUrl, cluster.url);
    const web = await startWeb({ databaseUrl: cluster.url, quiet: true, env: { UMBRAL_DEMO: 'yes' } });
    try {
      await fetch(`${web.url}/api/sample-data`, { method: 'POST' });
      await fetch(`${web.url}/api/sample-year?jobs=${yearJobs}`, { method: 'POST' }).then((r) => r.text());
    } finally {
      await web.stop();
    }
    const baseline = {};
    for (const size of sizes) {
      const began = performance.now();
      await growRecord(db, size);
      say(
        `A record of ${size.toLocaleString('en')} closed jobs was made in ${Math.round((performance.now() - began) / 1000)} s.`,
      );
      await measure({ cluster, folder, baseline }, size);
    }
  } finally {
    await db.destroy();
    await cluster.stop();
    for (const left of [cluster.home, folder]) rmSync(left, { recursive: true, force: true });
  }
}
