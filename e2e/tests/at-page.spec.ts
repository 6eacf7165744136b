import type { Page } from '@playwright/test';
import { expect, freeBench, stateOf, takeIn, test } from '../fixtures.ts';
import { plugIn } from '../plugged-in.ts';

test.describe.configure({ mode: 'serial' });

/** The port of an instrument of the simulated bench, as the dialog that finds them lists it. */
async function portOf(page: Page, says: string): Promise<number> {
  await page.goto('/settings');
  await page.getByRole('button', { name: 'Find an instrument' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByText('Simulated instruments to try this with').click();
  const line = await dialog.getByRole('listitem').filter({ hasText: says }).innerText();
  await page.keyboard.press('Escape');
  return Number(/:(\d+)/.exec(line)?.[1]);
}

async function addAtPage(page: Page, name: string, language: string, way: string): Promise<void> {
  await page.goto('/settings');
  await page.getByRole('button', { name: 'Add an instrument' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Name').fill(name);
  await dialog.getByLabel('Language').selectOption({ label: language });
  await dialog.getByLabel('Connected by').selectOption('browser');
  await dialog.getByLabel('Plugged in by').selectOption({ label: way });
  if (way === 'Bluetooth') {
    await dialog.getByRole('button', { name: 'Save' }).click();
    await expect(dialog.getByRole('alert')).toContainText('Bluetooth: enter the service');
    await dialog.getByLabel('Service').fill('ffe0');
    await dialog.getByLabel('Notify characteristic').fill('ffe1');
  }
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog).toHaveCount(0);
}

const cardOf = (page: Page, name: string) =>
  page.getByRole('region', { name: 'Instruments' }).getByRole('listitem').filter({ hasText: name });

for (const [way, name] of [
  ['serial port', 'Cable meter'],
  ['USB without a serial port (HID)', 'Report meter'],
  ['Bluetooth', 'Air meter'],
] as const)
  test(`a meter that the page reaches by ${way} is measured; pulled out it is lost, and comes back`, async ({
    page,
  }) => {
    const device = await plugIn(page, await portOf(page, 'a meter with binary frames'));
    await addAtPage(page, name, 'Meter with binary frames', way);
    const card = cardOf(page, name);
    await expect(card).toContainText('no page is connected to it');
    await card.getByRole('button', { name: `Connect ${name} here` }).click();
    await expect(card).toContainText('Connected by this window');
    await expect(card.getByRole('status').first()).toContainText(/measures, .*readings a second/);
    device.pull();
    await expect(card).toContainText(/Lost: .*Trying again/);
    device.back();
    await expect(card).toContainText('Connected by this window');
    await card.getByRole('button', { name: `Disconnect ${name}` }).click();
    await expect(card.getByRole('button', { name: `Connect ${name} here` })).toBeVisible();
    await page.getByRole('button', { name: `Remove ${name}` }).click();
    await expect(page.getByText(`${name} was removed.`)).toBeVisible();
  });

test('a supply that the page reaches is armed with a warning, switched, and goes off when the window does', async ({
  page,
  context,
}) => {
  await freeBench(page);
  await plugIn(page, await portOf(page, 'a supply with plain text'));
  await addAtPage(page, 'Page supply', 'Supply with plain text, no line ends', 'serial port');
  const card = cardOf(page, 'Page supply');
  await card.getByRole('button', { name: 'Connect Page supply here' }).click();
  await expect(card).toContainText('Only this window can switch the supply off.');
  await expect(card.getByRole('status').first()).toContainText('measures');

  // Another window is told that this one has it.
  const other = await context.newPage();
  await plugIn(other, 9);
  await other.goto('/settings');
  await cardOf(other, 'Page supply').getByRole('button', { name: 'Connect Page supply here' }).click();
  await expect(cardOf(other, 'Page supply')).toContainText('Another window is connected to Page supply');
  await other.close();

  await takeIn(page, 'phone at the page supply', { model: 'Tallgate Moorcall 2', complaint: 'no-start' });
  await page.keyboard.press('l');
  await page.waitForURL(/\/record$/);
  await page.getByRole('button', { name: /^Page supply/ }).click();
  // A window that was loaded anew has let go of it, and may take it again at once.
  await page.getByRole('button', { name: 'Connect Page supply here' }).click();
  await expect(page.getByText('Connected by this window')).toBeVisible();
  await expect(page.getByRole('button', { name: /^Page supply measures/ })).toBeVisible();
  await page.keyboard.press('a');
  const asks = page.getByRole('dialog', { name: 'Before the output is armed' });
  await expect(asks).toContainText('Only the window that it is plugged into can switch this supply off');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Armed' })).toBeVisible();
  await page.keyboard.press('o');
  await expect.poll(async () => (await stateOf('page-supply'))?.outputOn).toBe(true);
  await page.keyboard.press('Escape');
  await expect.poll(async () => (await stateOf('page-supply'))?.outputOn).toBe(false);
});
