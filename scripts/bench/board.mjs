import { createRequire } from 'node:module';
import { join } from 'node:path';
import { root } from '../lib/run.mjs';
import { median, quantile, report, sized } from './report.mjs';
import { withSite } from './site.mjs';

const require = createRequire(join(root, 'web/package.json'));
const rails = sized(200, 20);

/** The plan at the opened device of a model with two hundred rails, nothing measured yet. */
export function benchNextProbe(core) {
  const profile = core.randomTree(rails, 3);
  const device = { class: 'phone', model: profile.name, profile: profile.id };
  const profiles = new Map([[profile.id, profile]]);
  const value = core.bareCase(device, []);
  const once = () => {
    const from = performance.now();
    core.planBoard(value, new Map(), { profiles });
    return performance.now() - from;
  };
  const cold = once();
  const warm = median(Array.from({ length: 5 }, once));
  report(
    `plan at the opened device, ${rails} rails`,
    warm.toFixed(0),
    'ms',
    '< 100 ms',
    warm < 100,
    `the first time, with every start-up, ${cold.toFixed(0)} ms`,
  );
}

/** In the page: how long each frame took while something is done, milliseconds. */
const frames = (ms) =>
  new Promise((done) => {
    const gaps = [];
    let last = performance.now();
    const end = last + ms;
    const next = (now) => {
      gaps.push(now - last);
      last = now;
      if (now < end) requestAnimationFrame(next);
      else done(gaps);
    };
    requestAnimationFrame(next);
  });

/** The ladder of two hundred rails, scrolled and typed into. */
export async function benchLadder(core) {
  await withSite(async ({ databaseUrl, web, browser }) => {
    const profile = core.randomTree(rails, 3);
    const db = require('knex')({ client: 'pg', connection: databaseUrl, pool: { min: 0, max: 2 } });
    const value = JSON.stringify(profile);
    await db('profiles').insert({
      profile_id: profile.id,
      version: 1,
      name: profile.name,
      note: 'bench',
      content: value,
    });
    const [{ id }] = await db('jobs')
      .insert({
        label: 'two hundred rails',
        device_class: 'phone',
        model: profile.name,
        profile: profile.id,
        profile_version: 1,
        intake: JSON.stringify({
          liquid: false,
          dropped: false,
          priorRepair: false,
          batterySwollen: false,
          dataWanted: false,
          notes: '',
        }),
      })
      .returning('id');
    await db.destroy();
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(`${web.url}/jobs/${id}/measure`, { waitUntil: 'load' });
    const line = page.locator('#typed');
    await line.waitFor();
    await page.waitForTimeout(2500);
    const idle = await page.evaluate(frames, 1500);
    const scrolled = page.evaluate(frames, 3000);
    await page.getByRole('list', { name: 'Rail list' }).hover();
    for (let k = 0; k < 24; k++) {
      await page.mouse.wheel(0, 220);
      await page.waitForTimeout(100);
    }
    const scroll = await scrolled;
    const typed = page.evaluate(frames, 6000);
    await line.focus();
    for (let k = 0; k < 12; k++) {
      await line.pressSequentially('1.79', { delay: 60 });
      await page.keyboard.press('Enter');
      await page.waitForTimeout(120);
    }
    const entry = await typed;
    const usual = median(idle);
    for (const [what, gaps] of [
      ['scrolled', scroll],
      ['typed into', entry],
    ]) {
      const dropped = gaps.filter((g) => g > 1.5 * usual).length;
      report(
        `ladder of ${rails} rails ${what}: frames dropped`,
        `${dropped} of ${gaps.length}`,
        '',
        'none',
        dropped === 0,
        `longest ${Math.max(...gaps).toFixed(0)} ms, 99 % under ${quantile(gaps, 0.99).toFixed(0)} ms, at rest ${usual.toFixed(0)} ms`,
      );
    }
  });
}
