import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Browser, Page } from '@playwright/test';
import { expect, takeIn, test, watched } from '../fixtures.ts';
import { filmLevels, type Levels } from '../film.ts';

/**
 * A camera that looks at a display, from its pictures to the verdict: Chromium takes a drawn and filmed video for its camera.
 */
let folder = '';
let [looping, mirroredFilm] = ['', ''];
/**
 * It rests, is pressed, and starts a little over and over. The camera shows the film again from its beginning when it is over;
 * a rest in the middle is no loop, so there is time enough for a slow machine before that.
 */
const restarts: Levels = [
  [9, 3.85, 0.002],
  ...Array.from({ length: 7 }, (): Levels => [
    [0.9, 3.83, 0.312],
    [0.9, 3.81, 0.874],
    [0.8, 3.84, 0.041],
  ]).flat(),
];

test.beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'umbral-film-'));
  looping = join(folder, 'restarts.y4m');
  mirroredFilm = join(folder, 'mirrored.y4m');
  filmLevels(looping, restarts, 7);
  filmLevels(mirroredFilm, [[1.2, 4.21, 0.356]], 7, true);
});
test.afterAll(() => rmSync(folder, { recursive: true, force: true }));

let browser: Browser | null = null;
let check: () => void = () => undefined;
test.afterEach(async () => {
  await browser?.close();
  check();
  browser = null;
});

/** A browser whose camera is a film; with null it has none and asks nobody. */
async function filmedBy(
  { chromium }: { chromium: { launch: (options: object) => Promise<Browser> } },
  film: string | null,
  options: { launch?: object; baseURL?: string },
): Promise<Page> {
  const { args = [], ...launch } = (options.launch ?? {}) as { args?: string[] };
  const camera = [
    '--use-fake-ui-for-media-stream',
    '--use-fake-device-for-media-stream',
    `--use-file-for-fake-video-capture=${film}`,
  ];
  browser = await chromium.launch({ ...launch, args: [...args, ...(film === null ? [] : camera)] });
  const page = await browser.newPage({ baseURL: options.baseURL, viewport: { width: 1280, height: 800 } });
  check = await watched(page);
  return page;
}

/** Adds an instrument that a camera reads. */
async function addCamera(page: Page, name: string): Promise<void> {
  await page.getByRole('button', { name: 'Read a display with a camera' }).first().click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Instrument').fill(name);
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog).toHaveCount(0);
}

test('a display that cannot log is filmed, framed by what is found, and the verdict forms while the device restarts', async ({
  playwright,
  launchOptions,
  baseURL,
}) => {
  const page = await filmedBy(playwright, looping, { launch: launchOptions, baseURL });
  await takeIn(page, 'phone before a camera', { kind: 'phone', complaint: 'restarts' });
  await page.keyboard.press('l');
  await page.waitForURL(/\/record$/);
  await addCamera(page, 'Old supply');
  const panel = page.getByRole('region', { name: 'Camera on Old supply' });
  await panel.getByRole('button', { name: 'Start the camera' }).click();
  await expect(panel.getByText('2 numbers were found')).toBeVisible({ timeout: 120_000 });
  await expect(panel.getByLabel('Number 1 is')).toHaveValue('volts');
  await expect(panel.getByLabel('Number 2 reads')).toHaveText(/^0\.\d\d\d?$/);
  await panel.getByRole('button', { name: 'Save and read' }).click();
  await expect(page.getByRole('button', { name: /Old supply measures/ })).toBeVisible();
  await expect(panel.getByText(/pictures per second/)).toBeVisible();

  await panel.getByLabel(/save one picture per second/).check();
  // Recorded from the rest on, and pressed in it: what it did before power-on would be another pattern.
  const shown = panel.getByText(/^0\.\d\d\d?(\s|$)/);
  await expect(shown).toContainText('0.04', { timeout: 120_000 });
  await expect(shown).toContainText('0.00', { timeout: 120_000 });
  await page.keyboard.press('r');
  await expect(page.getByText(/^recording, [1-9]\d* s/)).toBeVisible();
  await page.keyboard.press('p');
  await expect(page.getByRole('heading', { name: 'Boot loop' })).toBeVisible({ timeout: 120_000 });
  await expect(page.getByRole('list', { name: 'Suspects so far' })).toBeVisible();
  await page.keyboard.press('r');
  await page.waitForURL(/run=r1/, { timeout: 120_000 });
  await expect(page.getByRole('list', { name: 'Suspects' })).toBeVisible();
  // The message that says so goes after four seconds; the picture stays with the job.
  await expect(page.getByRole('button', { name: /^Picture: The display as filmed/ })).toBeVisible({ timeout: 120_000 });
});

test('a picture that is mirrored is turned by whoever looks at it, corners are moved with keys, and what is framed wrongly is asked for', async ({
  playwright,
  launchOptions,
  baseURL,
}) => {
  const page = await filmedBy(playwright, mirroredFilm, { launch: launchOptions, baseURL });
  await page.goto('/camera');
  await addCamera(page, 'Meter in the mirror');
  const panel = page.getByRole('region', { name: 'Camera on Meter in the mirror' });
  await panel.getByRole('button', { name: 'Start the camera' }).click();
  // What is found as it is may be anything; nothing is turned before somebody says so.
  await expect(panel.getByText(/found|be read/).first()).toBeVisible({ timeout: 120_000 });
  await expect(panel.getByLabel('mirrored picture')).not.toBeChecked();
  await panel.getByLabel('mirrored picture').check();
  await panel.getByRole('button', { name: 'Find the numbers' }).click();
  await expect(panel.getByText('2 numbers were found')).toBeVisible({ timeout: 120_000 });
  await expect(panel.getByLabel('mirrored picture')).toBeChecked();
  await expect(panel.getByLabel('Number 1 reads')).toHaveText('4.21');
  // A corner that is moved far away cuts the number off; moved back, it reads again.
  const corner = panel.getByRole('button', { name: 'Voltage, top left' });
  await corner.focus();
  for (let k = 0; k < 8; k++) await page.keyboard.press('Shift+ArrowDown');
  await expect(panel.getByLabel('Number 1 reads')).not.toHaveText('4.21');
  for (let k = 0; k < 8; k++) await page.keyboard.press('Shift+ArrowUp');
  await expect(panel.getByLabel('Number 1 reads')).toHaveText('4.21');
  // Without a current there is nothing to record.
  await panel.getByLabel('Number 2 is').selectOption('ignored');
  await expect(panel.getByRole('button', { name: 'Save and read' })).toBeDisabled();
  await panel.getByLabel('Number 2 is').selectOption('amps');
  await panel.getByRole('button', { name: 'Save and read' }).click();
  await expect(panel.getByText('0.356')).toBeVisible();

  // Taken away in the middle: said, and it goes on by itself.
  await page.evaluate(() => {
    const { srcObject } = document.querySelector('video') as HTMLVideoElement;
    (srcObject as MediaStream).getVideoTracks()[0].dispatchEvent(new Event('ended'));
  });
  await expect(panel.getByText('The camera was disconnected')).toBeVisible();
  await expect(panel.getByText('The camera was disconnected')).toHaveCount(0, { timeout: 120_000 });
  await expect(panel.getByText('0.356')).toBeVisible();

  // Opened again, it is found where it was framed.
  await page.goto('/camera?instrument=meter-in-the-mirror');
  await panel.getByRole('button', { name: 'Start the camera' }).click();
  await expect(panel.getByText('0.356')).toBeVisible({ timeout: 120_000 });
});

test('a video of a display is read like a camera, something else gives nothing, and no camera is said in words', async ({
  playwright,
  launchOptions,
  baseURL,
}) => {
  const page = await filmedBy(playwright, looping, { launch: launchOptions, baseURL });
  await page.goto('/camera');
  await addCamera(page, 'Filmed meter');
  const panel = page.getByRole('region', { name: 'Camera on Filmed meter' });
  const recorded = await page.evaluate(async () => {
    const stream = await navigator.mediaDevices.getUserMedia({ video: true });
    const pieces: Blob[] = [];
    const recorder = new MediaRecorder(stream, { mimeType: 'video/webm', videoBitsPerSecond: 6_000_000 });
    recorder.ondataavailable = ({ data }) => void pieces.push(data);
    const over = new Promise((resolve) => (recorder.onstop = resolve));
    recorder.start();
    setTimeout(() => recorder.stop(), 6000);
    await over;
    stream.getTracks().forEach((track) => track.stop());
    return [...new Uint8Array(await new Blob(pieces).arrayBuffer())];
  });
  const file = (name: string, buffer: Buffer): object => ({ name, mimeType: 'video/webm', buffer });
  const choose = (of: object): Promise<void> =>
    panel.locator('input[type=file]').setInputFiles(of as Parameters<ReturnType<Page['locator']>['setInputFiles']>[0]);
  await choose(file('notes.webm', Buffer.from('no video at all')));
  await expect(panel.getByText('notes.webm is not a video this browser can play.')).toBeVisible();
  await choose(file('display.webm', Buffer.from(recorded)));
  await expect(panel.getByText('2 numbers were found')).toBeVisible({ timeout: 120_000 });
  await expect(panel.getByRole('button', { name: 'Close the video' })).toBeVisible();
  await browser?.close();

  const none = await filmedBy(playwright, null, { launch: launchOptions, baseURL });
  await none.goto('/camera');
  await none.getByRole('button', { name: 'Start the camera' }).click();
  await expect(none.getByText(/No camera is connected|was not allowed to use the camera/)).toBeVisible();
});
