import { readFileSync } from 'node:fs';
import { statfs } from 'node:fs/promises';
import { join } from 'node:path';
import type { RecorderHealth } from '@umbral/instruments';
import { queueNow } from './background.ts';
import { db } from '../record/db.ts';
import { ask } from './recorder/recorder.ts';

/** A part that the start command keeps running. */
export interface Part {
  state: 'runs' | 'ended';
  why: string;
  restarts: number;
  since: string;
}

/** The parts as the start command last wrote them; null where nobody keeps them running. */
export function partsNow(): { pid: number; parts: Record<string, Part | undefined> } | null {
  const folder = process.env.UMBRAL_DATA_FOLDER;
  if (!folder) return null;
  try {
    return JSON.parse(readFileSync(join(folder, 'status.json'), 'utf8')) as ReturnType<typeof partsNow>;
  } catch {
    return null;
  }
}

/** Everything that a lead looks at when something seems wrong. */
export interface Health {
  parts: { name: string; part: Part }[];
  database: { version: string; bytes: number; connections: number; milliseconds: number };
  tables: { name: string; rows: number; bytes: number }[];
  slow: { seconds: number; query: string }[];
  recorder: RecorderHealth | { problem: string };
  benches: { name: string; seenAt: string | null; clockOffS: number | null }[];
  queue: { waiting: number; failed: number };
  disk: { freeBytes: number; freeShare: number } | null;
  backup: { madeAt: string; file: string; bytes: number } | null;
  migration: string;
}

/** Queries that run this long are shown. */
const slowS = 1;

async function loadDatabase(): Promise<Pick<Health, 'database' | 'tables' | 'slow'>> {
  const q = db();
  const began = performance.now();
  const {
    rows: [about],
  } = (await q.raw(`SELECT current_setting('server_version') AS version,
    pg_database_size(current_database())::float8 AS bytes,
    (SELECT count(*)::int FROM pg_stat_activity WHERE datname = current_database()) AS connections`)) as {
    rows: { version: string; bytes: number; connections: number }[];
  };
  const milliseconds = Math.round(performance.now() - began);
  const { rows: tables } = (await q.raw(`SELECT relname AS name, n_live_tup::int AS rows,
    pg_total_relation_size(relid)::float8 AS bytes FROM pg_stat_user_tables
    WHERE schemaname = 'public' ORDER BY bytes DESC LIMIT 8`)) as {
    rows: Health['tables'];
  };
  const { rows: slow } = (await q.raw(
    `SELECT round(extract(epoch FROM now() - query_start)::numeric, 1)::float8 AS seconds, left(query, 120) AS query
     FROM pg_stat_activity WHERE datname = current_database() AND state = 'active' AND pid <> pg_backend_pid()
     AND now() - query_start > make_interval(secs => ?) ORDER BY query_start LIMIT 5`,
    [slowS],
  )) as { rows: Health['slow'] };
  return { database: { ...about, milliseconds }, tables, slow };
}

async function diskNow(): Promise<Health['disk']> {
  const folder = process.env.UMBRAL_DATA_FOLDER;
  if (!folder) return null;
  const { bavail, blocks, bsize } = await statfs(folder);
  return { freeBytes: bavail * bsize, freeShare: blocks > 0 ? bavail / blocks : 0 };
}

export async function loadHealth(): Promise<Health> {
  const q = db();
  const [database, recorder, backup, benches, migration, disk, queue] = await Promise.all([
    loadDatabase(),
    ask<RecorderHealth>('recorder', '/health').catch((error: Error) => ({ problem: error.message })),
    q('backups').orderBy('id', 'desc').first<{ made_at: Date; file: string; bytes: string } | undefined>(),
    q('benches').orderBy('name').select<{ name: string; seen_at: Date | null; clock_off_s: number | null }[]>('*'),
    q('knex_migrations').orderBy('id', 'desc').first<{ name: string }>('name'),
    diskNow(),
    queueNow(),
  ]);
  const parts = Object.entries(partsNow()?.parts ?? {}).flatMap(([name, part]) => (part ? [{ name, part }] : []));
  return {
    parts,
    ...database,
    recorder,
    benches: benches.map((b) => ({ name: b.name, seenAt: b.seen_at?.toISOString() ?? null, clockOffS: b.clock_off_s })),
    queue,
    disk,
    backup: backup ? { madeAt: backup.made_at.toISOString(), file: backup.file, bytes: Number(backup.bytes) } : null,
    migration: migration?.name ?? '',
  };
}
