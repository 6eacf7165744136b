import { createRequire } from 'node:module';
import { join } from 'node:path';
import { root } from '../lib/run.mjs';
import { isSmallest, quantile, report, sized } from './report.mjs';
import { withSite } from './site.mjs';

/** Cases in the atlas while it is scrolled. */
const many = sized(10_000, 50);
/** Closed jobs of the year. */
const jobs = sized(400, 10);
/** A frame that took longer was dropped: two at 60 a second, since this browser draws without a graphics card. */
const droppedMs = 34;

/** The year of closed jobs, its frozen calls made again, the notebook by a number, and the atlas with ten thousand cases. */
export async function benchLearning() {
  await withSite(async ({ web, browser, databaseUrl }) => {
    const began = performance.now();
    await fetch(`${web.url}/api/sample-year?jobs=${jobs}`, { method: 'POST' });
    const year = (performance.now() - began) / 1000;
    report(`A year of ${jobs} closed jobs loaded`, year.toFixed(1), 's', '< 20 s', year < 20);
    await replayed(web, browser);
    await lookedUp(web);
    await scrolled(web, browser, databaseUrl);
  });
}

async function replayed(web, browser) {
  const page = await browser.newPage();
  await page.goto(`${web.url}/scorecard`, { waitUntil: 'load' });
  await page.waitForFunction(() => document.documentElement.dataset.live === 'yes');
  const began = performance.now();
  await page.getByRole('button', { name: 'Recompute' }).click();
  const text = await page.getByText(/First suspect right: \d+, now \d+ of \d+/).textContent({ timeout: 300_000 });
  const seconds = (performance.now() - began) / 1000;
  const cases = Number(/of (\d+)\./.exec(text)[1]);
  const thousand = (1000 * seconds) / cases;
  report(
    '1,000 frozen calls made again',
    thousand.toFixed(0),
    's',
    '< 300 s',
    thousand < 300,
    `from ${cases} in ${seconds.toFixed(1)} s`,
  );
  await page.close();
}

async function lookedUp(web) {
  const times = [];
  for (let k = 0; k < sized(20, 2); k++) {
    const began = performance.now();
    await (await fetch(`${web.url}/notebook?q=0.${10 + k}+A`)).text();
    times.push(performance.now() - began);
  }
  const ms = quantile(times, 0.95);
  report('Notebook by a number, 95th percentile', ms.toFixed(0), 'ms', '< 1000 ms', ms < 1000);
}

async function scrolled(web, browser, databaseUrl) {
  const knex = createRequire(join(root, 'web', 'package.json'))('knex');
  const db = knex({ client: 'pg', connection: databaseUrl });
  try {
    await db.raw(`INSERT INTO known_shops (fingerprint, public_key, name) VALUES ('bench', '', 'bench')`);
    const { rows } = await db.raw(
      `INSERT INTO libraries (shop, licence, fingerprint, sha256, made_at) VALUES ('bench', '', 'bench', 'bench', now()) RETURNING id`,
    );
    const made = await db.raw(
      `INSERT INTO library_cases (case_key, library_id, model, device_class, circuit, element, part, cure, grade, weight, pattern, closed_at)
       SELECT 'copy ' || n || ' ' || c.id, ?, c.model, c.device_class, c.circuit, c.element, c.part, c.cure, c.grade, 0, c.pattern, c.closed_at
       FROM library_cases c, generate_series(1, 50) n WHERE c.job_id IS NOT NULL LIMIT ? RETURNING id`,
      [rows[0].id, many],
    );
    await db.raw(
      `INSERT INTO library_runs (case_id, run_key, feed, pattern, setup, data, outline, amps, volts)
       SELECT c.id, r.run_key, r.feed, r.pattern, r.setup, r.data, r.outline, r.amps, r.volts
       FROM library_cases c JOIN LATERAL (SELECT * FROM library_runs LIMIT 1) r ON true WHERE c.library_id = ?`,
      [rows[0].id],
    );
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    const began = performance.now();
    await page.goto(`${web.url}/atlas`, { waitUntil: 'load' });
    await page.getByRole('region', { name: 'Confirmed cases' }).getByRole('listitem').first().waitFor();
    const shown = performance.now() - began;
    const frames = await page.evaluate(async (isShort) => {
      const list = document.querySelector('[aria-label="Confirmed cases"]');
      const times = [];
      let last = performance.now();
      for (let k = 0; k < 240 && !(isShort && k > 20); k++) {
        list.scrollTop += 700;
        await new Promise((resolve) => requestAnimationFrame(resolve));
        const now = performance.now();
        times.push(now - last);
        last = now;
      }
      return times.slice(10);
    }, isSmallest);
    const worst = quantile(frames, 0.99);
    const dropped = frames.filter((ms) => ms > droppedMs).length;
    report(
      `Atlas of ${(made.rows.length / 1000).toFixed(1)} thousand cases, a frame while scrolling, 99th percentile`,
      worst.toFixed(1),
      'ms',
      `< ${droppedMs} ms`,
      worst < droppedMs,
      `${dropped} of ${frames.length} dropped; first shown after ${shown.toFixed(0)} ms`,
    );
    await page.close();
  } finally {
    await db.destroy();
  }
}
