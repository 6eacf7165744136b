// npm run people: lists the accounts, and codes for whoever cannot sign in. For the console of the machine.
import { resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { makeCode } from './lib/people.mjs';
import { hasCluster, startCluster } from './lib/postgres.mjs';
import { main, Problem, root, say } from './lib/run.mjs';

const usage = `npm run people                       lists the accounts.
npm run people -- reset "NAME"       a code to set a new password.
npm run people -- lead               a code to create another lead.
Add --data FOLDER to use another data folder.`;

const { values, positionals } = parseArgs({ options: { data: { type: 'string' } }, allowPositionals: true });

async function list(db) {
  const rows = await db('people').whereNull('disabled_at').orderBy('name').select('name', 'role', 'is_demo');
  if (rows.length === 0) say('No accounts yet.');
  for (const p of rows) say(`${p.name.replace(/\p{C}/gu, '')} (${p.role}${p.is_demo ? ', demo' : ''})`);
}

async function reset(db, name) {
  const row = await db('people')
    .whereRaw('lower(name) = lower(?)', [name])
    .where({ is_demo: false })
    .whereNull('disabled_at')
    .first('id', 'name');
  if (!row) throw new Problem(`There is no account called "${name.replace(/\p{C}/gu, '')}".`);
  say(
    `Code for ${row.name}, valid once, for an hour: ${await makeCode(db, row.id)}.\nEnter it on the sign-in page under "I have a code from the console".`,
  );
}

main(async () => {
  const [what, name] = positionals;
  const folder = resolve(root, values.data ?? process.env.UMBRAL_DATA ?? '.data/umbral');
  const outside = process.env.DATABASE_OWNER_URL ?? process.env.DATABASE_URL;
  if (what !== undefined && !['reset', 'lead'].includes(what)) throw new Problem(usage);
  if (what === 'reset' && !name) throw new Problem(usage);
  if (!outside && !(await hasCluster(folder)))
    throw new Problem(`There is no Umbral data in ${folder}. Give its folder with --data.`);
  const cluster = outside ? null : await startCluster(folder);
  const { default: knex } = await import('knex');
  const db = knex({ client: 'pg', connection: outside ?? cluster.ownerUrl, pool: { min: 0, max: 1 } });
  try {
    if (what === 'reset') await reset(db, name);
    else if (what === 'lead') say(`Code to create a lead, once, for an hour: ${await makeCode(db, null)}`);
    else await list(db);
  } finally {
    await db.destroy();
    if (cluster && !cluster.wasUp) await cluster.stop();
  }
});
