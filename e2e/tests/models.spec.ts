import { expect, takeIn, test, typeRun } from '../fixtures.ts';

test('a model is started virtually with a fault, and the address keeps the question', async ({ page }) => {
  await page.goto('/models');
  await page.getByRole('link', { name: /Tallgate Moorcall 2/ }).click();
  await expect(page.getByRole('heading', { name: 'Boots normally' })).toBeVisible();
  await expect(page.getByRole('group', { name: /Power tree: .*main system rail/ })).toBeVisible();
  await page.getByLabel('Fault').selectOption('mute:radio-chip');
  await page.getByRole('button', { name: 'Simulate' }).click();
  await page.waitForURL(/fault=mute%3Aradio-chip/);
  await expect(page.getByText('waits without end for: radio')).toBeVisible();
  await expect(page.getByRole('list', { name: 'Segments in words' })).toContainText('0 s');
  await page.reload();
  await expect(page.getByText('waits without end for: radio')).toBeVisible();
});

test('a rail of the power tree says what touches it, and starts the model with a fault of it', async ({ page }) => {
  await page.goto('/models/tallgate-moorcall-2');
  const rail = page.getByRole('button', { name: /^main system rail/ });
  await rail.press('Enter');
  const about = page.getByRole('complementary', { name: 'About main system rail' });
  await expect(about).toContainText('always on');
  await expect(about).toContainText('Feeds');
  await about.getByRole('link', { name: 'short to ground' }).first().click();
  await page.waitForURL(/fault=short%3Amain/);
  await expect(page.getByLabel('Fault')).toHaveValue(/^short:main/);
  await expect(about).toBeVisible();
  await rail.press('Escape');
  await expect(about).toBeHidden();
});

test('a fault that the model cannot have is refused in words', async ({ page }) => {
  await page.goto('/models/generic-phone?fault=melted:main');
  await expect(page.getByRole('alert').filter({ hasText: 'melted' })).toContainText('is not a kind of fault');
});

test('a model that nobody knows says so, and a profile can be taken as a file', async ({ page }) => {
  const missing = await page.goto('/models/nobody');
  expect(missing?.status()).toBe(404);
  const file = await page.request.get('/api/models/oxbarrow-hearthfold-13');
  expect(file.headers()['content-disposition']).toContain('oxbarrow-hearthfold-13.json');
  expect(await file.json()).toMatchObject({ format: 'umbral-profile/1', id: 'oxbarrow-hearthfold-13' });
});

test('a known model brings its profile: the suspect names its element, and shows what it would draw', async ({
  page,
}) => {
  await takeIn(page, 'field phone with a known model', { model: 'Tallgate Moorcall 2' });
  await expect(page.getByText('profile Tallgate Moorcall 2')).toBeVisible();
  await typeRun(page, 'battery 3.9V limit 3A: 0 | prompt (0.07 0.25 0.38 0.6 0) loop 6s');
  const suspects = page.getByRole('list', { name: 'Suspects' });
  await expect(suspects.getByRole('listitem').filter({ hasText: 'Board joints' })).toContainText(
    'joints between the boards',
  );
  // The page comes to life again after the run was added; a key pressed before that is lost.
  const band = page.getByText(/light band: .* would draw this/);
  await expect(async () => {
    await page.keyboard.press('s');
    await expect(band).toBeVisible({ timeout: 1000 });
  }).toPass();
  const first = await band.textContent();
  await page.keyboard.press('s');
  await expect(band).not.toHaveText(first ?? '');
  await page.keyboard.press('s');
  await page.keyboard.press('s');
  await expect(band).toBeHidden();
});
