import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { startCluster } from '../lib/postgres.mjs';
import { migrate } from '../lib/schema.mjs';
import { startRecorder } from '../lib/recorder.mjs';
import { root } from '../lib/run.mjs';
import { startWeb } from '../lib/web.mjs';
import { isSmallest } from './report.mjs';

let shared = null;

/** Ends the site that the parts shared. */
export const endSite = async () => (await shared)?.end();

/**
 * Runs `work` against a throw-away database, a recorder, the application with the sample fleet, and a browser: one of its
 * own, or in the smallest size one for all parts.
 */
export async function withSite(work) {
  if (isSmallest) return work((await (shared ??= startSite())).site);
  const { site, end } = await startSite();
  try {
    await work(site);
  } finally {
    await end();
  }
}

async function startSite() {
  const folder = join(root, '.data', `bench-${process.pid}`);
  const stops = [];
  const end = async () => {
    for (const stop of stops.reverse()) await stop();
  };
  try {
    const cluster = await startCluster(folder, { throwAway: true });
    stops.push(async () => {
      await cluster.stop();
      for (const left of [cluster.home, folder]) rmSync(left, { recursive: true, force: true });
    });
    await migrate(cluster.ownerUrl, cluster.url);
    const recorder = await startRecorder({ folder, databaseUrl: cluster.url, bench: null });
    stops.push(() => recorder.stop());
    const web = await startWeb({ databaseUrl: cluster.url, env: { ...recorder.env, UMBRAL_DEMO: 'yes' } });
    stops.push(() => web.stop());
    const { chromium } = await import('@playwright/test');
    const browser = await chromium.launch({
      executablePath: '/usr/bin/chromium',
      args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
    });
    stops.push(() => browser.close());
    await fetch(`${web.url}/api/sample-data`, { method: 'POST' });
    return { site: { databaseUrl: cluster.url, recorder, web, browser }, end };
  } catch (error) {
    await end();
    throw error;
  }
}
