/** What pages ask for is found without looking through a table that grows with the shop: growth.test.ts holds their plans. */
const indexes = {
  jobs_by_close: 'jobs (closed_at) WHERE closed_at IS NOT NULL AND deleted_at IS NULL AND NOT is_practice',
  jobs_recalled: 'jobs (recall_at) WHERE recall_at IS NOT NULL AND deleted_at IS NULL',
  jobs_trashed: 'jobs (deleted_at) WHERE deleted_at IS NOT NULL',
  jobs_by_name: `jobs (lower(regexp_replace(btrim(model), '\\s+', ' ', 'g')))`,
  calls_by_model: 'calls (model, closed_at, job_id)',
  calls_by_technician: 'calls (technician, closed_at, job_id)',
  calls_by_pattern: 'calls (pattern, closed_at, job_id)',
  call_sums_by_what: 'call_sums ("by", what, n DESC, key)',
  audit_by_time: 'audit (created_at)',
};

exports.up = async (knex) => {
  for (const [name, what] of Object.entries(indexes)) await knex.raw(`CREATE INDEX ${name} ON ${what}`);
};

exports.down = async (knex) => {
  for (const name of Object.keys(indexes)) await knex.raw(`DROP INDEX ${name}`);
};
