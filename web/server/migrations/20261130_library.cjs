/**
 * What the shop has learned: who confirmed what, the confirmed cases as the library knows them, lines that somebody typed into
 * the notebook, libraries of other shops with what they were signed by, and frozen calls made again with another engine.
 */
const grades = "('measured', 'cleared', 'declined', 'not-economical')";

exports.up = async (knex) => {
  const person = (t) => t.integer('person_id').references('people.id');
  const byPerson = (table) =>
    knex.raw(`ALTER TABLE ${table} ALTER COLUMN person_id
      SET DEFAULT NULLIF(current_setting('umbral.person', true), '')::integer`);

  // Two people may confirm one job as two things; each stands until it is withdrawn.
  await knex.schema.createTable('confirmations', (t) => {
    t.increments('id');
    t.integer('job_id').notNullable().references('jobs.id').onDelete('CASCADE');
    t.text('grade').notNullable();
    t.text('circuit').notNullable();
    t.text('target').notNullable().defaultTo('');
    t.text('why').notNullable().defaultTo('');
    t.timestamp('withdrawn_at');
    t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
    person(t);
    t.index(['job_id']);
  });
  await knex.raw(`ALTER TABLE confirmations ADD CONSTRAINT confirmations_grade CHECK (grade IN ${grades})`);
  await knex.raw(`INSERT INTO confirmations (job_id, grade, circuit, target, created_at)
    SELECT id, outcome_grade, outcome_circuit, outcome_target, coalesce(closed_at, now()) FROM jobs
    WHERE outcome_circuit IS NOT NULL AND (outcome_grade IN ('measured', 'cleared')
      OR (outcome_grade IN ${grades} AND coalesce((outcome_extra->>'proven')::boolean, false)))`);

  await knex.schema.createTable('known_shops', (t) => {
    t.text('fingerprint').primary();
    t.text('public_key').notNullable();
    t.text('name').notNullable();
    t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
    person(t);
  });
  await knex.schema.createTable('libraries', (t) => {
    t.increments('id');
    t.text('shop').notNullable();
    t.text('licence').notNullable();
    t.text('fingerprint').notNullable().references('known_shops.fingerprint');
    // Of what was signed: the same library is not taken in twice.
    t.text('sha256').notNullable().unique();
    t.timestamp('made_at').notNullable();
    t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
    person(t);
  });
  // The key that this shop signs with: one row.
  await knex.schema.createTable('shop_keys', (t) => {
    t.integer('id').primary();
    t.text('public_key').notNullable();
    t.text('private_key').notNullable();
    t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
  });
  await knex.raw('ALTER TABLE shop_keys ADD CONSTRAINT shop_keys_one CHECK (id = 1)');

  await knex.schema.createTable('library_cases', (t) => {
    t.increments('id');
    // The same for the same case wherever it is met.
    t.text('case_key').notNullable().unique();
    t.integer('job_id').unique().references('jobs.id').onDelete('CASCADE');
    t.integer('library_id').references('libraries.id').onDelete('CASCADE');
    t.text('model').notNullable();
    t.text('device_class').notNullable();
    t.text('circuit').notNullable();
    t.text('element').notNullable().defaultTo('');
    t.text('part').notNullable().defaultTo('');
    t.text('cure').notNullable().defaultTo('');
    t.text('grade').notNullable();
    t.double('weight').notNullable();
    t.text('pattern');
    t.jsonb('answers').notNullable();
    t.jsonb('scores').notNullable();
    t.double('pattern_alone');
    t.timestamp('closed_at').notNullable();
    t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
    t.index(['library_id']);
  });
  await knex.raw(`ALTER TABLE library_cases
    ADD CONSTRAINT library_cases_origin CHECK ((job_id IS NULL) <> (library_id IS NULL)),
    ADD CONSTRAINT library_cases_weight CHECK (weight BETWEEN 0 AND 1)`);
  await knex.schema.createTable('library_runs', (t) => {
    t.increments('id');
    t.integer('case_id').notNullable().references('library_cases.id').onDelete('CASCADE');
    t.text('run_key').notNullable();
    t.text('feed').notNullable();
    t.text('pattern');
    t.jsonb('setup').notNullable();
    t.binary('data').notNullable();
    // Amperes over the run, as the silhouette draws them; empty for a typed run.
    t.specificType('outline', 'real[]').notNullable();
    // The level that it stands for, as the notebook is searched by it: watts, amperes, volts.
    t.double('amps');
    t.double('volts');
    t.unique(['case_id', 'run_key']);
    t.index(['amps']);
  });

  // Moves with everything that is learned, so that whoever keeps a copy knows that it is old.
  await knex.schema.createTable('library_state', (t) => {
    t.integer('id').primary();
    t.bigInteger('version').notNullable().defaultTo(1);
    t.boolean('recalibrate').notNullable().defaultTo(true);
  });
  await knex('library_state').insert({ id: 1 });
  await knex.raw(`CREATE FUNCTION library_moved() RETURNS trigger LANGUAGE plpgsql AS $$
    BEGIN UPDATE library_state SET version = version + 1 WHERE id = 1; RETURN NULL; END $$`);
  await knex.raw(`CREATE TRIGGER library_cases_moved AFTER INSERT OR UPDATE OR DELETE ON library_cases
    FOR EACH STATEMENT EXECUTE FUNCTION library_moved()`);

  await knex.schema.createTable('notes', (t) => {
    t.increments('id');
    t.text('model').notNullable();
    t.text('device_class').notNullable();
    t.text('feed');
    t.double('volts');
    t.double('amps');
    t.text('setup').notNullable().defaultTo('');
    t.text('circuit').notNullable();
    t.text('element').notNullable().defaultTo('');
    t.integer('hits').notNullable().defaultTo(1);
    t.integer('of').notNullable().defaultTo(1);
    t.integer('library_id').references('libraries.id').onDelete('CASCADE');
    t.timestamp('deleted_at');
    t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
    person(t);
    t.index(['amps']);
  });
  await knex.raw(`ALTER TABLE notes
    ADD CONSTRAINT notes_counts CHECK (hits >= 0 AND "of" >= 1 AND hits <= "of" AND "of" <= 100000),
    ADD CONSTRAINT notes_level CHECK (amps IS NULL OR amps BETWEEN 0 AND 1000),
    ADD CONSTRAINT notes_volts CHECK (volts IS NULL OR volts BETWEEN 0 AND 1000)`);

  // What a call was made from, so that it can be made again.
  await knex.schema.alterTable('assessments', (t) => t.jsonb('inputs'));
  await knex.schema.createTable('replays', (t) => {
    t.increments('id');
    t.text('engine').notNullable();
    t.text('state').notNullable().defaultTo('waiting');
    t.integer('done').notNullable().defaultTo(0);
    t.integer('total').notNullable().defaultTo(0);
    t.jsonb('results').notNullable().defaultTo('[]');
    t.text('problem');
    t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
    t.timestamp('ended_at');
    person(t);
  });
  await knex.raw(`ALTER TABLE replays ADD CONSTRAINT replays_state
    CHECK (state IN ('waiting', 'running', 'done', 'cancelled', 'failed'))`);
  for (const table of ['confirmations', 'known_shops', 'libraries', 'notes', 'replays']) await byPerson(table);
};

exports.down = async (knex) => {
  await knex.schema.alterTable('assessments', (t) => t.dropColumn('inputs'));
  for (const table of ['replays', 'notes', 'library_state', 'library_runs', 'library_cases'])
    await knex.schema.dropTable(table);
  await knex.raw('DROP FUNCTION library_moved()');
  for (const table of ['shop_keys', 'libraries', 'known_shops', 'confirmations']) await knex.schema.dropTable(table);
};
