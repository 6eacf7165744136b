import type { Page } from '@playwright/test';
import { expect, freeBench, takeIn, test } from '../fixtures.ts';

// One bench, one supply: one after the other.
test.describe.configure({ mode: 'serial' });

test.beforeEach(({ page }) => freeBench(page));

/** Lays a device with a known fault on the simulated bench, as the hands panel does. */
async function lay(page: Page, fault: string): Promise<void> {
  const laid = await page.request.post('/api/recorder/lay', {
    data: { profile: 'tallgate-moorcall-2', fault, seed: 5 },
  });
  expect(laid.ok()).toBe(true);
}

async function arm(page: Page): Promise<void> {
  await page.getByRole('button', { name: /^Arm/ }).click();
  await page.getByRole('button', { name: /^Checked/ }).click();
}

test('a dead device is recorded live without a mouse, the suspects form, and the run is kept', async ({ page }) => {
  const job = await takeIn(page, 'phone for a live recording', { model: 'Tallgate Moorcall 2', complaint: 'no-start' });
  await lay(page, 'mute:storage-chip');
  await page.keyboard.press('l');
  await page.waitForURL(/\/record$/);
  const readouts = page.getByText('Current', { exact: true });
  await expect(readouts).toBeVisible();
  await expect(page.getByRole('button', { name: /Simulated supply measures/ })).toBeVisible();
  await page.keyboard.press('r');
  await expect(page.getByText(/^recording, \d+ s/)).toBeVisible();
  await page.keyboard.press('a');
  const asks = page.getByRole('dialog', { name: 'Before the output is armed' });
  await expect(asks).toContainText('Red lead to plus');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Armed' })).toBeVisible();
  await page.keyboard.press('o');
  await expect(page.getByText('Escape switches it off')).toBeVisible();
  await expect(page.getByText('constant voltage')).toBeVisible();
  // What is armed is what the run has: nothing else can be typed over it, and no usual setup put in its place.
  const armed = await page.getByLabel('Limit', { exact: true }).inputValue();
  for (const field of ['Feed', 'Set voltage', 'Limit'])
    await expect(page.getByLabel(field, { exact: true })).toBeDisabled();
  for (const usual of await page.locator('[aria-label="Usual setups"] button').all())
    await expect(usual).toBeDisabled();
  // The rest before power-on is part of the run.
  await expect(page.getByText(/^recording, ([4-9]|\d\d) s/)).toBeVisible();
  await page.keyboard.press('p');
  const soFar = page.getByRole('list', { name: 'Suspects so far' });
  await expect(soFar).toContainText(/storage|Boot data|Memory/i, { timeout: 120_000 });
  await expect(page.getByRole('heading', { name: 'Starts to boot, then hangs' })).toBeVisible({ timeout: 120_000 });
  await page.keyboard.press('r');
  await page.waitForURL(/run=r1/, { timeout: 120_000 });
  expect(page.url()).toContain(job);
  await expect(page.getByRole('list', { name: 'Suspects' })).toContainText('Storage');
  await expect(page.getByText(`limit ${armed}`, { exact: true })).toBeVisible();
  await expect(page.getByText('output on', { exact: true })).toBeVisible();
  await expect(page.getByText('pressed', { exact: true })).toBeVisible();
});

test('Escape switches the output off whatever has the focus, and what is too much is cut with the reason', async ({
  page,
}) => {
  const job = await takeIn(page, 'phone for the output', { model: 'Tallgate Moorcall 2' });
  await lay(page, 'none');
  await page.goto(`${job}/record`);
  await page.getByText('Setup', { exact: true }).waitFor();
  await page.getByLabel('Set voltage').fill('12 V');
  await arm(page);
  await expect(page.getByText(/12 V cut to 4.35 V: full battery of profile Tallgate Moorcall 2/)).toBeVisible();
  await page.getByRole('button', { name: /^On/ }).click();
  await expect(page.getByText('Escape switches it off')).toBeVisible();
  await page.getByLabel('Limit').focus();
  await page.keyboard.press('Escape');
  await expect(page.getByText('Escape switches it off')).toBeHidden();
  await expect(page.getByRole('button', { name: /^On/ })).toBeDisabled();
});

test('a second window is told who has the instrument; a reload misses nothing; closing it switches off', async ({
  page,
  context,
}) => {
  const job = await takeIn(page, 'phone for two windows', { model: 'Tallgate Moorcall 2' });
  await lay(page, 'none');
  await page.goto(`${job}/record`);
  await page.getByRole('button', { name: /^Record/ }).click();
  await expect(page.getByText(/^recording, \d+ s/)).toBeVisible();
  await arm(page);
  await page.getByRole('button', { name: /^On/ }).click();
  await expect(page.getByText('Escape switches it off')).toBeVisible();
  const other = await context.newPage();
  const body = { jobId: 1, instrument: 'bench-supply', setup: { feed: 'battery' } };
  const refused = await other.request.post('/api/recorder/record', { data: body });
  expect(((await refused.json()) as { message: string }).message).toMatch(/is already recording for job \d+/);
  await page.reload();
  await expect(page.getByText(/^recording, \d+ s/)).toBeVisible();
  await expect(page.getByRole('img', { name: /Current so far/ })).toBeVisible();
  // The window that armed it is gone: the output goes off by itself.
  await expect(page.getByText('Escape switches it off')).toBeHidden({ timeout: 120_000 });
  await expect(page.getByText(/that armed it for 4 s/)).toBeVisible();
  await page.getByRole('button', { name: /^Stop and save/ }).click();
  await page.waitForURL(/run=r1/, { timeout: 120_000 });
});

test('the page of a job that is missing says so, and foreign requests change nothing', async ({ page }) => {
  const missing = await page.goto('/jobs/99999/record');
  expect(missing?.status()).toBe(404);
  const foreign = await page.request.post('/api/recorder/output', {
    headers: { origin: 'http://elsewhere.invalid' },
    data: { instrument: 'bench-supply', on: true, key: 'of-somebody-else' },
  });
  expect(foreign.status()).toBe(403);
  const unknown = await page.request.post('/api/recorder/explode', { data: {} });
  expect(unknown.status()).toBe(404);
});
