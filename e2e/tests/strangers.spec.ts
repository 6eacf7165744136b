import { once } from 'node:events';
import { mkdtempSync, rmSync } from 'node:fs';
import { request as httpRequest, type IncomingMessage } from 'node:http';
import { connect, type Socket } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import knex, { type Knex } from 'knex';
import { expect, test, type Browser, type Page } from '@playwright/test';
import { freePort, somebody, until } from '../started.ts';

interface Web {
  url: string;
  stop: () => Promise<void>;
}

const scratch = mkdtempSync(join(tmpdir(), 'umbral-strangers-'));
const stops: (() => unknown)[] = [];
let web: Web;
let db: Knex;
let port = 0;

// An application that is no demo: nobody is signed in by themselves.
test.beforeAll(async () => {
  const { migrate } = (await import('../../scripts/lib/schema.mjs' as string)) as {
    migrate: (ownerUrl: string, url: string) => Promise<void>;
  };
  const { startCluster } = (await import('../../scripts/lib/postgres.mjs' as string)) as {
    startCluster: (
      folder: string,
      o: object,
    ) => Promise<{ url: string; ownerUrl: string; home: string; stop: () => Promise<void> }>;
  };
  const { startWeb } = (await import('../../scripts/lib/web.mjs' as string)) as {
    startWeb: (o: object) => Promise<Web>;
  };
  const cluster = await startCluster(join(scratch, 'db'), { throwAway: true });
  stops.push(async () => {
    await cluster.stop();
    rmSync(cluster.home, { recursive: true, force: true });
  });
  await migrate(cluster.ownerUrl, cluster.url);
  db = knex({ client: 'pg', connection: cluster.ownerUrl, pool: { min: 0, max: 2 } });
  stops.push(() => db.destroy());
  port = await freePort();
  const env = { UMBRAL_DEMO: '', UMBRAL_DATA_FOLDER: scratch, UMBRAL_RECORDER_URL: '', UMBRAL_OPERATOR_URL: '' };
  web = await startWeb({ port, databaseUrl: cluster.url, quiet: true, env });
  stops.push(() => web.stop());
});

test.afterAll(async () => {
  for (const stop of stops.reverse()) await stop();
  rmSync(scratch, { recursive: true, force: true });
});

async function ask(path: string, options: { method?: string; headers?: Record<string, string>; body?: string } = {}) {
  const asked = httpRequest({
    host: '127.0.0.1',
    port,
    path,
    method: options.method ?? 'GET',
    headers: options.headers,
  });
  asked.end(options.body);
  const [answer] = (await once(asked, 'response')) as [IncomingMessage];
  let text = '';
  for await (const piece of answer) text += String(piece);
  return { status: answer.statusCode ?? 0, text, location: answer.headers.location ?? '', headers: answer.headers };
}

async function code(): Promise<string> {
  const { makeCode } = (await import('../../scripts/lib/people.mjs' as string)) as {
    makeCode: (db: Knex, personId: number | null) => Promise<string>;
  };
  return makeCode(db, null);
}

async function ready(page: Page): Promise<void> {
  await page.waitForFunction(() => document.documentElement.dataset.live === 'yes');
}

async function enter(page: Page, name: string, password: string): Promise<void> {
  await page.goto(`${web.url}/sign-in`);
  await ready(page);
  const form = page.getByRole('region', { name: 'Sign in with a password' });
  await form.getByLabel('Name').fill(name);
  await form.getByLabel('Password').fill(password);
  await form.getByRole('button', { name: 'Sign in' }).click();
}

const window = async (browser: Browser): Promise<Page> => (await browser.newContext()).newPage();

test('people come in by name, with what their role may; a screen locks and opens with a PIN', async ({ browser }) => {
  const page = await window(browser);
  // Nobody works here: the code from the console makes the first lead.
  await page.goto(web.url);
  await page.waitForURL(/\/sign-in$/);
  await ready(page);
  await page.getByLabel('Code').fill('wrong-code');
  await page.getByLabel('Name').fill('Ottilie Fenn');
  await page.getByLabel('New password').fill('a long enough one');
  await page.getByRole('button', { name: 'Create account' }).click();
  await expect(page.getByRole('alert').first()).toContainText('This code is wrong');
  await page.getByLabel('Code').fill(await code());
  await page.getByRole('button', { name: 'Create account' }).click();
  await expect(page.getByRole('button', { name: /Ottilie Fenn/ })).toBeVisible();

  await page.goto(`${web.url}/settings`);
  await ready(page);
  const people = page.getByRole('region', { name: 'People' });
  await people.getByLabel('Name').fill('Bram Sorley');
  await people.getByLabel('First password').fill('told to him today');
  await people.getByRole('button', { name: 'Add' }).click();
  await expect(people.getByText('technician, no PIN yet')).toBeVisible();
  await page.goto(`${web.url}/health`);
  await expect(page.getByRole('heading', { name: 'Health' })).toBeVisible();

  // The technician: wrong, then right; a PIN; no settings, no export, no health.
  const other = await window(browser);
  await enter(other, 'Bram Sorley', 'not told to him');
  await expect(other.getByRole('alert').first()).toContainText('Wrong name or password.');
  await enter(other, 'bram sorley', 'told to him today');
  await other.getByRole('button', { name: /Bram Sorley/ }).click();
  await other.getByText('My PIN and password').click();
  await other.getByLabel('Current password').fill('told to him today');
  await other.getByLabel('PIN, 4 to 8 digits').fill('4711');
  await other.getByRole('button', { name: 'Choose PIN' }).click();
  await expect(other.getByText('PIN saved.')).toBeVisible();
  await other.goto(`${web.url}/settings`);
  await expect(other.getByText('Only a lead can change instruments and policy.')).toBeVisible();
  await expect(other.getByRole('button', { name: 'Add an instrument' })).toBeDisabled();
  await expect(other.getByRole('region', { name: 'People' })).toHaveCount(0);
  await other.goto(`${web.url}/health`);
  await other.waitForURL(`${web.url}/`);
  const [{ id: jobId }] = (await db('jobs').insert({ label: 'van phone', device_class: 'phone' }).returning('id')) as {
    id: number;
  }[];
  for (const path of [`/api/jobs/${jobId}/package`, '/api/export'])
    expect((await other.request.get(web.url + path)).status()).toBe(403);
  expect((await other.request.get(`${web.url}/api/jobs/${jobId}/assessment`)).status()).toBe(200);

  // Two in one job: each sees the other, what is being changed, and what was changed.
  await page.goto(`${web.url}/jobs/${jobId}`);
  await other.goto(`${web.url}/jobs/${jobId}`);
  await ready(page);
  await ready(other);
  await expect(page.getByText('Bram Sorley is here too')).toBeVisible();
  await other.getByRole('button', { name: 'Add a run' }).first().click();
  await other.getByRole('textbox', { name: /Readings/ }).fill('battery 3.9V limit 3A: 0 | prompt 0.07 hold');
  await expect(page.getByText(/Bram Sorley is changing “Readings/)).toBeVisible();
  await other.getByRole('dialog').getByRole('button', { name: 'Add run' }).click();
  await expect(page.getByText(/Bram Sorley: run r1 typed/)).toBeVisible();
  const shows = (on: Page, run: RegExp): Promise<void> =>
    expect(
      on
        .getByRole('button', { name: run })
        .or(on.getByRole('link', { name: run }))
        .first(),
    ).toBeVisible();
  await shows(page, /r1:/);
  await expect(
    page
      .getByRole('list', { name: 'History' })
      .getByText(/· Bram Sorley$/)
      .first(),
  ).toBeVisible();

  // What a lead practises on is nobody else's: not its answer over the API, and none of its pages.
  const { id: leadId } = (await db('people').where({ name: 'Ottilie Fenn' }).first('id')) as { id: number };
  const practised = { label: 'to practise on', device_class: 'phone' as const, is_practice: true };
  const [{ id: unitId }] = (await db('jobs').insert(practised).returning('id')) as { id: number }[];
  const hidden = {
    source: 'free' as const,
    profile: 'usual-phone',
    profile_version: 1,
    seed: 1,
    device: '{}',
    faults: '[]',
  };
  await db('practice_units').insert({ ...hidden, job_id: unitId, person_id: leadId, circuit: 'pmic', says: '' });
  expect((await other.request.get(`${web.url}/api/jobs/${unitId}/assessment`)).status()).toBe(403);
  const stranger = await other.context().newPage();
  for (const place of ['', 'record', 'compare', 'measure', 'locate', 'verify', 'worth', 'parts', 'report']) {
    await stranger.goto(`${web.url}/jobs/${unitId}/${place}`);
    await expect(stranger.getByText('another person’s practice unit')).toBeVisible();
  }
  await stranger.close();

  // Locked: what is open stays, nothing is stored, off is still possible; the PIN opens it.
  await other.getByRole('button', { name: /Bram Sorley/ }).click();
  await other.getByRole('button', { name: 'Lock this screen' }).click();
  await expect(other.getByRole('dialog').getByRole('heading', { name: 'Locked' })).toBeVisible();
  await until(
    'locked',
    5,
    async () => (await other.request.get(`${web.url}/api/jobs/${jobId}/assessment`)).status() === 423,
  );
  expect((await other.request.get(`${web.url}/api/jobs/${jobId}/package`)).status()).toBe(423);
  const off = await other.request.post(`${web.url}/api/recorder/output`, {
    data: { instrument: 'x', on: false },
  });
  expect(off.status()).toBe(404);
  // What others save meanwhile does not take the locked page away.
  await page.getByRole('button', { name: /^Run/ }).first().click();
  await page.getByRole('textbox', { name: /Readings/ }).fill('battery 3.9V limit 3A: 0 | prompt 0.08 hold');
  await page.getByRole('dialog').getByRole('button', { name: 'Add run' }).click();
  await shows(page, /r2:/);
  expect(other.url()).toMatch(/\/jobs\/\d+/);
  await other.getByLabel('PIN').fill('4712');
  await other.getByRole('button', { name: 'Continue as Bram Sorley' }).click();
  await expect(other.getByText('Wrong PIN.')).toBeVisible();
  await other.getByLabel('PIN').fill('4711');
  await other.getByRole('button', { name: 'Continue as Bram Sorley' }).click();
  await expect(other.getByRole('dialog')).toHaveCount(0);
  await shows(other, /r2:/);
  expect((await other.request.get(`${web.url}/api/jobs/${jobId}/assessment`)).status()).toBe(200);

  // What is typed into a dialog is there after a reload, after Back, and after signing in anew.
  const line = 'battery 3.9V limit 3A: 0 | prompt 0.09 hold';
  const typed = other.getByRole('dialog').getByRole('textbox', { name: /Readings/ });
  const openDialog = async (): Promise<void> => {
    await ready(other);
    await other.getByRole('button', { name: /^Run/ }).first().click();
  };
  await other.goto(web.url);
  await ready(other);
  await other
    .getByRole('link', { name: /van phone/ })
    .first()
    .click();
  await other.waitForURL(/\/jobs\/\d+/);
  await openDialog();
  await typed.fill(line);
  await other.reload();
  await openDialog();
  await expect(other.getByText('What you typed here earlier has been restored.')).toBeVisible();
  await expect(typed).toHaveValue(line);
  await other.goBack();
  await other.waitForURL(`${web.url}/`);
  await expect(other.getByRole('dialog')).toHaveCount(0);
  await other.goForward();
  await openDialog();
  await expect(typed).toHaveValue(line);
  await db('sessions')
    .whereIn('person_id', db('people').select('id').where({ name: 'Bram Sorley' }))
    .delete();
  await other.reload();
  await other.waitForURL(/\/sign-in$/);
  await enter(other, 'Bram Sorley', 'told to him today');
  await expect(other.getByRole('button', { name: /Bram Sorley/ })).toBeVisible();
  await other.goto(`${web.url}/jobs/${jobId}`);
  await openDialog();
  await expect(typed).toHaveValue(line);
  await other.keyboard.press('Escape');
  await openDialog();
  await expect(typed).toHaveValue('');
  await other.keyboard.press('Escape');

  // Signed out: a stolen cookie is worth nothing any more.
  const stolen = (await other.context().cookies()).find((c) => c.name === 'umbral_session');
  expect(stolen).toMatchObject({ httpOnly: true, sameSite: 'Strict' });
  await other.getByRole('button', { name: /Bram Sorley/ }).click();
  await other.getByRole('button', { name: 'Sign out' }).click();
  await other.waitForURL(/\/sign-in$/);
  const again = await ask(`/api/jobs/${jobId}/assessment`, { headers: { cookie: `umbral_session=${stolen?.value}` } });
  expect(again.status).toBe(401);
});

test('nobody who does not belong here reads or changes anything', async () => {
  const { cookie } = await somebody(db, 'Lead of the attacks', 'lead');
  const own = { cookie, host: `127.0.0.1:${port}` };
  // Without a session.
  for (const path of ['/', '/jobs/1', '/settings', '/models', '/atlas', '/health']) {
    const answer = await ask(path);
    expect([path, answer.status, answer.location]).toEqual([path, 307, '/sign-in']);
  }
  for (const path of [
    '/api/jobs/1/assessment',
    '/api/jobs/1/package',
    '/api/recorder/events',
    '/api/export',
    '/api/jobs/1/events',
  ])
    expect([path, (await ask(path)).status]).toEqual([path, 401]);
  for (const bad of ['umbral_session=', 'umbral_session=x', `umbral_session=${'x'.repeat(3000)}`, 'umbral_session=%00'])
    expect((await ask('/api/jobs/1/assessment', { headers: { cookie: bad } })).status).toBe(401);
  // With one that is over.
  const late = await somebody(db, 'Who left long ago', 'lead');
  await db('sessions')
    .where({ person_id: late.id })
    .update({ expires_at: db.raw("now() - interval '1 minute'") });
  expect((await ask('/api/jobs/1/assessment', { headers: { cookie: late.cookie } })).status).toBe(401);
  // By a foreign name that resolves to this computer, and from pages of other sites, with a good cookie.
  const body = JSON.stringify({ instrument: 'left', on: true, key: 'of-somebody-else' });
  const json = { 'content-type': 'application/json', 'content-length': String(body.length) };
  for (const [headers, status] of [
    [{ ...own, host: 'evil.example' }, 421],
    [{ ...own, host: `evil.example:${port}`, origin: `http://evil.example:${port}` }, 421],
    [{ ...own, origin: 'http://evil.example' }, 403],
    [{ ...own, origin: 'null' }, 403],
    [{ ...own, 'sec-fetch-site': 'cross-site' }, 403],
    [{ ...own, 'sec-fetch-site': 'same-site' }, 403],
  ] as const)
    for (const path of ['/api/recorder/arm', '/api/recorder/output', '/api/packages', '/settings'])
      expect([path, (await ask(path, { method: 'POST', headers: { ...headers, ...json }, body })).status]).toEqual([
        path,
        status,
      ]);
  const framed = { ...own, 'sec-fetch-site': 'cross-site', 'sec-fetch-mode': 'no-cors', 'sec-fetch-dest': 'image' };
  expect((await ask('/api/attachments/1', { headers: framed })).status).toBe(403);
  const page = await ask('/', { headers: own });
  expect(page.headers['content-security-policy']).toMatch(
    /script-src 'self' 'nonce-[^']+' 'strict-dynamic'; .*frame-ancestors 'none'/,
  );
  expect(page.text).not.toMatch(/<script(?![^>]*nonce)[^>]*>/);
});

test('odd numbers, names and bodies are answered with a sentence, never with a failure', async () => {
  const { cookie } = await somebody(db, 'Who tries everything', 'lead');
  const ids = [
    '0',
    '-1',
    '1.5',
    '1e3',
    'abc',
    '99999999999999999999',
    '%00',
    '%F0%9F%92%A5',
    "1'--",
    '../1',
    '%2e%2e',
    'x'.repeat(500),
  ];
  for (const id of ids)
    for (const path of [
      `/jobs/${id}`,
      `/models/${id}`,
      `/api/jobs/${id}/package`,
      `/api/jobs/${id}/assessment`,
      `/api/attachments/${id}`,
      `/api/jobs/${id}/report`,
      `/api/models/${id}`,
      `/api/jobs/1/runs/${id}/window?from=0&to=1`,
      `/api/jobs/1/dumps/${id}`,
      `/api/jobs/${id}/events`,
    ]) {
      const { status } = await ask(path, { headers: { cookie } });
      expect(`${path} ${status >= 500 ? status : 'answered'}`).toBe(`${path} answered`);
    }
  const bodies = [
    '',
    '{',
    'null',
    '[]',
    '"x"',
    '{"jobId":"x"}',
    `{"by":"${'x'.repeat(100)}"}`,
    '{"__proto__":{"a":1}}',
  ];
  for (const body of bodies)
    for (const path of [
      '/api/recorder/arm',
      '/api/recorder/record',
      '/api/recorder/output',
      '/api/recorder/constructor',
      '/api/jobs/1/presence',
      '/api/packages',
      '/api/read',
      '/api/bench/hello',
      '/api/jobs/1/runs?setup=%7B',
    ]) {
      const { status } = await ask(path, {
        method: 'POST',
        headers: { cookie, 'content-length': String(Buffer.byteLength(body)) },
        body,
      });
      expect(`${path} ${body} ${status >= 500 ? status : 'answered'}`).toBe(`${path} ${body} answered`);
    }
});

test('uploads that never end keep nobody waiting', async () => {
  const { cookie } = await somebody(db, 'Who sends slowly', 'technician');
  const [{ id: jobId }] = (await db('jobs').insert({ label: 'slow one', device_class: 'phone' }).returning('id')) as {
    id: number;
  }[];
  const sockets: Socket[] = [];
  for (let n = 0; n < 14; n++) {
    const socket = connect(port, '127.0.0.1');
    socket.on('error', () => undefined);
    const head = `POST /api/jobs/${jobId}/runs?name=slow-${n}.csv&setup=%7B%22feed%22%3A%22battery%22%7D HTTP/1.1\r\nhost: 127.0.0.1:${port}\r\ncookie: ${cookie}\r\ncontent-length: 100000000\r\n\r\n`;
    socket.write(`${head}t_s,current_A\n`);
    sockets.push(socket);
  }
  try {
    // They are inside: the door counts what it has begun to answer.
    await Promise.all(
      sockets.map((s) => until('what was sent has left', 5, () => s.writableLength === 0 && s.bytesWritten > 0)),
    );
    const answers = Promise.all(Array.from({ length: 6 }, () => ask('/', { headers: { cookie } })));
    const late = new Promise<null>((resolve) => setTimeout(() => resolve(null), 15_000));
    const found = await Promise.race([answers, late]);
    expect(found?.map((a) => a.status)).toEqual([200, 200, 200, 200, 200, 200]);
    // Another sends a file meanwhile, and it is taken.
    const other = await somebody(db, 'Who sends as people do', 'technician');
    const log = 't_s,current_A\n0,0.1\n1,0.1\n2,0.2\n';
    const taken = await ask(`/api/jobs/${jobId}/runs?name=a.csv&setup=%7B%22feed%22%3A%22battery%22%7D`, {
      method: 'POST',
      headers: { cookie: other.cookie, 'content-length': String(log.length) },
      body: log,
    });
    expect(taken.status).toBe(200);
    const { rows } = (await db.raw(
      "SELECT count(*)::int AS n FROM pg_stat_activity WHERE datname = current_database() AND state = 'idle in transaction'",
    )) as { rows: { n: number }[] };
    expect(rows[0].n).toBe(0);
  } finally {
    for (const socket of sockets) socket.destroy();
  }
});

test('programs come in with a token that may, and with no other', async () => {
  const { id } = await somebody(db, 'Who makes tokens', 'lead');
  const { createHash, randomBytes } = await import('node:crypto');
  const make = async (scopes: string[]): Promise<string> => {
    const token = `umbral_${randomBytes(32).toString('base64url')}`;
    await db('tokens').insert({
      name: scopes.join(),
      hash: createHash('sha256').update(token).digest('hex'),
      scopes,
      person_id: id,
    });
    return token;
  };
  const [{ id: jobId }] = (await db('jobs')
    .insert({ label: 'for programs', device_class: 'phone' })
    .returning('id')) as { id: number }[];
  await db('readings').insert({ job_id: jobId, where: 'coil 1', mode: 'resistance', value: 12, unit: 'ohm' });
  const { spawnSync } = await import('node:child_process');
  const { root } = await import('../started.ts');
  const umbral = (...args: string[]) => {
    const done = spawnSync(process.execPath, [join(root, 'cli/bin/umbral.js'), ...args, '--server', web.url], {
      encoding: 'utf8',
    });
    return { code: done.status, said: done.stdout + done.stderr };
  };
  const [read, write] = [await make(['packages:read']), await make(['packages:write'])];
  const file = join(scratch, 'one.zip');
  expect(umbral('pull', String(jobId), '--token', write, '--out', file)).toMatchObject({ code: 1 });
  expect(umbral('pull', String(jobId), '--token', 'umbral_wrong', '--out', file).said).toContain(
    'This token is unknown',
  );
  expect(umbral('pull', String(jobId), '--token', read, '--out', file)).toMatchObject({ code: 0 });
  expect(umbral('push', file, '--token', read).said).toContain('may not do this');
  expect(umbral('push', file, '--token', write).said).toMatch(/Job \d+ was created\./);
  const [made] = (await db('jobs').orderBy('id', 'desc').limit(1)) as { person_id: number }[];
  expect(made.person_id).toBe(id);
  // A token opens what its scope says, and no page.
  expect((await ask('/api/recorder/events', { headers: { authorization: `Bearer ${read}` } })).status).toBe(403);
  expect(
    (
      await ask('/api/bench/hello', {
        method: 'POST',
        headers: { authorization: `Bearer ${read}`, 'content-length': '2' },
        body: '{}',
      })
    ).status,
  ).toBe(403);
  await db('tokens').update({ revoked_at: db.fn.now() });
  // What was found of a token is remembered for three seconds.
  await until('revoked', 8, () =>
    umbral('pull', String(jobId), '--token', read, '--out', join(scratch, 'two.zip')).said.includes(
      'unknown or was revoked',
    ),
  );
});
