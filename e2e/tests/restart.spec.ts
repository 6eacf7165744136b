import { expect, freeBench, secondsRecorded, settled, test } from '../fixtures.ts';

interface Web {
  url: string;
  child: { kill: (signal: string) => boolean };
  stop: () => Promise<void>;
}
interface Lib {
  startWeb: (options: { port: number; databaseUrl: string; quiet: boolean }) => Promise<Web>;
  freePort: () => Promise<number>;
}

/** How long at least nobody listens to the recorder, s. */
const WITHOUT_WEB_S = 4;

/** Another web application on the same database and recorder, which may be ended in the middle. */
async function another(port?: number): Promise<Web & { port: number }> {
  const [{ startWeb }, { freePort }] = (await Promise.all([
    import('../../scripts/lib/web.mjs' as string),
    import('../../scripts/lib/ports.mjs' as string),
  ])) as [Pick<Lib, 'startWeb'>, Pick<Lib, 'freePort'>];
  const at = port ?? (await freePort());
  const web = await startWeb({ port: at, databaseUrl: process.env.UMBRAL_TEST_DATABASE_URL ?? '', quiet: true });
  return { ...web, port: at };
}

test('a recording goes on while the web application dies and comes back, and the page misses nothing', async ({
  page,
}) => {
  await freeBench(page);
  let web = await another();
  try {
    const made = await page.request.post(`${web.url}/api/recorder/lay`, {
      data: { profile: 'tallgate-moorcall-2', fault: 'none', seed: 9 },
    });
    expect(made.ok()).toBe(true);
    await page.goto(`${web.url}/jobs/new`);
    await page.getByLabel('Device', { exact: false }).first().fill('phone for a restart');
    await page.getByLabel('Kind of device').last().selectOption('phone');
    await page.getByRole('button', { name: 'Create job' }).click();
    await page.waitForURL(/\/jobs\/\d+/);
    await expect(page.getByRole('heading', { name: 'phone for a restart' })).toBeVisible();
    await settled(page);
    await page.keyboard.press('l');
    await page.waitForURL(/\/record$/);
    await page.getByRole('button', { name: /^Record/ }).click();
    await expect(page.getByText(/^recording, [2-9] s/)).toBeVisible();
    web.child.kill('SIGKILL');
    await expect(page.getByText(/The recorder does not answer|looked for again/)).toBeVisible();
    // Nobody listens meanwhile: what is measured now is what this is about.
    const before = await secondsRecorded('bench-supply');
    await expect.poll(() => secondsRecorded('bench-supply')).toBeGreaterThan(before + WITHOUT_WEB_S);
    web = await another(web.port);
    await expect(page.getByText(/The recorder does not answer/)).toBeHidden({ timeout: 120_000 });
    await expect(page.getByText(/^recording, (9|[1-9]\d) s/)).toBeVisible();
    const picture = page.getByRole('img', { name: /Current so far/ });
    await expect.poll(async () => Number(await picture.getAttribute('data-end'))).toBeGreaterThan(8);
    await page.getByRole('button', { name: /^Stop and save/ }).click();
    await page.waitForURL(/run=r1/, { timeout: 120_000 });
    // What was measured in the time without a web application is there: no hole is nearly as long as that time was. (How late
    // a busy machine takes a sample, which is noted as a gap, is not what this is about.)
    const key = /jobs\/(\d+)/.exec(page.url())?.[1];
    const window = await page.request.get(`${web.url}/api/jobs/${key}/runs/r1/window?from=0&to=8`);
    const { value } = (await window.json()) as { value: { mean: (number | null)[] } };
    const holes = value.mean.map((x) => (x === null ? '.' : '#')).join('');
    expect(value.mean.length).toBeGreaterThan(100);
    expect(Math.max(...holes.split('#').map((hole) => hole.length)) * (8 / value.mean.length)).toBeLessThan(
      0.8 * WITHOUT_WEB_S,
    );
  } finally {
    await web.stop();
  }
});
