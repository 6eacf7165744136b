import { fork } from 'node:child_process';
import { once } from 'node:events';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { root, say } from '../lib/run.mjs';
import { memoryPeak, quantile, report, sized } from './report.mjs';
import { withSite } from './site.mjs';

const require = createRequire(join(root, 'web/package.json'));

/** Ten minutes, or what UMBRAL_BENCH_LIVE_S says. */
const seconds = sized(Number(process.env.UMBRAL_BENCH_LIVE_S ?? 600), 8);

async function placeMeters(db, ports) {
  const keys = ports.map((_, k) => `fast-${k + 1}`);
  await db('instruments').insert(
    ports.map((port, k) => ({
      key: keys[k],
      spec: JSON.stringify({
        key: keys[k],
        name: `Fast meter ${k + 1}`,
        kind: 'meter',
        transport: { kind: 'tcp', host: '127.0.0.1', port },
        dialect: 'lines-usual',
        calibration: { gainV: 1, offsetV: 0, gainA: 1, offsetA: 0 },
        simulated: false,
      }),
    })),
  );
  return keys;
}

/** In the page: after each picture, how long ago its newest sample was measured; milliseconds. */
function watchDelays() {
  window.delays = [];
  let last = null;
  const look = () => {
    const picture = document.querySelector('svg[data-started-at]');
    const end = picture?.getAttribute('data-end');
    if (end && end !== last) {
      last = end;
      window.delays.push(Date.now() - (Date.parse(picture.getAttribute('data-started-at')) + 1000 * Number(end)));
    }
    requestAnimationFrame(look);
  };
  look();
}

/** Lines of a recording in the database, those that are missing between two, and those out of order. */
export async function countsOf(db, recording, countsTo) {
  const { unpackSamples } = require('@umbral/instruments/samples');
  const counts = { rows: 0, missing: 0, outOfOrder: 0 };
  let [lastLine, lastT] = [null, -Infinity];
  const seqs = await db('recording_chunks').where({ recording_id: recording }).orderBy('seq').pluck('seq');
  for (const seq of seqs) {
    const block = await unpackSamples(await db('recording_chunks').where({ recording_id: recording, seq }).first());
    for (let k = 0; k < block.t.length; k++) {
      const line = Math.round(1000 * block.v[k]);
      if (lastLine !== null) counts.missing += (line - lastLine - 1 + countsTo) % countsTo;
      if (!(block.t[k] > lastT)) counts.outOfOrder++;
      [lastLine, lastT] = [line, block.t[k]];
      counts.rows++;
    }
  }
  return counts;
}

/** Asks for the call every second and a half, as a page does, until the time is up. Seconds since the beginning, milliseconds. */
async function callsMeanwhile(call) {
  const began = performance.now();
  const calls = [];
  for (;;) {
    const at = (performance.now() - began) / 1000;
    if (at >= seconds) return calls;
    const asked = performance.now();
    await call();
    calls.push({ at, ms: performance.now() - asked });
    await new Promise((f) => setTimeout(f, 1500));
  }
}

/** Four instruments at 1 kHz, recorded together while a browser watches. */
export async function benchLive() {
  const meters = fork(join(root, 'scripts/bench/fast-meters.mjs'), { stdio: ['ignore', 'inherit', 'inherit', 'ipc'] });
  const [{ ports, countsTo }] = await once(meters, 'message');
  try {
    await withSite(async ({ databaseUrl, recorder, web, browser }) => {
      const db = require('knex')({ client: 'pg', connection: databaseUrl, pool: { min: 0, max: 2 } });
      const act = async (name, data) => {
        const response = await fetch(`${web.url}/api/recorder/${name}`, { method: 'POST', body: JSON.stringify(data) });
        const answer = await response.json();
        if (!answer.ok) throw new Error(`${name}: ${answer.message}`);
        return answer.value;
      };
      const keys = await placeMeters(db, ports);
      await fetch(`${recorder.env.UMBRAL_RECORDER_URL}/reload`, {
        method: 'POST',
        headers: { authorization: `Bearer ${recorder.env.UMBRAL_RECORDER_TOKEN}` },
        body: '{}',
      });
      await new Promise((f) => setTimeout(f, 2000));
      const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
      await page.goto(`${web.url}/jobs/1/record`, { waitUntil: 'load' });
      await page.getByRole('button', { name: /Fast meter 1 measures/ }).click();
      await page.evaluate(watchDelays);
      const recordings = [];
      for (const instrument of keys)
        recordings.push((await act('record', { jobId: 1, instrument, setup: { feed: 'usb-c', port: 1 } })).recording);
      say(`Recording four instruments for ${seconds} s …`);
      const calls = await callsMeanwhile(() => act('call', { recording: recordings[0] }));
      const delays = await page.evaluate(() => window.delays);
      const peak = memoryPeak(recorder.pid());
      for (const instrument of keys) await act('stop', { instrument });
      await page.close();
      const counts = [];
      for (const id of recordings) counts.push(await countsOf(db, id, countsTo));
      await db.destroy();
      const sum = (of) => counts.reduce((n, c) => n + c[of], 0);
      const spoilt = sum('missing') + sum('outOfOrder');
      report(
        `four instruments at 1 kHz for ${seconds} s: missing, out of order`,
        `${sum('missing')}, ${sum('outOfOrder')}`,
        'samples',
        'none',
        spoilt === 0 && sum('rows') > 3950 * seconds,
        `of ${sum('rows').toLocaleString('en')}`,
      );
      // The first picture waits for the page itself.
      const steady = delays.slice(sized(10, 0));
      const p99 = quantile(steady, 0.99);
      report(
        'sample to screen meanwhile, 99th percentile',
        p99.toFixed(0),
        'ms',
        '< 200 ms',
        p99 < 200,
        `half under ${quantile(steady, 0.5).toFixed(0)} ms, ${(delays.length / seconds).toFixed(1)} pictures a second`,
      );
      // In the smallest size there may be none.
      const [early, late] = [0.25, 0.75].map(
        (from) =>
          quantile(
            calls.filter((c) => c.at >= from * seconds && c.at < (from + 0.25) * seconds).map((c) => c.ms),
            0.5,
          ) ?? NaN,
      );
      report(
        'the call of such a recording, in its second and its last quarter',
        `${early.toFixed(0)} to ${late.toFixed(0)}`,
        'ms',
        'flat',
        late < 1.5 * early,
        `${calls.length} calls while four instruments record`,
      );
      report('memory of the recorder at most', (peak / 1e6).toFixed(0), 'MB', '< 250 MB', peak < 250e6);
    });
  } finally {
    meters.kill('SIGTERM');
  }
}
