/**
 * What the work at the opened device leaves: readings of good boards to compare with, pictures, dumps of firmware, and the
 * shop's policy by which going on is weighed against stopping.
 */
exports.up = async (knex) => {
  await knex.schema.createTable('reference_readings', (t) => {
    t.increments('id');
    // Readings belong to a model: its profile where it has one, else its name.
    t.text('model_key').notNullable();
    t.text('where').notNullable();
    t.text('mode').notNullable();
    t.text('phase');
    t.text('red_probe');
    t.double('value');
    t.boolean('ol').notNullable().defaultTo(false);
    t.integer('job_id').references('jobs.id').onDelete('SET NULL');
    t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
    t.index(['model_key', 'where']);
  });
  await knex.raw(`ALTER TABLE reference_readings
    ADD CONSTRAINT reference_mode CHECK (mode IN ('voltage', 'diode', 'resistance')),
    ADD CONSTRAINT reference_value CHECK (ol = (value IS NULL)),
    ADD CONSTRAINT reference_phase CHECK ((mode = 'voltage') = (phase IS NOT NULL)),
    ADD CONSTRAINT reference_probe CHECK ((mode = 'voltage') = (red_probe IS NULL))`);

  await knex.schema.createTable('attachments', (t) => {
    t.increments('id');
    t.integer('job_id').notNullable().references('jobs.id').onDelete('CASCADE');
    t.text('of_kind').notNullable();
    t.integer('of_id');
    t.text('caption').notNullable().defaultTo('');
    t.integer('width').notNullable();
    t.integer('height').notNullable();
    t.binary('image').notNullable();
    t.binary('thumb').notNullable();
    t.timestamp('deleted_at');
    t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
    t.index(['job_id']);
  });
  await knex.raw(`ALTER TABLE attachments
    ADD CONSTRAINT attachments_of CHECK (of_kind IN ('job', 'run', 'reading', 'action', 'check')),
    ADD CONSTRAINT attachments_whole CHECK ((of_kind = 'job') = (of_id IS NULL)),
    ADD CONSTRAINT attachments_size CHECK (width > 0 AND height > 0)`);

  await knex.schema.createTable('firmware_dumps', (t) => {
    t.increments('id');
    t.integer('job_id').notNullable().references('jobs.id').onDelete('CASCADE');
    t.text('name').notNullable();
    t.text('sha256').notNullable();
    t.integer('size').notNullable();
    t.binary('content').notNullable();
    t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
    t.index(['job_id']);
  });
  await knex.raw(`ALTER TABLE firmware_dumps
    ADD CONSTRAINT dumps_hash CHECK (sha256 ~ '^[0-9a-f]{64}$'),
    ADD CONSTRAINT dumps_size CHECK (size > 0)`);

  await knex.schema.createTable('shop_policy', (t) => {
    t.integer('id').primary().defaultTo(1);
    t.integer('version').notNullable().defaultTo(1);
    t.jsonb('value').notNullable();
    t.timestamp('updated_at').notNullable().defaultTo(knex.fn.now());
  });
  await knex.raw('ALTER TABLE shop_policy ADD CONSTRAINT policy_single CHECK (id = 1)');
};

exports.down = async (knex) => {
  for (const table of ['shop_policy', 'firmware_dumps', 'attachments', 'reference_readings'])
    await knex.schema.dropTable(table);
};
