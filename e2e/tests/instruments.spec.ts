import type { Page } from '@playwright/test';
import { expect, freeBench, secondsRecorded, stateOf, takeIn, test } from '../fixtures.ts';

test.describe.configure({ mode: 'serial' });

/** Address of an instrument of the simulated bench that nobody has described yet, as the dialog lists it. */
async function standIn(page: Page, says: string): Promise<void> {
  const dialog = page.getByRole('dialog');
  await dialog.getByText('Simulated instruments to try this with').click();
  await dialog.getByRole('listitem').filter({ hasText: says }).getByRole('button').click();
}

/** What a display beside the frames shows, once it stands still: as a person reads it. */
async function displayAtRest(): Promise<{ volts: string; amps: string }> {
  const now = async () => {
    const { volts, amps } = (await stateOf('port-meter'))?.shown ?? { volts: NaN, amps: NaN };
    // This one shows 1.5 % and 3 mA too much.
    return { volts: volts.toFixed(2), amps: Math.max(0, (amps - 0.003) / 1.015).toFixed(2) };
  };
  let before: object = {};
  let same = 0;
  await expect
    .poll(
      async () => {
        const is = await now();
        same = JSON.stringify(is) === JSON.stringify(before) ? same + 1 : 0;
        before = is;
        return same;
      },
      { intervals: [500], timeout: 60_000 },
    )
    .toBeGreaterThan(3);
  return now();
}

/** From "Find it" to an instrument in the list. */
async function findAndAdd(page: Page, says: string, name: string): Promise<void> {
  await page.goto('/settings');
  await page.getByRole('button', { name: 'Find an instrument' }).click();
  const dialog = page.getByRole('dialog');
  await standIn(page, says);
  await dialog.getByRole('button', { name: 'Find it' }).click();
  const found = dialog.getByRole('region', { name: /^Found at 127\.0\.0\.1/ });
  await expect(found).toContainText('Does the display show the same?', { timeout: 30_000 });
  await expect(found).toContainText(/\d\.\d\d V, \d\.\d{3} A\. /);
  await found.getByRole('button', { name: 'Yes, add it' }).click();
  await dialog.getByLabel('Name').fill(name);
  await dialog.getByRole('button', { name: 'Try it' }).click();
  await expect(dialog.getByRole('status')).toContainText('Does the display show the same?', { timeout: 20_000 });
  await dialog.getByRole('button', { name: 'Save' }).click();
  const card = page.getByRole('region', { name: 'Instruments' }).getByRole('listitem').filter({ hasText: name });
  await expect(card.getByRole('status')).toContainText(/measures, .*V/);
}

/** What is done with the device on the bench by hand. */
async function hand(page: Page, act: object): Promise<void> {
  expect((await page.request.post('/api/recorder/operate', { data: act })).ok()).toBe(true);
}

const lay = (page: Page, fault: string) =>
  page.request.post('/api/recorder/lay', { data: { profile: 'tallgate-moorcall-2', fault, seed: 5 } });

for (const [says, name] of [
  ['a supply with registers', 'Shelf supply'],
  ['a supply with plain text', 'Old supply'],
] as const)
  test(`${says} is found, added, armed and recorded to a verdict`, async ({ page }) => {
    await freeBench(page);
    await findAndAdd(page, says, name);
    expect((await lay(page, 'mute:storage-chip')).ok()).toBe(true);
    await takeIn(page, `phone at the ${name}`, { model: 'Tallgate Moorcall 2', complaint: 'no-start' });
    await page.keyboard.press('l');
    await page.waitForURL(/\/record$/);
    await page.getByRole('button', { name: new RegExp(`^${name}`) }).click();
    await page.keyboard.press('r');
    await expect(page.getByText(/^recording, \d+ s/)).toBeVisible();
    await page.keyboard.press('a');
    const asks = page.getByRole('dialog', { name: 'Before the output is armed' });
    await expect(asks).toContainText('Red lead to plus');
    await page.keyboard.press('Enter');
    await expect(page.getByRole('button', { name: 'Armed' })).toBeVisible();
    await page.keyboard.press('o');
    // The rest before power-on is part of the run.
    const key = name.toLowerCase().replace(' ', '-');
    await expect.poll(async () => (await stateOf(key))?.outputOn).toBe(true);
    const on = await secondsRecorded(key);
    await expect.poll(() => secondsRecorded(key)).toBeGreaterThan(on + 5);
    await page.keyboard.press('p');
    await hand(page, { does: 'press' });
    await expect(page.getByText(/^Enough recorded/)).toBeVisible({ timeout: 120_000 });
    await page.keyboard.press('r');
    await page.waitForURL(/run=r1/, { timeout: 120_000 });
    await expect(page.getByText('“Starts to boot, then hangs”').first()).toBeVisible();
    await expect(page.getByRole('list', { name: 'Suspects' })).toContainText('Storage');
    await page.goto('/settings');
    await page.getByRole('button', { name: `Remove ${name}` }).click();
    await expect(page.getByText(`${name} was removed.`)).toBeVisible();
  });

test('a meter with binary frames is found and records a charge', async ({ page }) => {
  await freeBench(page);
  await findAndAdd(page, 'a meter with binary frames', 'Inline meter');
  expect((await lay(page, 'none')).ok()).toBe(true);
  await takeIn(page, 'phone at the inline meter', { model: 'Tallgate Moorcall 2', complaint: 'no-charge' });
  await page.keyboard.press('l');
  await page.waitForURL(/\/record$/);
  await page.getByRole('button', { name: /^Inline meter/ }).click();
  await page.keyboard.press('r');
  await expect(page.getByText(/^recording, \d+ s/)).toBeVisible();
  await hand(page, { does: 'plug', port: 1, flipped: false });
  await expect(page.getByText(/^recording, ([3-9]\d|\d{3}) s/)).toBeVisible({ timeout: 60_000 });
  await page.keyboard.press('r');
  await page.waitForURL(/run=r1/, { timeout: 120_000 });
  const run = page.getByRole('region', { name: 'Run r1' });
  await expect(run).toContainText('USB-C');
  await expect(run).toContainText('20 readings per second');
  await expect(page.getByRole('region', { name: 'Verdict' }).getByRole('heading').first()).not.toBeEmpty();
});

test('a meter in an unknown language is taught by its bytes and its display, and then found', async ({ page }) => {
  await freeBench(page);
  expect((await lay(page, 'none')).ok()).toBe(true);
  await page.goto('/settings');
  await page.getByRole('button', { name: 'Find an instrument' }).click();
  const dialog = page.getByRole('dialog');
  await standIn(page, 'a meter in an unknown language');
  await dialog.getByRole('button', { name: 'Find it' }).click();
  await expect(dialog).toContainText('in no known language: D7 1E', { timeout: 20_000 });
  await dialog.getByRole('link', { name: 'Teach Umbral this language' }).click();
  await page.waitForURL(/\/settings\/teach/);
  await hand(page, { does: 'battery', connected: true });
  await hand(page, { does: 'plug', port: 1, flipped: false });
  await page.getByRole('button', { name: 'Listen' }).click();
  const framing = page.getByRole('region', { name: 'Framing' });
  await expect(framing.getByLabel('Start bytes')).toHaveValue('D7 1E', { timeout: 30_000 });
  await expect(framing.getByLabel('Bytes per frame')).toHaveValue('15');
  await expect(framing.getByLabel('Checksum', { exact: true })).toHaveValue('xor8');
  const display = page.getByRole('region', { name: 'The display' });
  await expect(display.getByRole('button', { name: 'Take', exact: true })).toHaveAttribute('aria-disabled', 'true');
  for (let k = 1; k <= 2; k++) {
    // What the meter beside it shows stands for its display.
    const { volts, amps } = await displayAtRest();
    await display.getByLabel('Volts', { exact: true }).fill(volts);
    await display.getByLabel('Amperes', { exact: true }).fill(amps);
    await display.getByRole('button', { name: 'Take', exact: true }).click();
    await expect(display.getByRole('list', { name: 'Looks' }).getByRole('listitem')).toHaveCount(k, {
      timeout: 20_000,
    });
    await hand(page, k === 1 ? { does: 'unplug' } : { does: 'plug', port: 1, flipped: true });
  }
  const keep = page.getByRole('region', { name: 'Save the language' });
  await keep.getByLabel('Name').fill('Meter of the shelf');
  await keep.getByRole('button', { name: 'Save the language' }).click();
  await expect(keep).toContainText('meter-of-the-shelf');
  await findAndAdd(page, 'a meter in an unknown language', 'Taught meter');
});

for (const sends of ['text lines', 'binary frames'])
  test(`a multimeter with ${sends} writes into the line that a reading is typed into`, async ({ page }) => {
    await freeBench(page);
    await page.goto('/settings');
    await page.getByRole('button', { name: 'Find an instrument' }).click();
    const dialog = page.getByRole('dialog');
    await standIn(page, `a multimeter with ${sends}`);
    await dialog.getByRole('button', { name: 'Find it' }).click();
    await dialog.getByRole('button', { name: 'Yes, add it' }).click();
    await dialog.getByLabel('Name').fill(`Meter with ${sends}`);
    await dialog.getByRole('button', { name: 'Save' }).click();
    await expect(dialog).toHaveCount(0);
    await takeIn(page, 'phone under the probe', { model: 'Tallgate Moorcall 2', complaint: 'no-start' });
    await page.goto(`${page.url().split('?')[0]}/measure`);
    // It is held to the supply.
    await expect(page.getByRole('status', { name: `Meter with ${sends} shows` })).toContainText('V');
    await page.getByRole('button', { name: /^Take / }).click();
    const line = page.locator('#typed');
    await expect(line).toHaveValue(/^-?[\d.]+ V$/);
    await expect(line).toBeFocused();
    await page.goto('/settings');
    await page.getByRole('button', { name: `Remove Meter with ${sends}` }).click();
    await expect(page.getByText(`Meter with ${sends} was removed.`)).toBeVisible();
  });
