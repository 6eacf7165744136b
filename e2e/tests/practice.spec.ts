import type { Page } from '@playwright/test';
import { expect, freeBench, settled, test } from '../fixtures.ts';

/** Enters a change of a part, though something is asked before it, and switches the unit on again. */
async function changeAndTry(page: Page, kind: string, part: string): Promise<void> {
  await page.keyboard.press('x');
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('What was done').selectOption(kind);
  await dialog.getByRole('combobox', { name: 'Part' }).fill(part);
  await dialog.getByRole('button', { name: 'Save' }).click();
  await dialog.getByRole('button', { name: /Save anyway|Save/ }).click();
  await expect(dialog).toHaveCount(0);
  const bench = page.getByRole('region', { name: 'Practice bench' });
  await bench.getByLabel('Feed').selectOption('battery');
  await bench.getByRole('button', { name: 'Switch on and press power' }).click();
  await page.waitForURL(/run=r2/);
}

test('somebody who never held a meter does lesson one, calls a unit, and is led to the next', async ({ page }) => {
  await page.goto('/');
  await page.getByRole('link', { name: 'Practice', exact: true }).click();
  await page.getByRole('link', { name: /^Lesson 1/ }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Units and levels');
  await settled(page);
  const question = (n: number) => page.getByRole('region', { name: `Question ${n}`, exact: true });

  // The display shows what flows at the moment that was chosen: before power-on, and at the end.
  const display = question(1).getByRole('status');
  await question(1).getByRole('slider').fill('20');
  await expect(display).toHaveText(/0\.00[1-3] A/);
  await question(1).getByRole('textbox').fill('two');
  await question(1).getByRole('button', { name: 'Answer' }).click();
  await expect(question(1).getByRole('alert')).toContainText('expected a number in mA');
  await question(1).getByRole('textbox').fill('2');
  await question(1).getByRole('button', { name: 'Answer' }).click();
  await expect(question(1)).toContainText('Right.');
  await question(2).getByRole('textbox').fill('900');
  await question(2).getByRole('button', { name: 'Answer' }).click();
  await expect(question(2)).toContainText('The answer is');
  await question(3).getByRole('button', { name: '130 mA', exact: true }).click();
  await question(4).getByRole('button', { name: 'Draws nothing at all' }).click();
  await expect(question(4)).toContainText('Right.');

  // What was answered is still there after a reload, and the unit is taken.
  await page.reload();
  await expect(question(2)).toContainText('The answer is');
  // What was answered wrong comes again with another device, whose display shows the answer.
  await question(2).getByRole('button', { name: 'Try again' }).click();
  await question(2).getByRole('slider').press('End');
  const shown = /([\d.]+ A)/.exec(await question(2).getByRole('status').innerText())?.[1] ?? '';
  await question(2).getByRole('textbox').fill(shown);
  await question(2).getByRole('button', { name: 'Answer' }).click();
  await expect(question(2)).toContainText('Right.');
  await page.getByRole('button', { name: 'Start', exact: true }).click();
  await page.waitForURL(/\/jobs\/9\d+/);
  const bench = page.getByRole('region', { name: 'Practice bench' });
  await expect(bench.getByLabel('Feed')).toHaveValue('battery');
  await bench.getByLabel('Limit, A').fill('99');
  await bench.getByRole('button', { name: 'Switch on and press power' }).click();
  await expect(page.getByText(/Limit: expected at most 20 A/)).toBeVisible();
  await bench.getByLabel('Limit, A').fill('3');
  await bench.getByRole('button', { name: 'Switch on and press power' }).click();
  await page.waitForURL(/run=r1/);

  // Nothing of the engine's is seen before the call, and what would say it leads back.
  await expect(page.getByRole('list', { name: 'Suspects' })).toHaveCount(0);
  const job = page.url().split('?')[0];
  await page.goto(`${job}/measure`);
  await expect(page).toHaveURL(/first=call/);
  const call = page.getByRole('form', { name: 'Your call' });
  await call.getByRole('button', { name: 'Submit call' }).click();
  await expect(call.getByRole('alert')).toContainText('Pattern: choose');
  await call.getByLabel('What the run shows').selectOption({ label: 'Stuck at 5 V, almost no draw' });
  await call.getByLabel('Suspect').selectOption({ label: 'Main system rail' });
  await call.getByLabel('Suspect').selectOption({ label: 'Button and wake line' });
  await call.getByRole('slider', { name: /Button and wake line/ }).fill('30');
  await expect(call.getByRole('listitem').first()).toContainText('70 %');
  await call.getByRole('button', { name: 'Submit call' }).click();
  const answer = page.getByRole('region', { name: 'The answer' });
  await expect(answer.getByRole('row', { name: /Main system rail/ })).toContainText('70 %');

  // What was missed is pointed at in the trace.
  await answer.getByRole('link', { name: 'Show me' }).first().click();
  await expect(page).toHaveURL(/at=\d/);
  await expect(page.getByText('look here')).toBeVisible();
  // A newcomer who cannot repair it yet says so, and reads what the customer would.
  await page.getByLabel('How would you close the job?').selectOption('declined');
  await page.getByLabel('What would you write in the report?').fill('Another shop can repair it.');
  await page.getByRole('button', { name: 'Finish: show the fault' }).click();
  const was = page.getByRole('region', { name: 'What it was' });
  await expect(was).toContainText('points');
  await expect(was).toContainText('Correct outcome: “declined”.');
  await was.getByRole('link', { name: 'Read the report' }).click();
  await expect(page.getByText('Another shop can repair it.')).toBeVisible();
  await page.goBack();
  await page.getByRole('link', { name: 'Back to the lesson' }).click();
  await expect(page.getByText('Lesson 1 is done.')).toBeVisible();
  await page.getByRole('link', { name: 'Next: Before and after power-on' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Before and after power-on');

  // The bench of the shop knows nothing of it.
  await page.goto('/');
  await settled(page);
  await expect(page.getByRole('link', { name: /^Tallgate Moorcall 2/ })).toHaveCount(0);
});

test('a unit is probed, fed and mended as a device is, and goes on where it was after a reload', async ({ page }) => {
  await page.goto('/practice');
  const form = page.getByRole('form', { name: 'Choose a unit' });
  await form.getByLabel('Device').selectOption('tallgate-moorcall-2');
  await form.getByText('A specific fault').click();
  await form.getByRole('textbox', { name: /Fault/ }).fill('short:kettle');
  await form.getByRole('button', { name: 'Put it on my bench' }).click();
  await expect(form.getByRole('alert')).toContainText('"kettle" is not an element');
  await form.getByRole('textbox', { name: /Fault/ }).fill('short:io=0.4');
  await form.getByRole('button', { name: 'Put it on my bench' }).click();
  await page.waitForURL(/\/jobs\/9\d+/);
  const job = page.url();
  const bench = page.getByRole('region', { name: 'Practice bench' });
  await bench.getByLabel('Feed').selectOption('battery');
  await bench.getByRole('button', { name: 'Switch on and press power' }).click();
  await page.waitForURL(/run=r1/);
  const call = page.getByRole('form', { name: 'Your call' });
  await call.getByLabel('What the run shows').selectOption({ label: 'Starts to boot, then hangs' });
  await call.getByLabel('Suspect').selectOption({ label: 'Run-state rail' });
  await call.getByRole('button', { name: 'Submit call' }).click();
  await expect(page.getByRole('region', { name: 'The answer' })).toBeVisible();

  await page.goto(`${job}/measure`);
  const probe = page.getByRole('form', { name: 'Probe the practice unit' });
  await probe.getByLabel('Rail').selectOption('io');
  await probe.getByLabel('What').selectOption('resistance after');
  await probe.getByRole('button', { name: 'Probe' }).click();
  await expect(probe.getByRole('status')).toContainText(/I\/O rail: 0\.5\d* ohm, saved/);
  await page.goto(`${job}/locate`);
  const feed = page.getByRole('form', { name: 'Inject into a rail of the practice unit' });
  await feed.getByLabel('Rail').selectOption('io');
  await feed.getByLabel('Volts').fill('1.8');
  await feed.getByLabel('Limit, A').fill('2');
  await feed.getByRole('button', { name: 'Inject and look' }).click();
  await expect(feed.getByRole('status')).toContainText('One spot gets warm. Saved.');

  // In the middle of it the page is loaded again: the minutes and the injection are there.
  await page.goto(job);
  const took = page.getByRole('region', { name: 'Time and cost' });
  await expect(took).toContainText('1 probe');
  const before = await took.innerText();
  await page.reload();
  await expect(took).toHaveText(before);
  await changeAndTry(page, 'remove', 'I/O rail');
  await expect(page.getByRole('region', { name: 'Run r2' })).toContainText('bursts');
});

test('silhouettes are named with keys, and time runs out by itself', async ({ page }) => {
  await page.goto('/practice/cards');
  await settled(page);
  await page.keyboard.press('.');
  const card = page.getByRole('region', { name: 'Run 1' });
  await expect(card).toBeVisible();
  await page.keyboard.press('1');
  await expect(card.getByRole('status')).toContainText(/Right|No/);
  await page.keyboard.press('.');
  await expect(page.getByRole('region', { name: 'Run 2' }).getByRole('status')).toContainText('Time is up');
});

test('a practice unit is recorded live, called, mended, proved, and said anew at the end', async ({ page }) => {
  await freeBench(page);
  await page.goto('/practice');
  const form = page.getByRole('form', { name: 'Choose a unit' });
  await form.getByLabel('Device').selectOption('tallgate-moorcall-2');
  await form.getByText('A specific fault').click();
  await form.getByRole('textbox', { name: /Fault/ }).fill('mute:storage-chip');
  await form.getByRole('button', { name: 'Put it on my bench' }).click();
  await page.waitForURL(/\/jobs\/9\d+/);
  const job = page.url();
  await page.keyboard.press('l');
  await page.waitForURL(/\/record$/);
  await page.getByRole('button', { name: 'Put this unit on the live bench' }).click();
  await expect(page.getByRole('region', { name: 'Actions on the simulated device' })).toContainText(
    'Tallgate Moorcall 2, with a hidden fault',
  );
  await page.keyboard.press('r');
  await expect(page.getByText(/^recording, \d+ s/)).toBeVisible();
  await page.keyboard.press('a');
  await expect(page.getByRole('dialog', { name: 'Before the output is armed' })).toContainText('Red lead to plus');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Armed' })).toBeVisible();
  await page.keyboard.press('o');
  await expect(page.getByText(/^recording, ([4-9]|\d\d) s/)).toBeVisible();
  await page.keyboard.press('p');
  // Nobody says while it runs what it makes of it: it is to be called.
  await expect(page.getByText(/^recording, (1[4-9]|[2-9]\d) s/)).toBeVisible({ timeout: 120_000 });
  await expect(page.getByRole('list', { name: 'Suspects so far' })).toHaveCount(0);
  await page.keyboard.press('r');
  await page.waitForURL(/run=r1/, { timeout: 120_000 });

  const call = page.getByRole('form', { name: 'Your call' });
  await call.getByLabel('What the run shows').selectOption({ label: 'Starts to boot, then hangs' });
  await call.getByLabel('Suspect').selectOption({ label: 'Memory' });
  await call.getByLabel('Next test').selectOption({ label: 'Plug it into a computer' });
  await call.getByLabel('Expected result').selectOption({ index: 1 });
  await call.getByRole('button', { name: 'Submit call' }).click();
  const answer = page.getByRole('region', { name: 'The answer' });
  await expect(answer).toContainText(/You: Plug it into a computer, \d+ of 100 points/);

  await changeAndTry(page, 'replace', 'storage');
  await page.goto(`${job}/verify`);
  // What else is to be shown depends on the complaint of the unit, which is drawn.
  const fitted = page.getByRole('region', { name: 'Fitted part' });
  for (const which of ['New part', 'No bridge', 'Correct orientation'])
    await fitted
      .getByRole('listitem')
      .filter({ hasText: which })
      .getByRole('button', { name: 'Try it on this unit' })
      .click();
  await expect(fitted).toContainText('3 of 3 done');
  await page.getByRole('link', { name: 'Finish the unit' }).click();

  // It was called wrong; now it is known, and the two are scored apart.
  const end = page.getByRole('region', { name: 'Finish' });
  await end.getByLabel('Suspect').selectOption({ label: 'Storage' });
  await end.getByRole('button', { name: 'Take Memory out' }).click();
  // It is closed as a job is: what fixed it was never measured.
  await end.getByLabel('How would you close the job?').selectOption('measured');
  await end.getByLabel('What would you write in the report?').fill('New storage chip.');
  await end.getByRole('button', { name: 'Finish: show the fault' }).click();
  const truth = page.getByRole('region', { name: 'What it was' });
  await expect(truth).toContainText('Storage');
  await expect(truth).toContainText(
    /-\d+ points \(engine: -?\d+\) for your call, 100 points \(engine: -?\d+\) at the end/,
  );
  await expect(truth).toContainText('Wrong outcome: “cause measured and repaired”.');
  await expect(truth).toContainText('no measurement shows the cause');
  await truth.getByRole('link', { name: 'Read the report' }).click();
  await expect(page.getByText('New storage chip.')).toBeVisible();
});
