import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { freePort } from '../lib/ports.mjs';
import { migrate, startCluster } from '../lib/postgres.mjs';
import { startRecorder } from '../lib/recorder.mjs';
import { root } from '../lib/run.mjs';
import { startWeb } from '../lib/web.mjs';

/** Runs `work` against a throw-away database, a recorder, the application with the sample fleet, and a browser. */
export async function withSite(work) {
  const folder = join(root, '.data', `bench-${process.pid}`);
  const stops = [];
  try {
    const cluster = await startCluster(folder, { throwAway: true });
    stops.push(async () => {
      await cluster.stop();
      for (const left of [cluster.home, folder]) rmSync(left, { recursive: true, force: true });
    });
    await migrate(cluster.ownerUrl, cluster.url);
    const recorder = await startRecorder({ folder, databaseUrl: cluster.url, bench: null });
    stops.push(() => recorder.stop());
    const web = await startWeb({
      port: await freePort(),
      databaseUrl: cluster.url,
      env: { ...recorder.env, UMBRAL_DEMO: 'yes' },
    });
    stops.push(() => web.stop());
    const { chromium } = await import('@playwright/test');
    const browser = await chromium.launch({
      executablePath: '/usr/bin/chromium',
      args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
    });
    stops.push(() => browser.close());
    await fetch(`${web.url}/api/sample-data`, { method: 'POST' });
    await work({ databaseUrl: cluster.url, recorder, web, browser });
  } finally {
    for (const stop of stops.reverse()) await stop();
  }
}
