import type { Page } from '@playwright/test';
import { expect, freeBench, secondsRecorded, takeIn, test } from '../fixtures.ts';

test.describe.configure({ mode: 'serial' });
test.beforeEach(({ page }) => freeBench(page));

const setup = { feed: 'battery', setV: '3.85', limitA: '3', battery: 'disconnected' };

async function bench(page: Page, act: string, data: object): Promise<unknown> {
  const answer = await page.request.post(`/api/recorder/${act}`, { data });
  const body = (await answer.json()) as { ok: boolean; value: unknown; message?: string };
  expect(body.message ?? 'ok').toBe('ok');
  return body.value;
}

/** A run of what lies on the bench: output on, a wait, a press, a hold. */
async function record(page: Page, job: string, after: string | null = null): Promise<void> {
  const jobId = Number(/jobs\/(\d+)/.exec(job)?.[1]);
  const { recording } = (await bench(page, 'record', {
    jobId,
    instrument: 'bench-supply',
    setup: { ...setup, after },
  })) as { recording: number };
  const { key } = (await bench(page, 'arm', { jobId, instrument: 'bench-supply', setup })) as { key: string };
  await bench(page, 'output', { instrument: 'bench-supply', on: true, key });
  // Whoever holds the output has to be heard of meanwhile.
  const recorded = async (): Promise<number> => {
    await bench(page, 'alive', { key });
    return secondsRecorded('bench-supply');
  };
  await expect.poll(recorded).toBeGreaterThan(2.5);
  await bench(page, 'mark', { instrument: 'bench-supply', event: 'prompt' });
  await bench(page, 'operate', { does: 'press' });
  await expect.poll(recorded).toBeGreaterThan(9);
  await bench(page, 'output', { instrument: 'bench-supply', on: false });
  await bench(page, 'stop', { instrument: 'bench-supply' });
  await bench(page, 'keep', { recording });
}

test('from the call to a located short, to repaired, with the record complete', async ({ page }) => {
  const job = await takeIn(page, 'phone with a short', { model: 'Tallgate Moorcall 2', complaint: 'no-start' });
  await bench(page, 'lay', { profile: 'tallgate-moorcall-2', fault: 'short:io=0.4', seed: 5 });
  await record(page, job);
  await page.goto(job);
  await expect(page.getByRole('list', { name: 'Suspects' })).toBeVisible();

  // Measure: the probe goes where the plan says, the meter is the simulated device's, nothing but Enter in between.
  await page.keyboard.press('g');
  await page.waitForURL(/\/measure$/);
  const line = page.locator('#typed');
  await expect(line).toBeFocused();
  const ladder = page.getByRole('list', { name: 'Rail list' });
  const low = ladder.getByRole('listitem').filter({ hasText: 'I/O rail' }).first();
  const typeAt = async (rail: string, text: string): Promise<void> => {
    await ladder
      .getByRole('button', { name: new RegExp(`^${rail}`) })
      .first()
      .click();
    await expect(line).toBeFocused();
    await line.fill(text);
    await page.keyboard.press('Enter');
  };
  const probe = page.getByRole('button', { name: 'Probe the simulated device' });
  for (let k = 0; k < 4; k++) {
    await probe.click();
    await expect(line).not.toHaveValue('');
    await line.press('Enter');
    await expect(line).toHaveValue('');
  }
  await page.getByLabel('Mode').selectOption('resistance');
  await page.getByLabel('Leads together').fill('0.15');
  await ladder
    .getByRole('button', { name: /^I\/O rail/ })
    .first()
    .click();
  await probe.click();
  await expect(line).toHaveValue(/ohm/);
  await line.press('Enter');
  await expect(low).toContainText(/0\.[34]\d? ohm to ground/);
  await expect(page.getByRole('list', { name: 'Suspects' })).toContainText(/I\/O/);

  // What cannot be is asked about and not swallowed; what is refused stays in the line.
  await typeAt('main system rail', 'v 9');
  await expect(page.getByRole('list', { name: 'Not saved yet' })).toContainText('rated for 3.85 V');
  await page.reload();
  await expect(page.getByRole('list', { name: 'Not saved yet' })).toContainText('main system rail: v 9');
  await page.getByRole('button', { name: 'Discard' }).click();
  await line.fill('v 900');
  await expect(page.locator('#typed-says')).toContainText('Did you mean 0.90 V');
  await page.keyboard.press('Enter');
  await expect(line).toHaveValue('v 900');

  // Locate: the plan clamps the supply, what flows is held against it, the camera shows the place.
  await page.goto(`${job.split('?')[0]}/locate`);
  await page.getByLabel('Rail', { exact: true }).selectOption('io');
  await expect(page.getByLabel('To ground')).toHaveValue(/0\.[34]\d? ohm/);
  await page.getByRole('button', { name: /^Put the simulated leads/ }).click();
  const plan = page.getByRole('region', { name: 'Injection plan' });
  await plan.getByRole('row').last().click();
  await page.keyboard.press('a');
  await expect(page.getByRole('dialog')).toContainText('Eye protection on');
  await page.keyboard.press('Enter');
  await expect(plan.getByRole('button', { name: /^Armed/ })).toBeVisible();
  await page.keyboard.press('o');
  await expect(plan.getByText('Escape switches it off')).toBeVisible();
  await expect(plan.getByText(/as the resistance predicts/)).toBeVisible();
  await page.getByRole('button', { name: 'Use the thermal camera' }).click();
  await expect(plan.getByText(/the camera shows I\/O rail/)).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(plan.getByText('Escape switches it off')).toBeHidden();
  await page.getByRole('button', { name: 'Save heat result' }).click();
  await expect(page.getByText('Saved. The suspects are updated.')).toBeVisible();
  const first = page.getByRole('list', { name: 'Suspects' }).getByRole('listitem').first();
  await expect(first).toContainText('I/O rail');

  // Act: what is missing is asked for, what each suspect expects is said before.
  await page.goto(job);
  await page.keyboard.press('x');
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('What was done').selectOption('remove');
  await dialog.getByLabel('Part', { exact: false }).first().fill('I/O rail');
  await expect(dialog.getByRole('region', { name: 'Expected in the next run' })).toContainText('if it is I/O rail');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog.getByRole('alert')).toContainText('Add the part number and the orientation now?');
  await dialog.getByLabel('Part number').fill('capacitor, 2.2 uF');
  await dialog.getByLabel('Orientation').fill('no polarity');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog).toHaveCount(0);
  await bench(page, 'mend', { at: 'io' });
  await record(page, job, 'a1');
  await page.goto(job);
  const story = page.getByRole('list', { name: 'History' });
  await expect(story).toContainText(/I\/O rail.* removed/);
  await expect(story).toContainText('capacitor, 2.2 uF');
  await expect(story).toContainText(/I\/O rail gets warm|io, .* gets warm|on io/);
  await expect(page.getByLabel('State of the device')).toContainText('It works: it starts normally.');
  await page.getByText('Cause and evidence').click();
  await page
    .getByRole('list', { name: 'Suspects' })
    .getByText(/I\/O|Run-state rail/)
    .first()
    .click();
  await expect(
    page
      .getByText(/it recovers/)
      .filter({ visible: true })
      .first(),
  ).toBeVisible();
});

test('a picture is painted anew, shown small in the story, and taken out with a way back', async ({ page }) => {
  const job = await takeIn(page, 'phone with pictures');
  const id = Number(/jobs\/(\d+)/.exec(job)?.[1]);
  const png = Buffer.from(
    'iVBORw0KGgoAAAANSUhEUgAAAAIAAAACCAIAAAD91JpzAAAAFklEQVR4nGP8z8DAwMDAxMDAwMDAAAANHQEDasKb6QAAAABJRU5ErkJggg==',
    'base64',
  );
  await page
    .getByLabel('Add a picture: Intake')
    .setInputFiles({ name: 'board.png', mimeType: 'image/png', buffer: png });
  await expect(page.getByRole('button', { name: /^Picture: job picture/ })).toBeVisible();
  const bad = await page.request.post(`/api/jobs/${id}/attachments`, { data: '<svg onload="alert(1)"></svg>' });
  expect(bad.status()).toBe(422);
  expect(((await bad.json()) as { message: string }).message).toMatch(/picture cannot be read/);
  // A place on it, by keyboard.
  await page.getByRole('button', { name: /^Picture: job picture/ }).click();
  await page.getByRole('application', { name: /Place on the picture/ }).focus();
  for (let k = 0; k < 5; k++) await page.keyboard.press('ArrowLeft');
  await page.getByLabel('What is here').fill('corrosion');
  await page.getByRole('button', { name: 'Save mark' }).click();
  await expect(page.getByText('Mark saved.')).toBeVisible();
  await expect(page.getByRole('img', { name: 'Marked place: corrosion' })).toHaveAttribute('style', /left: 40%/);
  await page.getByRole('button', { name: 'Remove', exact: true }).click();
  await expect(page.getByRole('button', { name: /^Picture: job picture/ })).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('button', { name: /^Picture: job picture/ })).toBeVisible();
});

test('firmware is overwritten only after two dumps that are alike, or on purpose', async ({ page }) => {
  const job = await takeIn(page, 'phone with boot data');
  await page.getByRole('button', { name: 'Change', exact: true }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('What was done').selectOption('reload-firmware');
  await expect(dialog).toContainText('Dump the chip twice');
  const file = (name: string, text: string) => ({
    name,
    mimeType: 'application/octet-stream',
    buffer: Buffer.from(text),
  });
  const add = dialog.getByLabel('Add a chip dump');
  await add.setInputFiles([file('first.bin', 'boot data'), file('second.bin', 'boot dbta')]);
  await expect(dialog).toContainText('The dumps differ');
  await add.setInputFiles(file('third.bin', 'boot data'));
  await expect(dialog).toContainText('Two dumps match');
  const href = await dialog.getByRole('link', { name: 'first.bin' }).getAttribute('href');
  const back = await page.request.get(href ?? '');
  expect(await back.text()).toBe('boot data');
  expect(job).toMatch(/jobs/);
});

test('an odd reading is asked about and kept when it is said once more', async ({ page }) => {
  const job = await takeIn(page, 'phone with an odd reading', { model: 'Tallgate Moorcall 2', complaint: 'no-start' });
  await page.goto(`${job}/measure`);
  const line = page.locator('#typed');
  const ladder = page.getByRole('list', { name: 'Rail list' });
  await page.getByLabel('Mode').selectOption('voltage');
  await ladder
    .getByRole('button', { name: /^I\/O rail/ })
    .first()
    .click();
  await line.fill('18');
  await page.keyboard.press('Enter');
  const asked = page.getByRole('list', { name: 'Not saved yet' });
  await expect(asked.getByRole('listitem')).toHaveCount(1);
  await asked.getByRole('button', { name: 'Save anyway' }).click();
  await expect(asked).toHaveCount(0);
  await expect(ladder.getByRole('listitem').filter({ hasText: /I\/O rail.*18\.0 V/ })).toHaveCount(1);
});
