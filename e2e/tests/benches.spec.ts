import { spawn, type ChildProcess } from 'node:child_process';
import { createHash, randomBytes } from 'node:crypto';
import { once } from 'node:events';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import knex, { type Knex } from 'knex';
import { expect, test } from '@playwright/test';
import { freePort, root, until } from '../started.ts';

interface Panel {
  panel: { on: boolean };
  listen(): Promise<number>;
  close(): Promise<void>;
}
interface Web {
  url: string;
  child: ChildProcess;
  stop: () => Promise<void>;
}

const lib = {
  web: () => import('../../scripts/lib/web.mjs' as string) as Promise<{ startWeb: (o: object) => Promise<Web> }>,
  postgres: () =>
    import('../../scripts/lib/postgres.mjs' as string) as Promise<{
      startCluster: (
        folder: string,
        o: object,
      ) => Promise<{ url: string; ownerUrl: string; home: string; stop: () => Promise<void> }>;
    }>,
  schema: () =>
    import('../../scripts/lib/schema.mjs' as string) as Promise<{
      migrate: (ownerUrl: string, url: string) => Promise<void>;
    }>,
};

/** A supply and a meter at a bench that is elsewhere. */
async function instruments(): Promise<{ supply: Panel; meter: Panel; ports: [number, number] }> {
  const { shippedProfiles } = (await import('../../core/dist/index.js' as string)) as { shippedProfiles: object[] };
  const simulated = (await import('../../instruments/dist/index.js' as string)) as {
    SimulatedBench: new (profile: object, faults: [], now: () => number) => object;
    SimulatedSupply: new (bench: object) => Panel;
    SimulatedMeter: new (bench: object, o: object) => Panel;
  };
  const bench = new simulated.SimulatedBench(shippedProfiles[0], [], () => performance.now() / 1000);
  const supply = new simulated.SimulatedSupply(bench);
  const meter = new simulated.SimulatedMeter(bench, { rateHz: 200 });
  return { supply, meter, ports: [await supply.listen(), await meter.listen()] };
}

function agent(server: string, token: string, folder: string): ChildProcess & { said: string } {
  const args = ['cli/bin/umbral.js', 'bench', '--server', server, '--name', 'Van bench', '--data', folder];
  const child = spawn(process.execPath, args, {
    cwd: root,
    stdio: ['ignore', 'pipe', 'pipe'],
    env: { ...process.env, UMBRAL_TOKEN: token },
  });
  const told = Object.assign(child, { said: '' });
  for (const stream of [child.stdout, child.stderr]) stream?.on('data', (d: Buffer) => (told.said += d.toString()));
  return told;
}

async function makeToken(db: Knex, personId: number, scopes: string[]): Promise<string> {
  const token = `umbral_${randomBytes(32).toString('base64url')}`;
  const hash = createHash('sha256').update(token).digest('hex');
  await db('tokens').insert({ name: `for ${scopes.join()}`, hash, scopes, person_id: personId });
  return token;
}

test('a bench elsewhere records through a server that dies, loses nothing, doubles nothing, and switches off by itself', async () => {
  const scratch = mkdtempSync(join(tmpdir(), 'umbral-benches-'));
  const { startCluster } = await lib.postgres();
  const { migrate } = await lib.schema();
  const { startWeb } = await lib.web();
  const cluster = await startCluster(join(scratch, 'db'), { throwAway: true });
  await migrate(cluster.ownerUrl, cluster.url);
  const db = knex({ client: 'pg', connection: cluster.ownerUrl, pool: { min: 0, max: 4 } });
  const { supply, meter, ports } = await instruments();
  const port = await freePort();
  const env = { UMBRAL_DEMO: 'yes', UMBRAL_DATA_FOLDER: scratch, UMBRAL_RECORDER_URL: '', UMBRAL_OPERATOR_URL: '' };
  const begin = (at: number): Promise<Web> => startWeb({ port: at, databaseUrl: cluster.url, quiet: true, env });
  let web = await begin(port);
  const second = await begin(await freePort());
  const running: ChildProcess[] = [];
  const post = (path: string, body: object, at = second.url) =>
    fetch(at + path, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) });
  try {
    await fetch(`${web.url}/settings`);
    const [{ id: person }] = (await db('people').where({ role: 'lead' }).select('id')) as { id: number }[];
    const token = await makeToken(db, person, ['bench']);
    const wrong = await makeToken(db, person, ['packages:read']);

    // A token that may not, and none at all.
    const refused = agent(web.url, wrong, join(scratch, 'wrong'));
    running.push(refused);
    await until('it is refused', 30, () => refused.said.includes('may not do this'));
    refused.kill('SIGTERM');
    await once(refused, 'exit');

    const first = agent(web.url, token, join(scratch, 'van'));
    running.push(first);
    await until('connected', 30, () => first.said.includes('Connected.'));
    const [{ id: bench }] = (await db('benches').select('id')) as { id: number }[];
    const [{ id: jobId }] = (await db('jobs')
      .insert({ label: 'van phone', device_class: 'phone' })
      .returning('id')) as { id: number }[];
    for (const [k, kind] of (['supply', 'meter'] as const).entries()) {
      const spec = {
        key: `van-${kind}`,
        name: `Van ${kind}`,
        kind,
        transport: { kind: 'tcp', host: '127.0.0.1', port: ports[k] },
        dialect: kind === 'supply' ? 'scpi-usual' : 'lines-usual',
        calibration: { gainV: 1, offsetV: 0, gainA: 1, offsetA: 0 },
        simulated: false,
      };
      await db('instruments').insert({ key: spec.key, spec: JSON.stringify(spec), bench_id: bench });
    }

    // A second process that claims the same bench is refused, and touches nothing.
    const claim = agent(second.url, token, join(scratch, 'claim'));
    running.push(claim);
    await until('it is refused', 30, () => claim.said.includes('already connected from another process'));
    claim.kill('SIGTERM');
    await once(claim, 'exit');

    // Two web processes: the bench is connected to one, the window asks the other.
    const armed = async (url?: string): Promise<string> => {
      let key = '';
      await until('armed', 120, async () => {
        const answer = await post('/api/recorder/arm', { jobId, instrument: 'van-supply', setup }, url);
        if (answer.ok) ({ key } = ((await answer.json()) as { value: { key: string } }).value);
        return answer.ok;
      });
      return key;
    };
    const setup = { feed: 'battery', setV: '3.8 V', limitA: '1 A' };
    first.kill('SIGTERM');
    await once(first, 'exit');
    const van = agent(web.url, token, join(scratch, 'van'));
    running.push(van);
    await until(
      'recording',
      40,
      async () => (await post('/api/recorder/record', { jobId, instrument: 'van-meter', setup: { feed: 'usb-c' } })).ok,
    );
    const key = await armed();
    expect((await post('/api/recorder/output', { instrument: 'van-supply', on: true, key })).status).toBe(200);
    expect(supply.panel.on).toBe(true);
    const [{ id: recording }] = (await db('recordings').select('id')) as { id: number }[];

    // What it records is on a screen that is connected to the other process.
    const screen = new AbortController();
    const events = await fetch(`${second.url}/api/recorder/events`, { signal: screen.signal });
    let seen = '';
    const reading = (async () => {
      for await (const piece of events.body as unknown as AsyncIterable<Uint8Array>)
        seen += Buffer.from(piece).toString();
    })().catch(() => undefined);
    await until('samples on the screen', 10, () => (seen.match(/event: samples/g) ?? []).length > 5);
    expect(seen).toContain('"name":"Van meter"');

    // The process that the bench is connected to dies; nobody can say any more that a window is there: off, by the bench itself.
    web.child.kill('SIGKILL');
    await second.stop();
    screen.abort();
    await reading;
    await until('off by the bench itself', 6, () => !supply.panel.on);
    await until('it says that it is not connected', 15, () => van.said.includes('Not connected:'));
    web = await begin(port);
    await until('reconnected', 30, () => (van.said.match(/Connected\./g) ?? []).length >= 2);
    await until(
      'stopped',
      120,
      async () => (await post('/api/recorder/stop', { instrument: 'van-meter' }, web.url)).ok,
    );
    await until(
      'all of it',
      20,
      async () =>
        (await db('recordings').where({ id: recording }).first<{ state: string }>('state'))?.state === 'finished',
    );

    const { unpackSamples } = (await import('../../instruments/dist/store/samples.js' as string)) as {
      unpackSamples: (row: object) => Promise<{ t: Float64Array }>;
    };
    const rows = (await db('recording_chunks').where({ recording_id: recording }).orderBy('seq')) as { seq: number }[];
    expect(rows.map((r) => r.seq)).toEqual(rows.map((_, k) => k));
    const t: number[] = [];
    for (const row of rows) t.push(...(await unpackSamples(row)).t);
    expect(t.length).toBeGreaterThan(200 * 6);
    t.slice(1).forEach((x, k) => {
      expect(x).toBeGreaterThan(t[k]);
      expect(x - t[k]).toBeLessThan(0.5);
    });
    const told = (await db('audit').whereLike('what', 'Van supply%').orderBy('id')) as unknown as {
      what: string;
      detail: { bench: string; why?: string };
    }[];
    expect(told.map((r) => r.what)).toEqual(['Van supply: armed', 'Van supply: output on', 'Van supply: output off']);
    expect(told[2].detail).toMatchObject({
      bench: 'Van bench',
      why: 'no contact with the window that armed it for 4 s',
    });

    // The recorder of the bench is killed while its output is on: its watchdog switches off.
    const again = { instrument: 'van-supply', on: true, key: await armed(web.url) };
    await post('/api/recorder/output', again, web.url);
    expect(supply.panel.on).toBe(true);
    van.kill('SIGKILL');
    await until('off by the watchdog', 5, () => !supply.panel.on);
  } finally {
    for (const child of running) child.kill('SIGKILL');
    await db.destroy();
    await Promise.all([web.stop(), second.stop()]);
    await Promise.all([supply.close(), meter.close()]);
    await cluster.stop();
    rmSync(cluster.home, { recursive: true, force: true });
    rmSync(scratch, { recursive: true, force: true });
  }
});
