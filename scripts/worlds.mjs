// What the population of every class shows, for these sources and data: unpacked from what is in the repository, and worked
// out where that is of other sources. What was worked out is put there too, to be committed with the sources.
import { existsSync, mkdirSync, readdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { isMainThread, parentPort, Worker, workerData } from 'node:worker_threads';
import { brotliCompressSync, brotliDecompressSync } from 'node:zlib';
import { main, Problem, root, say, worldsFolder } from './lib/run.mjs';

const { default: core } = await import(join(root, 'core', 'dist', 'index.js'));

const shippedFolder = join(root, 'core', 'worlds');
const shippedFile = (id) => join(shippedFolder, `${core.worldsFile(id)}.br`);

/** Written beside and renamed: a file that is there is whole. */
function keep(target, bytes) {
  const beside = `${target}.${process.pid}`;
  writeFileSync(beside, bytes);
  renameSync(beside, target);
}

function make(id) {
  const bytes = core.packWorlds(core.makeWorlds(core.shippedProfile(id)));
  keep(join(worldsFolder, core.worldsFile(id)), bytes);
  keep(shippedFile(id), brotliCompressSync(bytes));
}

/** Unpacks what is in the repository; false where it is of other sources, or cannot be read. */
function unpack(id) {
  try {
    keep(join(worldsFolder, core.worldsFile(id)), brotliDecompressSync(readFileSync(shippedFile(id))));
    return true;
  } catch {
    return false;
  }
}

/** Takes away what is of other sources. */
function clear(folder, ending, wanted) {
  const current = new Set(wanted.map((id) => `${core.worldsFile(id)}${ending}`));
  for (const name of readdirSync(folder))
    if (name.endsWith(`.bin${ending}`) && !current.has(name)) rmSync(join(folder, name), { force: true });
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
    for (const folder of [worldsFolder, shippedFolder]) mkdirSync(folder, { recursive: true });
    const missing = wanted.filter((id) => !existsSync(join(worldsFolder, core.worldsFile(id))) && !unpack(id));
    if (missing.length === 0) return;
    say(`Building the device populations (once for these sources, ${missing.length} classes) …`);
    const threads = Math.min(availableParallelism(), missing.length);
    const parts = Array.from({ length: threads }, (_, t) => missing.filter((_, k) => k % threads === t));
    const began = Date.now();
    await Promise.all(parts.map(inThread)).catch((error) => {
      throw new Problem(`The populations could not be built: ${error?.stack ?? error}`);
    });
    clear(worldsFolder, '', wanted);
    clear(shippedFolder, '.br', wanted);
    say(`… done in ${Math.round((Date.now() - began) / 1000)} s.`);
  });
else {
  for (const id of workerData.ids) make(id);
  parentPort.postMessage(null);
}
