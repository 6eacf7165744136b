import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import knex, { type Knex } from 'knex';
import { plainEnvironment, root } from './started.ts';

export interface Cluster {
  url: string;
  ownerUrl: string;
  superuserUrl: string;
  home: string;
  stop: () => Promise<unknown>;
}
interface Lib {
  startCluster: (folder: string, options?: object) => Promise<Cluster>;
  migrate: (ownerUrl: string, url: string) => Promise<void>;
  bringUp: (db: Knex) => Promise<void>;
}

/** What the start command does with the database. */
export const lib = async (): Promise<Lib> => ({
  ...((await import('../scripts/lib/postgres.mjs' as string)) as Lib),
  ...((await import('../scripts/lib/schema.mjs' as string)) as Lib),
});

/** Runs a script of the README to its end. */
export function script(name: string, ...args: string[]): { code: number | null; said: string } {
  return scriptWith({}, name, ...args);
}

/** The same with variables of the environment. */
export function scriptWith(given: object, name: string, ...args: string[]): { code: number | null; said: string } {
  const done = spawnSync(process.execPath, [join(root, 'scripts', `${name}.mjs`), ...args], {
    encoding: 'utf8',
    env: { ...plainEnvironment(), ...given },
  });
  return { code: done.status, said: done.stdout + done.stderr };
}

/** Every row of every table, as text, in an order of its own. */
export async function everything(db: Knex): Promise<Record<string, string[]>> {
  const { rows } = (await db.raw(
    `SELECT relname AS name FROM pg_class WHERE relnamespace = 'public'::regnamespace
     AND relkind IN ('r', 'p') AND NOT relispartition ORDER BY 1`,
  )) as {
    rows: { name: string }[];
  };
  const found: Record<string, string[]> = {};
  for (const { name } of rows) {
    const all = (await db.raw('SELECT t::text AS row FROM ?? AS t ORDER BY 1', [name])) as { rows: { row: string }[] };
    found[name] = all.rows.map((r) => r.row);
  }
  return found;
}

export const open = (url: string): Knex => knex({ client: 'pg', connection: url, pool: { min: 0, max: 2 } });
