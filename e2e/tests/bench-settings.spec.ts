import { expect, freeBench, takeIn, test, typeRun } from '../fixtures.ts';

test.describe.configure({ mode: 'serial' });

test('the shop states by what it stops, and the next visit finds it', async ({ page }) => {
  await page.goto('/settings');
  const form = page.getByRole('form', { name: 'Shop policy' });
  await form.getByLabel('Cost per hour').fill('abc');
  await form.getByRole('button', { name: 'Save' }).click();
  await expect(form.getByRole('alert')).toContainText('Cost per hour: expected a number');
  await expect(form.getByLabel('Cost per hour')).toHaveValue('abc');
  await form.getByLabel('Cost per hour').fill('42');
  await form.getByLabel('Injection voltage').selectOption('rated');
  await form.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText(/It applies to new verdicts/)).toBeVisible();
  await page.reload();
  await expect(form.getByLabel('Cost per hour')).toHaveValue('42');
  await expect(form.getByLabel('Injection voltage')).toHaveValue('rated');
});

test('an instrument is added, calibrated against a trusted meter, and taken away again', async ({ page }) => {
  await freeBench(page);
  await page.goto('/settings');
  const list = page.getByRole('region', { name: 'Instruments' });
  await list
    .getByRole('button', { name: /^Calibrate/ })
    .first()
    .click();
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('reference meter');
  await dialog.getByLabel(/Reference meter shows/).fill('1 furlong');
  await dialog.getByRole('button', { name: /^Take/ }).click();
  await expect(dialog.getByRole('alert')).toContainText('not a known unit');
  await page.keyboard.press('Escape');
  await list.getByRole('button', { name: /^Add/ }).click();
  await dialog.getByLabel('Name').fill('Window supply');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog.getByRole('alert')).toContainText('Address');
  await dialog.getByLabel('Address').fill('127.0.0.1');
  await dialog.getByLabel('Port', { exact: true }).fill('9');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(list.getByText('Window supply')).toBeVisible();
  await list.getByRole('button', { name: 'Remove Window supply' }).click();
  await expect(list.getByText('Window supply')).toHaveCount(0);
});

test('two runs are held against each other with a sentence that says what changed', async ({ page }) => {
  await takeIn(page, 'phone with two runs');
  await typeRun(page, 'battery 4V limit 3A: 0 | prompt 0.1 0.25 0.35 hold');
  await typeRun(page, 'battery 4V limit 3A: 0 | prompt 0.1 0.25 0.9 hold');
  await expect(page.getByRole('region', { name: 'Run r2' })).toBeVisible();
  await page.getByRole('link', { name: 'Compare' }).click();
  await page.waitForURL(/\/compare/);
  await expect(page.getByRole('heading', { name: /Compare/ })).toBeVisible();
  await expect(page.getByText(/the bench’s repeatability/)).toBeVisible();
  await expect(page.getByText(/became “Surges at power-on”/)).toBeVisible();
});
