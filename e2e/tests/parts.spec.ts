import { expect, takeIn, test, typeRun } from '../fixtures.ts';

const mark = Date.now().toString(36);

test('a part is put on the shelf, counted, ordered, taken for a job, and another suffix is asked about', async ({
  page,
}) => {
  await page.goto('/parts');
  await page.getByRole('button', { name: 'New part' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Name').fill(`coil ${mark}`);
  await dialog.getByLabel('Number').fill(`K-${mark}`);
  await dialog.getByLabel('Suffix', { exact: true }).fill('B');
  await dialog.getByLabel('Minimum').fill('-1');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog.getByRole('alert')).toContainText(/Circuit: choose|Minimum: cannot be negative/);
  await dialog.getByLabel('Circuit').selectOption('rail.run');
  await dialog.getByLabel('Minimum').fill('2');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog).toHaveCount(0);
  const row = page.getByRole('row').filter({ hasText: `coil ${mark}` });
  await expect(row).toContainText('2 to order');
  await row.getByRole('button', { name: `Count coil ${mark}` }).click();
  await dialog.getByLabel('Counted').fill('-3');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog.getByRole('alert')).toContainText('Counted: cannot be negative');
  await dialog.getByLabel('Counted').fill('4');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(row).not.toContainText('to order');

  const url = await takeIn(page, `needs a coil ${mark}`);
  await typeRun(page, 'battery 4V limit 3A: 0 | prompt 0.1 0.25 0.35 hold');
  await page.goto(`${url.split('?')[0]}/parts`);
  const other = page.getByRole('region', { name: 'Another part' });
  const likely = page.getByRole('region', { name: 'Likely needed' });
  await likely.getByLabel('Suffix of the old part').fill('C');
  await other.getByLabel('Search the shelf').fill(mark);
  const line = page.getByRole('listitem').filter({ hasText: `coil ${mark}` });
  await line.getByRole('button', { name: `Take coil ${mark}` }).click();
  await expect(line.getByRole('alert')).toContainText('The old part has suffix C, this one B');
  await expect(line).toContainText('4 on hand');
  await line.getByRole('button', { name: 'Take it', exact: true }).click();
  await expect(line).toContainText('3 on hand');
  await line.getByRole('button', { name: `Order coil ${mark}` }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('Ordered.')).toBeVisible();
  await page.goto('/');
  await expect(page.getByRole('region', { name: 'Waiting' })).toContainText(`waiting for coil ${mark}`);
  await page.goto('/parts');
  await row.getByRole('button', { name: `coil ${mark}: the order arrived` }).click();
  await expect(page.getByText('Added to the shelf.')).toBeVisible();
  await page.goto('/');
  await expect(page.getByRole('region', { name: 'Waiting' })).not.toContainText(`waiting for coil ${mark}`);
});

test('a donor board gives what is still on it, once', async ({ page }) => {
  await page.goto('/parts');
  await page.getByRole('button', { name: 'New donor board' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Board').fill(`cracked board ${mark}`);
  await dialog.getByLabel('Part 1').fill('charger chip');
  await dialog.getByLabel('Circuit 1').selectOption('charge.charger');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('region', { name: 'Donor boards' })).toContainText(`cracked board ${mark}`);
  const url = await takeIn(page, `takes from a donor ${mark}`);
  await page.goto(`${url.split('?')[0]}/parts`);
  await page.getByRole('button', { name: `Take charger chip off cracked board ${mark}` }).click();
  await expect(page.getByText('A donor part makes the result less certain')).toBeVisible();
  await expect(page.getByRole('button', { name: `Take charger chip off cracked board ${mark}` })).toHaveCount(0);
});

test('somebody’s hours and how far they open a device are kept for the run sheet', async ({ page }) => {
  await page.goto('/settings/day');
  const who = page.getByRole('region', { name: 'People at the bench' });
  const change = who.getByRole('button', { name: /^Change / }).last();
  await change.click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('At the bench').selectOption('own');
  await dialog.getByLabel('Monday').fill('9-8');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog.getByRole('alert')).toContainText('Monday: 09:00 to 08:00 ends before it begins');
  await dialog.getByLabel('Monday').fill('9-11');
  await dialog.getByLabel('Opens devices up to').selectOption('2');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(who).toContainText('own hours · up to: unplugging inside');
  await change.click();
  await dialog.getByLabel('At the bench').selectOption('shop');
  await dialog.getByLabel('Opens devices up to').selectOption('5');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(who).not.toContainText('own hours');
});
