import { engine } from './engine.mjs';
import { closeSync, openSync, writeSync } from 'node:fs';
import { join } from 'node:path';

const levels = [0.041, 0.312, 0.874];
const seconds = 12;
const rowsPerSecond = 50;

/** A film of a display that goes from one level to the next every second, as a file that Chromium takes for a camera. */
async function filmOf(folder, seed) {
  const core = await engine();
  const t = Float64Array.from({ length: rowsPerSecond * seconds }, (_, k) => k / rowsPerSecond);
  const i = Float32Array.from(t, (at) => levels[Math.floor(at) % levels.length]);
  const video = core.filmTrace(
    'strange',
    { t, v: new Float32Array(t.length).fill(3.84), i },
    0,
    core.seededRandom(seed),
    [15],
  );
  const file = join(folder, 'film.y4m');
  const out = openSync(file, 'w');
  for (const piece of core.filmFile(video, seconds)) writeSync(out, piece);
  closeSync(out);
  return file;
}

/**
 * A browser whose camera looks at a filmed display.
 *
 * @returns the browser and the process that it runs in; `close` ends both
 */
export async function filmedBrowser(folder, seed = 7) {
  const { chromium } = await import('@playwright/test');
  const film = await filmOf(folder, seed);
  const server = await chromium.launchServer({
    executablePath: '/usr/bin/chromium',
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--use-fake-ui-for-media-stream',
      '--use-fake-device-for-media-stream',
      `--use-file-for-fake-video-capture=${film}`,
    ],
  });
  const browser = await chromium.connect(server.wsEndpoint());
  const close = async () => {
    await browser.close();
    await server.close();
  };
  return { browser, pid: server.process().pid, close };
}

/** Opens the camera page, adds an instrument, and waits until its numbers are found. */
export async function openCamera(browser, url) {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme: 'light' });
  await page.goto(`${url}/camera`, { waitUntil: 'load' });
  await page.waitForFunction(() => document.documentElement.dataset.live === 'yes');
  await page.getByRole('button', { name: 'Read a display with a camera' }).click();
  await page.getByLabel('Instrument').fill('Old supply');
  await page.getByRole('button', { name: 'Save' }).click();
  await page.getByRole('button', { name: 'Start the camera' }).click();
  await page.getByText('2 numbers were found').waitFor({ timeout: 60_000 });
  return page;
}
