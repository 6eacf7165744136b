import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { filmedBrowser, openCamera } from '../lib/filmed-browser.mjs';
import { median, quantile, report, sized } from './report.mjs';
import { withSite } from './site.mjs';

const seconds = sized(20, 1);
const ticksPerSecond = 100;

/** Seconds of processor that a process and those it started have used, by what they are. */
function usedBy(root) {
  const all = readdirSync('/proc')
    .filter((name) => /^\d+$/.test(name))
    .flatMap((pid) => {
      try {
        const stat = readFileSync(`/proc/${pid}/stat`, 'utf8');
        const fields = stat.slice(stat.lastIndexOf(')') + 2).split(' ');
        const command = readFileSync(`/proc/${pid}/cmdline`, 'utf8');
        const isPage = command.includes('--type=renderer');
        return [
          {
            pid: Number(pid),
            parent: Number(fields[1]),
            isPage,
            s: (Number(fields[11]) + Number(fields[12])) / ticksPerSecond,
          },
        ];
      } catch {
        return [];
      }
    });
  const ours = new Set([root]);
  for (let depth = 0; depth < 5; depth++) for (const p of all) if (ours.has(p.parent)) ours.add(p.pid);
  const mine = all.filter((p) => ours.has(p.pid));
  const sum = (list) => list.reduce((s, p) => s + p.s, 0);
  return { page: sum(mine.filter((p) => p.isPage)), all: sum(mine) };
}

/** From a picture of a camera to its numbers on the screen, and what that costs, in the real interface. */
export async function benchCamera() {
  await withSite(async ({ web }) => {
    const folder = mkdtempSync(join(tmpdir(), 'umbral-film-'));
    const filmed = await filmedBrowser(folder);
    try {
      const page = await openCamera(filmed.browser, web.url);
      await page.getByRole('button', { name: 'Save and read' }).click();
      const state = page.getByText(/pictures per second/);
      await state.waitFor();
      await page.waitForTimeout(3000);
      const [before, began] = [usedBy(filmed.pid), performance.now()];
      const [delays, rates] = [[], []];
      while (performance.now() - began < 1000 * seconds) {
        await page.waitForTimeout(200);
        const says = await state.innerText();
        delays.push(Number(/(\d+) ms from/.exec(says)?.[1]));
        rates.push(Number(/(\d+) pictures/.exec(says)?.[1]));
      }
      const [after, took] = [usedBy(filmed.pid), (performance.now() - began) / 1000];
      const rate = median(rates);
      // A picture is decided on when the next one is there.
      const late = quantile(delays, 0.95) + 1000 / rate;
      report('camera: pictures read', rate, 'a second', '>= 10', rate >= 10, 'a film of 15 a second');
      report('camera: picture to number, decided, 95 %', late.toFixed(0), 'ms', '< 200 ms', late < 200);
      const share = (of) => (100 * (after[of] - before[of])) / took;
      report(
        'camera: processor of the page',
        share('page').toFixed(0),
        '% of a core',
        '< 60 %',
        share('page') < 60,
        `the whole browser, drawing the film: ${share('all').toFixed(0)} %`,
      );
    } finally {
      await filmed.close();
      rmSync(folder, { recursive: true, force: true });
    }
  });
}
