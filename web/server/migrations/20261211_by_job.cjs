/** What belongs to a job is found by it, and the open jobs are found among the closed ones, however many there are. */
const tables = [
  'recordings',
  'reference_readings',
  'on_leads',
  'takes',
  'donor_parts',
  'part_moves',
  'part_reservations',
  'part_orders',
  'bench_orders',
];

exports.up = async (knex) => {
  for (const table of tables) await knex.raw(`CREATE INDEX ${table}_by_job ON ${table} (job_id)`);
  await knex.raw(
    'CREATE INDEX jobs_open ON jobs (id) WHERE closed_at IS NULL AND deleted_at IS NULL AND NOT is_practice',
  );
};

exports.down = async (knex) => {
  await knex.raw('DROP INDEX jobs_open');
  for (const table of tables) await knex.raw(`DROP INDEX ${table}_by_job`);
};
