import AxeBuilder from '@axe-core/playwright';
import type { Page } from '@playwright/test';
import { expect, settled, takeIn, test, typeRun, waitForLife } from '../fixtures.ts';

/** Places of a job, after its own address. */
const jobPlaces = [
  '',
  '/record',
  '/compare',
  '/measure',
  '/locate',
  '/verify',
  '/worth',
  '/parts',
  '/report',
  '/report?for=technician',
];
const shopPlaces = [
  '/',
  '/settings',
  '/settings/day',
  '/wall',
  '/parts',
  '/day',
  '/atlas',
  '/models',
  '/practice',
  '/practice/lessons/levels',
  '/practice/cards',
  '/practice/team',
  '/models/oxbarrow-hearthfold-13',
  '/models/oxbarrow-hearthfold-13/edit',
  '/models/new',
  '/health',
  '/notebook',
  '/scorecard',
  '/atlas/libraries',
  '/sign-in',
  '/jobs/new',
  '/camera',
  '/camera/display',
];

/** A change and a run after it, so that there is something to prove and to report. */
async function repair(page: Page): Promise<void> {
  await page.keyboard.press('x');
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('What was done').selectOption('clean');
  await dialog.getByRole('combobox', { name: 'Part' }).fill('whole board');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog).toHaveCount(0);
}

async function open(page: Page, url: string): Promise<void> {
  await page.goto(url);
  await settled(page);
  if (url.endsWith('/record')) await page.getByRole('button', { name: /Simulated supply measures/ }).waitFor();
}

/** Address of a repaired job, whose places are looked at. */
async function repaired(page: Page): Promise<string> {
  const job = await takeIn(page, 'a unit with a very long description that somebody typed in full at the counter', {
    kind: 'laptop',
    says: 'No light',
  });
  await typeRun(page, 'dc-in 19V: 30mA | prompt 210mA hold');
  await repair(page);
  await typeRun(page, 'dc-in 19V: 30mA | prompt 0.4 1.1 2.4 1.6 2.9 1.5 2.8 1.3 1.7 hold');
  return job.split('?')[0];
}

/** What breaks WCAG AA on the page as it stands. */
async function violations(page: Page, rules?: string[], but: string[] = []): Promise<string[]> {
  // One frame, and nothing but what is wrong: the rest is most of the work.
  const axe = new AxeBuilder({ page }).setLegacyMode(true).options({
    resultTypes: ['violations'],
    // What is said to a control is what is read on it (2.5.3): a rule that axe does not ask for by itself.
    rules: rules ? {} : { 'label-content-name-mismatch': { enabled: true } },
  });
  for (const place of but) axe.exclude(place);
  const asked = rules ? axe.withRules(rules) : axe.withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']);
  const found = await asked.analyze();
  return found.violations.map((v) => `${v.id}: ${v.nodes[0]?.target.join(' ')} ${v.nodes[0]?.failureSummary ?? ''}`);
}

/** Packed script that a page has loaded when it is at rest, kB. */
function scriptKB(page: Page): Promise<number> {
  return page.evaluate(() => {
    const loaded = performance.getEntriesByType('resource') as PerformanceResourceTiming[];
    const scripts = new Map(loaded.filter((r) => /\.js$/.test(new URL(r.name).pathname)).map((r) => [r.name, r]));
    return Math.round([...scripts.values()].reduce((sum, r) => sum + r.encodedBodySize, 0) / 1000);
  });
}

/** Texts that are wider than the place they stand in, and cut there. */
function cut(page: Page): Promise<string[]> {
  return page.evaluate(() =>
    [...document.querySelectorAll<HTMLElement>('body *')]
      .filter((e) => getComputedStyle(e).textOverflow === 'ellipsis' && getComputedStyle(e).overflowX !== 'visible')
      .filter((e) => e.innerText?.trim() && e.scrollWidth > e.clientWidth + 1)
      .map((e) => e.innerText.slice(0, 60)),
  );
}

/** Texts on one line that run together when they are read or copied: "2.00 AEscape". */
function runTogether(page: Page): Promise<string[]> {
  return page.evaluate(() => {
    const isInline = (e: Element): boolean =>
      getComputedStyle(e).display === 'inline' && !/flex|grid/.test(getComputedStyle(e.parentElement!).display);
    const found: string[] = [];
    for (const e of document.querySelectorAll<HTMLElement>('body *')) {
      if (!isInline(e) || !e.offsetParent || e.closest('svg, [aria-hidden=true], .sr-only, pre, kbd')) continue;
      // A control that follows its label is no text.
      const textOf = (n: Node | null): string =>
        n instanceof Element && (n.matches('select, input, button, textarea') || !isInline(n))
          ? ''
          : (n?.textContent ?? '');
      const before = textOf(e.previousSibling);
      const after = textOf(e.nextSibling);
      const own = e.textContent ?? '';
      if (/[\p{L}\p{N}.%]$/u.test(before) && /^[\p{L}\p{N}]/u.test(own))
        found.push(`${before.slice(-20)}${own.slice(0, 20)}`);
      if (/[\p{L}\p{N}.%]$/u.test(own) && /^[\p{L}\p{N}]/u.test(after))
        found.push(`${own.slice(-20)}${after.slice(0, 20)}`);
    }
    return found;
  });
}

/** A page's script: React and the router are 130 of it. Charts weigh a hundred more where they are seen. */
const usualKB = 205;
const heavier: Record<string, number> = {
  '/camera': 208,
  job: 325,
  'job/record': 230,
  'job/worth': 280,
  '/scorecard': 310,
  '/practice/lessons/levels': 280,
};

test.describe('every view', () => {
  let job = '';
  test.beforeAll(async ({ browser }) => {
    const page = await browser.newPage();
    waitForLife(page);
    job = await repaired(page);
    await page.close();
  });

  for (const place of [...shopPlaces, ...jobPlaces.map((p) => `job${p}`)])
    test(`${place} meets WCAG AA in both themes and is no wider than a narrow screen`, async ({ page }) => {
      await page.emulateMedia({ colorScheme: 'light', reducedMotion: 'reduce' });
      await open(page, place.startsWith('job') ? place.replace('job', job) : place);
      expect(await violations(page)).toEqual([]);
      await page.emulateMedia({ colorScheme: 'dark', reducedMotion: 'reduce' });
      await page.waitForFunction(() => document.documentElement.dataset.theme === 'dark');
      // Of all the rules only these look at colours.
      expect(await violations(page, ['color-contrast', 'link-in-text-block']), 'dark').toEqual([]);
      expect(await runTogether(page), 'texts that run together').toEqual([]);
      expect(await scriptKB(page), 'kB of packed script').toBeLessThanOrEqual(heavier[place] ?? usualKB);
      // As 1280 pixels are at 200 %.
      await page.setViewportSize({ width: 640, height: 400 });
      await settled(page);
      expect(await cut(page), 'text that is cut').toEqual([]);
      await page.setViewportSize({ width: 360, height: 740 });
      await settled(page);
      const overflow = await page.evaluate(
        () => document.documentElement.scrollWidth - document.documentElement.clientWidth,
      );
      expect(overflow).toBeLessThanOrEqual(0);
      // Markers stand where they are in time, however close to each other (2.5.8, essential); keys reach each of them.
      const markers = ['[role=group][aria-label=Markers] [role=slider]'];
      expect(await violations(page, ['target-size'], markers), 'on a narrow screen').toEqual([]);
    });
});

test('a verdict is said when it changes: pattern, first suspect, next step', async ({ page }) => {
  await takeIn(page, 'a unit that is listened to');
  await typeRun(page, 'battery 4V limit 3A: 0 | prompt 0.1 0.25 0.35 hold');
  const said = page.getByRole('status').filter({ hasText: /^Verdict: / });
  await expect(said).toHaveText(/^Verdict: Starts to boot, then hangs\. First suspect: .+, \d+ %\. Next: .+\.$/);
});

test('the focus goes back to where it was when a dialog closes, and never to nothing', async ({ page }) => {
  await takeIn(page, 'a unit for keys');
  const focused = () =>
    page.evaluate(() => {
      const { activeElement: e } = document;
      return e === document.body || e === null ? 'nothing' : (e.getAttribute('aria-label') ?? e.textContent ?? e.id);
    });
  const change = page.getByRole('button', { name: 'Change', exact: true });
  await change.focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('dialog').getByRole('heading').first()).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(change).toBeFocused();
  // By a key, with nothing focused before it; and from a menu, whose entry is gone by then.
  await page.evaluate(() => (document.activeElement as HTMLElement).blur());
  await page.keyboard.press('x');
  await expect(page.getByRole('dialog').getByRole('heading').first()).toBeVisible();
  await page.keyboard.press('Escape');
  await expect.poll(focused).not.toBe('nothing');
  await page.getByRole('button', { name: 'More', exact: true }).click();
  await page.getByRole('menuitem', { name: 'Edit intake' }).click();
  await expect(page.getByRole('dialog').getByRole('heading').first()).toBeVisible();
  await page.keyboard.press('Escape');
  await expect.poll(focused).toBe('More');
});

test('on a phone the head and an alarm leave most of the screen to the work', async ({ page }) => {
  await page.setViewportSize({ width: 360, height: 740 });
  await page.goto('/');
  const top = await page.locator('#content').evaluate((e) => e.getBoundingClientRect().top);
  expect(top).toBeLessThanOrEqual(260);
});

test('where the system chooses the colours, the suspects keep their bars', async ({ page }) => {
  await takeIn(page, 'a unit in the colours of the system');
  await typeRun(page, 'battery 4V limit 3A: 0 | prompt 0.1 0.25 0.35 hold');
  await page.emulateMedia({ forcedColors: 'active' });
  const bars = await page
    .getByRole('list', { name: 'Suspects' })
    .evaluate((list) =>
      [...list.querySelectorAll<HTMLElement>('li [aria-hidden=true]')]
        .filter((e) => e.style.width.endsWith('%'))
        .map((e) => ({ edge: getComputedStyle(e).borderRightWidth, colour: getComputedStyle(e).borderRightColor })),
    );
  expect(bars.length).toBeGreaterThan(1);
  for (const { edge, colour } of bars) {
    expect(edge).toBe('4px');
    expect(colour).not.toBe('rgba(0, 0, 0, 0)');
  }
});

test('the first Tab leads past the head of the page', async ({ page }) => {
  await page.goto('/');
  await page.keyboard.press('Tab');
  await expect(page.getByRole('link', { name: 'Skip to content' })).toBeFocused();
  await page.keyboard.press('Enter');
  await page.keyboard.press('Tab');
  expect(await page.evaluate(() => document.activeElement?.closest('#content') !== null)).toBe(true);
});

test('whoever wants no letters to act chooses that, also without the list of keys', async ({ page }) => {
  await page.goto('/');
  await page.getByTitle('Who is at this screen').click();
  await page.getByRole('radio', { name: 'off', exact: true }).check();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await page.keyboard.press('n');
  await page.keyboard.press('a');
  await expect(page).toHaveURL(/\/$/);
  await page.getByTitle('Who is at this screen').click();
  await page.getByRole('radio', { name: 'on', exact: true }).check();
  await page.keyboard.press('Escape');
  await page.keyboard.press('n');
  await page.waitForURL(/\/jobs\/new$/);
});

test('keys do what their list says, and not while typing', async ({ page }) => {
  await takeIn(page, 'keyboard unit');
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog')).toContainText('add a run');
  await page.keyboard.press('Escape');
  await page.keyboard.press('r');
  await expect(page.getByRole('dialog').getByRole('heading', { name: 'Add a run' })).toBeVisible();
  await page.getByRole('textbox', { name: /Readings/ }).fill('');
  await page.keyboard.type('battery 4V: 0 b n r');
  await expect(page.getByRole('dialog').getByRole('heading', { name: 'Add a run' })).toBeVisible();
  await page.keyboard.press('Escape');
  await page.keyboard.press('b');
  await page.waitForURL(/\/$/);
});

test('what is seen can be pressed, however slow the machine is', async ({ page }) => {
  const browser = await page.context().newCDPSession(page);
  await browser.send('Emulation.setCPUThrottlingRate', { rate: 8 });
  await takeIn(page, 'a unit on a slow machine');
  await expect(page.getByRole('heading', { name: 'a unit on a slow machine' })).toBeVisible();
  await page.keyboard.press('l');
  await page.waitForURL(/\/record$/);
  await expect(page.getByRole('heading', { name: /Record/ }).first()).toBeVisible();
  await page.keyboard.press('b');
  await page.waitForURL(/\/$/);
  // Before the scripts have taken the page over, too.
  await page.reload({ waitUntil: 'commit' });
  await expect(page.getByRole('link', { name: /New job/ }).first()).toBeVisible();
  await page.keyboard.press('n');
  await page.waitForURL(/\/jobs\/new$/);
});

test('the theme is switched and stays', async ({ page }) => {
  await page.emulateMedia({ colorScheme: 'light' });
  await page.goto('/');
  const theme = () => page.evaluate(() => document.documentElement.dataset.theme);
  expect(await theme()).toBe('light');
  await page.getByRole('button', { name: /Theme: as the system/ }).click();
  await page.getByRole('button', { name: /Theme: light/ }).click();
  expect(await theme()).toBe('dark');
  await page.reload();
  expect(await theme()).toBe('dark');
});

test('a page that is missing says so', async ({ page }) => {
  await page.goto('/jobs/999999');
  await expect(page.getByText('Page not found')).toBeVisible();
  await page.goto('/jobs/abc');
  await expect(page.getByText('Page not found')).toBeVisible();
});
