'use strict';

const feeds = ['battery', 'usb-c', 'dc-in'];
const classes = ['phone', 'tablet', 'laptop', 'handheld', 'console', 'ereader', 'other'];
const stages = ['look', 'record', 'call', 'isolate', 'measure', 'locate', 'act', 'verify', 'close'];
const grades = ['measured', 'cleared', 'disappeared', 'not-found', 'declined', 'not-economical'];
const list = (values) => values.map((v) => `'${v}'`).join(', ');

exports.up = async (knex) => {
  await knex.schema.createTable('jobs', (t) => {
    t.increments('id');
    t.integer('version').notNullable().defaultTo(1);
    t.text('case_id').notNullable().defaultTo('');
    t.text('label').notNullable();
    t.text('device_class').notNullable();
    t.text('model').notNullable().defaultTo('');
    t.text('serial').notNullable().defaultTo('');
    t.text('profile');
    t.jsonb('expect').notNullable().defaultTo('{}');
    t.text('complaint').notNullable().defaultTo('');
    t.text('complaint_kind');
    t.jsonb('intake').notNullable().defaultTo('{}');
    t.text('stage').notNullable().defaultTo('look');
    t.timestamp('due_at');
    t.text('waiting_for');
    t.timestamp('waiting_until');
    t.text('technician').notNullable().defaultTo('');
    t.timestamp('opened_at');
    t.text('outcome_grade');
    t.text('outcome_circuit');
    t.text('outcome_target').notNullable().defaultTo('');
    t.text('outcome_fix').notNullable().defaultTo('');
    t.jsonb('outcome_extra');
    t.timestamp('closed_at');
    t.jsonb('extra').notNullable().defaultTo('{}');
    t.boolean('is_sample').notNullable().defaultTo(false);
    t.timestamp('deleted_at');
    t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
    t.timestamp('updated_at').notNullable().defaultTo(knex.fn.now());
  });
  await knex.raw(`ALTER TABLE jobs
    ADD CONSTRAINT jobs_class CHECK (device_class IN (${list(classes)})),
    ADD CONSTRAINT jobs_stage CHECK (stage IN (${list(stages)})),
    ADD CONSTRAINT jobs_grade CHECK (outcome_grade IS NULL OR outcome_grade IN (${list(grades)})),
    ADD CONSTRAINT jobs_label CHECK (length(label) BETWEEN 1 AND 200),
    ADD CONSTRAINT jobs_version CHECK (version > 0),
    ADD CONSTRAINT jobs_closed CHECK ((outcome_grade IS NULL) = (closed_at IS NULL))`);

  await knex.schema.createTable('actions', (t) => {
    t.increments('id');
    t.integer('job_id').notNullable().references('jobs.id').onDelete('CASCADE');
    t.text('action_key').notNullable();
    t.text('kind').notNullable();
    t.text('circuit');
    t.text('target').notNullable().defaultTo('');
    t.text('note').notNullable().defaultTo('');
    t.text('run_before');
    t.jsonb('extra');
    t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
    t.unique(['job_id', 'action_key']);
  });

  await knex.schema.createTable('runs', (t) => {
    t.increments('id');
    t.integer('job_id').notNullable().references('jobs.id').onDelete('CASCADE');
    t.integer('version').notNullable().defaultTo(1);
    t.text('run_key').notNullable();
    t.text('feed').notNullable();
    t.text('quantity').notNullable();
    t.jsonb('instrument').notNullable();
    t.jsonb('setup').notNullable();
    t.jsonb('markers').notNullable();
    t.text('after_action');
    t.text('typed');
    t.text('file_name');
    t.jsonb('limit_spans').notNullable().defaultTo('[]');
    t.jsonb('repairs').notNullable().defaultTo('[]');
    t.jsonb('warnings').notNullable().defaultTo('[]');
    t.jsonb('summary').notNullable();
    t.jsonb('shape').notNullable();
    t.jsonb('preview').notNullable();
    t.text('engine').notNullable();
    t.timestamp('started_at');
    t.jsonb('extra');
    t.timestamp('deleted_at');
    t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
    t.unique(['job_id', 'run_key']);
    t.foreign(['job_id', 'after_action']).references(['job_id', 'action_key']).inTable('actions');
  });
  await knex.raw(`ALTER TABLE runs
    ADD CONSTRAINT runs_feed CHECK (feed IN (${list(feeds)})),
    ADD CONSTRAINT runs_quantity CHECK (quantity IN ('current', 'voltage-only')),
    ADD CONSTRAINT runs_source CHECK ((typed IS NULL) <> (file_name IS NULL))`);

  await knex.schema.createTable('run_chunks', (t) => {
    t.integer('run_id').notNullable().references('runs.id').onDelete('CASCADE');
    t.integer('seq').notNullable();
    t.integer('rows').notNullable();
    t.double('t0').notNullable();
    t.double('t1').notNullable();
    t.float('min_a');
    t.float('max_a');
    t.float('mean_a');
    t.binary('samples').notNullable();
    t.primary(['run_id', 'seq']);
  });
  await knex.raw('ALTER TABLE run_chunks ADD CONSTRAINT chunks_range CHECK (rows > 0 AND t1 >= t0)');

  await knex.schema.createTable('checks', (t) => {
    t.increments('id');
    t.integer('job_id').notNullable().references('jobs.id').onDelete('CASCADE');
    t.text('check_id').notNullable();
    t.text('outcome');
    t.text('note').notNullable().defaultTo('');
    t.jsonb('extra');
    t.timestamp('deleted_at');
    t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
  });

  await knex.schema.createTable('readings', (t) => {
    t.increments('id');
    t.integer('job_id').notNullable().references('jobs.id').onDelete('CASCADE');
    t.text('where').notNullable();
    t.text('circuit');
    t.text('state');
    t.boolean('prompted');
    t.text('mode').notNullable();
    t.double('value');
    t.text('unit').notNullable();
    t.boolean('ol').notNullable().defaultTo(false);
    t.double('reference');
    t.text('red_probe');
    t.boolean('powered');
    t.jsonb('extra');
    t.timestamp('deleted_at');
    t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
  });
  await knex.raw(`ALTER TABLE readings
    ADD CONSTRAINT readings_mode CHECK (mode IN ('voltage', 'diode', 'resistance')),
    ADD CONSTRAINT readings_unit CHECK ((mode = 'resistance' AND unit = 'ohm') OR (mode <> 'resistance' AND unit = 'V')),
    ADD CONSTRAINT readings_value CHECK (ol = (value IS NULL))`);

  await knex.schema.createTable('assessments', (t) => {
    t.increments('id');
    t.integer('job_id').notNullable().references('jobs.id');
    t.text('engine').notNullable();
    t.text('inputs_hash').notNullable();
    t.text('reason').notNullable();
    t.jsonb('result').notNullable();
    t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
    t.index(['job_id', 'id']);
  });
  // What was in force when the device was opened: one a job, written once.
  await knex.schema.createTable('openings', (t) => {
    t.integer('job_id').primary().references('jobs.id');
    t.integer('assessment_id').notNullable().references('assessments.id');
    t.text('reason').notNullable();
    t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
  });

  await knex.schema.createTable('audit', (t) => {
    t.increments('id');
    t.integer('job_id').references('jobs.id');
    t.text('what').notNullable();
    t.jsonb('detail').notNullable().defaultTo('{}');
    t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
    t.index(['job_id', 'id']);
  });

  await knex.raw(`CREATE FUNCTION refuse_change() RETURNS trigger LANGUAGE plpgsql AS $$
    BEGIN RAISE EXCEPTION 'rows of % are never changed or deleted', TG_TABLE_NAME; END $$`);
  for (const table of ['assessments', 'openings', 'audit']) {
    await knex.raw(`CREATE TRIGGER ${table}_append_only BEFORE UPDATE OR DELETE ON ${table}
      FOR EACH ROW EXECUTE FUNCTION refuse_change()`);
  }
  for (const table of ['runs', 'checks', 'readings', 'actions'])
    await knex.raw(`CREATE INDEX ${table}_job ON ${table} (job_id, id)`);
};

exports.down = async (knex) => {
  for (const table of [
    'audit',
    'openings',
    'assessments',
    'readings',
    'checks',
    'run_chunks',
    'runs',
    'actions',
    'jobs',
  ]) {
    await knex.schema.dropTableIfExists(table);
  }
  await knex.raw('DROP FUNCTION IF EXISTS refuse_change()');
};
