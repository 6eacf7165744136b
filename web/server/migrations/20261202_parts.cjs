/** Parts on the shelf with every move of them, what is reserved and on order, and boards that parts are taken from. */
exports.up = async (knex) => {
  const byPerson = (table) =>
    knex.raw(`ALTER TABLE ${table} ALTER COLUMN person_id
      SET DEFAULT NULLIF(current_setting('umbral.person', true), '')::integer`);
  const person = (t) => t.integer('person_id').references('people.id');
  const job = (t) => t.integer('job_id').references('jobs.id').onDelete('SET NULL');

  await knex.schema.createTable('parts', (t) => {
    t.increments('id');
    t.text('name').notNullable();
    t.text('number').notNullable();
    t.text('suffix').notNullable().defaultTo('');
    // Suffixes that it stands in for.
    t.specificType('fits', 'text[]').notNullable().defaultTo('{}');
    t.text('device_class');
    t.text('model').notNullable().defaultTo('');
    t.text('circuit').notNullable();
    t.integer('on_hand').notNullable().defaultTo(0);
    t.integer('minimum').notNullable().defaultTo(0);
    t.double('cost').notNullable().defaultTo(0);
    t.text('shelf').notNullable().defaultTo('');
    t.integer('version').notNullable().defaultTo(1);
    t.timestamp('deleted_at');
    t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
  });
  await knex.raw(`ALTER TABLE parts
    ADD CONSTRAINT parts_on_hand CHECK (on_hand >= 0),
    ADD CONSTRAINT parts_minimum CHECK (minimum >= 0),
    ADD CONSTRAINT parts_cost CHECK (cost >= 0)`);
  await knex.raw('CREATE UNIQUE INDEX parts_once ON parts (lower(number), lower(suffix)) WHERE deleted_at IS NULL');

  await knex.schema.createTable('donors', (t) => {
    t.increments('id');
    t.text('label').notNullable();
    t.text('device_class').notNullable();
    t.text('model').notNullable().defaultTo('');
    t.text('shelf').notNullable().defaultTo('');
    t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
    person(t);
  });
  await byPerson('donors');
  // What is still on a donor board, and what was taken off it.
  await knex.schema.createTable('donor_parts', (t) => {
    t.increments('id');
    t.integer('donor_id').notNullable().references('donors.id').onDelete('CASCADE');
    t.text('what').notNullable();
    t.text('number').notNullable().defaultTo('');
    t.text('suffix').notNullable().defaultTo('');
    t.text('circuit').notNullable();
    t.timestamp('taken_at');
    job(t);
  });
  await knex.schema.createTable('part_moves', (t) => {
    t.increments('id');
    t.integer('part_id').notNullable().references('parts.id').onDelete('CASCADE');
    t.integer('delta').notNullable();
    t.text('why').notNullable();
    job(t);
    t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
    person(t);
    t.index(['part_id']);
  });
  await knex.raw(`ALTER TABLE part_moves
    ADD CONSTRAINT part_moves_delta CHECK (delta <> 0),
    ADD CONSTRAINT part_moves_why CHECK (why IN ('counted', 'arrived', 'taken', 'returned'))`);
  await byPerson('part_moves');
  await knex.schema.createTable('part_reservations', (t) => {
    t.integer('part_id').notNullable().references('parts.id').onDelete('CASCADE');
    t.integer('job_id').notNullable().references('jobs.id').onDelete('CASCADE');
    t.integer('count').notNullable();
    t.primary(['part_id', 'job_id']);
  });
  await knex.raw('ALTER TABLE part_reservations ADD CONSTRAINT part_reservations_count CHECK (count > 0)');
  await knex.schema.createTable('part_orders', (t) => {
    t.increments('id');
    t.integer('part_id').notNullable().references('parts.id').onDelete('CASCADE');
    t.integer('count').notNullable();
    t.timestamp('due_at').notNullable();
    t.timestamp('arrived_at');
    job(t);
    t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
    person(t);
  });
  await knex.raw('ALTER TABLE part_orders ADD CONSTRAINT part_orders_count CHECK (count > 0)');
  await byPerson('part_orders');
};

exports.down = async (knex) => {
  for (const table of ['part_orders', 'part_reservations', 'part_moves', 'donor_parts', 'donors', 'parts'])
    await knex.schema.dropTable(table);
};
