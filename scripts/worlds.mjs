// Works out what the population of every class shows, once for these sources and data, and keeps it on disk.
import { existsSync, mkdirSync, readdirSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { isMainThread, parentPort, Worker, workerData } from 'node:worker_threads';
import { main, Problem, root, say, worldsFolder } from './lib/run.mjs';

const { default: core } = await import(join(root, 'core', 'dist', 'index.js'));

/** Written beside and renamed: a file that is there is whole. */
function make(id) {
  const worlds = core.makeWorlds(core.shippedProfile(id));
  const target = join(worldsFolder, core.worldsFile(id));
  const beside = `${target}.${process.pid}`;
  writeFileSync(beside, core.packWorlds(worlds));
  renameSync(beside, target);
}

function inThread(ids) {
  return new Promise((resolve, reject) => {
    const worker = new Worker(new URL(import.meta.url), { workerData: { ids } });
    worker.on('message', resolve);
    worker.on('error', reject);
  });
}

if (isMainThread)
  main(async () => {
    const wanted = core.shippedPopulations.flatMap((p) => p.profiles);
    const missing = wanted.filter((id) => !existsSync(join(worldsFolder, core.worldsFile(id))));
    if (missing.length === 0) return;
    say(`Starting the populations of devices (once for these sources, ${missing.length} classes) …`);
    mkdirSync(worldsFolder, { recursive: true });
    const threads = Math.min(availableParallelism(), missing.length);
    const parts = Array.from({ length: threads }, (_, t) => missing.filter((_, k) => k % threads === t));
    const began = Date.now();
    await Promise.all(parts.map(inThread)).catch((error) => {
      throw new Problem(`The populations could not be started: ${error?.stack ?? error}`);
    });
    const current = new Set(wanted.map((id) => core.worldsFile(id)));
    for (const name of readdirSync(worldsFolder))
      if (name.endsWith('.bin') && !current.has(name)) rmSync(join(worldsFolder, name), { force: true });
    say(`… done in ${Math.round((Date.now() - began) / 1000)} s.`);
  });
else {
  for (const id of workerData.ids) make(id);
  parentPort.postMessage(null);
}
