import { execFileSync, spawn } from 'node:child_process';
import { once } from 'node:events';
import {
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  symlinkSync,
  truncateSync,
  writeFileSync,
} from 'node:fs';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import knex, { type Knex } from 'knex';
import { expect, test } from '@playwright/test';
import { everything, lib, open, script, scriptWith } from '../database.ts';
import { freePort, plainEnvironment, root, somebody, Started } from '../started.ts';

/** Rows of every sort that a day leaves behind: pictures, samples, profiles, the record. */
async function fill(db: Knex): Promise<void> {
  const [{ id }] = (await db('jobs')
    .insert({ label: 'tablet, café "Rand"\n', device_class: 'tablet' })
    .returning('id')) as { id: number }[];
  await db('audit').insert({ job_id: id, what: 'job created', detail: JSON.stringify({ ü: 1 }) });
  const run = {
    job_id: id,
    run_key: 'r1',
    feed: 'battery' as const,
    quantity: 'current' as const,
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
    // With hashes of PINs and a private key in it: for nobody else on this computer.
    expect(statSync(file).mode & 0o777).toBe(0o600);
    expect(statSync(join(folder, 'old')).mode & 0o777).toBe(0o700);
    expect(await db('backups')).toHaveLength(1);
    await db.destroy();
    expect(script('backup', '--data', join(folder, 'old'), '--to', file).said).toContain(
      'already exists. Nothing is overwritten',
    );

    const restored = script('restore', file, '--data', join(folder, 'new'));
    expect(restored.said).toMatch(/Restored the backup of .* all verified/);
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
      [damaged, 'database.dump/toc.dat was changed'],
      [short, /is damaged|is not an Umbral backup/],
      [join(folder, 'old', 'umbral.json'), /is damaged: it cannot be unpacked|is no backup/],
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

test('the button of the page makes the backup that the terminal makes, while everything runs on', async ({ page }) => {
  const folder = Started.folder();
  const app = await Started.spawn(folder, await freePort()).up();
  try {
    const { cookie } = await somebody(app.owner(), 'Ottilie Fenn', 'lead');
    const [name, value] = cookie.split('=');
    await page.context().addCookies([{ name, value, url: app.url }]);
    await page.goto(`${app.url}/health`);
    await page.getByRole('button', { name: 'Back up now' }).click();
    await expect(page.getByText(/^Backed up\./)).toBeVisible({ timeout: 120_000 });
    const [file] = readdirSync(join(folder, 'backups'));
    const listed = execFileSync('tar', ['tf', join(folder, 'backups', file)], { encoding: 'utf8' });
    expect(listed).toMatch(/dump/);
    await expect(page.getByRole('button', { name: 'Back up now' })).toBeEnabled();
  } finally {
    await app.stop();
    rmSync(folder, { recursive: true, force: true });
  }
});

test('a backup of an older schema comes back on the newest', async () => {
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
    expect(script('restore', file, '--data', join(folder, 'new')).said).toContain('all verified');
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

test('a backup that grows adds only what is new, comes back up to its last addition, and is refused where a part is missing', async () => {
  const folder = Started.folder();
  const { startCluster, migrate } = await lib();
  const [old, grown] = [join(folder, 'old'), join(folder, 'grown')];
  const cluster = await startCluster(old);
  const grow = () => script('backup', '--data', old, '--grow', grown);
  const restore = (name: string) => script('restore', grown, '--data', join(folder, name));
  const sizeSaid = (said: string): number => Number(/([\d.]+) MB/.exec(said)?.[1]);
  try {
    await migrate(cluster.ownerUrl, cluster.url);
    const db = open(cluster.ownerUrl);
    await fill(db);
    mkdirSync(join(old, 'dialects'));
    writeFileSync(join(old, 'dialects', 'mine.json'), '{}');
    // One that was killed in the middle left this.
    mkdirSync(`${grown}.making`);
    writeFileSync(join(`${grown}.making`, 'half'), '');
    const first = grow();
    expect(first.said).toContain('Begun with');
    expect(existsSync(`${grown}.making`)).toBe(false);
    await db('audit').insert({ what: 'after the first' });
    const second = grow();
    expect(second.said).toMatch(/added; .* in all/);
    expect(sizeSaid(second.said)).toBeLessThan(sizeSaid(first.said));
    const kept = await everything(db);
    await db('audit').insert({ what: 'after the last' });

    expect(restore('new').said).toContain('everything up to that time');
    expect(existsSync(join(folder, 'new', 'dialects', 'mine.json'))).toBe(true);
    const again = await startCluster(join(folder, 'new'));
    const other = open(again.ownerUrl);
    // The addition itself is noted after it is made.
    expect({ ...(await everything(other)), backups: [] }).toEqual({ ...kept, backups: [] });
    await other('audit').insert({ what: 'it goes on' });
    await other.destroy();
    await again.stop();

    const [segment] = readdirSync(join(grown, 'wal')).filter((name) => !name.endsWith('.partial'));
    const whole = readFileSync(join(grown, 'wal', segment));
    for (const [bad, said] of [
      [() => rmSync(join(grown, 'wal', segment)), `wal/${segment} is missing`],
      [() => writeFileSync(join(grown, 'wal', segment), Buffer.from(whole).fill(7, 100, 200)), 'was changed'],
      [
        () => (writeFileSync(join(grown, 'wal', segment), whole), truncateSync(join(grown, 'base', 'PG_VERSION'), 1)),
        'is damaged',
      ],
    ] as const) {
      bad();
      expect(restore('never').said).toContain(said);
      expect(existsSync(join(folder, 'never')) ? readdirSync(join(folder, 'never')) : []).toEqual([]);
    }
    const superuser = open(cluster.superuserUrl);
    await superuser.raw('SELECT pg_drop_replication_slot(slot_name) FROM pg_replication_slots');
    await superuser.destroy();
    expect(grow().said).toContain('no longer has everything written since');
    await db.destroy();
  } finally {
    await cluster.stop();
    rmSync(folder, { recursive: true, force: true });
  }
});

/** Runs a restore and kills it after so many milliseconds; gives how long it ran. */
async function killedRestore(file: string, folder: string, afterMs: number): Promise<number> {
  const began = performance.now();
  const child = spawn(process.execPath, ['scripts/restore.mjs', file, '--data', folder], {
    cwd: root,
    env: plainEnvironment(),
    stdio: 'ignore',
  });
  const timer = setTimeout(() => child.kill('SIGKILL'), afterMs);
  await once(child, 'exit');
  clearTimeout(timer);
  return performance.now() - began;
}

/** Moments of a restore at which it is killed, as shares of the time that it takes. */
const killedAt = [0.03, 0.15, 0.3, 0.45, 0.6, 0.72, 0.84, 0.95];

const oldBackup = join(root, 'e2e/kept/backup-0.1.0.tar.gz');

test('a restore that is killed is no restore: it is refused at the start, and the next one begins anew', async () => {
  const folder = Started.folder();
  const { startCluster } = await lib();
  const [file, data] = [join(folder, 'kept.tar'), join(folder, 'new')];
  writeFileSync(file, gunzipSync(readFileSync(oldBackup)));
  try {
    const wholeMs = await killedRestore(file, join(folder, 'first'), 240_000);
    /** Whether a start is refused; where the restore had come to its end all of it is there. */
    const isRefused = async (): Promise<boolean> => {
      const started = await startCluster(data).catch((error: Error) => error.message);
      if (typeof started === 'string') {
        expect(started).toContain('did not finish. Run it again');
        return true;
      }
      const db = open(started.ownerUrl);
      expect(await db('jobs').orderBy('id').pluck('label')).toEqual([
        'tablet of the reading room',
        'phone of the book bus',
      ]);
      await db.destroy();
      await started.stop();
      return false;
    };
    let refused = 0;
    for (const share of killedAt) {
      await killedRestore(file, data, share * wholeMs);
      if (!existsSync(data) || readdirSync(data).length === 0) continue;
      if (!(await isRefused())) break;
      refused++;
    }
    expect(refused).toBeGreaterThan(1);
    await killedRestore(file, data, 240_000);
    expect(await isRefused()).toBe(false);
    expect(readdirSync(data).filter((name) => /restor/.test(name))).toEqual([]);
    expect(existsSync(join(data, 'dialects', 'left-supply.json'))).toBe(true);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
});

test('a backup of the release before comes back; one that was added to, or is of a newer one, is refused', () => {
  const folder = Started.folder();
  const [file, worse] = [join(folder, 'kept.tar'), join(folder, 'worse.tar')];
  writeFileSync(file, gunzipSync(readFileSync(oldBackup)));
  try {
    const said = script('restore', file, '--data', join(folder, 'new')).said;
    expect(said).toMatch(/57 tables, 31 rows, all verified/);
    expect(readFileSync(join(folder, 'new', 'recorder', 'spool', '1.spool'), 'utf8')).toContain('"notes"');
    const add = (name: string, text: string): { code: number | null; said: string } => {
      const scratch = join(folder, 'scratch');
      rmSync(scratch, { recursive: true, force: true });
      mkdirSync(scratch);
      execFileSync('tar', ['-xf', file, '-C', scratch]);
      mkdirSync(join(scratch, name, '..'), { recursive: true });
      if (name === 'link') symlinkSync('/etc', join(scratch, name));
      else writeFileSync(join(scratch, name), text);
      execFileSync('tar', ['-cf', worse, '-C', scratch, '.']);
      return script('restore', worse, '--data', join(folder, 'never'));
    };
    expect(add('recorder/instruments.json', '{}')).toMatchObject({ code: 1 });
    expect(add('link', '').said).toContain('it contains link, which is not in its manifest');
    expect(existsSync(join(folder, 'never')) ? readdirSync(join(folder, 'never')) : []).toEqual([]);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
});

test('a backup that is sealed opens with its passphrase and with no other', async () => {
  const folder = Started.folder();
  const { startCluster, migrate } = await lib();
  const cluster = await startCluster(join(folder, 'old'));
  const file = join(folder, 'kept.tar.age');
  const sealedWith = (words: string | null) => (words === null ? {} : { UMBRAL_PASSPHRASE: words });
  try {
    await migrate(cluster.ownerUrl, cluster.url);
    const db = open(cluster.ownerUrl);
    await fill(db);
    await db.destroy();
    mkdirSync(join(folder, 'old', 'dialects'));
    writeFileSync(join(folder, 'old', 'dialects', 'mine.json'), '{}');
    const made = scriptWith(sealedWith('four words of ours'), 'backup', '--data', join(folder, 'old'), '--to', file);
    expect(made.said).toContain('It is encrypted.');
    expect(readFileSync(file).includes('PGDMP')).toBe(false);
    for (const [words, said] of [
      [null, 'is encrypted. Give its passphrase in UMBRAL_PASSPHRASE'],
      ['three words of theirs', 'cannot be opened. The passphrase is wrong'],
    ] as const) {
      const refused = scriptWith(sealedWith(words), 'restore', file, '--data', join(folder, 'new'));
      expect(refused.said).toContain(said);
      expect(readdirSync(join(folder, 'new'))).toEqual([]);
    }
    const restored = scriptWith(sealedWith('four words of ours'), 'restore', file, '--data', join(folder, 'new'));
    expect(restored.said).toContain('all verified');
    expect(existsSync(join(folder, 'new', 'dialects', 'mine.json'))).toBe(true);
  } finally {
    await cluster.stop();
    rmSync(folder, { recursive: true, force: true });
  }
});
