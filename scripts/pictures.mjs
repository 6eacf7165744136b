// npm run pictures [NAME …]: the pictures of docs/screenshots, or those named, from the sample fleet in a database of its own.
// npm run pictures -- --smallest: whether two of them can be taken; nothing is kept.
import { rmSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { ensureChromium, ensureCompiled, ensurePackages, ensureWebBuild } from './lib/install.mjs';
import { filmedBrowser, openCamera } from './lib/filmed-browser.mjs';
import { startCluster } from './lib/postgres.mjs';
import { migrate } from './lib/schema.mjs';
import { main, root, say } from './lib/run.mjs';
import { startRecorder, startSimulatedBench } from './lib/recorder.mjs';
import { startWeb } from './lib/web.mjs';

/** Pictures of one page, one after the other, as one moving picture. The last one stays for a while. */
async function animate(frames, path) {
  const width = 960;
  const small = await Promise.all(frames.map((frame) => sharp(frame).resize({ width }).png().toBuffer()));
  const delay = small.map((_, k) => (k === small.length - 1 ? 4000 : 900));
  await sharp(small, { join: { animated: true } })
    .webp({ quality: 60, effort: 6, delay, loop: 0 })
    .toFile(path);
  say('live-call.webp');
}

const flags =
  '--no-sandbox --disable-gpu --disable-quic --no-first-run --disable-background-networking --disable-component-update --disable-sync';

/** A unit to practise on, called wrong, with what was missed pointed at. */
async function calledUnit(page) {
  await page.getByLabel('Device').selectOption('tallgate-moorcall-2');
  await page.getByText('A specific fault').click();
  await page.getByRole('textbox', { name: /Fault/ }).fill('mute:button');
  await page.getByRole('button', { name: 'Put it on my bench' }).click();
  await page.waitForURL(/\/jobs\/9/);
  await page.getByLabel('Feed').selectOption('battery');
  await page.getByRole('button', { name: 'Switch on and press power' }).click();
  await page.waitForURL(/run=r1/);
  const call = page.getByRole('form', { name: 'Your call' });
  await call.getByLabel('What the run shows').selectOption({ label: 'Draws nothing at all' });
  for (const circuit of ['input.protection', 'button']) await call.getByLabel('Suspect').selectOption(circuit);
  await call.getByRole('slider', { name: /Button and wake line/ }).fill('30');
  await call.getByRole('button', { name: 'Submit call' }).click();
  await page.getByRole('link', { name: 'Show me' }).first().click();
  await page.getByText('look here').waitFor();
  await page.getByRole('button', { name: 'Finish: show the fault' }).click();
  await page.getByRole('region', { name: 'What it was' }).waitFor();
  await page.evaluate(() => scrollTo(0, 0));
}

/** A page whose camera looks at a filmed display, with the numbers that it found. */
async function cameraPicture(url, folder) {
  const filmed = await filmedBrowser(folder);
  const page = await openCamera(filmed.browser, url);
  await page.waitForTimeout(1500);
  await page.screenshot({ path: join(root, 'docs', 'screenshots', 'camera.png') });
  await filmed.close();
  say('camera.png');
}

const args = process.argv.slice(2);
const isSmallest = args.includes('--smallest');
const named = isSmallest ? ['bench', 'wall'] : args;
const isWanted = (name) => named.length === 0 || named.includes(name);

main(async () => {
  await ensurePackages({ forWork: true });
  await ensureCompiled();
  await ensureChromium();
  await ensureWebBuild();
  const folder = join(root, '.data', `pictures-${process.pid}`);
  const cluster = await startCluster(folder, { throwAway: true });
  await migrate(cluster.ownerUrl, cluster.url);
  const bench = await startSimulatedBench();
  const recorder = await startRecorder({ folder, databaseUrl: cluster.url, bench });
  const web = await startWeb({
    databaseUrl: cluster.url,
    env: { ...recorder.env, UMBRAL_DEMO: 'yes' },
  });
  const { chromium } = await import('@playwright/test');
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: flags.split(' ') });
  try {
    await fetch(`${web.url}/api/sample-data`, { method: 'POST' });
    await fetch(`${web.url}/api/sample-year${isSmallest ? '?jobs=4' : ''}`, { method: 'POST' });
    const out = (name) => join(isSmallest ? folder : join(root, 'docs', 'screenshots'), `${name}.png`);
    const shoot = async (
      name,
      path,
      { theme = 'light', width = 1280, height = 800, act = async () => undefined, until = 'load' } = {},
    ) => {
      if (!isWanted(name)) return;
      const page = await browser.newPage({ viewport: { width, height }, colorScheme: theme, reducedMotion: 'reduce' });
      await page.goto(web.url + path, { waitUntil: until });
      // What is typed before the page lives is lost.
      await page.waitForFunction(() => document.documentElement.dataset.live === 'yes');
      await act(page);
      await page.waitForTimeout(1500);
      await page.screenshot({ path: out(name) });
      await page.close();
      say(`${name}.png`);
    };
    const job = async (text) => {
      const page = await browser.newPage();
      await page.goto(web.url, { waitUntil: 'load' });
      const href = await page.getByRole('link', { name: text }).first().getAttribute('href');
      await page.close();
      return href;
    };
    const closed = async (text) => {
      if (isSmallest) return '/';
      const page = await browser.newPage();
      await page.goto(`${web.url}/atlas`, { waitUntil: 'load' });
      await page.getByLabel('Search', { exact: true }).fill(text);
      const href = await page
        .getByRole('region', { name: 'Confirmed cases' })
        .getByRole('link')
        .first()
        .getAttribute('href');
      await page.close();
      return href;
    };
    const tablet = await job(/lending tablet, blue case/);
    await shoot('bench', '/');
    await shoot('job', tablet);
    if (isWanted('camera')) await cameraPicture(web.url, folder);
    await shoot('quick-read', '/', {
      act: async (page) => {
        await page.getByPlaceholder(/^Search/).fill('usb-c port 1: 5V 0.055 hold');
        await page.keyboard.press('Enter');
        await page.getByRole('region', { name: 'Quick read' }).getByLabel('Kind of device').selectOption('laptop');
        await page.getByRole('heading', { name: 'Stuck at 5 V, low draw' }).waitFor();
      },
    });
    await shoot('wall', '/wall', { theme: 'dark' });
    await shoot('worth', `${await job(/reading room, sticker 7/)}/worth`);
    const repaired = await job(/glove box of the van/);
    await shoot('verify', `${repaired}/verify`);
    await shoot('report', `${await closed('capacitor by the fan plug')}/report`);
    await shoot('atlas', '/atlas');
    await shoot('scorecard', '/scorecard');
    await shoot('model', '/models/oxbarrow-hearthfold-13?fault=short%3As0-3v%3D1&feed=battery');
    await shoot('record', `${await job(/field phone of the mobile library van/)}/record`, {
      // The stream of events never rests.
      until: 'load',
      act: async (page) => {
        await page.request.post(`${web.url}/api/recorder/lay`, {
          data: { profile: 'tallgate-moorcall-2', fault: 'mute:storage-chip', seed: 5 },
        });
        await page.getByRole('button', { name: /Simulated supply measures/ }).click();
        const frames = [];
        const frame = async () => frames.push(await page.screenshot());
        for (const key of ['r', 'a', 'Enter', 'o', 'p']) {
          await page.keyboard.press(key);
          await page.waitForTimeout(1000);
          await frame();
          await page.waitForTimeout(1000);
        }
        await page.getByRole('list', { name: 'Suspects so far' }).waitFor();
        for (let k = 0; k < 7; k++) {
          await frame();
          await page.waitForTimeout(900);
        }
        await animate(frames, join(root, 'docs', 'live-call.webp'));
      },
    });
    const van = await job(/field phone of the mobile library van/);
    await shoot('measure', `${van}/measure`, {
      act: async (page) => {
        await page.request.post(`${web.url}/api/recorder/lay`, {
          data: { profile: 'tallgate-moorcall-2', fault: 'short:radio=0.5', seed: 5 },
        });
        const probe = page.getByRole('button', { name: 'Probe the simulated device' });
        const line = page.locator('#typed');
        for (const mode of ['voltage', 'resistance']) {
          await page.getByLabel('Mode').selectOption(mode);
          for (let k = 0; k < 3; k++) {
            await probe.click();
            await page.waitForFunction(() => document.querySelector('#typed').value !== '');
            await line.press('Enter');
            await page.waitForTimeout(1800);
          }
        }
        await page.getByLabel('Mode').selectOption('voltage');
        await page
          .getByRole('list', { name: 'Rail list' })
          .getByRole('button', { name: /^storage rail/ })
          .click();
        await page.getByRole('list', { name: 'Rail list' }).evaluate((list) => (list.scrollTop = list.scrollHeight));
      },
    });
    await shoot('map', `${await job(/learning handheld, green grips/)}/measure`, {
      act: async (page) => {
        await page.getByRole('button', { name: 'Board map' }).click();
        await page.getByRole('slider', { name: 'Heat picture' }).fill('35');
        await page.getByRole('button', { name: /^capacitor of I\/O rail/ }).click();
        await page.mouse.move(0, 0);
        await page.waitForTimeout(800);
      },
    });
    await shoot('locate', `${van}/locate`, {
      until: 'load',
      act: async (page) => {
        await page.getByLabel('Rail', { exact: true }).selectOption('radio');
        await page.getByLabel('To ground').fill('0.5 ohm');
        await page.getByRole('region', { name: 'Injection plan' }).getByRole('row').last().click();
        await page.waitForTimeout(1500);
      },
    });
    await shoot('compare', `${tablet}/compare`);
    await shoot('lesson', '/practice/lessons/shorts');
    await shoot('practice-unit', '/practice', { height: 1100, act: calledUnit });
    await shoot('job-narrow', tablet, { width: 360, height: 740 });
  } finally {
    await browser.close();
    await web.stop();
    await recorder.stop();
    await bench.stop();
    await cluster.stop();
    rmSync(cluster.home, { recursive: true, force: true });
  }
});
