import { test as base, expect, type Locator, type Page } from '@playwright/test';

/** What is pressed before the scripts have taken a page over is lost: every page that is gone to waits for them, as a person does. */
export function waitForLife(page: Page): void {
  const open = page.goto.bind(page);
  page.goto = async (url, options) => {
    const response = await open(url, options);
    if (response?.headers()['content-type']?.includes('text/html'))
      await page.waitForFunction(() => document.documentElement.dataset.live === 'yes');
    return response;
  };
}

/** A page that fails the test on any request that leaves loopback and on any error in the console. */
export const test = base.extend<{ page: Page; allowed: RegExp[] }>({
  allowed: [[], { option: true }],
  page: async ({ page, allowed }, run) => {
    const check = await watched(page);
    await run(page);
    check(allowed);
  },
});

/** Watches a page for requests that leave loopback and errors in the console; the function that is given back fails on any. */
export async function watched(page: Page): Promise<(allowed?: readonly RegExp[]) => void> {
  const foreign: string[] = [];
  const errors: string[] = [];
  // Looked at, not held: what is held goes by the browser's cache. Other hosts have no address here (playwright.config.ts).
  page.on('request', (request) => {
    const { protocol, hostname } = new URL(request.url());
    if (/^(https?|wss?):$/.test(protocol) && hostname !== '127.0.0.1' && hostname !== 'localhost')
      foreign.push(request.url());
  });
  page.on('pageerror', (error) => errors.push(error.message));
  page.on('console', (message) => {
    // The browser logs every answer of 4xx; the tests look at what the screen says instead.
    if (message.type() === 'error' && !/Failed to load resource/.test(message.text())) errors.push(message.text());
  });
  waitForLife(page);
  return (allowed = []) => {
    expect(foreign, 'requests that left loopback').toEqual([]);
    expect(
      errors.filter((e) => !allowed.some((a) => a.test(e))),
      'errors in the console',
    ).toEqual([]);
  };
}

export { expect };

/** Waits until a page has its heading, its fonts, and a picture of both. Streams of events never rest, so the network is not asked. */
export async function settled(page: Page): Promise<void> {
  await page.getByRole('heading').first().waitFor();
  await page.evaluate(async () => {
    await document.fonts.ready;
    for (let n = 0; n < 3; n++) await new Promise((resolve) => requestAnimationFrame(resolve));
  });
}

/** Takes a device in and opens its job; gives the job's address. */
export async function takeIn(
  page: Page,
  label: string,
  options: {
    kind?: string;
    complaint?: string;
    says?: string;
    swollen?: boolean;
    model?: string;
    /** What is known of a healthy unit, by the label of its field. */
    known?: Record<string, string>;
  } = {},
): Promise<string> {
  await page.goto('/jobs/new');
  if (options.swollen) await page.getByLabel('Battery swollen, punctured or hot').check();
  await page.getByLabel('Device', { exact: false }).first().fill(label);
  await page
    .getByLabel('Kind of device')
    .last()
    .selectOption(options.kind ?? 'phone');
  if (options.model) await page.getByLabel('Model', { exact: true }).fill(options.model);
  if (options.complaint) await page.getByLabel('Type of complaint').selectOption(options.complaint);
  const known = Object.entries(options.known ?? {});
  if (known.length > 0) await page.getByText('Known values of a healthy device').click();
  for (const [label, value] of known) {
    const field = page.getByLabel(label, { exact: true });
    if (value === 'yes' || value === 'no') await field.selectOption(value);
    else await field.fill(value);
  }
  if (options.says) await page.getByLabel('Complaint in the customer’s words').fill(options.says);
  await page.getByRole('button', { name: 'Create job' }).click();
  await page.waitForURL(/\/jobs\/\d+/);
  return page.url();
}

/** Waits until a dialog has gone and what it sent is kept. */
export async function kept(page: Page): Promise<void> {
  await expect(async () => {
    expect(await page.getByText('saving …').count()).toBe(0);
    expect(await page.getByRole('dialog').count()).toBe(0);
  }).toPass({ timeout: 120_000 });
}

export async function typeRun(page: Page, line: string): Promise<void> {
  await page
    .getByRole('button', { name: /^(Add a run|Run)/ })
    .first()
    .click();
  await page.getByRole('textbox', { name: /Readings/ }).fill(line);
  await page.getByRole('dialog').getByRole('button', { name: 'Add run' }).click();
  await kept(page);
}

/** Chooses from a menu. A page that is drawn anew closes its menus: it is opened again, as a person does. */
export async function chooseFrom(menu: Locator, entry: string): Promise<void> {
  const item = menu.page().getByRole('menuitem', { name: entry });
  const opened = menu.page().getByRole('dialog');
  await expect(async () => {
    // A click that was late to be told of has chosen all the same. The frame of a dialog has no height of its own, so that it is
    // counted and not asked whether it can be seen.
    if ((await opened.count()) > 0) return;
    if (!(await item.isVisible())) await menu.click({ timeout: 2000 });
    await item.click({ timeout: 2000 });
  }).toPass({ timeout: 120_000 });
}

/** Sends what a dialog holds. What is odd is asked about once; it was meant. */
export async function saveDialog(dialog: Locator): Promise<void> {
  const button = dialog.locator('button[type=submit]');
  await button.click();
  await expect(async () => {
    const word = await button.innerText({ timeout: 300 }).catch(() => '');
    if (/all the same|anyway|Keep|as another/.test(word)) await button.click({ timeout: 1000 });
    expect(await dialog.page().getByText('saving …').count()).toBe(0);
    expect(await dialog.count()).toBe(0);
  }).toPass({ timeout: 120_000 });
}

export const logLines = (levels: [number, number][], step = 0.05, volts = 4): string => {
  const rows = ['t_s,voltage_V,current_A'];
  let t = 0;
  for (const [seconds, amps] of levels) {
    for (let k = 0; k < Math.round(seconds / step); k++) {
      rows.push(`${t.toFixed(3)},${volts},${(amps + ((k * 7919) % 3) * 0.0005).toFixed(4)}`);
      t += step;
    }
  }
  return `${rows.join('\n')}\n`;
};

/** Ends what an earlier test, or its first try, left going on the one bench. */
export async function freeBench(page: Page): Promise<void> {
  for (const instrument of ['bench-supply', 'port-meter']) {
    await page.request.post('/api/recorder/output', { data: { instrument, on: false } });
    await page.request.post('/api/recorder/stop', { data: { instrument } });
  }
}

/** What the recorder of this lane says of an instrument. */
interface RecorderState {
  key: string;
  shown: { volts: number; amps: number } | null;
  outputOn: boolean | null;
  recording: { seconds: number } | null;
}

export async function stateOf(instrument: string): Promise<RecorderState | undefined> {
  const { UMBRAL_RECORDER_URL: url, UMBRAL_RECORDER_TOKEN: token } = process.env;
  const answer = await fetch(`${url}/state`, { headers: { authorization: `Bearer ${token}` } });
  return ((await answer.json()) as RecorderState[]).find((s) => s.key === instrument);
}

/** Seconds that an instrument has recorded by its own clock; 0 for none. */
export async function secondsRecorded(instrument: string): Promise<number> {
  return (await stateOf(instrument))?.recording?.seconds ?? 0;
}
