/**
 * Confirmed cases are browsed some at a time: how many there are by what they are told apart by is kept by the database, their
 * words are found by an index, and each of the usual questions has one. The notebook finds a level among all runs.
 */
const groups = `LATERAL (VALUES ('pattern', coalesce(c.pattern, '')), ('circuit', c.circuit), ('deviceClass', c.device_class),
  ('model', c.model), ('grade', c.grade), ('technician', c.technician), ('origin', c.origin), ('kindModel', c.device_class || ' ' || c.model)) AS g("by", key)`;

const counted = (name, rows, sign) => `CREATE FUNCTION ${name}() RETURNS trigger LANGUAGE plpgsql AS $$
  BEGIN
    INSERT INTO case_counts ("by", key, n)
    SELECT g."by", g.key, ${sign} count(*) FROM ${rows} c, ${groups}
    GROUP BY 1, 2 ORDER BY 1, 2
    ON CONFLICT ("by", key) DO UPDATE SET n = case_counts.n + excluded.n;
    RETURN NULL;
  END $$`;

/** A model's name as two people write it. */
const nameOf = `lower(regexp_replace(btrim(model), '\\s+', ' ', 'g'))`;

const indexes = { circuit: 'circuit', pattern: 'pattern', kind: 'device_class', model: 'model' };

exports.up = async (knex) => {
  await knex.schema.alterTable('library_cases', (t) => {
    t.text('technician').notNullable().defaultTo('');
    // Name of the shop that it came from; empty for one of this shop.
    t.text('origin').notNullable().defaultTo('');
  });
  await knex.raw('UPDATE library_cases c SET technician = j.technician FROM jobs j WHERE j.id = c.job_id');
  await knex.raw('UPDATE library_cases c SET origin = l.shop FROM libraries l WHERE l.id = c.library_id');
  await knex.raw(`ALTER TABLE library_cases ADD COLUMN words tsvector
    GENERATED ALWAYS AS (to_tsvector('simple', model || ' ' || element)) STORED`);
  await knex.raw('CREATE INDEX library_cases_by_words ON library_cases USING gin (words)');
  await knex.raw('CREATE INDEX library_cases_by_time ON library_cases (closed_at, id)');
  for (const [name, column] of Object.entries(indexes))
    await knex.raw(`CREATE INDEX library_cases_by_${name} ON library_cases (${column}, closed_at, id)`);

  await knex.raw(`CREATE INDEX library_cases_by_name ON library_cases (${nameOf})`);
  await knex.raw(`CREATE INDEX notes_by_name ON notes (${nameOf})`);

  await knex.schema.createTable('case_counts', (t) => {
    t.text('by').notNullable();
    t.text('key').notNullable();
    t.bigInteger('n').notNullable();
    t.primary(['by', 'key']);
  });
  await knex.raw(counted('cases_added', 'added', ''));
  await knex.raw(counted('cases_taken', 'taken', '-'));
  await knex.raw(`INSERT INTO case_counts ("by", key, n) SELECT g."by", g.key, count(*)
    FROM library_cases c, ${groups} GROUP BY 1, 2`);
  for (const [event, name, table] of [
    ['INSERT', 'cases_added', 'NEW TABLE AS added'],
    ['UPDATE', 'cases_added', 'NEW TABLE AS added'],
    ['UPDATE', 'cases_taken', 'OLD TABLE AS taken'],
    ['DELETE', 'cases_taken', 'OLD TABLE AS taken'],
  ])
    await knex.raw(`CREATE TRIGGER ${name}_${event.toLowerCase()} AFTER ${event} ON library_cases REFERENCING ${table}
      FOR EACH STATEMENT EXECUTE FUNCTION ${name}()`);
};

exports.down = async (knex) => {
  for (const [name, event] of [
    ['cases_added', 'insert'],
    ['cases_added', 'update'],
    ['cases_taken', 'update'],
    ['cases_taken', 'delete'],
  ])
    await knex.raw(`DROP TRIGGER ${name}_${event} ON library_cases`);
  for (const name of ['cases_added', 'cases_taken']) await knex.raw(`DROP FUNCTION ${name}()`);
  await knex.schema.dropTable('case_counts');
  for (const name of [...Object.keys(indexes), 'time', 'words', 'name'])
    await knex.raw(`DROP INDEX library_cases_by_${name}`);
  await knex.raw('DROP INDEX notes_by_name');
  await knex.schema.alterTable('library_cases', (t) => {
    for (const column of ['words', 'technician', 'origin']) t.dropColumn(column);
  });
};
