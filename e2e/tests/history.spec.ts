import { expect, saveDialog, takeIn, test, typeRun } from '../fixtures.ts';

const dead = 'dc-in 12V limit 4A: 30mA | prompt 210mA hold';
const healthy = 'dc-in 12V limit 4A: 30mA | prompt 0.4 1.1 2.4 1.6 2.9 1.5 2.8 1.3 1.7 hold';

test('a model without a profile: a short that was measured leads, a cure is proven, a part put back tells', async ({
  page,
}) => {
  const job = await takeIn(page, 'story console', { kind: 'console', complaint: 'no-start' });
  await typeRun(page, dead);
  const suspects = page.getByRole('list', { name: 'Suspects' });
  await expect(suspects).toBeVisible();

  // A hard short to ground settles which rail it is, and what comes next is feeding it.
  await page.keyboard.press('m');
  await page.getByLabel('Where').fill('capacitor by the fan plug');
  await page.getByLabel('Mode').selectOption('resistance');
  await page.getByLabel('Circuit').selectOption('rail.run');
  await page.getByLabel('Value').fill('0.4 ohm');
  await page.getByLabel('Value').press('Enter');
  await expect(page.getByText('One reading saved.', { exact: false })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(suspects.getByRole('listitem').first()).toContainText('Run-state rail');
  await expect(page.getByRole('region', { name: 'Next test' })).toContainText(
    'Inject a low voltage into capacitor by the fan plug',
  );

  // The same is proposed where it is measured and where it is fed.
  await page.goto(`${job.split('?')[0]}/measure`);
  await expect(page.getByRole('list', { name: 'Rail list' })).toContainText('capacitor by the fan plug');
  await page.goto(`${job.split('?')[0]}/locate`);
  await expect(page.getByText(/Never above/)).toBeVisible();

  // What was taken off cured it: it works, the cause stays named, and proofs come next.
  await page.goto(job);
  const change = async (kind: string, circuit: string, more: () => Promise<void> = async () => undefined) => {
    await page.keyboard.press('x');
    const dialog = page.getByRole('dialog');
    await dialog.getByLabel('What was done').selectOption(kind);
    await dialog.getByLabel('Circuit').selectOption(circuit);
    await more();
    await saveDialog(dialog);
  };
  await change('disconnect', 'periph.board');
  await typeRun(page, healthy);
  const state = page.getByLabel('State of the device');
  await expect(state).toContainText('It works without the peripheral board or flex: it starts normally.');

  // Reconnect, it fails again.
  await change('refit', 'periph.board', async () => {
    await page.getByRole('dialog').getByLabel('Undoes').selectOption({ index: 1 });
  });
  await typeRun(page, dead);
  await expect(state).toContainText('The same fault is still there.');
  await expect(page.getByRole('list', { name: 'History' })).toContainText('refitted');
});

test('settings say whether a verdict is of an older engine', async ({ page }) => {
  await page.goto('/settings');
  await expect(page.getByRole('region', { name: 'Verdicts' })).toContainText(
    /has a verdict from the current engine|assessed by an older engine/,
  );
});
