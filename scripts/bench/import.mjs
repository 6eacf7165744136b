import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { createReadStream, createWriteStream, mkdtempSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { root } from '../lib/run.mjs';
import { median, report, sized } from './report.mjs';

async function writeBigLog(path, bytes) {
  const out = createWriteStream(path);
  out.write('t_s,voltage_V,current_A\n');
  let written = 0;
  let k = 0;
  while (written < bytes) {
    let block = '';
    for (let n = 0; n < 20_000; n++, k++)
      block += `${(k / 1000).toFixed(3)},4.0${k % 10},0.${100 + ((k * 7919) % 900)}\n`;
    written += block.length;
    if (!out.write(block)) await once(out, 'drain');
  }
  out.end();
  await once(out, 'close');
  return k;
}

/** Runs one of the importers in a process of its own and gives seconds and the peak of its memory. */
function importInOwnProcess(kind, path) {
  const script = `
    const { createReadStream } = require('node:fs');
    const core = require(${JSON.stringify(join(root, 'core/dist/index.js'))});
    const Papa = require(${JSON.stringify(join(root, 'node_modules/papaparse'))});
    let peak = 0;
    const watch = setInterval(() => (peak = Math.max(peak, process.memoryUsage().rss)), 50);
    (async () => {
      const began = performance.now();
      let rows = 0;
      if (${JSON.stringify(kind)} === 'bare') {
        await new Promise((resolve, reject) => Papa.parse(createReadStream(${JSON.stringify(path)}), { chunk: (r) => { rows += r.data.length; }, complete: resolve, error: reject }));
      } else {
        const collector = new core.TraceCollector();
        const reader = new core.LogReader((t, v, i) => collector.add(t, v, i), { file: 'big.csv' });
        for await (const block of createReadStream(${JSON.stringify(path)}, { highWaterMark: 1 << 18 })) reader.push(block);
        rows = reader.finish().rows;
        collector.finish();
      }
      const seconds = (performance.now() - began) / 1000;
      peak = Math.max(peak, process.memoryUsage().rss);
      clearInterval(watch);
      console.log(JSON.stringify({ seconds, rows, peak }));
    })();`;
  return new Promise((resolve, reject) => {
    const child = spawn(process.execPath, ['-e', script], { stdio: ['ignore', 'pipe', 'inherit'] });
    let out = '';
    child.stdout.on('data', (d) => (out += d));
    child.on('close', (code) =>
      code === 0 ? resolve(JSON.parse(out)) : reject(new Error(`the ${kind} import ended with ${code}`)),
    );
  });
}

export async function benchImport() {
  const folder = mkdtempSync(join(tmpdir(), 'umbral-bench-'));
  try {
    const [small, big] = [join(folder, 'small.csv'), join(folder, 'big.csv')];
    await writeBigLog(small, sized(20e6, 1e6));
    await writeBigLog(big, sized(100e6, 2e6));
    const megabytes = statSync(big).size / 1e6;
    const [bare, ours] = [[], []];
    for (let k = 0; k < sized(3, 1); k++) {
      bare.push(await importInOwnProcess('bare', big));
      ours.push(await importInOwnProcess('reader', big));
    }
    const rate = (all) => megabytes / median(all.map((r) => r.seconds));
    const share = rate(ours) / rate(bare);
    report(
      `import a ${Math.round(megabytes)} MB log (${ours[0].rows.toLocaleString('en')} rows)`,
      `${rate(ours).toFixed(0)} MB/s, ${Math.round(share * 100)} %`,
      'of bare',
      '≥ 60 % of bare',
      share >= 0.6,
      `bare CSV parser ${rate(bare).toFixed(0)} MB/s`,
    );
    const smallPeak = (await importInOwnProcess('reader', small)).peak / 1e6;
    const bigPeak = median(ours.map((r) => r.peak)) / 1e6;
    report(
      'memory of an import, 20 MB and 100 MB log',
      `${smallPeak.toFixed(0)} and ${bigPeak.toFixed(0)}`,
      'MB',
      'flat',
      bigPeak < smallPeak * 1.5 + 40,
    );
    const refused = join(folder, 'picture.csv');
    writeFileSync(refused, Buffer.alloc(sized(50e6, 1e6), 0x00ff81));
    const core = (await import(join(root, 'core/dist/index.js'))).default;
    const began = performance.now();
    let message = '';
    try {
      const reader = new core.LogReader(() => undefined, { file: 'picture.csv' });
      for await (const block of createReadStream(refused)) reader.push(block);
      reader.finish();
    } catch (error) {
      message = error.message;
    }
    const ms = performance.now() - began;
    report('refuse 50 MB that are no log', ms.toFixed(0), 'ms', '< 1000 ms', ms < 1000 && message !== '');
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
