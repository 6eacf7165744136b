import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { freePort, holder, plainEnvironment, root, somebody, Started, until } from '../started.ts';

interface Panel {
  panel: { on: boolean };
  listen(): Promise<number>;
  close(): Promise<void>;
}

/** A supply of the test's own, asked for its own state at the end. */
async function supply(): Promise<Panel & { port: number }> {
  const { shippedProfiles } = (await import('../../core/dist/index.js' as string)) as { shippedProfiles: object[] };
  const simulated = (await import('../../instruments/dist/index.js' as string)) as {
    SimulatedBench: new (profile: object, faults: [], now: () => number) => object;
    SimulatedSupply: new (bench: object) => Panel;
  };
  const bench = new simulated.SimulatedBench(shippedProfiles[0], [], () => performance.now() / 1000);
  const made = new simulated.SimulatedSupply(bench);
  return Object.assign(made, { port: await made.listen() });
}

const post = (app: Started, cookie: string, path: string, body: object) =>
  fetch(app.url + path, {
    method: 'POST',
    headers: { cookie, 'content-type': 'application/json' },
    body: JSON.stringify(body),
  });

test('what dies is started again, what is left behind is taken over, and no output stays on', async ({ page }) => {
  const panel = await supply();
  const folder = Started.folder();
  let app = await Started.spawn(folder, await freePort()).up();
  const db = app.owner();
  try {
    const { id: person, cookie } = await somebody(db, 'Ottilie Fenn', 'lead');
    const spec = {
      key: 'left',
      name: 'Left supply',
      kind: 'supply',
      transport: { kind: 'tcp', host: '127.0.0.1', port: panel.port },
      dialect: 'scpi-usual',
      calibration: { gainV: 1, offsetV: 0, gainA: 1, offsetA: 0 },
      simulated: false,
    };
    await db('instruments').insert({ key: 'left', spec: JSON.stringify(spec) });
    const [{ id: jobId }] = (await db('jobs')
      .insert({ label: 'van phone', device_class: 'phone' })
      .returning('id')) as { id: number }[];

    // The recorder is killed: another one comes, with the instrument that stands in the settings now.
    const recorder = (await holder('recorder', `${folder}/recorder`)) ?? 0;
    process.kill(recorder, 'SIGKILL');
    await until(
      'another recorder',
      30,
      async () => ((await holder('recorder', `${folder}/recorder`)) ?? recorder) !== recorder,
    );
    await until('it is said', 10, () => /The recorder ended \(SIGKILL\)[^]*The recorder works again/.test(app.said));
    expect(app.part('recorder')).toMatchObject({ state: 'runs', restarts: 1 });

    let key = '';
    const setup = { feed: 'battery', setV: '3.8 V', limitA: '1 A' };
    const switchOn = async (): Promise<void> => {
      await until('armed', 120, async () => {
        const armed = await post(app, cookie, '/api/recorder/arm', { jobId, instrument: 'left', setup });
        if (armed.ok) ({ key } = ((await armed.json()) as { value: { key: string } }).value);
        return armed.ok;
      });
      expect((await post(app, cookie, '/api/recorder/output', { instrument: 'left', on: true, key })).status).toBe(200);
      expect(panel.panel.on).toBe(true);
    };

    // The database server is killed: it comes back, and what was on while somebody watched still is.
    await switchOn();
    const beat = setInterval(() => void post(app, cookie, '/api/recorder/alive', { key }).catch(() => undefined), 700);
    process.kill(app.databasePid(), 'SIGKILL');
    await until('it is said that it ended', 10, () => app.said.includes('The database ended'));
    const told = await fetch(`${app.url}/api/health`).then((r) => r.json() as Promise<{ words: string }>);
    expect(told.words).toMatch(/^The database is not available. It is restarting|^The database is available/);
    await until('the database is back', 240, async () => (await fetch(`${app.url}/api/health`)).ok);
    await until('it is said that it works', 10, () => app.said.includes('The database works again'));
    expect(panel.panel.on).toBe(true);
    clearInterval(beat);
    await until('off without a window', 5, () => !panel.panel.on);

    // Second starts stop nothing of what runs.
    const second = Started.spawn(folder, await freePort());
    expect(await second.ended()).toBe(1);
    expect(second.said).toContain(`Umbral already runs on this data folder, at ${app.url}.`);
    const elsewhere = Started.folder();
    const third = Started.spawn(elsewhere, app.port);
    expect(await third.ended()).toBe(1);
    expect(third.said).toContain(`Port ${app.port} is in use`);
    third.remove();
    expect((await fetch(`${app.url}/api/health`)).ok).toBe(true);

    // The start command itself is killed: off, and nothing of it is left but the database, which the next start takes over.
    await switchOn();
    app.child.kill('SIGKILL');
    await until('off with nobody there', 5, () => !panel.panel.on);
    const left = app.databasePid();
    app = await Started.spawn(folder, app.port).up();
    expect(app.databasePid()).toBe(left);
    await page.context().addCookies([{ name: 'umbral_session', value: cookie.split('=')[1], url: app.url }]);
    await page.goto(`${app.url}/jobs/${jobId}`);
    await expect(page.getByRole('heading', { name: /van phone/ })).toBeVisible();

    const rows = (await db('audit').where({ person_id: person }).whereLike('what', 'Left supply%').orderBy('id')) as {
      what: string;
      detail: { why?: string };
    }[];
    const whys = rows.filter((r) => r.what.endsWith('output off')).map((r) => r.detail.why);
    expect(whys).toEqual(['no contact with the window that armed it for 4 s', 'the recorder stopped']);
  } finally {
    await db.destroy();
    await app.stop();
    await panel.close();
    app.remove();
  }
});

test('a folder that cannot be written, and one that is no data of ours, are said in a sentence', async () => {
  const folder = Started.folder();
  const file = `${folder}/file`;
  writeFileSync(file, 'x');
  const onFile = Started.spawn(`${file}/data`, await freePort());
  expect(await onFile.ended()).toBe(1);
  expect(onFile.said).toMatch(/The data folder .* cannot be written \(ENOTDIR\)\. Give another with --data\./);
  mkdirSync(`${folder}/own/cluster`, { recursive: true });
  writeFileSync(`${folder}/own/cluster/letters.txt`, 'of somebody');
  const foreign = Started.spawn(`${folder}/own`, await freePort());
  expect(await foreign.ended()).toBe(1);
  expect(foreign.said).toContain('is not a database cluster and is not empty. Nothing in it was changed.');
  mkdirSync(`${folder}/broken/cluster`, { recursive: true });
  writeFileSync(`${folder}/broken/cluster/PG_VERSION`, '15');
  writeFileSync(`${folder}/broken/umbral.json`, '{"password": "half of');
  const broken = Started.spawn(`${folder}/broken`, await freePort());
  expect(await broken.ended()).toBe(1);
  expect(broken.said).toMatch(/umbral\.json cannot be read .* Restore it from a backup of the folder\./);
  const noPort = Started.spawn(folder, 99_999);
  expect(await noPort.ended()).toBe(1);
  expect(noPort.said).toContain('"99999" is not a port; expected a number from 1 to 65535.');
  rmSync(folder, { recursive: true, force: true });
});

test('a signal to npm ends everything that npm started, however npm ends', async () => {
  const folder = Started.folder();
  try {
    for (const signal of ['SIGTERM', 'SIGKILL'] as const) {
      const port = await freePort();
      const npm = spawn('npm', ['start', '--', '--port', String(port), '--data', folder], {
        cwd: root,
        stdio: ['ignore', 'pipe', 'ignore'],
        env: plainEnvironment(),
      });
      let said = '';
      npm.stdout.on('data', (d: Buffer) => (said += d.toString()));
      await until('it is up', 90, () => said.includes(`Umbral is at http://127.0.0.1:${port}`));
      npm.kill(signal);
      const answers = async (): Promise<boolean> => {
        const answer = await fetch(`http://127.0.0.1:${port}/api/health`).catch(() => null);
        return answer !== null;
      };
      await until('the pages are gone', 120, async () => !(await answers()));
      await until('the recorder stopped', 120, async () => (await holder('recorder', `${folder}/recorder`)) === null);
      await until('the start is gone', 120, async () => (await holder('start', folder)) === null);
    }
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
});

test('two starts from one checkout install and build one after the other', async () => {
  const folder = Started.folder();
  const file = join(folder, 'order');
  const work = `import { appendFileSync } from 'node:fs';
    import { inTurn } from './scripts/lib/install.mjs';
    await inTurn('order', async () => {
      appendFileSync(${JSON.stringify(file)}, 'in ');
      await new Promise((f) => setTimeout(f, 400));
      appendFileSync(${JSON.stringify(file)}, 'out ');
    });`;
  try {
    const starts = Array.from({ length: 3 }, () =>
      spawn(process.execPath, ['--input-type=module', '-e', work], { cwd: root, stdio: 'ignore' }),
    );
    const codes = await Promise.all(starts.map(async (child) => ((await once(child, 'exit')) as [number])[0]));
    expect(codes).toEqual([0, 0, 0]);
    expect(readFileSync(file, 'utf8')).toBe('in out in out in out ');
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
});

test('what fails while the machine is taken away is tried once more, and only that', async () => {
  const work = `import { Steps } from './scripts/lib/steps.mjs';
    const onMachine = async (isSlow) => {
      const steps = new Steps(() => ({ end: () => ({ taken: 0.4, stoodStill: 3, isSlow }) }));
      const first = async () => ({ passed: 1, failed: ['late', 'wrong'] });
      const asked = [];
      await steps.step('a file', first, async (run, failed) => (asked.push(failed), { passed: 1, failed: ['wrong'] }));
      await steps.check('a tool', async () => { throw new Error('broke off'); });
      await steps.tryAgain();
      return { asked, passed: steps.passed, failures: steps.failures, late: steps.passedAlone };
    };
    process.stderr.write(JSON.stringify([await onMachine(false), await onMachine(true)]));`;
  const child = spawn(process.execPath, ['--input-type=module', '-e', work], { cwd: root });
  let told = '';
  child.stderr.on('data', (text: Buffer) => (told += text.toString()));
  await once(child, 'close');
  expect(JSON.parse(told)).toEqual([
    { asked: [], passed: 1, failures: ['late', 'wrong', 'a tool'], late: [] },
    {
      asked: [['late', 'wrong'], ['wrong']],
      passed: 2,
      failures: ['wrong', 'a tool'],
      late: ['late (others took 40 % of the processors, this run stood still for up to 3.0 s)'],
    },
  ]);
});
