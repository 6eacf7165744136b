import { createRequire } from 'node:module';
import { join } from 'node:path';
import { root } from '../lib/run.mjs';
import { quantile, report, sized } from './report.mjs';
import { withSite } from './site.mjs';

/** Beginnings that nothing was chosen by: those the rules were looked at with are below. */
const firstSeed = 500;
const weeks = sized(20, 1);
/** Jobs that come in on a day, from a bench that keeps up to one that does not. */
const loads = sized([4, 6, 9, 12], [4]);
const seeds = (count) => Array.from({ length: count }, (_, k) => firstSeed + k);

/** How fast a day is ordered, and what its order is worth beside due dates, the shortest first and the dearest minute first. */
export async function benchDay(core) {
  ordered(core);
  await withSite(async ({ databaseUrl }) => {
    const hands = await handsOf(core, databaseUrl);
    for (const aDay of loads)
      rules(
        `a week from the demo's ${hands.length} open jobs, ${aDay} a day`,
        core.compareRules(seeds(weeks), { days: 5, aDay, hands }),
      );
  });
  for (const aDay of loads)
    rules(`200 days, ${aDay} a day`, core.compareRules(seeds(sized(10, 1)), { days: sized(28, 2), aDay }));
}

/** Sixty jobs, with one and with two people. */
function ordered(core) {
  for (const people of [1, 2]) {
    const times = [];
    const gaps = [];
    for (let k = 0; k < sized(12, 1); k++) {
      const tasks = core
        .madeUpJobs(firstSeed + k, { days: 7, aDay: 10 })
        .slice(0, 60)
        .map(({ hand, due }, id) => {
          const { stretches, value } = core.workAhead(hand, core.usualShop);
          return { id: id + 1, release: 0, stretches, value, due, heldBy: null, rank: null };
        });
      const spans = core.presenceOf({ ...core.usualHours, zone: 'UTC' }, new Date('2026-11-30T08:00:00Z'));
      const technicians = Array.from({ length: people }, (_, n) => ({ id: n + 1, maxDepth: 5, spans }));
      const began = performance.now();
      const found = core.orderWork(tasks, { ...core.usualBench, technicians });
      times.push(performance.now() - began);
      gaps.push((found.cost - found.bound) / found.cost);
    }
    const ms = quantile(times, 0.95);
    report(
      `60 jobs ordered, ${people} at the bench, 95th percentile`,
      ms.toFixed(0),
      'ms',
      '< 200 ms',
      ms < 200,
      `at most ${(100 * quantile(gaps, 0.5)).toFixed(0)} % over the best there can be (median)`,
    );
  }
}

function rules(what, found) {
  const rate = (r) => r.euros / r.hours;
  const { sheet, due } = found;
  const gain = 100 * (rate(sheet) / rate(due) - 1);
  const words = Object.entries(found).map(
    ([rule, r]) => `${rule} ${rate(r).toFixed(1)} €/h, ${r.late} of ${r.due} late`,
  );
  report(
    `Run sheet against due dates: ${what}`,
    gain.toFixed(0),
    '% more',
    '>= 25 %, not later',
    gain >= 25 && sheet.late <= due.late,
    words.join('; '),
  );
}

/** The open jobs of the demo, as the run sheet sees them. */
async function handsOf(core, databaseUrl) {
  const knex = createRequire(join(root, 'web', 'package.json'))('knex');
  const db = knex({ client: 'pg', connection: databaseUrl });
  try {
    const { rows } = await db.raw(`SELECT j.device_class, j.intake, r.feed, a.result,
        (SELECT count(*)::int FROM runs WHERE job_id = j.id AND deleted_at IS NULL) AS seen
      FROM jobs j
      LEFT JOIN LATERAL (SELECT result FROM assessments WHERE job_id = j.id ORDER BY id DESC LIMIT 1) a ON true
      LEFT JOIN LATERAL (SELECT feed FROM runs WHERE job_id = j.id AND deleted_at IS NULL ORDER BY id DESC LIMIT 1) r ON true
      WHERE j.closed_at IS NULL AND j.deleted_at IS NULL ORDER BY j.id`);
    return rows.map((row) => ({
      deviceClass: row.device_class,
      fee: null,
      liquid: row.intake.liquid,
      dataWanted: row.intake.dataWanted,
      dataOnly: false,
      seen: row.seen,
      feed: row.feed ?? 'usb-c',
      assessment: row.result,
    }));
  } finally {
    await db.destroy();
  }
}
