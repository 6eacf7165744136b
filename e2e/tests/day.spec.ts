import knex from 'knex';
import { chooseFrom, expect, takeIn, test, typeRun } from '../fixtures.ts';

const mark = Date.now().toString(36);
const stall = 'battery 4V limit 3A: 0 | prompt 0.1 0.25 0.35 hold';

test('the run sheet: a job is taken in hand, dragged by keys with what that costs, put off, and shown on the wall', async ({
  page,
}) => {
  for (const name of ['first', 'second', 'third']) {
    await takeIn(page, `${name} of ${mark}`, { says: 'Dead' });
    await typeRun(page, stall);
  }
  await page.goto('/');
  const sheet = page.getByRole('region', { name: 'To do now' });
  const moves = page.getByRole('button', { name: /^Move / });
  const mine = sheet.getByRole('listitem').filter({ hasText: mark }).filter({ has: moves });
  await expect(mine).toHaveCount(3);
  // Each says what comes next, how long that takes, and why it stands where it stands.
  await expect(mine.first()).toContainText(/\d+ (min|h), (at|under) the/);
  await expect(mine.first()).toContainText(/expected|Due|Overdue|late|Same place|costs more/);

  await mine
    .first()
    .getByRole('button', { name: /in hand$/ })
    .click();
  await expect(sheet.getByRole('listitem').filter({ hasText: /is working on it/ })).toHaveCount(1);
  await sheet.getByRole('button', { name: /^Put .* down$/ }).click();
  await expect(sheet.getByText(/is working on it/)).toHaveCount(0);

  // By keys: lifted, moved up one, let go; what it costs stands there before it is kept.
  const last = mine.last();
  const grip = last.getByRole('button', { name: /^Move / });
  await grip.focus();
  await page.keyboard.press('Space');
  const said = page.getByText(/Place \d+ of \d+/);
  await expect(said).toBeAttached();
  const before = await said.textContent();
  await page.keyboard.press('ArrowUp');
  await expect(said).not.toHaveText(before ?? '');
  await page.keyboard.press('Space');
  await expect(sheet.getByText(/This costs/)).toBeVisible();
  await sheet.getByRole('button', { name: 'Keep this order' }).click();
  await expect(sheet.getByText(/moved by hand/)).toBeVisible();
  await sheet.getByRole('button', { name: 'Use the recommended order' }).click();
  await expect(sheet.getByText(/moved by hand/)).toHaveCount(0);

  await chooseFrom(sheet.getByRole('button', { name: `More for first of ${mark}` }), 'Postpone for an hour');
  const off = page.getByRole('list', { name: 'Postponed' });
  await expect(off.getByRole('link', { name: `first of ${mark}` })).toBeVisible();
  await expect(mine).toHaveCount(2);
  await off
    .getByRole('listitem')
    .filter({ hasText: `first of ${mark}` })
    .getByRole('button', { name: 'Resume now' })
    .click();
  await expect(mine).toHaveCount(3);

  await sheet.getByRole('button', { name: 'No-touch jobs' }).click();
  await expect(sheet.getByRole('button', { name: 'No-touch jobs' })).toHaveAttribute('aria-pressed', 'true');
  await page.goto('/wall');
  await expect(page.getByRole('region', { name: 'Now', exact: true })).toBeVisible();
  await expect(page.getByRole('region', { name: 'Waiting on others' })).toBeVisible();
});

test('a wait rings on every page until it is heard, also after a reload', async ({ page, request }) => {
  const url = await takeIn(page, `bath of ${mark}`);
  await chooseFrom(page.getByRole('button', { name: 'More', exact: true }), 'Add a wait');
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('button', { name: 'Ultrasonic bath' }).click();
  await dialog.getByLabel('How long').fill('soon');
  await dialog.getByRole('button', { name: 'Start the wait' }).click();
  await expect(dialog.getByRole('alert')).toContainText('"soon" is not a time');
  await dialog.getByLabel('How long').fill('1 min');
  await dialog.getByRole('button', { name: 'Start the wait' }).click();
  await expect(page.getByText('Wait started.')).toBeVisible();
  await page.goto('/');
  const waits = page.getByRole('region', { name: 'Waiting' });
  await expect(
    waits
      .getByRole('listitem')
      .filter({ hasText: `bath of ${mark}` })
      .getByRole('timer'),
  ).toContainText(/0:\d\d/);
  // A minute passes on the server, whatever this page does: its end is brought here.
  const db = knex({ client: 'pg', connection: process.env.UMBRAL_TEST_DATABASE_URL, pool: { min: 0, max: 1 } });
  await db('waits').whereNull('ended_at').update({ until_at: db.fn.now() });
  await db.destroy();
  await expect
    .poll(
      async () => {
        const { value } = (await (await request.get('/api/waits')).json()) as {
          value: { now: string; waits: { label: string; until: string }[] };
        };
        const found = value.waits.find((w) => w.label === `bath of ${mark}`);
        return found !== undefined && found.until <= value.now;
      },
      { timeout: 120_000 },
    )
    .toBe(true);
  const bar = page.getByRole('alert', { name: 'Finished waits' });
  await page.goto('/models');
  await expect(bar).toContainText('Take it out of the bath');
  await expect(page).toHaveTitle(/^\(1\) /);
  await page.reload();
  await expect(bar).toContainText(`bath of ${mark}`);
  await bar.getByRole('button', { name: 'Heard' }).click();
  await expect(bar).toHaveCount(0);
  await expect(page).toHaveTitle(/^Models/);
  await page.reload();
  await expect(page.getByRole('heading', { name: 'Models', level: 1 })).toBeVisible();
  await expect(bar).toHaveCount(0);
  await page.goto('/');
  await waits.getByRole('button', { name: `bath of ${mark}: the wait is over` }).click();
  // What comes out of the bath dries before it is powered.
  await expect(waits.getByRole('listitem').filter({ hasText: `bath of ${mark}` })).toContainText('dries');
  await page.goto(url);
});

test('what a job is worth: the options, where the answer changes, a quote, and the customer’s answer', async ({
  page,
}) => {
  const url = await takeIn(page, `worth of ${mark}`, { says: 'Stays black' });
  await typeRun(page, stall);
  await page.keyboard.press('y');
  await page.waitForURL(/\/worth$/);
  await expect(page.getByRole('region', { name: 'Options' })).toContainText(/expected/);
  await expect(page.getByRole('region', { name: 'When the answer changes' })).toContainText(/now\.$/);
  const terms = page.getByRole('form', { name: 'Terms' });
  await terms.getByLabel('Fee').fill('-3');
  await terms.getByRole('button', { name: 'Save' }).click();
  await expect(terms.getByRole('alert')).toContainText('Fee: cannot be negative');
  await terms.getByLabel('Fee').fill('120');
  await terms.getByLabel('Promised for').fill('2020-01-01T10:00');
  await terms.getByRole('button', { name: 'Save' }).click();
  await expect(terms.getByRole('alert')).toContainText('before the device came in');
  await terms.getByLabel('Promised for').fill('2031-01-06T10:00');
  await terms.getByRole('button', { name: 'Save' }).click();
  const customer = page.getByRole('region', { name: 'To the customer' });
  await customer.getByRole('button', { name: 'Quote' }).click();
  await expect(customer).toContainText('the repair costs 120 €');
  await expect(customer).toContainText('6 January');
  await customer.getByRole('button', { name: 'Asked the customer' }).click();
  await page.goto('/');
  await expect(page.getByRole('region', { name: 'Waiting' })).toContainText(`worth of ${mark}`);
  await page.goto(`${url.split('?')[0]}/worth`);
  await customer.getByRole('button', { name: 'Accepted' }).click();
  await expect(customer).toContainText('Agreed on');
  await page.goto('/');
  await expect(page.getByRole('region', { name: 'Waiting' })).not.toContainText(`worth of ${mark}`);
});

test('the shop hours are typed, a slip is named with its day, and the run sheet follows', async ({ page }) => {
  await page.goto('/settings/day');
  const monday = page.getByLabel('Monday');
  const was = await monday.inputValue();
  await monday.fill('8-7');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('form').getByRole('alert')).toContainText('Monday: 08:00 to 07:00 ends before it begins');
  await page.getByLabel('ultrasonic bath').fill('-1');
  await monday.fill(was);
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('form').getByRole('alert')).toContainText('ultrasonic bath: cannot be negative');
  await page.getByLabel('ultrasonic bath').fill('2');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('Saved. The run sheet is updated.')).toBeVisible();
  await page.reload();
  await expect(page.getByLabel('ultrasonic bath')).toHaveValue('2');
});

test('while the event log is not available, the last run sheet stands, with its time', async ({ page, allowed }) => {
  allowed.push(/Failed to load/);
  await takeIn(page, `kept of ${mark}`);
  await page.goto('/');
  await expect(page.getByRole('link', { name: new RegExp(`kept of ${mark}`) })).toBeVisible();
  await page.route('**/api/sheet', (route) =>
    route.fulfill({ status: 503, json: { ok: false, kind: 'away', message: 'away' } }),
  );
  await expect(page.getByText(/The database does not answer. This is the run sheet of/)).toBeVisible({
    timeout: 120_000,
  });
  await expect(page.getByRole('link', { name: new RegExp(`kept of ${mark}`) })).toBeVisible();
  await page.unroute('**/api/sheet');
  await expect(page.getByText(/The database does not answer/)).toHaveCount(0, { timeout: 120_000 });
});
