/** Practice: jobs that are none of the shop's, with the unit behind each, its call, and what a person has shown so far. */
exports.up = async (knex) => {
  await knex.schema.alterTable('jobs', (t) => {
    t.boolean('is_practice').notNullable().defaultTo(false);
  });
  // Numbers of their own, so that those of the shop's jobs have no gaps.
  await knex.raw('CREATE SEQUENCE practice_job_ids START 900000001 MAXVALUE 999999999 CYCLE');
  await knex.raw('CREATE INDEX jobs_practice ON jobs (id) WHERE is_practice');
  await knex.schema.createTable('practice_team_units', (t) => {
    t.increments('id');
    // The Monday of its week.
    t.date('week').notNullable().unique();
    t.text('profile').notNullable();
    t.integer('profile_version').notNullable();
    // What there is to find, as the command line takes it; null where it is drawn by the circuit.
    t.text('fault');
    t.text('circuit');
    t.text('severity');
    t.integer('seed').notNullable();
    t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
  });
  await knex.schema.createTable('practice_units', (t) => {
    t.integer('job_id').primary().references('jobs.id').onDelete('CASCADE');
    t.integer('person_id').notNullable().references('people.id');
    t.text('source').notNullable();
    t.text('lesson');
    t.integer('team_unit_id').references('practice_team_units.id').onDelete('SET NULL');
    t.text('profile').notNullable();
    t.integer('profile_version').notNullable();
    t.integer('seed').notNullable();
    // The device as it lies there: a profile that changes later does not change it.
    t.jsonb('device').notNullable();
    t.jsonb('faults').notNullable();
    t.text('circuit').notNullable();
    t.text('says').notNullable();
    t.integer('looks').notNullable().defaultTo(0);
    t.jsonb('tally');
    t.timestamp('finished_at');
    t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
    t.index(['person_id', 'created_at']);
  });
  await knex.raw(`ALTER TABLE practice_units
    ADD CONSTRAINT practice_units_source CHECK (source IN ('free', 'next', 'lesson', 'team', 'job')),
    ADD CONSTRAINT practice_units_looks CHECK (looks >= 0),
    ADD CONSTRAINT practice_units_team UNIQUE (team_unit_id, person_id)`);
  await knex.schema.createTable('practice_calls', (t) => {
    t.integer('job_id').primary().references('practice_units.job_id').onDelete('CASCADE');
    t.text('pattern').notNullable();
    t.jsonb('shares').notNullable();
    t.text('test').notNullable().defaultTo('');
    t.text('expects').notNullable().defaultTo('');
    // The engine's assessment of what lay there then.
    t.integer('assessment_id').notNullable().references('assessments.id').onDelete('CASCADE');
    t.jsonb('overlooked').notNullable();
    t.double('points').notNullable();
    t.double('engine_points').notNullable();
    t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
  });
  await knex.schema.createTable('practice_learners', (t) => {
    t.integer('person_id').primary().references('people.id');
    t.jsonb('ability').notNullable();
    t.timestamp('updated_at').notNullable().defaultTo(knex.fn.now());
  });
  await knex.schema.createTable('practice_reviews', (t) => {
    t.integer('person_id').notNullable().references('people.id');
    t.text('key').notNullable();
    t.text('kind').notNullable();
    t.jsonb('card').notNullable();
    t.timestamp('last_right');
    t.integer('wrong').notNullable().defaultTo(0);
    t.timestamp('due_at').notNullable();
    t.primary(['person_id', 'kind', 'key']);
  });
  await knex.raw(`ALTER TABLE practice_reviews
    ADD CONSTRAINT practice_reviews_kind CHECK (kind IN ('pair', 'silhouette'))`);
  await knex.schema.createTable('practice_lessons', (t) => {
    t.integer('person_id').notNullable().references('people.id');
    t.text('lesson').notNullable();
    // Answers by question, as they were given first.
    t.jsonb('answers').notNullable().defaultTo('{}');
    t.timestamp('done_at');
    t.primary(['person_id', 'lesson']);
  });
};

exports.down = async (knex) => {
  for (const table of [
    'practice_lessons',
    'practice_reviews',
    'practice_learners',
    'practice_calls',
    'practice_units',
    'practice_team_units',
  ])
    await knex.schema.dropTable(table);
  await knex.raw('DROP SEQUENCE practice_job_ids');
  await knex('jobs').where({ is_practice: true }).update({ deleted_at: knex.fn.now() });
  await knex.schema.alterTable('jobs', (t) => t.dropColumn('is_practice'));
};
