/**
 * After a change: what was said of each step of a proof, with the run or the check that shows it and the time that a step
 * takes; what a job was closed without; when it is to be looked at again; a place on a picture.
 */
exports.up = async (knex) => {
  await knex.schema.createTable('proofs', (t) => {
    t.increments('id');
    t.integer('job_id').notNullable().references('jobs.id').onDelete('CASCADE');
    t.text('protocol').notNullable();
    t.text('step').notNullable();
    // Null while a time runs.
    t.text('result');
    t.text('reason').notNullable().defaultTo('');
    t.text('run_key');
    t.text('check_id');
    t.text('after_action');
    t.timestamp('started_at');
    t.timestamp('due_at');
    t.jsonb('extra');
    t.timestamp('deleted_at');
    t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
    t.foreign(['job_id', 'run_key']).references(['job_id', 'run_key']).inTable('runs');
    t.foreign(['job_id', 'after_action']).references(['job_id', 'action_key']).inTable('actions');
    t.index(['job_id']);
  });
  await knex.raw(`ALTER TABLE proofs
    ADD CONSTRAINT proofs_result CHECK (result IN ('pass', 'fail', 'not-done')),
    ADD CONSTRAINT proofs_time CHECK (result IS NOT NULL OR (started_at IS NOT NULL AND due_at IS NOT NULL)),
    ADD CONSTRAINT proofs_reason CHECK (result IS DISTINCT FROM 'not-done' OR reason <> '')`);
  // One time runs for a step at once.
  await knex.raw(
    `CREATE UNIQUE INDEX proofs_running ON proofs (job_id, protocol, step) WHERE result IS NULL AND deleted_at IS NULL`,
  );
  // A place on a picture: shares of its width and height, with what is there.
  await knex.schema.alterTable('attachments', (t) => t.jsonb('point'));
  await knex.raw(`ALTER TABLE attachments ADD CONSTRAINT attachments_point CHECK (point IS NULL OR (
    (point->>'x')::float8 BETWEEN 0 AND 1 AND (point->>'y')::float8 BETWEEN 0 AND 1))`);
  await knex.schema.alterTable('jobs', (t) => {
    t.jsonb('outcome_open').notNullable().defaultTo('[]');
    t.date('recall_at');
  });
};

exports.down = async (knex) => {
  await knex.schema.alterTable('jobs', (t) => {
    for (const column of ['outcome_open', 'recall_at']) t.dropColumn(column);
  });
  await knex.schema.alterTable('attachments', (t) => t.dropColumn('point'));
  await knex.schema.dropTable('proofs');
};
