import type { Page } from '@playwright/test';
import { chooseFrom, expect, takeIn, test, typeRun } from '../fixtures.ts';

const stall = 'battery 4V limit 2A: 0 | prompt 0.1 0.27 hold';

/** Models of this run alone: a second try meets nothing of the first. */
const mark = Date.now().toString(36);
const one = `Learner One ${mark}`;
const two = `Learner Two ${mark}`;
const three = `Learner Three ${mark}`;

/** A job that was closed with a measured cause. */
async function closedJob(page: Page, model: string, circuit: string, part: string): Promise<string> {
  const url = await takeIn(page, `unit of ${model}`, { model });
  await typeRun(page, stall);
  await page.getByRole('button', { name: 'Close', exact: true }).click();
  await page.getByLabel('Outcome').selectOption('measured');
  await page.getByLabel('Confirmed circuit').selectOption(circuit);
  await page.getByLabel('Part').fill(part);
  await page.getByLabel('What fixed it').fill('Replaced.');
  await page.getByRole('button', { name: 'Close the job' }).click();
  await expect(page.getByText('Closed: cause measured and repaired')).toBeVisible();
  return url;
}

test('what a closed job teaches meets the next unit, the notebook, the atlas and the scorecard', async ({ page }) => {
  await closedJob(page, one, 'core.memory', 'memory supply');
  await takeIn(page, 'the next one', { model: one.toLowerCase() });
  await typeRun(page, stall);
  const met = page.getByRole('group').filter({ hasText: 'Similar past cases' });
  await expect(met).toContainText('Memory');

  await page.goto('/notebook');
  await page.getByLabel('Level or words').fill(`0.27 A ${mark}`);
  await page.getByLabel('Level or words').press('Enter');
  await expect(page.getByRole('listitem').filter({ hasText: one })).toContainText('memory supply');
  await page.getByLabel('Level or words').fill('4.4 A');
  await page.getByRole('button', { name: 'Search' }).click();
  await expect(page.getByText('No match')).toBeVisible();

  await page.goto('/atlas');
  await page.getByLabel('Search', { exact: true }).fill('memory supply');
  await expect(page.getByRole('link', { name: /Memory/ }).first()).toBeVisible();
  await page.getByLabel('Search', { exact: true }).fill('nothing is called this');
  await expect(page.getByText('No match')).toBeVisible();

  await page.goto('/scorecard?by=model');
  const row = page.getByRole('row', { name: one });
  await expect(row).toContainText('too few cases');
  await row.getByRole('button').first().click();
  await expect(page.getByRole('dialog').getByRole('link', { name: `unit of ${one}` })).toBeVisible();
});

test('what one web process learns another knows, and what it forgets is gone there too', async ({ page }) => {
  const { startWeb } = (await import('../../scripts/lib/web.mjs' as string)) as {
    startWeb: (options: object) => Promise<{ url: string; stop: () => Promise<void> }>;
  };
  const other = await startWeb({ databaseUrl: process.env.UMBRAL_TEST_DATABASE_URL ?? '', quiet: true });
  const model = `Learner Four ${mark}`;
  // Other tests closed jobs that look the same: this one is known by its part.
  const part = `socket ${mark}`;
  const met = page.getByRole('group').filter({ hasText: 'Similar past cases' }).filter({ hasText: part });
  /** Takes one in here, and has its run judged over there. */
  const judgedThere = async (label: string): Promise<void> => {
    const { pathname } = new URL(await takeIn(page, label, { model }), 'http://localhost');
    await page.goto(other.url + pathname);
    await typeRun(page, stall);
    await expect(page.getByRole('list', { name: 'Suspects' })).toBeVisible();
  };
  try {
    await judgedThere('before anything was closed');
    await expect(met).toHaveCount(0);
    const closed = await closedJob(page, model, 'core.memory', part);
    await judgedThere('after it was closed here');
    await expect(met).toBeVisible();
    await page.goto(closed);
    await chooseFrom(page.getByRole('button', { name: 'More', exact: true }), 'Reopen the job');
    await expect(page.getByText('The job was reopened.')).toBeVisible();
    await judgedThere('after it was opened again here');
    await expect(met).toHaveCount(0);
  } finally {
    await other.stop();
  }
});

test('two people who disagree teach nothing until one of them is withdrawn', async ({ page }) => {
  const url = await closedJob(page, two, 'display', 'panel');
  await page.getByRole('button', { name: 'Confirm this or another cause' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('button', { name: 'Confirm' }).click();
  await expect(dialog.getByRole('alert')).toContainText('Circuit: choose the cause');
  await dialog.getByLabel('Circuit').selectOption('pmic');
  await dialog.getByLabel('Evidence').fill('measured again');
  await dialog.getByRole('button', { name: 'Confirm' }).click();
  await expect(page.getByText('Confirmed as 2 different causes')).toBeVisible();
  await page.goto(`/notebook?q=${encodeURIComponent(two)}`);
  await expect(page.getByText('No match')).toBeVisible();
  await page.goto(url);
  await page.getByRole('listitem').filter({ hasText: 'panel' }).getByRole('button', { name: 'Withdraw' }).click();
  await expect(page.getByText('Confirmed as 2 different causes')).toHaveCount(0);
  await page.goto(`/notebook?q=${encodeURIComponent(two)}`);
  await expect(page.getByRole('listitem').filter({ hasText: two })).toContainText('Power-management IC');
});

test('a line is typed into the notebook, corrected, and taken out', async ({ page }) => {
  await page.goto('/notebook');
  await page.getByRole('button', { name: 'Add a line' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Model').fill(three);
  await dialog.getByLabel('Level').fill('12 V');
  await dialog.getByLabel('Circuit', { exact: true }).selectOption('seq.power-good');
  await dialog.getByLabel('Times confirmed').fill('4');
  await dialog.getByLabel('Times seen').fill('5');
  await dialog.getByRole('button', { name: 'Save line' }).click();
  await expect(dialog.getByRole('alert')).toContainText('Level: "12 V" is not a current');
  await dialog.getByLabel('Level').fill('0.18 A');
  await dialog.getByLabel('Setup').fill('all but one run rail up');
  await dialog.getByRole('button', { name: 'Save line' }).click();
  await expect(page.getByText('Saved in the notebook.')).toBeVisible();
  await page.goto(`/notebook?model=${encodeURIComponent(three)}`);
  const line = page.getByRole('listitem').filter({ hasText: 'all but one run rail up' });
  await expect(line).toContainText('4 of 5');
  await line.getByRole('button', { name: 'Edit this line' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Delete' }).click();
  await expect(line).toHaveCount(0);
});

test('frozen calls are made again in the background, and percentages stay as they are', async ({ page }) => {
  await closedJob(page, 'Learner Four', 'display', '');
  await page.goto('/scorecard');
  const card = page.getByRole('region', { name: 'Recompute past verdicts' });
  await card.getByRole('button', { name: 'Recompute' }).click();
  await expect(card.getByText(/First suspect right: \d+, now \d+ of \d+/)).toBeVisible({ timeout: 120_000 });
  await expect(page.getByRole('region', { name: 'Correction' })).toContainText('fewer than 20 confirmed verdicts');
});

test('a library goes out signed, and one that was changed is refused', async ({ page }) => {
  await closedJob(page, 'Learner Five', 'display', '');
  await page.goto('/atlas/libraries');
  await page.getByLabel('Shop').fill('Hill bench');
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Export' }).click(),
  ]);
  const stream = await download.createReadStream();
  let text = '';
  for await (const block of stream) text += String(block);
  expect(text.split('\n')[0]).toContain('"format":"umbral-library/1"');
  const changed = text.replace('Learner Five', 'Learner Fake');
  await page
    .getByLabel('Library', { exact: true })
    .setInputFiles({ name: 'other.ndjson', mimeType: 'text/plain', buffer: Buffer.from(changed) });
  // What is not a library is refused with words, however large: libraries are files, and the door lets files in.
  const large = Buffer.alloc(3_000_000, 'x');
  await page
    .getByLabel('Library', { exact: true })
    .setInputFiles({ name: 'large.ndjson', mimeType: 'text/plain', buffer: large });
  await expect(page.getByText('large.ndjson: is not a library')).toBeVisible();
  await page
    .getByLabel('Library', { exact: true })
    .setInputFiles({ name: 'other.ndjson', mimeType: 'text/plain', buffer: Buffer.from(changed) });
  // What is wrong with it is said before anybody is asked whose it is.
  await expect(page.getByText('do not match its signature')).toBeVisible();
  await expect(page.getByRole('button', { name: 'The keys match. Import' })).toHaveCount(0);
  await expect(page.getByText('None yet.')).toBeVisible();
});
