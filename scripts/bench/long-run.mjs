import { createRequire } from 'node:module';
import { join } from 'node:path';
import { root, say } from '../lib/run.mjs';
import { median, report, sized } from './report.mjs';
import { withSite } from './site.mjs';

const require = createRequire(join(root, 'web/package.json'));
const rows = sized(10_000_000, 60_000);
const blockRows = 20_000;

/** A recording of ten million samples at 1 kHz, as the recorder would have left it. */
async function leaveRecording(db) {
  const { unknownInstrument, unknownSetup, seededRandom } = require('@umbral/core');
  const { packSamples } = require('@umbral/instruments/samples');
  const random = seededRandom(7);
  const [{ id }] = await db('recordings')
    .insert({
      job_id: 1,
      instrument_key: 'long-run',
      state: 'finished',
      feed: 'battery',
      setup: JSON.stringify(unknownSetup),
      instrument: JSON.stringify({ ...unknownInstrument, kind: 'bench-supply', resolutionA: 0.001 }),
      started_at: new Date(),
      ended_at: new Date(),
    })
    .returning('id');
  for (let seq = 0; seq * blockRows < rows; seq++) {
    const block = { t: new Float64Array(blockRows), v: new Float32Array(blockRows), i: new Float32Array(blockRows) };
    for (let k = 0; k < blockRows; k++) {
      const at = seq * blockRows + k;
      block.t[k] = at / 1000;
      block.v[k] = 4;
      const wave = 0.3 + 0.2 * Math.sin(at / 90_000) + (at % 40_000 < 3000 ? 0.5 : 0);
      block.i[k] = Math.round(1000 * (wave + 0.004 * (random() - 0.5))) / 1000;
    }
    await db('recording_chunks').insert({ recording_id: id, seq, ...(await packSamples(block)) });
  }
  return id;
}

/** Waits in the page for two pictures: what was set before is on the screen then. */
const painted = () =>
  new Promise((f) => requestAnimationFrame(() => requestAnimationFrame(() => f(performance.now()))));

/** A run of ten million samples: opened, then looked at ever closer. */
export async function benchLongRun() {
  await withSite(async ({ databaseUrl, web, browser }) => {
    const db = require('knex')({ client: 'pg', connection: databaseUrl, pool: { min: 0, max: 2 } });
    const recording = await leaveRecording(db);
    await db.destroy();
    const began = performance.now();
    const kept = await (
      await fetch(`${web.url}/api/recorder/keep`, { method: 'POST', body: JSON.stringify({ recording }) })
    ).json();
    if (!kept.ok) throw new Error(kept.message);
    const keeping = ((performance.now() - began) / 1000).toFixed(1);
    const url = `${web.url}/jobs/1?run=${kept.value.key}`;
    say(`A run of ${rows.toLocaleString('en')} samples was kept in ${keeping} s.`);
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    const drawn = [];
    const opened = [];
    for (let k = 0; k < 6; k++) {
      await page.goto('about:blank');
      const from = performance.now();
      await page.goto(url, { waitUntil: 'commit' });
      // The shape comes with the page; the axes come with the chart.
      await page.locator('section[aria-label^="Run "] svg path').first().waitFor();
      await page.evaluate(painted);
      drawn.push(performance.now() - from);
      await page.locator('section[aria-label^="Run "] .recharts-surface').first().waitFor();
      await page.evaluate(painted);
      opened.push(performance.now() - from);
    }
    report(
      `open a run of ${rows.toLocaleString('en')} samples: its shape on the screen`,
      median(drawn.slice(1)).toFixed(0),
      'ms',
      '< 500 ms',
      median(drawn.slice(1)) < 500,
      `the first time ${drawn[0].toFixed(0)} ms, with axes ${median(opened.slice(1)).toFixed(0)} ms, kept in ${keeping} s`,
    );
    await page.waitForTimeout(1500);
    const served = [];
    const seen = [];
    page.on('requestfinished', (request) => {
      if (request.url().includes('/window?')) served.push(request.timing().responseEnd);
    });
    for (const key of ['+', '+', '+', '.', '.', '+', '+', '+', '+', '-', '-', ',']) {
      const answered = page.waitForResponse((r) => r.url().includes('/window?'));
      const from = performance.now();
      await page.keyboard.press(key);
      await answered;
      await page.evaluate(painted);
      seen.push(performance.now() - from);
      await page.waitForTimeout(150);
    }
    report(
      'zoom into it: key to fine picture',
      median(seen).toFixed(0),
      'ms',
      '< 100 ms',
      median(seen) < 100,
      `slowest ${Math.max(...seen).toFixed(0)} ms, served in ${median(served).toFixed(0)} ms`,
    );
  });
}
