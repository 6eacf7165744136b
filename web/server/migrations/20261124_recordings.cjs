/**
 * What the recorder writes while an instrument measures. A recording belongs to a job from its first second on; when it
 * ends, it becomes a run, and one that broke off is found again as interrupted.
 */
exports.up = async (knex) => {
  await knex.schema.createTable('recordings', (t) => {
    t.increments('id');
    t.integer('job_id').notNullable().references('jobs.id').onDelete('CASCADE');
    t.text('instrument_key').notNullable();
    t.text('state').notNullable().defaultTo('recording');
    t.text('feed').notNullable();
    t.jsonb('instrument').notNullable();
    t.jsonb('setup').notNullable();
    t.jsonb('markers').notNullable().defaultTo('[]');
    t.jsonb('gaps').notNullable().defaultTo('[]');
    t.text('after_action');
    t.integer('run_id').references('runs.id').onDelete('SET NULL');
    t.text('problem');
    t.timestamp('started_at').notNullable();
    t.timestamp('ended_at');
  });
  await knex.raw(`ALTER TABLE recordings
    ADD CONSTRAINT recordings_state CHECK (state IN ('recording', 'finished', 'interrupted', 'kept')),
    ADD CONSTRAINT recordings_feed CHECK (feed IN ('battery', 'usb-c', 'dc-in')),
    ADD CONSTRAINT recordings_ended CHECK ((state = 'recording') = (ended_at IS NULL)),
    ADD CONSTRAINT recordings_kept CHECK (run_id IS NULL OR state = 'kept')`);
  // One recording an instrument at a time, whatever goes on in the processes.
  await knex.raw(
    `CREATE UNIQUE INDEX recordings_one_at_a_time ON recordings (instrument_key) WHERE state = 'recording'`,
  );
  await knex.schema.createTable('recording_chunks', (t) => {
    t.integer('recording_id').notNullable().references('recordings.id').onDelete('CASCADE');
    t.integer('seq').notNullable();
    t.integer('rows').notNullable();
    t.double('t0').notNullable();
    t.double('t1').notNullable();
    t.float('min_a');
    t.float('max_a');
    t.float('mean_a');
    t.binary('samples').notNullable();
    t.primary(['recording_id', 'seq']);
  });
  await knex.raw('ALTER TABLE recording_chunks ADD CONSTRAINT recording_chunks_range CHECK (rows > 0 AND t1 >= t0)');
};

exports.down = async (knex) => {
  await knex.schema.dropTable('recording_chunks');
  await knex.schema.dropTable('recordings');
};
