/**
 * Three things that somebody could claim. A practice unit is worked on by its owner alone. What a bench elsewhere says that
 * somebody did there is believed of those whom it was told to do something for. And a change that is sent twice, because its
 * answer was lost, is one change.
 */
const worked = ['audit', 'runs', 'checks', 'readings', 'actions', 'injections', 'proofs', 'place_names'];

exports.up = async (knex) => {
  await knex.raw(`CREATE FUNCTION refuse_others_unit() RETURNS trigger LANGUAGE plpgsql AS $$
    DECLARE who integer := NULLIF(current_setting('umbral.person', true), '')::integer;
    BEGIN
      IF who IS NOT NULL AND EXISTS (SELECT 1 FROM practice_units WHERE job_id = NEW.job_id AND person_id <> who) THEN
        RAISE EXCEPTION 'practice unit % belongs to somebody else', NEW.job_id USING ERRCODE = 'UM001';
      END IF;
      RETURN NEW;
    END $$`);
  for (const table of worked)
    await knex.raw(`CREATE TRIGGER ${table}_own_unit BEFORE INSERT OR UPDATE ON ${table}
      FOR EACH ROW EXECUTE FUNCTION refuse_others_unit()`);

  await knex.schema.createTable('bench_orders', (t) => {
    t.integer('bench_id').notNullable().references('benches.id').onDelete('CASCADE');
    t.integer('person_id').notNullable().references('people.id').onDelete('CASCADE');
    // 0 for none: armed for no job.
    t.integer('job_id').notNullable();
    t.timestamp('first_at').notNullable().defaultTo(knex.fn.now());
    t.primary(['bench_id', 'person_id', 'job_id']);
  });

  await knex.schema.createTable('requests', (t) => {
    t.text('key').primary();
    t.integer('person_id').references('people.id').onDelete('CASCADE');
    // What was answered; null while it is being done.
    t.jsonb('answer');
    t.timestamp('asked_at').notNullable().defaultTo(knex.fn.now());
    t.index(['asked_at']);
  });
};

exports.down = async (knex) => {
  await knex.schema.dropTable('requests');
  await knex.schema.dropTable('bench_orders');
  for (const table of worked) await knex.raw(`DROP TRIGGER ${table}_own_unit ON ${table}`);
  await knex.raw('DROP FUNCTION refuse_others_unit()');
};
