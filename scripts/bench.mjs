// npm run bench [part …]: speed and memory, as a table and as bench-results.json. Baselines run in the same process.
// npm run bench -- --smallest [--half 0 | 1] [part …]: only whether every part runs, or every second; nothing is written.
import { writeFileSync } from 'node:fs';
import { cpus } from 'node:os';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { engine } from './lib/engine.mjs';
import { benchAssess, benchMemory, benchSegmentation, benchTwin } from './bench/core.mjs';
import { benchBenches } from './bench/benches.mjs';
import { benchLadder, benchNextProbe } from './bench/board.mjs';
import { benchDay } from './bench/day.mjs';
import { benchCamera } from './bench/camera.mjs';
import { benchDisplay, benchFilmed } from './bench/display.mjs';
import { benchPractice } from './bench/practice.mjs';
import { benchGrowth } from './bench/growth.mjs';
import { benchImport } from './bench/import.mjs';
import { benchInstruments } from './bench/instruments.mjs';
import { benchLearning } from './bench/learning.mjs';
import { benchLibrary } from './bench/library.mjs';
import { benchLive } from './bench/live.mjs';
import { benchLongRun } from './bench/long-run.mjs';
import { benchMap } from './bench/map.mjs';
import { benchPages } from './bench/pages.mjs';
import { benchPdf } from './bench/pdf.mjs';
import { isSmallest, results } from './bench/report.mjs';
import { endSite } from './bench/site.mjs';
import { benchUnknown } from './bench/unknown.mjs';
import { ensureChromium, ensureCompiled, ensurePackages, ensureWebBuild } from './lib/install.mjs';
import { main, root, say } from './lib/run.mjs';
import { findWorlds } from './lib/worlds.mjs';

main(async () => {
  await ensurePackages({ forWork: true });
  await ensureCompiled();
  await ensureChromium();
  await ensureWebBuild();
  const core = await engine();
  findWorlds(core);
  say(`Node ${process.version}, ${cpus().length} × ${cpus()[0].model}\n`);
  const parts = {
    core: () => (benchSegmentation(core), benchTwin(core), benchAssess(core), benchMemory(core)),
    unknown: benchUnknown,
    library: () => benchLibrary(core),
    learning: benchLearning,
    day: () => benchDay(core),
    practice: () => benchPractice(core),
    display: benchDisplay,
    filmed: benchFilmed,
    camera: benchCamera,
    board: async () => (benchNextProbe(core), benchLadder(core)),
    import: benchImport,
    instruments: benchInstruments,
    growth: benchGrowth,
    pages: benchPages,
    map: benchMap,
    pdf: benchPdf,
    'long-run': benchLongRun,
    live: benchLive,
    benches: benchBenches,
  };
  const { values, positionals: chosen } = parseArgs({
    allowPositionals: true,
    options: { smallest: { type: 'boolean' }, half: { type: 'string' } },
  });
  const unknown = chosen.find((name) => !Object.hasOwn(parts, name));
  if (unknown) throw new Error(`There is no part "${unknown}"; expected ${Object.keys(parts).join(', ')}.`);
  try {
    for (const [k, [name, bench]] of Object.entries(parts).entries()) {
      if (chosen.length > 0 && !chosen.includes(name)) continue;
      if (values.half !== undefined && k % 2 !== Number(values.half)) continue;
      const began = Date.now();
      await bench();
      say(`${name}: ${Math.round((Date.now() - began) / 1000)} s`);
    }
  } finally {
    await endSite();
  }
  const width = Math.max(...results.map((r) => r.what.length));
  for (const r of results)
    say(
      `${r.what.padEnd(width)}  ${`${r.value} ${r.unit}`.padStart(24)}  ${r.target.padEnd(16)} ${r.met === null ? '' : r.met ? 'met' : 'NOT MET'}  ${r.baseline}`,
    );
  if (isSmallest) return;
  writeFileSync(
    join(root, 'bench-results.json'),
    `${JSON.stringify({ node: process.version, cpu: cpus()[0].model, cores: cpus().length, results }, null, 2)}\n`,
  );
  say('\nbench-results.json has the same as JSON.');
});
