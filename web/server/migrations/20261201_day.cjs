/**
 * The bench's day: waits as records of their own instead of a word on the job, whose hands a job is in and for how long, what
 * somebody pinned or put off, what was promised and agreed, and how far people open a device and when they are there.
 */
exports.up = async (knex) => {
  const byPerson = (table) =>
    knex.raw(`ALTER TABLE ${table} ALTER COLUMN person_id
      SET DEFAULT NULLIF(current_setting('umbral.person', true), '')::integer`);
  const person = (t) => t.integer('person_id').references('people.id');

  await knex.schema.createTable('waits', (t) => {
    t.increments('id');
    t.integer('job_id').notNullable().references('jobs.id').onDelete('CASCADE');
    t.text('kind').notNullable();
    t.text('words').notNullable().defaultTo('');
    t.timestamp('started_at').notNullable().defaultTo(knex.fn.now());
    // Null where nobody knows.
    t.timestamp('until_at');
    t.timestamp('ended_at');
    // What began it: empty for a hand; "action:a3", "proof:soak:hour".
    t.text('source').notNullable().defaultTo('');
    // Somebody has heard its alarm.
    t.timestamp('heard_at');
    person(t);
    t.index(['job_id']);
  });
  await knex.raw(`ALTER TABLE waits
    ADD CONSTRAINT waits_order CHECK (until_at IS NULL OR until_at > started_at)`);
  await knex.raw('CREATE INDEX waits_running ON waits (until_at) WHERE ended_at IS NULL');
  await byPerson('waits');
  await knex.raw(`INSERT INTO waits (job_id, kind, words, started_at, until_at)
    SELECT id, 'other', waiting_for, least(updated_at, waiting_until - interval '1 second'), waiting_until
    FROM jobs WHERE waiting_for IS NOT NULL`);
  await knex.schema.alterTable('jobs', (t) => {
    t.dropColumn('waiting_for');
    t.dropColumn('waiting_until');
    t.timestamp('promised_at');
    t.double('fee');
    t.timestamp('agreed_at');
    t.boolean('data_only').notNullable().defaultTo(false);
  });
  await knex.raw('ALTER TABLE jobs ADD CONSTRAINT jobs_fee CHECK (fee >= 0)');

  // Whose hands a job is in; a job is in one pair of hands, and somebody has one job at a time.
  await knex.schema.createTable('takes', (t) => {
    t.increments('id');
    t.integer('job_id').notNullable().references('jobs.id').onDelete('CASCADE');
    t.integer('person_id').notNullable().references('people.id');
    t.text('kind').notNullable();
    t.timestamp('started_at').notNullable().defaultTo(knex.fn.now());
    t.timestamp('ended_at');
    t.index(['started_at']);
  });
  await knex.raw(`ALTER TABLE takes
    ADD CONSTRAINT takes_order CHECK (ended_at IS NULL OR ended_at >= started_at)`);
  await knex.raw('CREATE UNIQUE INDEX takes_one_a_job ON takes (job_id) WHERE ended_at IS NULL');
  await knex.raw('CREATE UNIQUE INDEX takes_one_a_person ON takes (person_id) WHERE ended_at IS NULL');

  // What somebody said about the place of a job on the run sheet.
  await knex.schema.createTable('sheet_marks', (t) => {
    t.integer('job_id').primary().references('jobs.id').onDelete('CASCADE');
    t.double('rank');
    t.timestamp('snoozed_until');
    person(t);
  });
  await byPerson('sheet_marks');

  await knex.schema.alterTable('people', (t) => {
    t.integer('max_depth').notNullable().defaultTo(5);
    // Hours of their own; null for those of the shop.
    t.jsonb('hours');
  });
  await knex.raw('ALTER TABLE people ADD CONSTRAINT people_depth CHECK (max_depth BETWEEN 0 AND 5)');
  for (const table of ['waits', 'takes', 'sheet_marks'])
    await knex.raw(
      `CREATE TRIGGER ${table}_told AFTER INSERT OR UPDATE ON ${table} FOR EACH ROW EXECUTE FUNCTION tell_job()`,
    );
};

exports.down = async (knex) => {
  await knex.schema.alterTable('people', (t) => {
    for (const column of ['max_depth', 'hours']) t.dropColumn(column);
  });
  await knex.schema.alterTable('jobs', (t) => {
    for (const column of ['promised_at', 'fee', 'agreed_at', 'data_only']) t.dropColumn(column);
    t.text('waiting_for');
    t.timestamp('waiting_until');
  });
  await knex.raw(`UPDATE jobs SET waiting_for = w.words, waiting_until = w.until_at
    FROM waits w WHERE w.job_id = jobs.id AND w.ended_at IS NULL`);
  for (const table of ['sheet_marks', 'takes', 'waits']) await knex.schema.dropTable(table);
};
