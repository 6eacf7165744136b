import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, truncateSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import knex, { type Knex } from 'knex';
import { expect, test } from '@playwright/test';
import { root, Started } from '../started.ts';

interface Cluster {
  url: string;
  ownerUrl: string;
  stop: () => Promise<unknown>;
}
interface Lib {
  startCluster: (folder: string) => Promise<Cluster>;
  migrate: (ownerUrl: string, url: string) => Promise<void>;
}

const lib = (): Promise<Lib> => import('../../scripts/lib/postgres.mjs' as string) as Promise<Lib>;

function script(name: string, ...args: string[]): { code: number | null; said: string } {
  const clean = Object.fromEntries(Object.entries(process.env).filter(([key]) => !/^(UMBRAL_|DATABASE_)/.test(key)));
  const done = spawnSync(process.execPath, [join(root, 'scripts', `${name}.mjs`), ...args], {
    encoding: 'utf8',
    env: clean,
  });
  return { code: done.status, said: done.stdout + done.stderr };
}

/** Every row of every table, as text, in an order of its own. */
async function everything(db: Knex): Promise<Record<string, string[]>> {
  const { rows } = (await db.raw(`SELECT tablename AS name FROM pg_tables WHERE schemaname = 'public' ORDER BY 1`)) as {
    rows: { name: string }[];
  };
  const found: Record<string, string[]> = {};
  for (const { name } of rows) {
    const all = (await db.raw('SELECT t::text AS row FROM ?? AS t ORDER BY 1', [name])) as { rows: { row: string }[] };
    found[name] = all.rows.map((r) => r.row);
  }
  return found;
}

const open = (url: string): Knex => knex({ client: 'pg', connection: url, pool: { min: 0, max: 2 } });

/** Rows of every sort that a day leaves behind: pictures, samples, profiles, the record. */
async function fill(db: Knex): Promise<void> {
  const [{ id }] = (await db('jobs')
    .insert({ label: 'tablet, café "Rand"\n', device_class: 'tablet' })
    .returning('id')) as { id: number }[];
  await db('audit').insert({ job_id: id, what: 'job created', detail: JSON.stringify({ ü: 1 }) });
  const run = {
    job_id: id,
    run_key: 'r1',
    feed: 'battery',
    quantity: 'current',
    typed: null,
    file_name: 'a.csv',
    engine: 'x',
  };
  const json = { instrument: '{}', setup: '{}', markers: '[]', summary: '{}', shape: '{}', preview: '{}' };
  const [{ id: runId }] = (await db('runs')
    .insert({ ...run, ...json })
    .returning('id')) as { id: number }[];
  for (let seq = 0; seq < 20; seq++)
    await db('run_chunks').insert({
      run_id: runId,
      seq,
      rows: 9,
      t0: seq,
      t1: seq + 1,
      samples: Buffer.alloc(5000, seq),
    });
}

test('a backup comes back row for row, in an empty folder, and nowhere else', async () => {
  test.setTimeout(120_000);
  const folder = Started.folder();
  const { startCluster, migrate } = await lib();
  const cluster = await startCluster(join(folder, 'old'));
  const [file, damaged, short] = ['kept', 'damaged', 'short'].map((n) => join(folder, `${n}.tar`));
  try {
    await migrate(cluster.ownerUrl, cluster.url);
    const db = open(cluster.ownerUrl);
    await fill(db);
    mkdirSync(join(folder, 'old', 'dialects'));
    writeFileSync(join(folder, 'old', 'dialects', 'mine.json'), '{}');
    const before = await everything(db);
    // While it runs, with rows coming in.
    const writing = setInterval(
      () =>
        void db('audit')
          .insert({ what: 'meanwhile' })
          .catch(() => undefined),
      20,
    );
    const made = script('backup', '--data', join(folder, 'old'), '--to', file);
    clearInterval(writing);
    expect(made).toMatchObject({ code: 0 });
    expect(await db('backups')).toHaveLength(1);
    await db.destroy();
    expect(script('backup', '--data', join(folder, 'old'), '--to', file).said).toContain(
      'is there already; nothing is overwritten',
    );

    const restored = script('restore', file, '--data', join(folder, 'new'));
    expect(restored.said).toMatch(/Restored the backup of .* all as they were/);
    expect(existsSync(join(folder, 'new', 'dialects', 'mine.json'))).toBe(true);
    const again = await startCluster(join(folder, 'new'));
    try {
      const other = open(again.ownerUrl);
      const after = await everything(other);
      const isOld = (row: string): boolean => !row.includes('meanwhile');
      expect({ ...after, audit: after.audit.filter(isOld) }).toEqual({ ...before, audit: before.audit.filter(isOld) });
      await other.destroy();
      // The application's own user comes in, works with rows, and owns nothing.
      const app = open(again.url);
      await app('audit').insert({ what: 'by the application' });
      await expect(app.raw('TRUNCATE jobs CASCADE')).rejects.toThrow(/permission denied|must be owner/);
      await expect(app('audit').delete()).rejects.toThrow('permission denied');
      await expect(app.raw('DROP TABLE audit')).rejects.toThrow('must be owner');
      const { rows } = (await app.raw('SELECT count(*)::int AS n FROM pg_tables WHERE tableowner = current_user')) as {
        rows: { n: number }[];
      };
      expect(rows[0].n).toBe(0);
      await app.destroy();
    } finally {
      await again.stop();
    }

    expect(script('restore', file, '--data', join(folder, 'new'))).toMatchObject({ code: 1 });
    const bytes = readFileSync(file);
    const at = bytes.indexOf('PGDMP') + 400;
    bytes[at] ^= 0xff;
    writeFileSync(damaged, bytes);
    writeFileSync(short, readFileSync(file));
    truncateSync(short, 4000);
    for (const [bad, said] of [
      [damaged, 'database.dump is not as it was written'],
      [short, /is damaged|is no backup of Umbral/],
      [join(folder, 'old', 'umbral.json'), /is damaged: it cannot be taken apart|is no backup/],
      [join(folder, 'nothing.tar'), 'There is no file'],
    ] as const) {
      const refused = script('restore', bad, '--data', join(folder, 'never'));
      expect(refused.code).toBe(1);
      expect(refused.said).toMatch(said);
      expect(existsSync(join(folder, 'never')) ? readdirSync(join(folder, 'never')) : []).toEqual([]);
    }
  } finally {
    await cluster.stop();
    rmSync(folder, { recursive: true, force: true });
  }
});

test('a backup of an older schema comes back on the newest', async () => {
  test.setTimeout(120_000);
  const folder = Started.folder();
  const { startCluster } = await lib();
  const cluster = await startCluster(join(folder, 'old'));
  try {
    const directory = join(root, 'web/server/migrations');
    const all = readdirSync(directory).sort();
    const db = knex({
      client: 'pg',
      connection: cluster.ownerUrl,
      migrations: { directory, loadExtensions: ['.cjs'] },
    });
    for (let n = 0; n < all.length - 1; n++) await db.migrate.up();
    await fill(db);
    await db.destroy();
    const file = join(folder, 'kept.tar');
    // The table that notes backups came later: the file is there all the same.
    expect(script('backup', '--data', join(folder, 'old'), '--to', file)).toMatchObject({ code: 0 });
    expect(script('restore', file, '--data', join(folder, 'new')).said).toContain('all as they were');
    const again = await startCluster(join(folder, 'new'));
    const other = open(again.ownerUrl);
    expect(await other('knex_migrations').orderBy('id').pluck('name')).toEqual(all);
    expect(await other('jobs').pluck('label')).toEqual(['tablet, café "Rand"\n']);
    await other.destroy();
    await again.stop();
  } finally {
    await cluster.stop();
    rmSync(folder, { recursive: true, force: true });
  }
});
