/**
 * The two tables that grow the fastest lie in partitions, so that the oldest part can go as a whole: samples of runs by the
 * number of the run, which grows with time, and the record of who did what by year. What was there before is the first
 * partition of each, as it lies. Who works with the rows reaches them through the whole table alone.
 */

/** Runs whose samples share a partition. */
const runsTogether = 20_000;

/** Whatever fits into no other partition: a run brought in under an old number, an entry of a clock that is wrong. */
const rest = (table) => `${table}_rest`;

const triggers = (partition) => `EXECUTE format('CREATE TRIGGER never_emptied BEFORE TRUNCATE ON %I
  FOR EACH STATEMENT EXECUTE FUNCTION refuse_change()', ${partition})`;

/**
 * Makes the partitions that the next runs and the next year go into. One that the rest already holds rows of takes those
 * over.
 */
const openPartitions = `CREATE FUNCTION open_partitions() RETURNS integer
  LANGUAGE plpgsql SECURITY DEFINER AS $$
  DECLARE made integer := 0; first bigint; name text; newest bigint; this_year integer := extract(year FROM now());
  BEGIN
    PERFORM pg_advisory_xact_lock(471400005);
    PERFORM set_config('umbral.erasing', 'yes', true);
    SELECT coalesce(max(id), 0) INTO newest FROM runs;
    SELECT max(substring(c.relname FROM '^run_chunks_to_([0-9]+)$')::bigint) INTO first
      FROM pg_inherits i JOIN pg_class c ON c.oid = i.inhrelid WHERE i.inhparent = 'run_chunks'::regclass;
    WHILE first <= newest + ${runsTogether} LOOP
      name := 'run_chunks_to_' || (first + ${runsTogether});
      EXECUTE format('CREATE TABLE %I (LIKE run_chunks INCLUDING ALL)', name);
      EXECUTE format('WITH late AS (DELETE FROM ${rest('run_chunks')} WHERE run_id >= %s AND run_id < %s RETURNING *)
        INSERT INTO %I SELECT * FROM late', first, first + ${runsTogether}, name);
      EXECUTE format('ALTER TABLE run_chunks ATTACH PARTITION %I FOR VALUES FROM (%s) TO (%s)', name, first, first + ${runsTogether});
      first := first + ${runsTogether};
      made := made + 1;
    END LOOP;
    FOR year IN this_year..this_year + 1 LOOP
      name := 'audit_' || year;
      CONTINUE WHEN to_regclass(name) IS NOT NULL
        OR year <= (SELECT max(substring(c.relname FROM '^audit_until_([0-9]+)$')::integer)
          FROM pg_inherits i JOIN pg_class c ON c.oid = i.inhrelid
          WHERE i.inhparent = 'audit'::regclass AND c.relname LIKE 'audit\\_until\\_%');
      EXECUTE format('CREATE TABLE %I (LIKE audit INCLUDING ALL)', name);
      EXECUTE format('WITH late AS (DELETE FROM ${rest('audit')} WHERE created_at >= %L AND created_at < %L RETURNING *)
        INSERT INTO %I SELECT * FROM late', make_timestamptz(year, 1, 1, 0, 0, 0, 'UTC'), make_timestamptz(year + 1, 1, 1, 0, 0, 0, 'UTC'), name);
      EXECUTE format('ALTER TABLE audit ATTACH PARTITION %I FOR VALUES FROM (%L) TO (%L)', name,
        make_timestamptz(year, 1, 1, 0, 0, 0, 'UTC'), make_timestamptz(year + 1, 1, 1, 0, 0, 0, 'UTC'));
      ${triggers('name')};
      made := made + 1;
    END LOOP;
    PERFORM set_config('umbral.erasing', '', true);
    RETURN made;
  END $$`;

/**
 * Drops the samples of recorded runs of jobs that were closed before a time; their picture, figures and shape stay. A
 * partition is written anew without them once half of its blocks may go. Runs of healthy units that others are held
 * against stay whole.
 */
const dropSamples = `CREATE FUNCTION drop_samples(before timestamptz) RETURNS integer
  LANGUAGE plpgsql SECURITY DEFINER AS $$
  DECLARE part record; going integer[]; blocks bigint; gone bigint; total integer := 0; bounds text; name text;
  BEGIN
    IF before > now() - interval '30 days' THEN
      RAISE EXCEPTION 'samples stay for 30 days at least';
    END IF;
    PERFORM pg_advisory_xact_lock(471400005);
    FOR part IN SELECT c.oid, c.relname, pg_get_expr(c.relpartbound, c.oid) AS bounds
      FROM pg_inherits i JOIN pg_class c ON c.oid = i.inhrelid
      WHERE i.inhparent = 'run_chunks'::regclass AND c.relname LIKE 'run\\_chunks\\_to\\_%'
      ORDER BY length(c.relname), c.relname
    LOOP
      EXECUTE format('SELECT count(*), count(g.id), array_agg(DISTINCT g.id) FILTER (WHERE g.id IS NOT NULL) FROM %I c
        LEFT JOIN (SELECT r.id FROM runs r JOIN jobs j ON j.id = r.job_id
          WHERE j.closed_at < $1 AND NOT j.is_practice AND r.file_name IS NOT NULL
          AND NOT EXISTS (SELECT 1 FROM reference_runs f WHERE f.run_id = r.id)) g ON g.id = c.run_id', part.relname)
        INTO blocks, gone, going USING before;
      CONTINUE WHEN gone = 0 OR gone * 2 < blocks;
      name := part.relname || '_kept';
      EXECUTE format('CREATE TABLE %I (LIKE run_chunks INCLUDING ALL)', name);
      EXECUTE format('INSERT INTO %I SELECT * FROM %I WHERE run_id <> ALL ($1)', name, part.relname) USING going;
      EXECUTE format('ALTER TABLE run_chunks DETACH PARTITION %I', part.relname);
      EXECUTE format('DROP TABLE %I', part.relname);
      EXECUTE format('ALTER TABLE %I RENAME TO %I', name, part.relname);
      EXECUTE format('ALTER TABLE run_chunks ATTACH PARTITION %I %s', part.relname, part.bounds);
      UPDATE runs SET samples_dropped_at = now() WHERE id = ANY (going);
      total := total + cardinality(going);
    END LOOP;
    IF total > 0 THEN
      INSERT INTO audit (what, detail) VALUES ('samples dropped', jsonb_build_object('runs', total, 'closedBefore', before));
    END IF;
    RETURN total;
  END $$`;

/** Drops the years of the record that lie wholly before a time, and notes how many entries they held. */
const dropAudit = `CREATE FUNCTION drop_audit(before timestamptz) RETURNS bigint
  LANGUAGE plpgsql SECURITY DEFINER AS $$
  DECLARE part record; counted bigint; total bigint := 0;
  BEGIN
    IF before > now() - interval '1 year' THEN
      RAISE EXCEPTION 'the record stays for a year at least';
    END IF;
    PERFORM pg_advisory_xact_lock(471400005);
    FOR part IN SELECT c.relname, substring(c.relname FROM '[0-9]{4}$')::integer AS year
      FROM pg_inherits i JOIN pg_class c ON c.oid = i.inhrelid
      WHERE i.inhparent = 'audit'::regclass AND c.relname ~ '^audit_(until_)?[0-9]{4}$' ORDER BY 2
    LOOP
      CONTINUE WHEN make_timestamptz(part.year + 1, 1, 1, 0, 0, 0, 'UTC') > before;
      EXECUTE format('SELECT count(*) FROM %I', part.relname) INTO counted;
      EXECUTE format('DROP TABLE %I', part.relname);
      INSERT INTO audit (what, detail) VALUES ('years of the record dropped',
        jsonb_build_object('until', part.year, 'entries', counted));
      total := total + counted;
    END LOOP;
    RETURN total;
  END $$`;

const functions = { open_partitions: openPartitions, drop_samples: dropSamples, drop_audit: dropAudit };
/** For the migration that replaces them, and for the way back from it. */
exports.functions = functions;
const argumentsOf = { open_partitions: '', drop_samples: 'timestamptz', drop_audit: 'timestamptz' };
exports.argumentsOf = argumentsOf;

const schemaOf = async (knex) => (await knex.raw('SELECT current_schema() AS name')).rows[0].name;

/** A table of the same columns, empty and in partitions, in the place of one that becomes the first of them. */
async function divide(knex, table, by, key, first, bounds) {
  await knex.raw(`ALTER TABLE ${table} RENAME TO ${first}`);
  await knex.raw(
    `CREATE TABLE ${table} (LIKE ${first} INCLUDING DEFAULTS INCLUDING CONSTRAINTS) PARTITION BY RANGE (${by})`,
  );
  await knex.raw(`ALTER TABLE ${table} ADD PRIMARY KEY (${key})`);
  await knex.raw(`CREATE TABLE ${rest(table)} PARTITION OF ${table} DEFAULT`);
  return () => knex.raw(`ALTER TABLE ${table} ATTACH PARTITION ${first} FOR VALUES ${bounds}`);
}

exports.up = async (knex) => {
  await knex.schema.alterTable('runs', (t) => t.timestamp('samples_dropped_at'));

  const [{ newest }] = (await knex.raw('SELECT coalesce(max(id), 0)::int AS newest FROM runs')).rows;
  const to = runsTogether * (Math.floor(newest / runsTogether) + 1);
  const attachChunks = await divide(
    knex,
    'run_chunks',
    'run_id',
    'run_id, seq',
    `run_chunks_to_${to}`,
    `FROM (MINVALUE) TO (${to})`,
  );
  await knex.raw('ALTER TABLE run_chunks ADD FOREIGN KEY (run_id) REFERENCES runs ON DELETE CASCADE');
  await attachChunks();

  // An event of a bench is entered once, whatever year it lies in.
  await knex.raw(`CREATE TABLE bench_events (key text PRIMARY KEY)`);
  await knex.raw('INSERT INTO bench_events SELECT event_key FROM audit WHERE event_key IS NOT NULL');
  await knex.raw('DROP TRIGGER audit_never_emptied ON audit');
  await knex.raw('ALTER TABLE audit DROP CONSTRAINT audit_event_key_unique');
  const year = new Date().getUTCFullYear();
  const old = `audit_until_${year}`;
  for (const name of ['audit_append_only', 'audit_told', 'audit_own_unit'])
    await knex.raw(`DROP TRIGGER ${name} ON audit`);
  const [{ sequence }] = (await knex.raw(`SELECT pg_get_serial_sequence('audit', 'id') AS sequence`)).rows;
  await knex.raw('ALTER TABLE audit DROP CONSTRAINT audit_pkey');
  const attachAudit = await divide(
    knex,
    'audit',
    'created_at',
    'id, created_at',
    old,
    `FROM (MINVALUE) TO ('${year + 1}-01-01T00:00Z')`,
  );
  await knex.raw(`ALTER SEQUENCE ${sequence} OWNED BY audit.id`);
  await knex.raw(`ALTER TABLE ${old} ADD PRIMARY KEY (id, created_at)`);
  await knex.raw('ALTER TABLE audit ADD FOREIGN KEY (job_id) REFERENCES jobs');
  await knex.raw('ALTER TABLE audit ADD FOREIGN KEY (person_id) REFERENCES people');
  await attachAudit();
  await knex.raw('CREATE INDEX ON audit (job_id, id)');
  await knex.raw('CREATE INDEX ON audit (created_at)');
  await knex.raw(
    `CREATE TRIGGER audit_append_only BEFORE UPDATE OR DELETE ON audit FOR EACH ROW EXECUTE FUNCTION refuse_change()`,
  );
  await knex.raw(
    `CREATE TRIGGER audit_own_unit BEFORE INSERT OR UPDATE ON audit FOR EACH ROW EXECUTE FUNCTION refuse_others_unit()`,
  );
  await knex.raw(`CREATE TRIGGER audit_told AFTER INSERT OR UPDATE ON audit FOR EACH ROW EXECUTE FUNCTION tell_job()`);
  for (const table of ['audit', old, rest('audit')])
    await knex.raw(
      `CREATE TRIGGER never_emptied BEFORE TRUNCATE ON ${table} FOR EACH STATEMENT EXECUTE FUNCTION refuse_change()`,
    );

  const schema = await schemaOf(knex);
  for (const [name, text] of Object.entries(functions)) {
    const signature = `${name}(${argumentsOf[name]})`;
    await knex.raw(text.replaceAll('?', '\\?'));
    await knex.raw(`ALTER FUNCTION ${signature} SET search_path = ??, pg_temp`, [schema]);
    await knex.raw(`REVOKE EXECUTE ON FUNCTION ${signature} FROM PUBLIC`);
  }
  await knex.raw('SELECT open_partitions()');
};

/** Both tables whole again; what was dropped stays dropped. */
exports.down = async (knex) => {
  for (const name of Object.keys(functions)) await knex.raw(`DROP FUNCTION ${name}(${argumentsOf[name]})`);
  await knex.raw('DROP TABLE bench_events');
  for (const table of ['run_chunks', 'audit']) {
    await knex.raw(`CREATE TABLE ${table}_whole (LIKE ${table} INCLUDING DEFAULTS INCLUDING CONSTRAINTS)`);
    await knex.raw(`INSERT INTO ${table}_whole SELECT * FROM ${table}`);
  }
  const [{ sequence }] = (await knex.raw(`SELECT pg_get_serial_sequence('audit', 'id') AS sequence`)).rows;
  await knex.raw(`ALTER SEQUENCE ${sequence} OWNED BY audit_whole.id`);
  for (const table of ['run_chunks', 'audit']) {
    await knex.raw(`DROP TABLE ${table}`);
    await knex.raw(`ALTER TABLE ${table}_whole RENAME TO ${table}`);
  }
  await knex.raw(
    'ALTER TABLE run_chunks ADD CONSTRAINT run_chunks_pkey PRIMARY KEY (run_id, seq), ADD FOREIGN KEY (run_id) REFERENCES runs ON DELETE CASCADE',
  );
  await knex.raw(`ALTER TABLE audit ADD CONSTRAINT audit_pkey PRIMARY KEY (id), ADD CONSTRAINT audit_event_key_unique UNIQUE (event_key),
    ADD FOREIGN KEY (job_id) REFERENCES jobs, ADD FOREIGN KEY (person_id) REFERENCES people`);
  await knex.raw('CREATE INDEX audit_job_id_id_index ON audit (job_id, id)');
  await knex.raw('CREATE INDEX audit_by_time ON audit (created_at)');
  await knex.raw(
    'CREATE TRIGGER audit_append_only BEFORE UPDATE OR DELETE ON audit FOR EACH ROW EXECUTE FUNCTION refuse_change()',
  );
  await knex.raw(
    'CREATE TRIGGER audit_own_unit BEFORE INSERT OR UPDATE ON audit FOR EACH ROW EXECUTE FUNCTION refuse_others_unit()',
  );
  await knex.raw('CREATE TRIGGER audit_told AFTER INSERT OR UPDATE ON audit FOR EACH ROW EXECUTE FUNCTION tell_job()');
  await knex.raw(
    'CREATE TRIGGER audit_never_emptied BEFORE TRUNCATE ON audit FOR EACH STATEMENT EXECUTE FUNCTION refuse_change()',
  );
  await knex.schema.alterTable('runs', (t) => t.dropColumn('samples_dropped_at'));
};
