/**
 * What closed jobs teach, kept as it is needed, so that neither a page nor a save reads the whole record:
 * - a confirmed case carries the version of the library that it came with, and what was taken out is remembered, so that whoever
 *   keeps a copy asks only for what is new. The version moves before the rows do: whoever moves it holds it until the end of the
 *   transaction, so that versions become visible in their order;
 * - a closed job has a row with its call and what it counts for, and the database keeps what all of them add up to, by everything
 *   that calls are told apart by;
 * - the correction of percentages is made behind the pages and kept.
 */
const groups = `LATERAL (VALUES ('all', ''), ('pattern', coalesce(c.pattern, '')), ('class', c.device_class), ('model', c.model),
  ('technician', c.technician), ('month', c.month), ('engine', c.engine)) AS g("by", key)`;

/** A function of a trigger that adds what rows count for to the sums, or takes it off. */
const counted = (name, rows, sign) => `CREATE FUNCTION ${name}() RETURNS trigger LANGUAGE plpgsql AS $$
  BEGIN
    INSERT INTO call_sums ("by", key, what, n, sum)
    SELECT g."by", g.key, x.key, ${sign} count(*), ${sign} sum(x.value::double precision)
    FROM ${rows} c, jsonb_each_text(c.counts) x, ${groups}
    GROUP BY 1, 2, 3 ORDER BY 1, 2, 3
    ON CONFLICT ("by", key, what) DO UPDATE SET n = call_sums.n + excluded.n, sum = call_sums.sum + excluded.sum;
    RETURN NULL;
  END $$`;

exports.up = async (knex) => {
  await knex.schema.alterTable('library_cases', (t) => t.bigInteger('revision').notNullable().defaultTo(0));
  await knex.raw('CREATE INDEX library_cases_by_revision ON library_cases (revision, id)');
  await knex.schema.createTable('library_gone', (t) => {
    t.text('case_key').primary();
    t.bigInteger('revision').notNullable().index();
  });
  await knex.raw(`DROP TRIGGER library_cases_moved ON library_cases`);
  await knex.raw(`CREATE TRIGGER library_cases_moved BEFORE INSERT OR UPDATE OR DELETE ON library_cases
    FOR EACH STATEMENT EXECUTE FUNCTION library_moved()`);
  await knex.raw(`CREATE FUNCTION library_case_moved() RETURNS trigger LANGUAGE plpgsql AS $$
    BEGIN NEW.revision := (SELECT version FROM library_state WHERE id = 1); RETURN NEW; END $$`);
  await knex.raw(`CREATE TRIGGER library_case_moved BEFORE INSERT OR UPDATE ON library_cases
    FOR EACH ROW EXECUTE FUNCTION library_case_moved()`);
  await knex.raw(`CREATE FUNCTION library_case_gone() RETURNS trigger LANGUAGE plpgsql AS $$
    BEGIN
      INSERT INTO library_gone (case_key, revision) SELECT OLD.case_key, version FROM library_state WHERE id = 1
      ON CONFLICT (case_key) DO UPDATE SET revision = excluded.revision;
      RETURN NULL;
    END $$`);
  await knex.raw(`CREATE TRIGGER library_case_gone AFTER DELETE ON library_cases
    FOR EACH ROW EXECUTE FUNCTION library_case_gone()`);

  await knex.schema.createTable('calls', (t) => {
    t.integer('job_id').primary().references('jobs.id').onDelete('CASCADE');
    t.timestamp('closed_at').notNullable();
    t.text('month').notNullable();
    t.text('device_class').notNullable();
    t.text('model').notNullable();
    t.text('technician').notNullable();
    t.text('engine').notNullable();
    t.integer('assessment_id');
    t.text('grade').notNullable();
    t.text('circuit');
    t.text('element').notNullable();
    t.text('pattern');
    t.double('pattern_alone');
    t.jsonb('circuits').notNullable();
    t.double('minutes_to_call');
    t.double('minutes_to_cause');
    t.integer('probes').notNullable();
    // What it counts for, each with the number that it adds.
    t.jsonb('counts').notNullable();
    t.index(['closed_at', 'job_id']);
  });
  await knex.raw('CREATE INDEX calls_by_counts ON calls USING gin (counts)');
  await knex.schema.createTable('call_sums', (t) => {
    t.text('by').notNullable();
    t.text('key').notNullable();
    t.text('what').notNullable();
    t.bigInteger('n').notNullable();
    t.double('sum').notNullable();
    t.primary(['by', 'key', 'what']);
  });
  await knex.raw(counted('calls_added', 'added', ''));
  await knex.raw(counted('calls_taken', 'taken', '-'));
  for (const [event, name, table] of [
    ['INSERT', 'calls_added', 'NEW TABLE AS added'],
    ['UPDATE', 'calls_added', 'NEW TABLE AS added'],
    ['UPDATE', 'calls_taken', 'OLD TABLE AS taken'],
    ['DELETE', 'calls_taken', 'OLD TABLE AS taken'],
  ])
    await knex.raw(`CREATE TRIGGER ${name}_${event.toLowerCase()} AFTER ${event} ON calls REFERENCING ${table}
      FOR EACH STATEMENT EXECUTE FUNCTION ${name}()`);

  await knex.schema.alterTable('library_state', (t) => {
    t.jsonb('recalibration');
    // How often one was made, and how many calls changed since.
    t.integer('fits').notNullable().defaultTo(0);
    t.integer('unfitted').notNullable().defaultTo(0);
  });
};

exports.down = async (knex) => {
  await knex.schema.alterTable('library_state', (t) => {
    t.dropColumn('recalibration');
    t.dropColumn('fits');
    t.dropColumn('unfitted');
  });
  for (const table of ['call_sums', 'calls']) await knex.schema.dropTable(table);
  for (const name of ['calls_added', 'calls_taken']) await knex.raw(`DROP FUNCTION ${name}()`);
  for (const name of ['library_case_gone', 'library_case_moved', 'library_cases_moved'])
    await knex.raw(`DROP TRIGGER ${name} ON library_cases`);
  for (const name of ['library_case_gone', 'library_case_moved']) await knex.raw(`DROP FUNCTION ${name}()`);
  await knex.raw(`CREATE TRIGGER library_cases_moved AFTER INSERT OR UPDATE OR DELETE ON library_cases
    FOR EACH STATEMENT EXECUTE FUNCTION library_moved()`);
  await knex.schema.dropTable('library_gone');
  await knex.schema.alterTable('library_cases', (t) => t.dropColumn('revision'));
};
