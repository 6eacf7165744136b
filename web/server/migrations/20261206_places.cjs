/**
 * What people say in place of a number, half boards and what was unplugged in checks, and circuits of places that are named
 * after something was entered there. Of what cases teach only the shapes of their runs and what they were are kept.
 */
exports.up = async (knex) => {
  await knex.schema.alterTable('readings', (t) => {
    t.text('bound');
    t.text('says');
  });
  await knex.raw(`ALTER TABLE readings
    DROP CONSTRAINT readings_value,
    ADD CONSTRAINT readings_value CHECK ((ol OR says IS NOT NULL) = (value IS NULL)),
    ADD CONSTRAINT readings_says CHECK (says IS NULL OR (says IN ('no-beep', 'beep', 'short', 'not-short', 'ok', 'open') AND NOT ol)),
    ADD CONSTRAINT readings_bound CHECK (bound IS NULL OR (bound IN ('below', 'above') AND value IS NOT NULL))`);
  await knex.schema.alterTable('checks', (t) => {
    t.text('half');
    t.jsonb('unplugged').notNullable().defaultTo('[]');
  });
  await knex.schema.createTable('place_names', (t) => {
    t.increments('id');
    t.integer('job_id').notNullable().references('jobs.id').onDelete('CASCADE');
    t.text('where').notNullable();
    t.text('circuit').notNullable();
    t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
    t.integer('person_id').references('people.id');
    t.index(['job_id', 'id']);
  });
  await knex.raw(`ALTER TABLE place_names
    ALTER COLUMN person_id SET DEFAULT NULLIF(current_setting('umbral.person', true), '')::integer,
    ADD CONSTRAINT place_names_where CHECK (btrim("where") <> '')`);
  await knex.schema.alterTable('library_cases', (t) => t.dropColumns('answers', 'scores'));
};

exports.down = async (knex) => {
  await knex.schema.alterTable('library_cases', (t) => {
    t.jsonb('answers').notNullable().defaultTo('{}');
    t.jsonb('scores').notNullable().defaultTo('[]');
  });
  await knex.schema.dropTable('place_names');
  await knex.schema.alterTable('checks', (t) => t.dropColumns('half', 'unplugged'));
  // What was said in words cannot be kept as a number: the entries stay, taken out of use.
  await knex.raw(
    `ALTER TABLE readings DROP CONSTRAINT readings_value, DROP CONSTRAINT readings_says, DROP CONSTRAINT readings_bound`,
  );
  await knex.raw(`UPDATE readings SET ol = true, deleted_at = COALESCE(deleted_at, now()) WHERE says IS NOT NULL`);
  await knex.schema.alterTable('readings', (t) => t.dropColumns('bound', 'says'));
  await knex.raw('ALTER TABLE readings ADD CONSTRAINT readings_value CHECK (ol = (value IS NULL))');
};
