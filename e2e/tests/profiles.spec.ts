import type { Page } from '@playwright/test';
import { expect, takeIn, test, typeRun } from '../fixtures.ts';

const text = (page: Page) => page.getByRole('textbox', { name: 'The profile as text' });

async function change(page: Page, from: RegExp, to: string): Promise<void> {
  const now = await text(page).inputValue();
  await text(page).fill(now.replace(from, to));
}

test('an own profile is made from a class, corrected by line, versioned, and a job keeps its version', async ({
  page,
}) => {
  await page.goto('/models/generic-phone');
  await page.getByRole('link', { name: 'Make a copy' }).click();
  await page.waitForURL(/\/edit$/);
  await expect(page.getByText('Valid profile. It starts.')).toBeVisible();
  await change(page, /id: own-generic-phone\nname: .*/, 'id: millrace-4\nname: Millrace 4');
  await change(page, /nominalV: 1.8/, 'nominalV: -1.8');
  await expect(page.getByText('must not be negative')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Save profile' })).toBeDisabled();
  await page.getByRole('button', { name: /^line \d+$/ }).click();
  await expect(text(page)).toBeFocused();
  expect(
    await text(page).evaluate((t: HTMLTextAreaElement) => t.value.slice(t.selectionStart, t.selectionEnd)),
  ).toContain('nominalV: -1.8');
  await change(page, /nominalV: -1.8/, 'nominalV: 1.8');
  await expect(page.getByText('Valid profile. It starts.')).toBeVisible();
  await page.getByLabel('Why').fill('first try');
  await page.getByRole('button', { name: 'Save profile' }).click();
  await page.waitForURL(/\/models\/millrace-4$/);
  await expect(page.getByRole('heading', { name: 'Millrace 4' })).toBeVisible();

  const job = await takeIn(page, 'a phone with a profile of its own', { model: 'Millrace 4' });
  await typeRun(page, 'battery 3.9V limit 3A: 0 | prompt 0.07 0.19 0.12 hold');
  await expect(page.getByRole('link', { name: 'profile Millrace 4, version 1' })).toBeVisible();

  await page.goto('/models/millrace-4/edit');
  await change(page, /seconds: [\d.]+/, 'seconds: 0.77');
  await expect(page.getByText(/^stage .*, seconds: .* → 0.77$/)).toBeVisible();
  await page.getByRole('button', { name: 'Save as a new version' }).click();
  await page.waitForURL(/\/models\/millrace-4$/);
  await expect(page.getByRole('link', { name: 'version 1', exact: true })).toBeVisible();

  await page.goto(job);
  await expect(page.getByRole('link', { name: 'profile Millrace 4, version 1' })).toBeVisible();
  await page.getByRole('button', { name: 'use version 2' }).click();
  await expect(page.getByRole('link', { name: 'profile Millrace 4, version 2' })).toBeVisible();
  await expect(page.getByText('Reassessed with version 2.')).toBeVisible();
});

test('a profile from a file is shown with what is wrong before it is kept', async ({ page }) => {
  await page.goto('/models/new');
  const choose = page.getByLabel('Choose a file');
  await choose.setInputFiles({
    name: 'x.bin',
    mimeType: 'application/octet-stream',
    buffer: Buffer.from([1, 0, 2, 0]),
  });
  await expect(page.getByRole('alert').filter({ hasText: 'is not text' })).toBeVisible();
  const broken = 'format: umbral-profile/1\nid: fenwick-1\nname: Fenwick 1\nclass: phone\nrails:\n  - id: main\n';
  await choose.setInputFiles({ name: 'fenwick.yaml', mimeType: 'application/yaml', buffer: Buffer.from(broken) });
  await expect(page.getByText(/One error|\d errors/)).toBeVisible();
  await expect(page.getByText('rails[0]', { exact: false }).first()).toBeVisible();
  await expect(page.getByRole('button', { name: 'Save profile' })).toBeDisabled();
  const good = await (await page.request.get('/api/models/tallgate-pennywren')).text();
  await text(page).fill(
    good.replaceAll('tallgate-pennywren', 'fenwick-1').replace(/"name": "Tallgate[^"]*"/, '"name": "Fenwick 1"'),
  );
  await expect(page.getByText('Valid profile. It starts.')).toBeVisible();
  await page.getByRole('button', { name: 'Save profile' }).click();
  await page.waitForURL(/\/models\/fenwick-1$/);
  await page.goto('/models');
  await expect(page.getByRole('link', { name: /Fenwick 1/ })).toContainText('version 1');
});

test('a run of a healthy unit stands behind the runs of others of its model', async ({ page }) => {
  const model = 'Oxbarrow Barnfold 15';
  await takeIn(page, 'the good one', { kind: 'laptop', model });
  await typeRun(page, 'battery 11.4V limit 5A: 0 | prompt 0.3 0.9 1.4 1.1 hold');
  await page.getByRole('button', { name: 'Healthy', exact: true }).click();
  await expect(page.getByText('Saved as a reference for this model.')).toBeVisible();
  await takeIn(page, 'the sick one', { kind: 'laptop', model });
  await typeRun(page, 'battery 11.4V limit 5A: 0 | prompt 0.3 hold');
  await expect(page.getByText('band: a healthy device, recorded here', { exact: false })).toBeVisible();
  await page.goto('/models/oxbarrow-barnfold-15');
  await page.getByRole('link', { name: /the good one/ }).click();
  await page.getByRole('button', { name: 'Reference', exact: true }).click();
  await expect(page.getByText('No longer a reference.')).toBeVisible();
});
