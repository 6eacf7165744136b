import { chooseFrom, expect, logLines, takeIn, test, typeRun } from '../fixtures.ts';

const stall = logLines([
  [4, 0.001],
  [1, 0.09],
  [1.5, 0.2],
  [10, 0.33],
]);

test('from intake to outcome', async ({ page }) => {
  await takeIn(page, 'field phone of the van', { complaint: 'no-start', says: 'Stays black' });
  await expect(page.getByRole('heading', { name: /field phone of the van/ })).toBeVisible();
  await expect(page.getByText('No verdict yet')).toBeVisible();

  await typeRun(page, 'usb-c port 1 with-battery: 5V 0.2 9V 1.6 hold');
  await expect(page.getByRole('heading', { name: 'Charges normally' })).toBeVisible();

  // A dropped log becomes the second run.
  await page.getByRole('button', { name: 'Run', exact: true }).click();
  await page.getByRole('tab', { name: 'Log files' }).click();
  await page
    .getByLabel('Log files')
    .last()
    .setInputFiles({ name: 'supply.csv', mimeType: 'text/csv', buffer: Buffer.from(stall) });
  await page.getByLabel('Feed', { exact: true }).selectOption('battery');
  await page.getByLabel('Set voltage').fill('4 V');
  await page.getByLabel('Limit', { exact: true }).fill('3');
  await page.getByLabel('Battery', { exact: true }).selectOption('disconnected');
  await page.getByRole('button', { name: 'Add run' }).click();
  await expect(page.getByText('added as r2')).toBeVisible();
  await page.getByRole('button', { name: 'Done' }).click();
  await expect(page.getByRole('heading', { name: 'Starts to boot, then hangs' })).toBeVisible();
  // What was stated of the other feed and its instrument did not come along.
  await expect(page.getByRole('region', { name: 'Run r2' })).not.toContainText(/port 1|±100 mA/);
  const suspects = page.getByRole('list', { name: 'Suspects' });
  await expect(suspects.getByRole('listitem').first()).toContainText(/Storage|Memory|Boot data/);
  await expect(page.getByText('No marker for power-on')).toBeHidden();
  await page.getByText(/notes? about how this run was read/).click();
  await expect(page.getByText('No marker for power-on', { exact: false })).toBeVisible();

  // Reasons are one click away.
  await suspects.getByRole('listitem').first().click();
  await expect(suspects.getByText(/^for \d/).first()).toBeVisible();

  // The proposed test is answered by its button; it is not asked again, and the verdict is a new one.
  const next = page.getByRole('region', { name: 'Next test' });
  const name = await next.getByRole('heading').innerText();
  await next.getByRole('button').first().click();
  await expect(next.getByRole('heading', { name })).toHaveCount(0);
  await expect(page.getByRole('list', { name: 'History' })).toContainText(name);
  await expect(page.getByRole('list', { name: 'History' })).toContainText('Verdict 3');
  // A slip is taken back from its notice.
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(next.getByRole('heading', { name })).toBeVisible();
  await next.getByRole('button').first().click();
  await expect(next.getByRole('heading', { name })).toHaveCount(0);

  // Readings by keyboard: value, Enter, next.
  await page.keyboard.press('m');
  await page.getByLabel('Where').fill('main rail');
  await page.getByLabel('Mode').selectOption('resistance');
  await page.getByLabel('Value').fill('41 kilos');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('dialog').getByRole('alert')).toContainText('not a known unit');
  await page.getByLabel('Value').fill('41 kohm');
  await page.getByLabel('Known-good board reads').fill('40 kohm');
  await page.getByLabel('Circuit').selectOption('rail.main');
  await page.getByLabel('Value').press('Enter');
  await expect(page.getByText('One reading saved.', { exact: false })).toBeVisible();
  await page.keyboard.press('Escape');

  // Something inside was probed: the call before it is kept as the one at opening.
  await expect(page.getByRole('list', { name: 'History' })).toContainText('when opened');

  await page.getByRole('button', { name: 'Close', exact: true }).click();
  // Nothing is filled in that nobody said.
  await expect(page.getByLabel('Outcome')).toHaveValue('');
  await page.getByLabel('Outcome').selectOption('measured');
  await page.getByLabel('Confirmed circuit').selectOption('core.storage');
  await page.getByLabel('Part').fill('storage chip');
  await page.getByLabel('What fixed it').fill('Replaced; boots.');
  await page.getByRole('button', { name: 'Close the job' }).click();
  await expect(page.getByText('Closed: cause measured and repaired')).toBeVisible();

  await page.goto('/atlas');
  await expect(
    page
      .getByRole('link', { name: /Storage/ })
      .filter({ hasText: 'storage chip' })
      .first(),
  ).toBeVisible();
});

test('markers are corrected by hand, which assesses anew', async ({ page }) => {
  await takeIn(page, 'marker unit');
  await typeRun(page, 'battery 4V: 0 @6s 0.3 hold');
  await expect(page.getByRole('slider', { name: 'pressed, inferred' })).toBeVisible();
  const marker = page.getByRole('slider', { name: /pressed/ });
  const box = (await marker.boundingBox())!;
  await page.mouse.move(box.x + 11, box.y + 14);
  await page.mouse.down();
  await page.mouse.move(box.x - 120, box.y + 14, { steps: 8 });
  await page.mouse.up();
  await expect(page.getByText('Marker moved and reassessed.')).toBeVisible();
  await expect(page.getByRole('slider', { name: 'pressed', exact: true })).toBeVisible();
  const moved = Number(await page.getByRole('slider', { name: 'pressed', exact: true }).getAttribute('aria-valuenow'));
  expect(moved).toBeLessThan(5.5);
  // And by keyboard, key after key without waiting for the save, and again after it: the focus stays.
  const slider = page.getByRole('slider', { name: 'pressed', exact: true });
  const saved = () => expect(page.getByRole('group', { name: 'Markers' })).toHaveAttribute('aria-busy', 'false');
  await slider.focus();
  for (let k = 0; k < 4; k++) await page.keyboard.press('ArrowRight');
  await saved();
  expect(Number(await slider.getAttribute('aria-valuenow'))).toBeGreaterThan(moved);
  await page.keyboard.press('ArrowLeft');
  await saved();
  await expect(slider).toBeFocused();
  await expect(page.getByRole('alert').filter({ hasText: 'Someone else' })).toHaveCount(0);
  const last = await page.getByRole('slider', { name: 'pressed', exact: true }).getAttribute('aria-valuenow');
  await page.reload();
  await expect(page.getByRole('slider', { name: 'pressed', exact: true })).toHaveAttribute('aria-valuenow', last!);
  await expect(page.getByRole('slider', { name: 'pressed', exact: true })).toBeVisible();
});

test('the setup of a run is corrected', async ({ page }) => {
  await takeIn(page, 'setup unit', { kind: 'laptop' });
  await typeRun(page, 'usb-c port 1: 5V 0.055 hold');
  await page.getByRole('button', { name: 'Setup' }).click();
  await page.getByLabel('Port', { exact: true }).fill('2');
  await page.getByLabel('Charger', { exact: true }).selectOption('known-good');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('Setup saved and reassessed.')).toBeVisible();
  await expect(page.getByText('known-good charger', { exact: true }).first()).toBeVisible();
});

test('taking an entry out can be undone', async ({ page }) => {
  await takeIn(page, 'undo unit');
  await typeRun(page, 'battery 4V: 0 | prompt 0.3 hold');
  await typeRun(page, 'usb-c: 0V');
  const story = page.getByRole('list', { name: 'History' });
  await chooseFrom(story.getByRole('button', { name: 'Correct or move: r2: USB-C' }), 'Entered by mistake');
  await expect(story.getByText('r2: USB-C')).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(story.getByText('r2: USB-C')).toBeVisible();
});

test('a swollen battery is said first and everywhere', async ({ page }) => {
  await takeIn(page, 'swollen unit', { swollen: true });
  await expect(page.getByText(/Do not charge it/)).toBeVisible();
  await page.goto('/');
  await expect(page.getByRole('link', { name: /swollen unit/ })).toContainText(
    'Swollen battery: make it safe before anything else',
  );
});

test('two people saving the same job do not overwrite each other', async ({ page, context }) => {
  const url = await takeIn(page, 'shared unit');
  const other = await context.newPage();
  await other.goto(url);
  await chooseFrom(page.getByRole('button', { name: 'More', exact: true }), 'Edit intake');
  await page.getByLabel('Notes').fill('from the first');
  await chooseFrom(other.getByRole('button', { name: 'More', exact: true }), 'Edit intake');
  await other.getByLabel('Notes').fill('from the second');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('Intake saved and reassessed.')).toBeVisible();
  await other.getByRole('button', { name: 'Save' }).click();
  await expect(other.getByRole('alert').first()).toContainText('Someone else saved this in the meantime');
  await expect(other.getByLabel('Notes')).toHaveValue('from the second');
  await other.close();
});

test('a job waits, comes back, and can be thrown away and taken back', async ({ page }) => {
  await takeIn(page, 'waiting unit');
  await chooseFrom(page.getByRole('button', { name: 'More', exact: true }), 'Add a wait');
  await page.getByRole('button', { name: 'Part on order' }).click();
  await expect(page.getByLabel('How long')).toHaveValue('3 days');
  await page.getByRole('button', { name: 'Start the wait' }).click();
  await expect(page.getByText('Wait started.')).toBeVisible();
  await page.goto('/');
  await expect(page.getByRole('region', { name: 'Waiting' }).getByRole('link', { name: /waiting unit/ })).toContainText(
    'waiting for a part',
  );
  await page.getByRole('link', { name: /waiting unit/ }).click();
  await chooseFrom(page.getByRole('button', { name: 'More', exact: true }), 'Move to trash');
  await page.waitForURL('/');
  await expect(page.getByRole('link', { name: /waiting unit/ })).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(page.getByRole('link', { name: /waiting unit/ })).toBeVisible();
});

test('what is understood from the complaint is shown at intake, and what was not meant does not count', async ({
  page,
}) => {
  await takeIn(page, 'misread unit', { says: 'It fell, then an update was installing' });
  await chooseFrom(page.getByRole('button', { name: 'More', exact: true }), 'Edit intake');
  const dialog = page.getByRole('dialog');
  const understood = dialog.getByRole('group', { name: 'Understood from the complaint' });
  await expect(understood.getByLabel('it fell')).toBeChecked();
  await understood.getByLabel('it failed at an update').uncheck();
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog).toHaveCount(0);
  await page.reload();
  await chooseFrom(page.getByRole('button', { name: 'More', exact: true }), 'Edit intake');
  await expect(understood.getByLabel('it fell')).toBeChecked();
  await expect(understood.getByLabel('it failed at an update')).not.toBeChecked();
  // Words that are typed later are read as they are typed.
  await dialog.getByLabel('Complaint in the customer’s words').fill('It fell; it gets very hot, after an update');
  await expect(understood.getByLabel('it got hot')).toBeChecked();
  await expect(understood.getByLabel('it failed at an update')).not.toBeChecked();
});
