import { readFile } from 'node:fs/promises';
import { bytesAccess, readPackage, zipFiles } from '@umbral/core';
import { expect, logLines, takeIn, test, typeRun } from '../fixtures.ts';

test('the quick read answers a typed line and keeps it as a job', async ({ page }) => {
  await page.goto('/');
  await page.keyboard.press('/');
  await page.keyboard.type('battery 3.9V limit 3A: 0 | prompt 0.1 0.25 0.35 hold');
  await page.keyboard.press('Enter');
  const panel = page.getByRole('region', { name: 'Quick read' });
  await expect(panel.getByRole('heading', { name: 'Starts to boot, then hangs' })).toBeVisible();
  await expect(panel.getByRole('list', { name: 'Suspects' }).getByRole('listitem')).toHaveCount(4);
  await panel.getByRole('button', { name: 'Save as a job' }).click();
  await page.waitForURL(/\/jobs\/\d+/);
  await expect(page.getByText('battery 3.9V limit 3A: 0 | prompt 0.1 0.25 0.35 hold')).toBeVisible();
});

test('a slip in a typed line is shown with its column', async ({ page }) => {
  await page.goto('/');
  await page.getByPlaceholder(/^Search/).fill('battery 4V: 0 | prompt 300mAh');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('region', { name: 'Quick read' }).getByRole('alert')).toHaveText(
    /column 24: mAh is a charge/,
  );
});

test('the quick read takes a dropped log', async ({ page }) => {
  await page.goto('/');
  const text = logLines([
    [3, 0.001],
    [10, 0.3],
  ]);
  const data = await page.evaluateHandle((csv) => {
    const transfer = new DataTransfer();
    transfer.items.add(new File([csv], 'bench.csv', { type: 'text/csv' }));
    return transfer;
  }, text);
  await page.getByPlaceholder(/^Search/).dispatchEvent('drop', { dataTransfer: data });
  const panel = page.getByRole('region', { name: 'Quick read' });
  await expect(panel.getByRole('heading').first()).toBeVisible();
  await panel.getByLabel('Feed').selectOption('usb-c');
  await expect(panel.getByRole('heading').first()).toBeVisible();
  await panel.getByRole('button', { name: 'Save as a job' }).click();
  await page.waitForURL(/\/jobs\/\d+/);
  await expect(page.getByRole('heading', { name: /From bench\.csv/ })).toBeVisible();
});

test('a job is exported as a package and imported again', async ({ page }, testInfo) => {
  await takeIn(page, 'travelling unit', { kind: 'laptop', says: 'No light' });
  await typeRun(page, 'usb-c port 1: 5V 0.055 hold');
  await page.getByRole('button', { name: 'More', exact: true }).click();
  const downloading = page.waitForEvent('download');
  await page.getByRole('menuitem', { name: 'Export as a case package' }).click();
  const file = testInfo.outputPath('case.zip');
  await (await downloading).saveAs(file);
  const read = await readPackage(await zipFiles(bytesAccess(new Uint8Array(await readFile(file))), 'case.zip'));
  expect(read.case.runs[0].typed).toBe('usb-c port 1: 5V 0.055 hold');
  expect(read.case.device.class).toBe('laptop');

  await page.goto('/');
  await page.getByLabel('Case package').setInputFiles(file);
  await page.waitForURL(/\/jobs\/\d+/);
  await expect(page.getByRole('heading', { name: 'Stuck at 5 V, low draw' })).toBeVisible();
});

test('a broken package is refused with file and place, and nothing is stored', async ({ page }) => {
  await page.goto('/');
  const before = await page.getByText(/to do now ·/).innerText();
  await page
    .getByLabel('Case package')
    .setInputFiles({ name: 'broken.zip', mimeType: 'application/zip', buffer: Buffer.from('not a zip at all') });
  await expect(page.getByRole('alert').filter({ hasText: 'broken.zip' })).toContainText(
    'the file is corrupt or not a zip',
  );
  await page.reload();
  await expect(page.getByText(/to do now ·/)).toHaveText(before);
});

test('several logs at once: one is read, one is refused, one needs an answer', async ({ page }) => {
  await takeIn(page, 'log unit');
  await page.getByRole('button', { name: /Add a run/ }).click();
  await page.getByRole('tab', { name: 'Log files' }).click();
  const csv = (name: string, text: string) => ({ name, mimeType: 'text/csv', buffer: Buffer.from(text) });
  const good = logLines([
    [3, 0.001],
    [8, 0.3],
  ]);
  await page
    .getByLabel('Log files')
    .last()
    .setInputFiles([
      csv('good.csv', good),
      csv('letter.txt', 'Dear bench,\nplease mend it.\n'),
      csv('bare.csv', '0.0,5.02\n0.1,5.03\n0.2,5.01\n0.3,5.0\n'),
    ]);
  await page.getByRole('button', { name: 'Add 3 runs' }).click();
  await expect(page.getByText('added as r1')).toBeVisible();
  await expect(page.getByRole('alert').filter({ hasText: 'letter.txt: this is not a log' })).toBeVisible();
  await expect(page.getByText(/choose the columns for time/)).toBeVisible();
  await page.getByLabel('Time', { exact: true }).selectOption('0');
  await page.getByLabel('Voltage', { exact: true }).selectOption('1');
  await page.getByRole('button', { name: 'Read with these columns' }).click();
  await expect(page.getByText('added as r2')).toBeVisible();
});

test('a long analysis shows its progress and can be cancelled', async ({ page }) => {
  await takeIn(page, 'long unit');
  await page.getByRole('button', { name: /Add a run/ }).click();
  await page.getByRole('tab', { name: 'Log files' }).click();
  const rows = ['t_s,voltage_V,current_A'];
  for (let k = 0; k < 1_200_000; k++) rows.push(`${(k / 1000).toFixed(3)},4.00,${(0.1 + (k % 97) / 1000).toFixed(4)}`);
  await page
    .getByLabel('Log files')
    .last()
    .setInputFiles({ name: 'long.csv', mimeType: 'text/csv', buffer: Buffer.from(rows.join('\n')) });
  await page.getByRole('button', { name: 'Add run' }).click();
  await page.getByRole('button', { name: 'Cancel' }).click();
  await expect(page.getByText('Cancelled. Nothing was saved.')).toBeVisible();
  await page.getByRole('dialog').getByRole('button', { name: 'Close' }).last().click();
  await page.reload();
  await expect(page.getByText('Record the first run')).toBeVisible();
});
