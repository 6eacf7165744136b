/**
 * The instruments of the bench and what they were last calibrated against. How to reach one is data that the recorder
 * reads and checks; the database holds names apart and tells two editors of one instrument.
 */
exports.up = async (knex) => {
  await knex.schema.createTable('instruments', (t) => {
    t.increments('id');
    t.text('key').notNullable().unique();
    t.integer('version').notNullable().defaultTo(1);
    t.jsonb('spec').notNullable();
    t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
    t.timestamp('updated_at').notNullable().defaultTo(knex.fn.now());
  });
  await knex.raw(`ALTER TABLE instruments
    ADD CONSTRAINT instruments_key CHECK (key ~ '^[a-z0-9-]{1,120}$'),
    ADD CONSTRAINT instruments_spec CHECK (spec ->> 'key' = key),
    ADD CONSTRAINT instruments_version CHECK (version > 0)`);
  // Append-only: what an older run was corrected with stays known.
  await knex.schema.createTable('calibrations', (t) => {
    t.increments('id');
    t.text('instrument_key').notNullable();
    t.text('quantity').notNullable();
    t.jsonb('points').notNullable();
    t.double('gain').notNullable();
    t.double('offset').notNullable();
    t.text('against').notNullable().defaultTo('');
    t.text('technician').notNullable().defaultTo('');
    t.timestamp('made_at').notNullable().defaultTo(knex.fn.now());
    t.index(['instrument_key', 'made_at']);
  });
  await knex.raw(`ALTER TABLE calibrations
    ADD CONSTRAINT calibrations_quantity CHECK (quantity IN ('voltage', 'current')),
    ADD CONSTRAINT calibrations_gain CHECK (gain BETWEEN 0.5 AND 2)`);
};

exports.down = async (knex) => {
  await knex.schema.dropTable('calibrations');
  await knex.schema.dropTable('instruments');
};
