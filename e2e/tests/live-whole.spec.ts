import { expect, freeBench, takeIn, test } from '../fixtures.ts';

test.describe.configure({ mode: 'serial' });

test('from a waiting job to a sharper verdict: recorded, called, the suggested test taken on the simulated device', async ({
  page,
}) => {
  // The one waiting job is opened from the bench, with nothing but keys from there.
  await freeBench(page);
  const label = `phone of the harbour branch, ${Date.now()}`;
  await takeIn(page, label, { model: 'Tallgate Moorcall 2', complaint: 'no-start' });
  const laid = await page.request.post('/api/recorder/lay', {
    data: { profile: 'tallgate-moorcall-2', fault: 'mute:storage-chip', seed: 5 },
  });
  expect(laid.ok()).toBe(true);
  await page.goto('/');
  await page.getByRole('link', { name: label }).focus();
  await page.keyboard.press('Enter');
  await page.waitForURL(/\/jobs\/\d+$/);
  await expect(page.getByRole('heading', { name: label })).toBeVisible();
  await page.keyboard.press('l');
  await page.waitForURL(/\/record$/);
  await expect(page.getByRole('button', { name: /Simulated supply measures/ })).toBeVisible();
  await page.keyboard.press('r');
  await expect(page.getByText(/^recording, \d+ s/)).toBeVisible();
  await page.keyboard.press('a');
  await expect(page.getByRole('dialog', { name: 'Before the output is armed' })).toContainText('Red lead to plus');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Armed' })).toBeVisible();
  await page.keyboard.press('o');
  await expect(page.getByText('constant voltage')).toBeVisible();
  // The rest before power-on is part of the run.
  await expect(page.getByText(/^recording, ([4-9]|\d\d) s/)).toBeVisible();
  await page.keyboard.press('p');
  await expect(page.getByText(/^Enough recorded/)).toBeVisible({ timeout: 120_000 });
  const soFar = page.getByRole('list', { name: 'Suspects so far' }).getByRole('listitem');
  const firstThree = (await soFar.allTextContents()).slice(0, 3).join(' ');
  expect(firstThree).toContain('Storage');
  await page.keyboard.press('r');
  await page.waitForURL(/run=r1/, { timeout: 120_000 });

  const suspects = page.getByRole('list', { name: 'Suspects' });
  const shareOf = async (): Promise<number> => {
    const line = await suspects.getByRole('listitem').filter({ hasText: 'Storage' }).first().textContent();
    return Number(/(\d+) ?%/.exec(line ?? '')?.[1] ?? 0);
  };
  await expect(suspects).toContainText('Storage');
  const before = await shareOf();
  const next = page.getByRole('region', { name: 'Next test' });
  const name = (await next.getByRole('heading').textContent()) ?? '';
  await page.keyboard.press('l');
  await page.waitForURL(/\/record/);
  const hands = page.getByRole('region', { name: 'Actions on the simulated device' });
  await hands.getByLabel('Try a check').selectOption({ label: name });
  await hands.getByRole('button', { name: 'Look', exact: true }).press('Enter');
  await hands.getByRole('button', { name: 'Save to the job' }).press('Enter');
  await expect(page.getByText(/saved to the job/)).toBeVisible();
  await page
    .getByRole('link', { name: /back to the job|Job/ })
    .first()
    .click();
  await page.waitForURL(/\/jobs\/\d+(\?.*)?$/);
  await expect(page.getByRole('list', { name: 'History' })).toContainText(name);
  await expect(suspects).toContainText('Storage');
  await expect.poll(shareOf).toBeGreaterThan(before);
});
