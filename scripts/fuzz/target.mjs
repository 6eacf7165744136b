import { createRequire } from 'node:module';
import { createServer } from 'node:net';
import { rmSync } from 'node:fs';
import { startCluster } from '../lib/postgres.mjs';
import { startRecorder } from '../lib/recorder.mjs';
import { migrate } from '../lib/schema.mjs';
import { startWeb } from '../lib/web.mjs';

const require = createRequire(import.meta.url);

/** What an instrument that is none sends: given by whoever fuzzes, to whoever connects. */
async function noisyInstruments(count) {
  const noise = { next: () => Buffer.alloc(0) };
  const servers = [];
  for (let n = 0; n < count; n++) {
    const server = createServer((socket) => {
      socket.on('error', () => undefined);
      socket.on('data', () => socket.write(noise.next()));
      const timer = setInterval(() => socket.writable && socket.write(noise.next()), 50);
      socket.on('close', () => clearInterval(timer));
    });
    await new Promise((resolve) => server.listen(0, '127.0.0.1', resolve));
    servers.push(server);
  }
  return { noise, ports: servers.map((s) => s.address().port), close: () => servers.forEach((s) => s.close()) };
}

/** A whole application of its own: database, recorder with two instruments that send noise, pages, one job. */
export async function startTarget(folder) {
  const stops = [];
  const stop = async () => {
    for (const end of stops.reverse()) await end();
  };
  try {
    const cluster = await startCluster(folder, { throwAway: true });
    stops.push(async () => {
      await cluster.stop();
      rmSync(cluster.home, { recursive: true, force: true });
    });
    await migrate(cluster.ownerUrl, cluster.url);
    const instruments = await noisyInstruments(2);
    stops.push(instruments.close);
    const db = require('knex')({ client: 'pg', connection: cluster.url, pool: { min: 0, max: 2 } });
    stops.push(() => db.destroy());
    const [supply, meter] = instruments.ports;
    await db('instruments').insert([
      { key: 'noisy-supply', spec: JSON.stringify(specOf('noisy-supply', 'supply', supply, 'scpi-guarded')) },
      { key: 'noisy-meter', spec: JSON.stringify(specOf('noisy-meter', 'meter', meter, 'lines-usual')) },
    ]);
    const recorder = await startRecorder({ folder, databaseUrl: cluster.url, bench: null });
    stops.push(() => recorder.stop());
    const env = { ...recorder.env, UMBRAL_DEMO: 'yes', UMBRAL_DATA_FOLDER: folder, UMBRAL_FUZZ: 'yes' };
    const web = await startWeb({ databaseUrl: cluster.url, quiet: true, env });
    stops.push(() => web.stop());
    await fetch(`${web.url}/`);
    const newJob = async () =>
      (await db('jobs').insert({ label: 'a phone', device_class: 'phone' }).returning('id'))[0].id;
    return { url: web.url, web, recorder, jobId: await newJob(), newJob, noise: instruments.noise, stop };
  } catch (error) {
    await stop();
    throw error;
  }
}

function specOf(key, kind, port, dialect) {
  const calibration = { gainV: 1, offsetV: 0, gainA: 1, offsetA: 0 };
  return {
    key,
    name: key,
    kind,
    transport: { kind: 'tcp', host: '127.0.0.1', port },
    dialect,
    calibration,
    simulated: false,
  };
}
