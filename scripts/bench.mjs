// npm run bench: speed and memory, as a table and as bench-results.json. Baselines run in the same process.
import {
  createReadStream,
  createWriteStream,
  mkdtempSync,
  readFileSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { cpus, tmpdir } from 'node:os';
import { join } from 'node:path';
import { once } from 'node:events';
import { spawn } from 'node:child_process';
import { ensureChromium, ensurePackages, ensureWebBuild } from './lib/install.mjs';
import { freePort } from './lib/ports.mjs';
import { migrate, startCluster } from './lib/postgres.mjs';
import { main, root, say } from './lib/run.mjs';
import { startWeb } from './lib/web.mjs';

const results = [];

function report(what, value, unit, target, met, baseline = '') {
  results.push({ what, value, unit, target, met, baseline });
}

const median = (xs) => [...xs].sort((a, b) => a - b)[xs.length >> 1];

/** Median milliseconds of several runs after one to warm up. */
function time(work, repeats = 5) {
  work();
  const ms = [];
  for (let k = 0; k < repeats; k++) {
    const began = performance.now();
    work();
    ms.push(performance.now() - began);
  }
  return median(ms);
}

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

function benchSegmentation(core) {
  const times = {};
  for (const n of [10_000, 100_000, 1_000_000, 10_000_000]) {
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
  const growth = times[10_000_000] / times[1_000_000];
  report('growth of segmentation, 1 M to 10 M', growth.toFixed(1), '×', 'near 10', growth < 15);
}

function benchAssess(core) {
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
    after: null,
  };
  const value = {
    id: '',
    device: { class: 'phone', model: '', serial: '', profile: null, expect: {} },
    complaint: '',
    complaintKind: null,
    intake: core.emptyIntake,
    runs: [run],
    checks: [],
    readings: [],
    actions: [],
    outcome: null,
  };
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

function benchTwin(core) {
  const many = (faults) => {
    const boards = core.shippedProfiles
      .filter((p) => !p.generic && p.battery)
      .map((p) => ({ board: core.compileProfile(p), faults: faults(p) }));
    const workspaces = boards.map(({ board }) => core.makeWorkspace(board));
    let made = 0;
    const began = performance.now();
    while (performance.now() - began < 1500) {
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
async function benchMemory(core) {
  const jobs = Array.from({ length: 48 }, (_, k) => {
    const full = core.shippedProfiles.filter((p) => !p.generic);
    const one = core.makeCase(full[k % full.length], core.seededRandom(k + 1), { generic: k % 5 === 4 });
    const shapes = new Map(
      one.value.runs.map((run) => [run.id, core.describe(one.value, run, one.traces.get(run.id), null)]),
    );
    return { value: one.value, shapes };
  });
  const script = `
    const core = require(${JSON.stringify(join(root, 'core/dist/index.js'))});
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
    'memory of a process that assesses 48 jobs of all models',
    (peak / 1e6).toFixed(0),
    'MB',
    '< 300 MB',
    peak < 300e6,
    `${(heap / 1e6).toFixed(0)} MB of it in use at the end`,
  );
}

async function writeBigLog(path, bytes) {
  const out = createWriteStream(path);
  out.write('t_s,voltage_V,current_A\n');
  let written = 0;
  let k = 0;
  while (written < bytes) {
    let block = '';
    for (let n = 0; n < 20_000; n++, k++)
      block += `${(k / 1000).toFixed(3)},4.0${k % 10},0.${100 + ((k * 7919) % 900)}\n`;
    written += block.length;
    if (!out.write(block)) await once(out, 'drain');
  }
  out.end();
  await once(out, 'close');
  return k;
}

/** Runs one of the importers in a process of its own and gives seconds and the peak of its memory. */
function importInOwnProcess(kind, path) {
  const script = `
    const { createReadStream } = require('node:fs');
    const core = require(${JSON.stringify(join(root, 'core/dist/index.js'))});
    const Papa = require(${JSON.stringify(join(root, 'node_modules/papaparse'))});
    let peak = 0;
    const watch = setInterval(() => (peak = Math.max(peak, process.memoryUsage().rss)), 50);
    (async () => {
      const began = performance.now();
      let rows = 0;
      if (${JSON.stringify(kind)} === 'bare') {
        await new Promise((resolve, reject) => Papa.parse(createReadStream(${JSON.stringify(path)}), { chunk: (r) => { rows += r.data.length; }, complete: resolve, error: reject }));
      } else {
        const collector = new core.TraceCollector();
        const reader = new core.LogReader((t, v, i) => collector.add(t, v, i), { file: 'big.csv' });
        for await (const block of createReadStream(${JSON.stringify(path)}, { highWaterMark: 1 << 18 })) reader.push(block);
        rows = reader.finish().rows;
        collector.finish();
      }
      const seconds = (performance.now() - began) / 1000;
      peak = Math.max(peak, process.memoryUsage().rss);
      clearInterval(watch);
      console.log(JSON.stringify({ seconds, rows, peak }));
    })();`;
  return new Promise((resolve, reject) => {
    const child = spawn(process.execPath, ['-e', script], { stdio: ['ignore', 'pipe', 'inherit'] });
    let out = '';
    child.stdout.on('data', (d) => (out += d));
    child.on('close', (code) =>
      code === 0 ? resolve(JSON.parse(out)) : reject(new Error(`the ${kind} import ended with ${code}`)),
    );
  });
}

async function benchImport() {
  const folder = mkdtempSync(join(tmpdir(), 'umbral-bench-'));
  try {
    const [small, big] = [join(folder, 'small.csv'), join(folder, 'big.csv')];
    await writeBigLog(small, 20e6);
    await writeBigLog(big, 100e6);
    const megabytes = statSync(big).size / 1e6;
    const [bare, ours] = [[], []];
    for (let k = 0; k < 3; k++) {
      bare.push(await importInOwnProcess('bare', big));
      ours.push(await importInOwnProcess('reader', big));
    }
    const rate = (all) => megabytes / median(all.map((r) => r.seconds));
    const share = rate(ours) / rate(bare);
    report(
      `import a ${Math.round(megabytes)} MB log (${ours[0].rows.toLocaleString('en')} rows)`,
      `${rate(ours).toFixed(0)} MB/s, ${Math.round(share * 100)} %`,
      'of bare',
      '≥ 60 % of bare',
      share >= 0.6,
      `bare CSV parser ${rate(bare).toFixed(0)} MB/s`,
    );
    const smallPeak = (await importInOwnProcess('reader', small)).peak / 1e6;
    const bigPeak = median(ours.map((r) => r.peak)) / 1e6;
    report(
      'memory of an import, 20 MB and 100 MB log',
      `${smallPeak.toFixed(0)} and ${bigPeak.toFixed(0)}`,
      'MB',
      'flat',
      bigPeak < smallPeak * 1.5 + 40,
    );
    const refused = join(folder, 'picture.csv');
    writeFileSync(refused, Buffer.alloc(50e6, 0x00ff81));
    const core = (await import(join(root, 'core/dist/index.js'))).default;
    const began = performance.now();
    let message = '';
    try {
      const reader = new core.LogReader(() => undefined, { file: 'picture.csv' });
      for await (const block of createReadStream(refused)) reader.push(block);
      reader.finish();
    } catch (error) {
      message = error.message;
    }
    const ms = performance.now() - began;
    report('refuse 50 MB that are no log', ms.toFixed(0), 'ms', '< 1000 ms', ms < 1000 && message !== '');
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** Bytes of script over the wire: what the HTML names, which the page needs to become alive, and all by the time it rests. */
async function scriptsOf(browser, url) {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  const named = new Set(
    [...(await (await fetch(url)).text()).matchAll(/\/_next\/static\/[^"'\\ ]+\.js/g)].map((m) => m[0]),
  );
  let first = 0;
  let all = 0;
  const sized = [];
  page.on('response', (response) => {
    const path = new URL(response.url()).pathname;
    if (!path.endsWith('.js')) return;
    sized.push(
      response
        .request()
        .sizes()
        .then(({ responseBodySize }) => {
          all += responseBodySize;
          if (named.has(path)) first += responseBodySize;
        }),
    );
  });
  await page.goto(url, { waitUntil: 'networkidle' });
  await Promise.all(sized);
  const interactive = await page.evaluate(() => performance.getEntriesByType('navigation')[0].domInteractive);
  await page.close();
  return { first, all, interactive };
}

async function benchPages() {
  const log = `t_s,voltage_V,current_A\n${Array.from({ length: 5_000_000 }, (_, k) => `${k / 1000},4,0.${100 + (k % 900)}`).join('\n')}\n`;
  const folder = join(root, '.data', `bench-${process.pid}`);
  const cluster = await startCluster(folder, { throwAway: true });
  await migrate(cluster.url);
  const web = await startWeb({ port: await freePort(), databaseUrl: cluster.url });
  const { chromium } = await import('@playwright/test');
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
  });
  try {
    await fetch(`${web.url}/api/sample-data`, { method: 'POST' });
    const bench = await (await fetch(web.url)).text();
    const job = /href="(\/jobs\/\d+)"/.exec(bench)[1];
    for (const [name, path] of [
      ['bench', '/'],
      ['job', job.replace(/\d+$/, '1')],
      ['atlas', '/atlas'],
    ]) {
      const { first, all, interactive } = await scriptsOf(browser, web.url + path);
      const after = `${(all / 1000).toFixed(0)} kB by the time it rests, interactive after ${interactive.toFixed(0)} ms`;
      report(
        `script of the ${name} page at first, gzipped`,
        (first / 1000).toFixed(0),
        'kB',
        '< 250 kB',
        first < 250_000,
        after,
      );
    }
    const before = memoryOf(web.child.pid);
    const began = performance.now();
    const setup = encodeURIComponent(JSON.stringify({ feed: 'battery' }));
    const added = await (
      await fetch(`${web.url}${job.replace('/jobs', '/api/jobs')}/runs?name=big.csv&setup=${setup}`, {
        method: 'POST',
        body: log,
      })
    ).json();
    const seconds = (performance.now() - began) / 1000;
    report(
      'add a run of 5,000,000 rows over the web',
      seconds.toFixed(1),
      's',
      '',
      added.ok,
      `${(log.length / 1e6).toFixed(0)} MB, server peak ${(memoryPeak(web.child.pid) / 1e6).toFixed(0)} MB, ${(before / 1e6).toFixed(0)} MB before`,
    );
  } finally {
    await browser.close();
    await web.stop();
    await cluster.stop();
    rmSync(cluster.home, { recursive: true, force: true });
  }
}

const statusOf = (pid, key) =>
  Number(new RegExp(`${key}:\\s+(\\d+)`).exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) * 1024;
const memoryOf = (pid) => statusOf(pid, 'VmRSS');
const memoryPeak = (pid) => statusOf(pid, 'VmHWM');

main(async () => {
  await ensurePackages();
  await ensureChromium();
  await ensureWebBuild();
  const core = (await import(join(root, 'core/dist/index.js'))).default;
  say(`Node ${process.version}, ${cpus().length} × ${cpus()[0].model}\n`);
  const parts = {
    core: () => (benchSegmentation(core), benchTwin(core), benchAssess(core), benchMemory(core)),
    import: benchImport,
    pages: benchPages,
  };
  const chosen = process.argv.slice(2);
  for (const [name, bench] of Object.entries(parts)) if (chosen.length === 0 || chosen.includes(name)) await bench();
  const width = Math.max(...results.map((r) => r.what.length));
  for (const r of results)
    say(
      `${r.what.padEnd(width)}  ${`${r.value} ${r.unit}`.padStart(24)}  ${r.target.padEnd(16)} ${r.met === null ? '' : r.met ? 'met' : 'NOT MET'}  ${r.baseline}`,
    );
  writeFileSync(
    join(root, 'bench-results.json'),
    `${JSON.stringify({ node: process.version, cpu: cpus()[0].model, cores: cpus().length, results }, null, 2)}\n`,
  );
  say('\nbench-results.json has the same as JSON.');
});
