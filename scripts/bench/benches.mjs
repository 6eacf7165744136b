import { fork, spawn } from 'node:child_process';
import { createHash, randomBytes } from 'node:crypto';
import { once } from 'node:events';
import { mkdtempSync, rmSync } from 'node:fs';
import { createConnection, createServer } from 'node:net';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { startCluster } from '../lib/postgres.mjs';
import { migrate } from '../lib/schema.mjs';
import { root, say } from '../lib/run.mjs';
import { startWeb } from '../lib/web.mjs';
import { growRecord } from './growth-record.mjs';
import { countsOf } from './live.mjs';
import { quantile, report, sized } from './report.mjs';

const require = createRequire(join(root, 'web/package.json'));

/** How long it goes on, seconds; one of the two web processes is killed in the middle. */
const seconds = sized(Number(process.env.UMBRAL_BENCH_BENCHES_S ?? 60), 6);
const benches = sized(Number(process.env.UMBRAL_BENCH_BENCHES ?? 3), 1);
/** Closed jobs that the record holds beforehand, made of a made-up year; 0 for the sample data alone. */
const closedJobs = sized(Number(process.env.UMBRAL_BENCH_CLOSED ?? 0), 0);
const yearJobs = 200;
const metersEach = 2;
const rateHz = 200;
const readers = sized(50, 2);
const writers = sized(10, 1);
/** Between two pages of one reader, and two entries of one writer, seconds. */
const readEveryS = 8;
const writeEveryS = 20;

const pause = (ms) => new Promise((resolve) => setTimeout(resolve, ms));

/** One address in front of several processes: each connection goes to the next that answers. */
async function balancer(ports) {
  let turn = 0;
  const server = createServer((near) => {
    near.on('error', () => near.destroy());
    const tryNext = (left) => {
      if (left === 0) return near.destroy();
      const far = createConnection({ host: '127.0.0.1', port: ports[turn++ % ports.length] });
      let isOpen = false;
      far.once('connect', () => {
        isOpen = true;
        near.pipe(far).pipe(near);
      });
      far.on('error', () => (isOpen ? near.destroy() : tryNext(left - 1)));
      far.on('close', () => isOpen && near.destroy());
      near.on('close', () => far.destroy());
    };
    tryNext(ports.length);
  });
  await new Promise((resolve) => server.listen(0, '127.0.0.1', resolve));
  return { port: server.address().port, stop: () => server.close() };
}

async function withLoad(work) {
  const folder = mkdtempSync(join(tmpdir(), 'umbral-load-'));
  const stops = [() => rmSync(folder, { recursive: true, force: true })];
  try {
    const cluster = await startCluster(join(folder, 'db'), { throwAway: true });
    stops.push(async () => {
      await cluster.stop();
      rmSync(cluster.home, { recursive: true, force: true });
    });
    await migrate(cluster.ownerUrl, cluster.url);
    const db = require('knex')({ client: 'pg', connection: cluster.ownerUrl, pool: { min: 0, max: 4 } });
    stops.push(() => db.destroy());
    const env = { UMBRAL_DEMO: 'yes' };
    const webs = [];
    for (let k = 0; k < 2; k++) {
      const web = await startWeb({ databaseUrl: cluster.url, env });
      webs.push(web);
      stops.push(() => web.stop());
    }
    const front = await balancer(webs.map(({ url }) => new URL(url).port));
    stops.push(front.stop);
    await work({ url: `http://127.0.0.1:${front.port}`, direct: webs, db, folder, stops });
  } finally {
    for (const stop of stops.reverse()) await stop();
  }
}

/** A bench with its token, its recorder process and its meters' addresses. */
async function placeBench(db, url, folder, k, ports, stops) {
  const token = `umbral_${randomBytes(32).toString('base64url')}`;
  const hash = createHash('sha256').update(token).digest('hex');
  const { id: person } = await db('people').where({ role: 'lead' }).first('id');
  await db('tokens').insert({ name: `bench ${k}`, hash, scopes: ['bench'], person_id: person });
  const args = [
    'cli/bin/umbral.js',
    'bench',
    '--server',
    url,
    '--name',
    `Bench ${k + 1}`,
    '--data',
    join(folder, `bench-${k}`),
  ];
  const start = () =>
    spawn(process.execPath, args, { cwd: root, stdio: 'ignore', env: { ...process.env, UMBRAL_TOKEN: token } });
  const child = start();
  stops.push(() => child.kill('SIGTERM'));
  const known = async () =>
    (
      await db('benches')
        .where({ name: `Bench ${k + 1}` })
        .first('id')
    )?.id;
  while (!(await known())) await pause(200);
  const keys = ports.map((_, n) => `bench-${k}-meter-${n}`);
  for (const [n, port] of ports.entries()) {
    const transport = { kind: 'tcp', host: '127.0.0.1', port };
    const calibration = { gainV: 1, offsetV: 0, gainA: 1, offsetA: 0 };
    const spec = {
      key: keys[n],
      name: keys[n],
      kind: 'meter',
      transport,
      dialect: 'lines-usual',
      calibration,
      simulated: false,
    };
    await db('instruments').insert({ key: keys[n], spec: JSON.stringify(spec), bench_id: await known() });
  }
  return { keys };
}

/** How long it takes from a sample to a reader of events, milliseconds, over all recordings at benches. */
async function watchSamples(url, began, delays, signal) {
  while (!signal.aborted) {
    try {
      const answer = await fetch(`${url}/api/recorder/events`, { signal });
      let text = '';
      for await (const piece of answer.body) {
        text += Buffer.from(piece).toString();
        const events = text.split('\n\n');
        text = events.pop();
        for (const event of events) {
          if (!event.startsWith('event: samples')) continue;
          const { recording, t } = JSON.parse(/^data: (.*)$/m.exec(event)[1]);
          const at = began.get(recording);
          if (at !== undefined) delays.push(Date.now() - (at + 1000 * t[t.length - 1]));
        }
      }
    } catch {
      if (!signal.aborted) await pause(300);
    }
  }
}

/** Pages and processes as they are after the first visit of the day: each engine knows what the shop has met. */
async function warmUp(direct, jobs) {
  for (const { url } of direct) await enterRun(url, jobs[0], 'first of the day');
  for (const { url } of direct)
    for (let n = 0; n < 2; n++)
      for (const path of ['/', '/atlas', ...jobs.flatMap((id) => [`/jobs/${id}`, `/jobs/${id}/verify`])])
        await (await fetch(url + path)).text();
}

async function reader(url, jobs, k, pages, failed, signal) {
  const paths = ['/', `/jobs/${jobs[k % jobs.length]}`, '/atlas', `/jobs/${jobs[(k + 1) % jobs.length]}/verify`];
  await pause((1000 * readEveryS * k) / readers);
  for (let n = 0; !signal.aborted; n++) {
    const asked = performance.now();
    try {
      const answer = await fetch(url + paths[n % paths.length]);
      await answer.text();
      if (answer.ok) pages.push(performance.now() - asked);
      else failed.push(answer.status);
    } catch {
      failed.push(0);
    }
    await pause(1000 * readEveryS);
  }
}

/** A log of a start, sent to a job; what comes back. */
function enterRun(url, jobId, name) {
  const rows = Array.from({ length: 300 }, (_, n) => `${n / 50},3.9,${n < 100 ? 0 : 0.047}`).join('\n');
  const setup = encodeURIComponent(JSON.stringify({ feed: 'battery', instrument: 'bench-supply' }));
  const path = `/api/jobs/${jobId}/runs?name=${encodeURIComponent(name)}.csv&setup=${setup}`;
  return fetch(url + path, { method: 'POST', body: `t_s,voltage_V,current_A\n${rows}\n` });
}

async function writer(url, jobs, k, writes, failed, signal) {
  await pause((1000 * writeEveryS * k) / writers);
  for (let n = 0; !signal.aborted; n++) {
    const asked = performance.now();
    try {
      const answer = await enterRun(url, jobs[k % jobs.length], `load-${k}-${n}`);
      if (answer.ok) writes.push(performance.now() - asked);
      else failed.push(answer.status);
      await answer.text();
    } catch {
      failed.push(0);
    }
    await pause(1000 * writeEveryS);
  }
}

/** Some benches with two meters each, fifty who read, ten who write, two web processes, one of them killed in the middle. */
export async function benchBenches() {
  const all = benches * metersEach;
  const meters = fork(join(root, 'scripts/bench/fast-meters.mjs'), [String(all), String(rateHz)], {
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
  });
  const [{ ports, countsTo }] = await once(meters, 'message');
  try {
    await withLoad(async ({ url, direct, db, folder, stops }) => {
      await fetch(`${url}/api/sample-data`, { method: 'POST' });
      if (closedJobs > 0) {
        await fetch(`${url}/api/sample-year?jobs=${yearJobs}`, { method: 'POST' }).then((r) => r.text());
        await growRecord(db, closedJobs);
      }
      const jobs = (await db('jobs').whereNull('closed_at').orderBy('id').limit(writers).pluck('id')) ?? [];
      const placed = [];
      for (let k = 0; k < benches; k++)
        placed.push(await placeBench(db, url, folder, k, ports.slice(k * metersEach, (k + 1) * metersEach), stops));
      // A connection that is kept may lead to the process that was killed: asked again, as a browser does.
      const act = async (name, data, tries = 3) => {
        try {
          const response = await fetch(`${url}/api/recorder/${name}`, { method: 'POST', body: JSON.stringify(data) });
          return await response.json();
        } catch (error) {
          if (tries === 1) throw error;
          return act(name, data, tries - 1);
        }
      };
      // The benches read their settings when they connect; they are told that these have changed.
      await db.raw(
        `SELECT pg_notify('umbral_command', json_build_object('bench', id, 'id', null, 'path', 'POST /reload', 'body', '{}'::json)::text) FROM benches`,
      );
      const began = new Map();
      for (const instrument of placed.flatMap((p) => p.keys)) {
        for (let tries = 0; ; tries++) {
          const answer = await act('record', { jobId: jobs[0], instrument, setup: { feed: 'usb-c', port: 1 } });
          if (answer.ok) {
            const row = await db('recordings').where({ id: answer.value.recording }).first('started_at');
            began.set(answer.value.recording, Number(row.started_at));
            break;
          }
          if (tries > 60) throw new Error(answer.message);
          await pause(500);
        }
      }
      await warmUp(direct, jobs);
      say(`${benches} benches record; ${readers} read, ${writers} write for ${seconds} s …`);
      const over = new AbortController();
      const [delays, pages, writes, failed] = [[], [], [], []];
      const going = [
        watchSamples(url, began, delays, over.signal),
        ...Array.from({ length: readers }, (_, k) => reader(url, jobs, k, pages, failed, over.signal)),
        ...Array.from({ length: writers }, (_, k) => writer(url, jobs, k, writes, failed, over.signal)),
      ];
      await pause(500 * seconds);
      direct[1].child.kill('SIGKILL');
      await pause(500 * seconds);
      over.abort();
      await Promise.all(going);
      for (const instrument of placed.flatMap((p) => p.keys)) await act('stop', { instrument });
      const ids = [...began.keys()];
      for (let n = 0; n < 60; n++) {
        const open = await db('recordings').whereIn('id', ids).where({ state: 'recording' });
        if (open.length === 0) break;
        await pause(500);
      }
      const counts = [];
      for (const id of ids) counts.push(await countsOf(db, id, countsTo));
      const sum = (of) => counts.reduce((n, c) => n + c[of], 0);
      report(
        `${benches} benches × ${metersEach} × ${rateHz} Hz for ${seconds} s, a web process killed: missing, out of order`,
        `${sum('missing')}, ${sum('outOfOrder')}`,
        'samples',
        'none',
        sum('missing') + sum('outOfOrder') === 0 && sum('rows') > 0.95 * all * rateHz * seconds,
        `of ${sum('rows').toLocaleString('en')}`,
      );
      const page99 = quantile(pages, 0.99);
      report(
        `a page meanwhile, ${readers} reading and ${writers} writing, 99th percentile`,
        page99.toFixed(0),
        'ms',
        '< 1000 ms',
        page99 < 1000,
        `half under ${quantile(pages, 0.5).toFixed(0)} ms, ${pages.length} pages, ${writes.length} entries (half under ${quantile(writes, 0.5)?.toFixed(0)} ms), ${failed.length} asked again after the kill`,
      );
      const sample99 = quantile(delays, 0.99);
      report(
        'a sample of a bench to the screen, 99th percentile',
        sample99.toFixed(0),
        'ms',
        '< 300 ms',
        sample99 < 300,
        `half under ${quantile(delays, 0.5).toFixed(0)} ms, ${delays.length} events`,
      );
    });
  } finally {
    meters.kill('SIGTERM');
  }
}
