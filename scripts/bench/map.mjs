import { createRequire } from 'node:module';
import { quantile, report, sized } from './report.mjs';
import { withSite } from './site.mjs';

const require = createRequire(new URL('../../web/package.json', import.meta.url));

/** A photograph of twelve megapixels with something in it everywhere. */
async function photograph() {
  const sharp = require('sharp');
  const noise = { type: 'gaussian', mean: 110, sigma: 40 };
  return sharp({
    create: { width: sized(4000, 400), height: sized(3000, 300), channels: 3, background: '#345', noise },
  })
    .jpeg({ quality: 90 })
    .toBuffer();
}

/** Frames while something is done, milliseconds each. */
async function framesDuring(page, work) {
  await page.evaluate(() => {
    const frames = [];
    let last = performance.now();
    const next = () => {
      const now = performance.now();
      frames.push(now - last);
      last = now;
      if (globalThis.isWatched) requestAnimationFrame(next);
    };
    globalThis.isWatched = true;
    globalThis.frames = frames;
    requestAnimationFrame(next);
  });
  await work();
  const frames = await page.evaluate(() => {
    globalThis.isWatched = false;
    return globalThis.frames;
  });
  return frames.slice(1);
}

/** How long a main thread works while a map of 300 points over 12 megapixels is zoomed and moved, and how even its frames are. */
export async function benchMap() {
  await withSite(async ({ browser, web }) => {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    const model = 'tallgate-moorcall-2';
    await page.goto(web.url, { waitUntil: 'load' });
    const began = Date.now();
    const sent = await page.request.post(`${web.url}/api/boards/pictures?model=${model}&revision=bench`, {
      data: await photograph(),
      headers: { 'content-type': 'application/octet-stream' },
    });
    const kept = await sent.json();
    if (!kept.ok) throw new Error(kept.message);
    const keptMs = Date.now() - began;
    report('board map: a photograph of 12 megapixels is kept', keptMs, 'ms', 'none', null);
    const file = {
      format: 'umbral-board/1',
      model,
      sides: [
        {
          ...{ revision: 'bench', side: 'back', part: '', height: 0.75 },
          points: Array.from({ length: sized(300, 30) }, (_, k) => ({
            x: ((k % 20) + 0.5) / 20,
            y: ((Math.floor(k / 20) + 0.5) / 15) * 0.75,
            ...{ kind: 'pad', name: `pad ${k}`, net: `net ${k}`, circuit: null },
          })),
          pictures: [],
        },
      ],
    };
    const taken = await page.request.post(`${web.url}/api/boards`, { data: file });
    if (!(await taken.json()).ok) throw new Error('the map was not taken in');
    const back = await page.request.post(`${web.url}/api/boards/pictures?model=${model}&revision=bench&side=back`, {
      data: await photograph(),
      headers: { 'content-type': 'application/octet-stream' },
    });
    if (!(await back.json()).ok) throw new Error('the picture was not kept');
    await page.goto(`${web.url}/models/${model}/board`, { waitUntil: 'load' });
    await page.getByRole('button', { name: 'back', exact: true }).click();
    await page.getByRole('button', { name: /^pad 7,/ }).waitFor();
    await page.waitForTimeout(sized(3000, 200));
    const box = await page.locator('[data-board]').locator('../..').boundingBox();
    await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
    const trace = await page.context().newCDPSession(page);
    await trace.send('Performance.enable');
    const busy = async () => {
      const { metrics } = await trace.send('Performance.getMetrics');
      const of = (name) => metrics.find((m) => m.name === name).value;
      return 1000 * (of('ScriptDuration') + of('LayoutDuration') + of('RecalcStyleDuration'));
    };
    const before = await busy();
    let moves = 0;
    const frames = await framesDuring(page, async () => {
      for (let k = 0; k < sized(60, 4); k++, moves++) {
        await page.mouse.wheel(0, k % 12 < 6 ? -120 : 120);
        await page.waitForTimeout(16);
      }
      await page.mouse.down();
      for (let k = 0; k < sized(60, 4); k++, moves++)
        await page.mouse.move(box.x + box.width / 2 + 4 * k, box.y + box.height / 2 + 2 * k);
      await page.mouse.up();
    });
    const thread = ((await busy()) - before) / moves;
    report('board map of 300 points: main thread, a zoom or a move', thread, 'ms', 'at most 16', thread <= 16);
    const frame = quantile(frames, 0.95);
    report(
      'board map of 300 points: frame, 95 of 100 (no graphics card)',
      frame,
      'ms',
      'none',
      null,
      `median ${quantile(frames, 0.5).toFixed(0)} ms`,
    );
    await page.close();
  });
}
