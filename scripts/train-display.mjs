/**
 * Trains the classifier of digits on drawn displays of the styles it may know, and writes it to the core as data.
 *
 *     node scripts/train-display.mjs [--displays 900] [--passes 24]
 */
import { writeFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import { isMainThread, parentPort, Worker, workerData } from 'node:worker_threads';
import { engine } from './lib/engine.mjs';

const core = await engine();
const display = { ...(await import('../core/dist/display/index.js')).default, ...core };
const pictures = 3;

/** Cells with their labels, cut out of pictures as they are when a display is read. */
function cellsOf(from, to) {
  const out = [];
  for (let k = from; k < to; k++) {
    const random = core.seededRandom(10_000 + k);
    const scene = display.drawScene('familiar', random);
    const texts = [display.drawNumberText(random), display.drawNumberText(random)];
    const drawn = scene.draw(...texts);
    for (let n = 0; n < pictures; n++) {
      const { camera, fields } = n === 0 ? scene : { ...display.drawScene('familiar', random) };
      const picture = display.filmedImage(camera, [drawn], random, 1, random());
      texts.forEach((text, f) => {
        const row = display.fieldCharacters(picture, fields[f]);
        const chars = [...text].filter((c) => c !== '.');
        if (typeof row === 'string' || row.boxes.length !== chars.length) return;
        const points = display.pointsOf(text);
        row.boxes.forEach((box, c) =>
          out.push({
            cell: display.cellOf(row, box),
            character: display.characters.indexOf(chars[c]),
            hasPoint: points.has(c),
          }),
        );
      });
    }
  }
  return out;
}

if (isMainThread) {
  const { values } = parseArgs({
    options: { displays: { type: 'string', default: '900' }, passes: { type: 'string', default: '24' } },
  });
  const displays = Number(values.displays);
  const threads = Math.max(1, availableParallelism());
  const began = Date.now();
  const parts = await Promise.all(
    Array.from({ length: threads }, (_, t) => {
      const workerData = { from: Math.floor((t * displays) / threads), to: Math.floor(((t + 1) * displays) / threads) };
      return new Promise((resolve, reject) => {
        const worker = new Worker(fileURLToPath(import.meta.url), { workerData });
        worker.once('message', resolve);
        worker.once('error', reject);
      });
    }),
  );
  const cells = parts.flat();
  console.log(`${cells.length} cells of ${displays} displays in ${Math.round((Date.now() - began) / 1000)} s`);
  const random = core.seededRandom(1);
  const network = display.freshNetwork(cells[0].cell.length, random);
  display.train(
    network,
    cells,
    Number(values.passes),
    random,
    (pass, loss) => console.log(`pass ${pass + 1}: ${loss.toFixed(4)} nats a cell`),
    (one) => ({ ...one, cell: display.variedCell(one.cell, random) }),
  );
  const file = fileURLToPath(new URL('../core/src/display/classify/digits.json', import.meta.url));
  writeFileSync(file, `${JSON.stringify(display.stored(network))}\n`);
  console.log(`in ${Math.round((Date.now() - began) / 1000)} s`);
} else parentPort.postMessage(cellsOf(workerData.from, workerData.to));
