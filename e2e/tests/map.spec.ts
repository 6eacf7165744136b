import type { Page } from '@playwright/test';
import { expect, takeIn, test, typeRun } from '../fixtures.ts';

test.describe.configure({ mode: 'serial' });

/** A photograph of a board on a bench, held at an angle; or what a thermal camera shows of it. */
async function photograph(page: Page, kind: 'photo' | 'heat' = 'photo'): Promise<Buffer> {
  const bytes = await page.evaluate(async (of) => {
    const canvas = new OffscreenCanvas(1600, 1200);
    const pen = canvas.getContext('2d')!;
    pen.fillStyle = of === 'heat' ? '#120a2a' : '#7a776c';
    pen.fillRect(0, 0, 1600, 1200);
    pen.fillStyle = of === 'heat' ? '#2b1a5e' : '#1d4038';
    pen.beginPath();
    for (const [x, y] of [
      [240, 200],
      [1380, 260],
      [1320, 1010],
      [180, 900],
    ])
      pen.lineTo(x, y);
    pen.fill();
    pen.fillStyle = of === 'heat' ? '#fff6d8' : '#c9a14a';
    pen.fillRect(760, 560, 50, 50);
    const blob = await canvas.convertToBlob({ type: 'image/png' });
    return [...new Uint8Array(await blob.arrayBuffer())];
  }, kind);
  return Buffer.from(bytes);
}

/** Where those corners are in the picture, in its pixels. */
const corners = [
  ['top left', 240, 200],
  ['top right', 1380, 260],
  ['bottom right', 1320, 1010],
  ['bottom left', 180, 900],
] as const;

const map = (page: Page) => page.locator('[data-board]');
const status = (page: Page, net: string) => page.getByRole('button', { name: new RegExp(`^${net}`) });

/** A click on the map, in shares of the board: a person looks where it is first, so it stands still. */
async function clickMap(page: Page, x: number, y: number): Promise<void> {
  let last = '';
  await expect
    .poll(
      async () => {
        const before = last;
        last = JSON.stringify(await map(page).boundingBox());
        return last === before;
      },
      { intervals: [150] },
    )
    .toBe(true);
  const box = (await map(page).boundingBox())!;
  await page.mouse.click(box.x + x * box.width, box.y + y * box.height);
}

let job = '';

test('from a photograph of a new model to the first reading on a point', async ({ page }) => {
  job = await takeIn(page, 'reader with a dark screen', { model: 'Wren of the shelf', complaint: 'no-start' });
  await typeRun(page, 'battery 4V limit 3A: 0 | prompt 0.2 3.0 hold');
  await page.goto(`${job.split('?')[0]}/measure`);
  await page.getByRole('button', { name: 'Board map' }).click();
  // Ten acts of a person: what an issue of a minute is made of.
  await page
    .getByLabel('Picture of the board')
    .setInputFiles({ name: 'board.png', mimeType: 'image/png', buffer: await photograph(page) });
  await page.getByRole('button', { name: 'Use this picture' }).click();
  const dialog = page.getByRole('dialog', { name: 'Straighten the picture' });
  const picture = dialog.getByAltText('picture to be straightened');
  await expect(picture).toBeVisible();
  await expect.poll(() => picture.evaluate((img: HTMLImageElement) => img.naturalWidth)).toBe(1600);
  for (const [name, x, y] of corners) {
    const [box, handle] = [await picture.boundingBox(), dialog.getByRole('button', { name: `Corner ${name}` })];
    const from = (await handle.boundingBox())!;
    await page.mouse.move(from.x + from.width / 2, from.y + from.height / 2);
    await page.mouse.down();
    await page.mouse.move(box!.x + (x / 1600) * box!.width, box!.y + (y / 1200) * box!.height, { steps: 3 });
    await page.mouse.up();
  }
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog).toHaveCount(0);
  await page.getByRole('button', { name: /^Add a point/ }).click();
  // The form takes its room beside the map, and the focus brings it into view: the map stands still only after that.
  await expect(page.getByRole('form', { name: 'New point' }).getByLabel('Net', { exact: false })).toBeFocused();
  await clickMap(page, 0.5, 0.5);
  await page.getByLabel('Net', { exact: false }).first().fill('run rail');
  await page.getByLabel('Circuit').selectOption('rail.run');
  await page.getByRole('button', { name: 'Add the point' }).click();
  const line = page.locator('#typed');
  await expect(line).toBeFocused();
  await line.fill('r 0.9');
  await line.press('Enter');
  await expect(status(page, 'run rail')).toHaveAccessibleName(/0\.90 ohm/);
});

test('by keyboard alone: a point is put, moved, measured, and taken back with one key', async ({ page }) => {
  await page.goto(`${job.split('?')[0]}/measure`);
  await page.evaluate(() => localStorage.setItem('umbral-measure-as', 'map'));
  await page.reload();
  await expect(map(page)).toBeVisible();
  await page.keyboard.press('Tab');
  await page.keyboard.press('n');
  const form = page.getByRole('form', { name: 'New point' });
  await expect(form.getByLabel('Net', { exact: false })).toBeFocused();
  await page.keyboard.type('standby rail');
  const cross = page.getByRole('button', { name: /^Place of the point/ });
  await cross.focus();
  const before = (await cross.boundingBox())!;
  await page.keyboard.press('Shift+ArrowLeft');
  await page.keyboard.press('Shift+ArrowLeft');
  expect((await cross.boundingBox())!.x).toBeLessThan(before.x - 2);
  await form.getByLabel('Net', { exact: false }).focus();
  await page.keyboard.press('Enter');
  await expect(form).toHaveCount(0);
  const line = page.locator('#typed');
  await expect(line).toBeFocused();
  await page.keyboard.type('v 3.29');
  await page.keyboard.press('Enter');
  await expect(status(page, 'standby rail')).toHaveAccessibleName(/3\.29 V/);
  // From point to point with the arrows, and back to the line with Enter.
  await status(page, 'standby rail').focus();
  await page.keyboard.press('ArrowRight');
  await expect(status(page, 'run rail')).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(line).toBeFocused();
  await page.keyboard.press('Tab');
  await page.getByRole('button', { name: /^Add a point/ }).focus();
  await page.keyboard.press('Enter');
  await page.keyboard.type('slip of the hand');
  await page.keyboard.press('Enter');
  await expect(status(page, 'slip of the hand')).toBeVisible();
  await page.getByRole('button', { name: 'Zoom in' }).focus();
  await page.keyboard.press('Backspace');
  await expect(status(page, 'slip of the hand')).toHaveCount(0);
});

test('heat is laid over by shared points, its hottest place becomes an observation, and the report shows where it was', async ({
  page,
}) => {
  await page.goto(`${job.split('?')[0]}/measure`);
  await page.getByRole('button', { name: 'Board map' }).click();
  await page
    .getByLabel('Picture of the board')
    .setInputFiles({ name: 'heat.png', mimeType: 'image/png', buffer: await photograph(page, 'heat') });
  await page.getByLabel('Kind', { exact: true }).selectOption('heat');
  await page.getByRole('button', { name: 'Use this picture' }).click();
  const dialog = page.getByRole('dialog', { name: 'Align the heat picture with the board' });
  const [from, to] = ['This picture', 'The board'].map((name) => dialog.getByRole('region', { name }));
  await expect(to.locator('img').first()).toBeVisible();
  await expect.poll(() => from.locator('img').evaluate((img: HTMLImageElement) => img.naturalWidth)).toBe(1600);
  // A picture that has not come yet takes another place than it will.
  await expect
    .poll(() =>
      to
        .locator('img')
        .first()
        .evaluate((img: HTMLImageElement) => img.complete && img.naturalWidth > 0),
    )
    .toBe(true);
  const flat = [
    [0, 0],
    [1, 0],
    [1, 1],
    [0, 1],
  ];
  for (const [k, [, x, y]] of corners.entries()) {
    const left = (await from.locator('img').boundingBox())!;
    await page.mouse.click(left.x + (x / 1600) * left.width, left.y + (y / 1200) * left.height);
    await expect(dialog.getByRole('button', { name: `This picture, point ${k + 1}` })).toBeVisible();
    const right = (await to.locator('img').first().locator('..').boundingBox())!;
    const [u, v] = flat[k].map((share) => 0.003 + share * 0.994);
    await page.mouse.click(right.x + u * right.width, right.y + v * right.height);
    // What is said below may move the pictures: only then is the next place where it looks.
    await expect(dialog.getByRole('button', { name: `The board, point ${k + 1}` })).toBeVisible();
  }
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog).toHaveCount(0);
  await page.getByRole('button', { name: 'Mark the hottest place' }).click();
  const mark = page.getByRole('form', { name: 'New mark' });
  await expect(mark.getByLabel('Where')).toHaveValue('run rail');
  await mark.getByLabel('Fed', { exact: false }).fill('run rail');
  await mark.getByRole('button', { name: 'Save the mark' }).click();
  await expect(mark).toHaveCount(0);
  await page.goto(job);
  await expect(page.getByRole('list', { name: 'History' })).toContainText('one spot');
  await page.getByRole('button', { name: 'Close', exact: true }).click();
  await page.getByLabel('Outcome').selectOption('measured');
  await page.getByLabel('Confirmed circuit').selectOption('rail.run');
  await page.getByLabel('Part').fill('run rail');
  await page.getByRole('button', { name: 'Close the job' }).click();
  await expect(page.getByText(/^Closed:/)).toBeVisible();
  await page.goto(`${job.split('?')[0]}/report?for=customer`);
  const cut = page.getByRole('region', { name: 'Pictures' }).getByRole('img');
  await expect(cut).toHaveAttribute('alt', /Run rail/i);
  await expect.poll(() => cut.evaluate((img: HTMLImageElement) => img.naturalWidth)).toBe(480);
});

test('the next job of the model finds the map, and where the cause was before', async ({ page }) => {
  const next = await takeIn(page, 'second reader, dark', { model: 'Wren of the shelf', complaint: 'no-start' });
  await page.goto(`${next.split('?')[0]}/measure`);
  await page.getByRole('button', { name: 'Board map' }).click();
  await expect(status(page, 'run rail')).toHaveAccessibleName(/here once: run rail/);
  await expect(status(page, 'run rail')).toHaveAccessibleName(/not measured/);
});
