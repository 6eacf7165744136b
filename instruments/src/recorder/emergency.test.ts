import { once } from 'node:events';
import knex from 'knex';
import { CuttableWay } from '../testing/proxy.ts';
import { now, until, useRecorders } from '../testing/recorders.ts';
import { holderOf } from '../../plain/lock.cjs';
import { diskOf } from './disk.ts';
import type { RecorderHealth } from './index.ts';

const use = useRecorders();
const { bench, recorder, ownProcess, samplesOf, rowOf, closing } = use;
type Speaks = Pick<Awaited<ReturnType<typeof ownProcess>>, 'call' | 'alive' | 'switchOn'>;

/** Armed and on, as a person leaves it. */
async function switchOn(r: Speaks, parts: Awaited<ReturnType<typeof bench>>, more: object = {}): Promise<string> {
  const key = await r.switchOn(more);
  expect(parts.supply.panel.on).toBe(true);
  return key;
}
const off = (parts: Awaited<ReturnType<typeof bench>>) => until(() => !parts.supply.panel.on, 'the output goes off', 5);
const health = async (r: Speaks) => (await r.call('/health')).value as unknown as RecorderHealth;

/** A way to the database that can be cut. */
async function cuttable() {
  const { hostname, port } = new URL(use.schema.url);
  const way = new CuttableWay({ host: hostname, port: Number(port) });
  const through = new URL(use.schema.url);
  through.port = String(await way.listen());
  closing.push(() => way.close());
  return { way, databaseUrl: through.href };
}

const passed = (seconds: number): Promise<unknown> => {
  const began = now();
  return until(() => now() - began >= seconds, 'the time');
};

/** Somebody holds the output while `work` goes on. */
async function watching<T>(r: Speaks, key: string, work: () => Promise<T>): Promise<T> {
  const timer = setInterval(() => void r.alive(key).catch(() => undefined), 500);
  try {
    return await work();
  } finally {
    clearInterval(timer);
  }
}

describe('an output that was on goes off within five seconds, as the supply itself says, when', () => {
  test('the recorder is killed and nobody starts another', async () => {
    const parts = await bench();
    const r = await ownProcess(parts);
    await switchOn(r, parts);
    r.child.kill('SIGKILL');
    await off(parts);
  });

  test('the recorder hangs while somebody goes on watching; it is ended, so that it cannot come back to it', async () => {
    const parts = await bench();
    const r = await ownProcess(parts);
    await switchOn(r, parts);
    const ended = once(r.child, 'exit');
    r.child.kill('SIGSTOP');
    await off(parts);
    expect((await ended)[1]).toBe('SIGKILL');
  });

  test('the database goes away and then the recorder is killed', async () => {
    const parts = await bench();
    const { way, databaseUrl } = await cuttable();
    const r = await ownProcess(parts, { databaseUrl });
    const key = await switchOn(r, parts);
    way.cut();
    await watching(r, key, () => until(async () => (await health(r)).database === 'away', 'it is noticed'));
    expect(parts.supply.panel.on).toBe(true);
    r.child.kill('SIGKILL');
    await off(parts);
  });

  test('whoever started the recorder stopped', async () => {
    const parts = await bench();
    const r = await ownProcess(parts);
    const id = await r.record('supply');
    await switchOn(r, parts);
    const ended = once(r.child, 'exit');
    r.child.disconnect();
    await off(parts);
    await ended;
    expect((await rowOf(id))?.state).toBe('finished');
  });

  test('the recorder and its watchdog are killed: the next recorder does it, without a database', async () => {
    const parts = await bench();
    const { way, databaseUrl } = await cuttable();
    const first = await ownProcess(parts, { databaseUrl });
    await switchOn(first, parts);
    const [, watchdog] = await watchdogOf(first.child.pid ?? 0);
    process.kill(watchdog, 'SIGKILL');
    first.child.kill('SIGKILL');
    await once(first.child, 'exit');
    way.cut();
    expect(parts.supply.panel.on).toBe(true);
    const second = await ownProcess(parts, { databaseUrl, folder: first.folder });
    expect(parts.supply.panel.on).toBe(false);
    const refused = await second.arm();
    expect(refused.value.problem).toMatch(
      /^The database is not available\. Nothing can be armed or recorded until it is back\./,
    );
    await expect(second.record('supply')).rejects.toThrow('The database is not available');
    way.giveBack();
    await until(async () => (await health(second)).database === 'ours', 'the database is back');
    await switchOn(second, parts);
  });

  test('the clock of the machine jumps, forwards or backwards, and then the window is gone', async () => {
    const parts = await bench();
    const r = await recorder(parts);
    const key = await switchOn(r, parts);
    const real = Date.now.bind(Date);
    const jump = jest.spyOn(Date, 'now');
    try {
      for (const hours of [26, -26]) {
        jump.mockImplementation(() => real() + 3_600_000 * hours);
        const at = now();
        await watching(r, key, () => until(() => now() - at > 1.5, 'more than a heartbeat'));
        expect(parts.supply.panel.on).toBe(true);
      }
      await off(parts);
    } finally {
      jump.mockRestore();
    }
  });
});

/** The processes that a process has started. */
async function watchdogOf(pid: number): Promise<number[]> {
  const { readFile } = await import('node:fs/promises');
  const children = await readFile(`/proc/${pid}/task/${pid}/children`, 'utf8');
  return [pid, ...children.trim().split(' ').map(Number)];
}

describe('what the watchdog did', () => {
  const trail = async (after: number) =>
    (await use.schema.db('audit').where('id', '>', after).orderBy('id')) as {
      what: string;
      job_id: number | null;
      person_id: number | null;
      detail: { why?: string };
      created_at: Date;
    }[];
  const lastId = async (): Promise<number> => (await use.schema.db('audit').max<{ n: number }[]>('id as n'))[0].n ?? 0;
  const [killed, hung] = [(pid: number) => process.kill(pid, 'SIGKILL'), (pid: number) => process.kill(pid, 'SIGSTOP')];

  test.each([
    ['a recorder that was killed', killed, 'the recorder stopped'],
    ['a recorder that hung', hung, 'the recorder does not answer'],
  ])(
    'for %s is in the record of the next one, once, with its time; the recording says why it ended',
    async (_, end, why) => {
      const parts = await bench();
      const first = await ownProcess(parts);
      const before = await lastId();
      const [{ id: person }] = (await use.schema
        .db('people')
        .insert({ name: `Ottilie ${why}`, role: 'technician' })
        .returning('id')) as { id: number }[];
      const id = await first.record('supply');
      await switchOn(first, parts, { jobId: use.jobId, person });
      await until(async () => (await samplesOf(id)).length > 20, 'samples');
      const ended = once(first.child, 'exit');
      end(first.child.pid ?? 0);
      await off(parts);
      const at = Date.now();
      await ended;
      await passed(1.5);
      const second = await ownProcess(parts, { folder: first.folder });
      const told = await until(async () => {
        const rows = (await trail(before)).filter((row) => row.what === 'the supply: output off');
        return rows.length > 0 && rows;
      }, 'it is told');
      expect(told).toMatchObject([
        { job_id: use.jobId, person_id: person, detail: { why: `${why}; the watchdog switched the output off` } },
      ]);
      expect(Math.abs(Number(told[0].created_at) - at)).toBeLessThan(1200);
      expect(await rowOf(id)).toMatchObject({
        state: 'interrupted',
        problem: `${why}; the watchdog switched the output off`,
      });
      // Whoever starts after that has nothing left to tell.
      second.child.kill('SIGTERM');
      await once(second.child, 'exit');
      await ownProcess(parts, { folder: first.folder });
      expect((await trail(before)).filter((row) => row.what === 'the supply: output off')).toHaveLength(1);
    },
  );

  test('is told though the next recorder was there before it was done', async () => {
    const { writeDeed, deedOf } = await import('../watchdog/deeds.ts');
    const parts = await bench();
    const r = await ownProcess(parts);
    const before = await lastId();
    const of = { jobId: use.jobId, person: null, recording: null };
    const { appendFileSync } = await import('node:fs');
    const file = `${r.folder}/watchdog.ndjson`;
    appendFileSync(file, '{"event": {"key": "cut sh\n');
    const watched = { spec: { ...parts.specs[0] }, of } as unknown as Parameters<typeof deedOf>[0];
    writeDeed(file, deedOf(watched, 'the recorder stopped', false, new Date()));
    await until(async () => (await trail(before)).some((row) => row.what === 'the supply: output may be on'), 'told');
  });
});

describe('a database that is away', () => {
  test('disarms what is not on, leaves on what is watched, and costs no sample though the recorder dies meanwhile', async () => {
    const parts = await bench();
    const { way, databaseUrl } = await cuttable();
    const r = await ownProcess(parts, { databaseUrl });
    const id = await r.record('meter');
    await r.arm();
    await until(async () => (await samplesOf(id)).length > 100, 'samples before');
    way.cut();
    await until(async () => (await r.state('meter')).recording?.problem, 'the trouble is said');
    expect((await r.state('meter')).recording?.problem).toMatch(/refused it.*it is on disk for now/);
    await until(async () => (await r.state('supply')).armed === null, 'disarmed');
    await r.moreSamples('meter', 600);
    const { seconds = 0 } = (await r.state('meter')).recording ?? {};
    r.child.kill('SIGKILL');
    await once(r.child, 'exit');
    way.giveBack();
    await ownProcess(parts, { databaseUrl, folder: r.folder });
    expect((await rowOf(id))?.state).toBe('interrupted');
    const t = await samplesOf(id);
    // All but the last second.
    expect(t[t.length - 1]).toBeGreaterThan(seconds - 1);
    t.slice(1).forEach((x, k) => expect(x - t[k]).toBeLessThan(0.5));
  });

  test('a recording that is stopped meanwhile ends on disk and is handed over when the database is back', async () => {
    const parts = await bench();
    const { way, databaseUrl } = await cuttable();
    const r = await recorder(parts, databaseUrl);
    const id = await r.record('meter');
    await until(async () => (await samplesOf(id)).length > 50, 'samples before');
    way.cut();
    await until(async () => (await health(r)).database === 'away', 'it is noticed');
    await r.moreSamples('meter', 100);
    expect((await r.call('/stop', { instrument: 'meter' })).value).toMatchObject({ recording: null });
    expect(await health(r)).toMatchObject({ waiting: 1 });
    expect((await rowOf(id))?.state).toBe('recording');
    way.giveBack();
    await until(async () => (await rowOf(id))?.state === 'finished', 'handed over');
    const t = await samplesOf(id);
    t.slice(1).forEach((x, k) => expect(x - t[k]).toBeLessThan(0.5));
    expect((await health(r)).waiting).toBe(0);
  });

  test('that restarts gives the lock back to the same recorder, and never to two', async () => {
    const parts = await bench();
    const r = await recorder(parts);
    const admin = knex({ client: 'pg', connection: use.schema.url });
    closing.push(() => admin.destroy());
    const holders = async () => {
      const found = (await admin.raw(
        `SELECT a.pid FROM pg_locks l JOIN pg_stat_activity a USING (pid)
         WHERE l.locktype = 'advisory' AND l.granted AND a.application_name = 'umbral recorder'
         AND l.database = (SELECT oid FROM pg_database WHERE datname = current_database()) AND l.objid = 471400001`,
      )) as { rows: { pid: number }[] };
      return found.rows.map((row) => row.pid);
    };
    const [before] = await holders();
    await admin.raw('SELECT pg_terminate_backend(?)', [before]);
    const after = await until(async () => (await holders()).find((pid) => pid !== before), 'the lock is taken again');
    expect(after).not.toBe(before);
    await until(async () => (await health(r)).database === 'ours', 'it works again');
    await switchOn(r, parts);
    expect(await holders()).toHaveLength(1);
  });

  test('held by another: what is on goes off and nothing is armed', async () => {
    const parts = await bench();
    const { way, databaseUrl } = await cuttable();
    const r = await recorder(parts, databaseUrl);
    const key = await switchOn(r, parts);
    way.cut();
    await watching(r, key, () => until(async () => (await health(r)).database === 'away', 'it is noticed'));
    const usurper = knex({ client: 'pg', connection: use.schema.url, pool: { min: 1, max: 1 } });
    closing.push(() => usurper.destroy());
    await until(async () => {
      const taken = (await usurper.raw('SELECT pg_try_advisory_lock(471400001) AS mine')) as {
        rows: { mine: boolean }[];
      };
      return taken.rows[0].mine;
    }, 'another holds the lock');
    await watching(r, key, async () => {
      way.giveBack();
      await until(() => !parts.supply.panel.on, 'off', 8);
    });
    const refused = await r.arm();
    expect(refused.value.problem).toMatch(/Another recorder controls/);
  });
});

describe('what was done to an output', () => {
  test('stands in the audit trail once, with who, for which job, and why it went off', async () => {
    const parts = await bench();
    const r = await recorder(parts);
    const [{ id: person }] = (await use.schema
      .db('people')
      .insert({ name: 'Ottilie Fenn', role: 'technician' })
      .returning('id')) as { id: number }[];
    await switchOn(r, parts, { jobId: use.jobId, person });
    await off(parts);
    const rows = await until(async () => {
      const found = (await use.schema.db('audit').where({ person_id: person }).orderBy('id')) as {
        what: string;
        job_id: number;
        detail: object;
      }[];
      return found.length >= 3 && found;
    }, 'three rows');
    expect(rows.map((row) => row.what)).toEqual([
      'the supply: armed',
      'the supply: output on',
      'the supply: output off',
    ]);
    expect(rows[0]).toMatchObject({ job_id: use.jobId, detail: { instrument: 'supply', volts: 3.85, limitA: 2 } });
    expect(rows[2].detail).toMatchObject({ why: 'no contact with the window that armed it for 4 s' });
  });

  test('while the database is not available is told later, once, with the time at which it happened', async () => {
    const parts = await bench();
    const { way, databaseUrl } = await cuttable();
    const r = await recorder(parts, databaseUrl);
    const key = await switchOn(r, parts);
    way.cut();
    await watching(r, key, () => until(async () => (await health(r)).database === 'away', 'it is noticed'));
    const before = new Date();
    await r.off();
    await until(() => Date.now() - Number(before) > 1500, 'some time');
    way.giveBack();
    const told = () => use.schema.db('audit').where('what', 'the supply: output off').where('created_at', '>=', before);
    await until(async () => (await told()).length > 0, 'told');
    await until(async () => (await health(r)).waiting === 0, 'nothing is left to tell');
    const rows = (await told()) as { created_at: Date }[];
    expect(rows).toHaveLength(1);
    expect(Number(rows[0].created_at) - Number(before)).toBeLessThan(1500);
  });
});

describe('the recorder’s own state', () => {
  test('a second one in the same folder is refused and says who is there', async () => {
    const parts = await bench();
    const first = await ownProcess(parts);
    expect(await holderOf('recorder', first.folder)).toMatchObject({ pid: first.child.pid });
    await expect(recorder(parts, use.schema.url, { folder: first.folder })).rejects.toThrow(
      new RegExp(`process ${first.child.pid}`),
    );
    first.child.kill('SIGKILL');
    await once(first.child, 'exit');
    expect(await holderOf('recorder', first.folder)).toBeNull();
  });

  test('a watchdog that is killed is there again within a second', async () => {
    const parts = await bench();
    const r = await ownProcess(parts);
    const [, watchdog] = await watchdogOf(r.child.pid ?? 0);
    process.kill(watchdog, 'SIGKILL');
    await until(async () => {
      const [, now] = await watchdogOf(r.child.pid ?? 0);
      return now !== watchdog && (await health(r)).watchdog;
    }, 'another watchdog');
    await switchOn(r, parts);
    r.child.kill('SIGKILL');
    await off(parts);
  });

  test('a watchdog that had no time to run kills no healthy recorder when it runs again', async () => {
    const parts = await bench();
    const r = await ownProcess(parts);
    const key = await switchOn(r, parts);
    const [, watchdog] = await watchdogOf(r.child.pid ?? 0);
    await watching(r, key, async () => {
      for (let n = 0; n < 3; n++) {
        process.kill(watchdog, 'SIGSTOP');
        // Longer than the silence after which it acts, shorter than that after which it is replaced.
        await passed(2);
        process.kill(watchdog, 'SIGCONT');
        await passed(0.7);
      }
      expect(parts.supply.panel.on).toBe(true);
    });
    expect(r.child.exitCode ?? r.child.signalCode).toBeNull();
  });

  test('a watchdog that is frozen counts as gone, and another takes its place', async () => {
    const parts = await bench();
    const r = await ownProcess(parts);
    const [, watchdog] = await watchdogOf(r.child.pid ?? 0);
    await until(async () => (await health(r)).watchdog, 'it answers');
    process.kill(watchdog, 'SIGSTOP');
    await until(async () => !(await health(r)).watchdog, 'it is noticed');
    expect((await r.arm()).value.problem).toMatch(/^The emergency watchdog is starting/);
    await until(async () => (await watchdogOf(r.child.pid ?? 0))[1] !== watchdog, 'another');
    await until(async () => (await health(r)).watchdog, 'it arrived');
    await switchOn(r, parts);
    r.child.kill('SIGKILL');
    await off(parts);
  });

  test('recorder and watchdog both frozen: a supply that watches itself goes off', async () => {
    const parts = await bench();
    parts.specs[0].dialect = 'scpi-guarded';
    const r = await ownProcess(parts);
    await switchOn(r, parts);
    const [, watchdog] = await watchdogOf(r.child.pid ?? 0);
    process.kill(watchdog, 'SIGSTOP');
    r.child.kill('SIGSTOP');
    try {
      await off(parts);
    } finally {
      process.kill(watchdog, 'SIGKILL');
    }
  });

  test('a damaged list of instruments on disk keeps nobody from starting', async () => {
    const parts = await bench();
    const { writeFile, mkdir } = await import('node:fs/promises');
    const folder = use.ownFolder();
    await mkdir(`${folder}/spool`);
    await writeFile(`${folder}/instruments.json`, '{"instruments": [{"key":');
    await writeFile(`${folder}/spool/999999.spool`, '{"kind":"notes","markers":[],"gaps":[]}\n{"kind":"blo');
    const r = await ownProcess(parts, { folder });
    expect(await health(r)).toMatchObject({ database: 'ours', waiting: 0 });
  });

  test('a disk below a tenth is said in words', () => {
    expect(diskOf(20e9, 100e9).warning).toBe('');
    expect(diskOf(9.9e9, 100e9).warning).toBe(
      'The disk is almost full: 9 % (9900 MB) is left. Recording continues until it is full.',
    );
    expect(diskOf(0, 100e9).warning).toContain('less than 1 % (0 MB)');
  });
});
