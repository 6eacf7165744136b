// npm run demo and npm start: from a fresh clone to a running application, everything stopped on Ctrl-C.
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { ensurePackages, ensureWebBuild } from './lib/install.mjs';
import { keepRunning } from './lib/keep.mjs';
import { freePort, isFree } from './lib/ports.mjs';
import { migrate, startCluster } from './lib/postgres.mjs';
import { main, Problem, root, say } from './lib/run.mjs';
import { startRecorder, startSimulatedBench } from './lib/recorder.mjs';
import { startWeb } from './lib/web.mjs';

const { values } = parseArgs({
  options: { demo: { type: 'boolean', default: false }, port: { type: 'string' }, data: { type: 'string' } },
});

function takeLock(folder) {
  mkdirSync(folder, { recursive: true });
  const lock = join(folder, 'serving.json');
  if (existsSync(lock)) {
    const { pid, url } = JSON.parse(readFileSync(lock, 'utf8'));
    let alive = pid !== process.pid;
    try {
      process.kill(pid, 0);
    } catch (error) {
      alive = error.code === 'EPERM';
    }
    if (alive)
      throw new Problem(
        `Umbral already runs on this data folder${url ? `, at ${url}` : ''}. Stop it first, or give another --port and --data.`,
      );
  }
  const write = (url) => writeFileSync(lock, JSON.stringify({ pid: process.pid, url }));
  write(null);
  return { write, release: () => rmSync(lock, { force: true }) };
}

main(async () => {
  const wanted = values.port ?? process.env.UMBRAL_PORT;
  const port = Number(wanted ?? 4300);
  if (!Number.isInteger(port) || port < 1 || port > 65535)
    throw new Problem(`"${wanted}" is no port; expected a number from 1 to 65535.`);
  const folder = resolve(root, values.data ?? process.env.UMBRAL_DATA ?? '.data/umbral');
  const lock = takeLock(folder);
  const stops = [() => lock.release()];
  let stopping = false;
  const stopAll = async (code) => {
    if (stopping) return;
    stopping = true;
    for (const stop of stops.reverse()) await Promise.resolve(stop()).catch(() => undefined);
    process.exit(code);
  };
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => void stopAll(0));
  try {
    await ensurePackages();
    let databaseUrl = process.env.DATABASE_URL;
    if (!databaseUrl) {
      const cluster = await startCluster(folder);
      databaseUrl = cluster.url;
      stops.push(() => cluster.stop());
    }
    await migrate(databaseUrl);
    await ensureWebBuild();
    if (wanted && !(await isFree(port))) throw new Problem(`Port ${port} is taken; give another with --port.`);
    const bench = values.demo ? await startSimulatedBench() : null;
    if (bench) stops.push(() => bench.stop());
    const recorder = await startRecorder({ folder, databaseUrl, bench });
    stops.push(() => recorder.stop());
    const webPort = await freePort(port);
    const kept = await keepRunning('The web application', () =>
      startWeb({ port: webPort, databaseUrl, env: recorder.env }),
    );
    stops.push(() => kept.stop());
    const web = kept.now();
    if (values.demo) {
      const loaded = await fetch(`${web.url}/api/sample-data`, { method: 'POST' });
      if (!loaded.ok) throw new Problem(`The sample data could not be loaded: ${await loaded.text()}`);
    }
    lock.write(web.url);
    say(`\n  Umbral is at ${web.url}\n  Ctrl-C stops everything.\n`);
  } catch (error) {
    if (stopping) return;
    process.stderr.write(error instanceof Problem ? `\n${error.message}\n` : `\n${error?.stack ?? error}\n`);
    await stopAll(1);
  }
});
