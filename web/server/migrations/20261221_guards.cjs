/**
 * What may be dropped is decided by times that the database itself writes: since when a run is kept, since when a job is
 * closed. Whoever drops locks first and looks afterwards, so that nothing that is saved meanwhile is missed; and what is asked
 * for with no time, an endless one, or from a transaction that sees an older state, is refused.
 */
const partitions = require('./20261215_partitions.cjs');

/**
 * Whoever drops or makes room gives way: all locks are taken before anything is done, each within a fifth of a second, so that
 * the four of them take less than the second after which the database looks who waits for whom. It is tried again later.
 */
const patience = '200ms';

const keptSince = `CREATE FUNCTION keep_time() RETURNS trigger LANGUAGE plpgsql AS $$
  BEGIN
    NEW.kept_since := CASE TG_OP WHEN 'INSERT' THEN now() ELSE OLD.kept_since END;
    RETURN NEW;
  END $$`;

const closedSince = `CREATE FUNCTION close_time() RETURNS trigger LANGUAGE plpgsql AS $$
  BEGIN
    NEW.closed_since := CASE
      WHEN NEW.closed_at IS NULL THEN NULL
      WHEN TG_OP = 'INSERT' THEN now()
      WHEN OLD.closed_at IS NULL THEN now()
      ELSE OLD.closed_since END;
    RETURN NEW;
  END $$`;

const refuseUnlessPast = (longest, what) => `
    IF before IS NULL OR NOT isfinite(before) OR before > now() - interval '${longest}' THEN
      RAISE EXCEPTION '${what}';
    END IF;
    IF current_setting('transaction_isolation') <> 'read committed' THEN
      RAISE EXCEPTION 'nothing is dropped by a transaction that may see an older state';
    END IF;`;

/** The newest run by the counter, which nobody sets: a run under a number of somebody's own opens no partitions. */
const openPartitions = partitions.functions.open_partitions
  .replace('CREATE FUNCTION', 'CREATE OR REPLACE FUNCTION')
  .replace(
    'SELECT coalesce(max(id), 0) INTO newest FROM runs;',
    `SELECT coalesce(max(id), 0) INTO newest FROM runs WHERE id <= (SELECT last_value FROM runs_id_seq);`,
  )
  .replace(
    'LOOP\n      name :=',
    'LOOP\n      LOCK TABLE runs IN SHARE ROW EXCLUSIVE MODE;\n      LOCK TABLE run_chunks IN ACCESS EXCLUSIVE MODE;\n      name :=',
  )
  .replace(
    "EXECUTE format('CREATE TABLE %I (LIKE audit",
    "LOCK TABLE jobs, people IN SHARE ROW EXCLUSIVE MODE;\n      LOCK TABLE audit IN ACCESS EXCLUSIVE MODE;\n      EXECUTE format('CREATE TABLE %I (LIKE audit",
  );

/**
 * Drops the samples of recorded runs that are kept since before a time and whose job is closed since before it; their picture,
 * figures and shape stay. One partition a call: it is written anew without them once half of its blocks may go. Runs of
 * healthy units that others are held against stay whole.
 */
const dropSamples = `CREATE OR REPLACE FUNCTION drop_samples(before timestamptz) RETURNS integer
  LANGUAGE plpgsql SECURITY DEFINER AS $$
  DECLARE part record; going integer[]; blocks bigint; gone bigint; name text;
  BEGIN
    ${refuseUnlessPast('30 days', 'samples stay for 30 days at least')}
    PERFORM pg_advisory_xact_lock(471400005);
    FOR part IN SELECT c.oid, c.relname, pg_get_expr(c.relpartbound, c.oid) AS bounds
      FROM pg_inherits i JOIN pg_class c ON c.oid = i.inhrelid
      WHERE i.inhparent = 'run_chunks'::regclass AND c.relname LIKE 'run\\_chunks\\_to\\_%'
      ORDER BY length(c.relname), c.relname
    LOOP
      EXECUTE format('SELECT count(*), count(g.id), array_agg(DISTINCT g.id) FILTER (WHERE g.id IS NOT NULL) FROM %I c
        LEFT JOIN (SELECT r.id FROM runs r JOIN jobs j ON j.id = r.job_id
          WHERE j.closed_since < $1 AND r.kept_since < $1 AND NOT j.is_practice AND r.file_name IS NOT NULL
          AND NOT EXISTS (SELECT 1 FROM reference_runs f WHERE f.run_id = r.id)) g ON g.id = c.run_id', part.relname)
        INTO blocks, gone, going USING before;
      CONTINUE WHEN gone = 0 OR gone * 2 < blocks;
      -- Attaching a partition locks the runs as well. What was opened again while we waited stays.
      LOCK TABLE runs IN SHARE ROW EXCLUSIVE MODE;
      PERFORM 1 FROM jobs WHERE id IN (SELECT job_id FROM runs WHERE id = ANY (going)) ORDER BY id FOR NO KEY UPDATE;
      PERFORM 1 FROM runs WHERE id = ANY (going) ORDER BY id FOR NO KEY UPDATE;
      LOCK TABLE run_chunks IN ACCESS EXCLUSIVE MODE;
      SELECT array_agg(r.id) INTO going FROM runs r JOIN jobs j ON j.id = r.job_id
        WHERE r.id = ANY (going) AND j.closed_since < before
        AND NOT EXISTS (SELECT 1 FROM reference_runs f WHERE f.run_id = r.id);
      CONTINUE WHEN going IS NULL;
      name := part.relname || '_kept';
      EXECUTE format('CREATE TABLE %I (LIKE run_chunks INCLUDING ALL)', name);
      EXECUTE format('INSERT INTO %I SELECT * FROM %I WHERE run_id <> ALL ($1)', name, part.relname) USING going;
      EXECUTE format('ALTER TABLE run_chunks DETACH PARTITION %I', part.relname);
      EXECUTE format('DROP TABLE %I', part.relname);
      EXECUTE format('ALTER TABLE %I RENAME TO %I', name, part.relname);
      EXECUTE format('ALTER TABLE run_chunks ATTACH PARTITION %I %s', part.relname, part.bounds);
      UPDATE runs SET samples_dropped_at = now() WHERE id = ANY (going);
      INSERT INTO audit (what, detail)
        VALUES ('samples dropped', jsonb_build_object('runs', cardinality(going), 'closedBefore', before));
      RETURN cardinality(going);
    END LOOP;
    RETURN 0;
  END $$`;

/** Drops the years of the record that lie wholly before a time, and notes how many entries they held. */
const dropAudit = `CREATE OR REPLACE FUNCTION drop_audit(before timestamptz) RETURNS bigint
  LANGUAGE plpgsql SECURITY DEFINER AS $$
  DECLARE part record; counted bigint; total bigint := 0;
  BEGIN
    ${refuseUnlessPast('1 year', 'the record stays for a year at least')}
    PERFORM pg_advisory_xact_lock(471400005);
    FOR part IN SELECT c.relname, substring(c.relname FROM '[0-9]{4}$')::integer AS year
      FROM pg_inherits i JOIN pg_class c ON c.oid = i.inhrelid
      WHERE i.inhparent = 'audit'::regclass AND c.relname ~ '^audit_(until_)?[0-9]{4}$' ORDER BY 2
    LOOP
      CONTINUE WHEN make_timestamptz(part.year + 1, 1, 1, 0, 0, 0, 'UTC') > before;
      LOCK TABLE audit IN ACCESS EXCLUSIVE MODE;
      EXECUTE format('SELECT count(*) FROM %I', part.relname) INTO counted;
      EXECUTE format('DROP TABLE %I', part.relname);
      INSERT INTO audit (what, detail) VALUES ('years of the record dropped',
        jsonb_build_object('until', part.year, 'entries', counted));
      total := total + counted;
    END LOOP;
    RETURN total;
  END $$`;

const functions = { open_partitions: openPartitions, drop_samples: dropSamples, drop_audit: dropAudit };
const schemaOf = async (knex) => (await knex.raw('SELECT current_schema() AS name')).rows[0].name;

/** What a caller has set for the session changes nothing of what these do. */
async function settle(knex, name, schema, isGuarded) {
  const signature = `${name}(${partitions.argumentsOf[name]})`;
  await knex.raw(`ALTER FUNCTION ${signature} RESET ALL`);
  await knex.raw(`ALTER FUNCTION ${signature} SET search_path = ??, pg_temp`, [schema]);
  if (!isGuarded) return;
  await knex.raw(`ALTER FUNCTION ${signature} SET lock_timeout = '${patience}'`);
  await knex.raw(`ALTER FUNCTION ${signature} SET "TimeZone" = 'UTC'`);
  await knex.raw(`ALTER FUNCTION ${signature} SET "DateStyle" = 'ISO, YMD'`);
}

exports.up = async (knex) => {
  // What a request's key was used for.
  await knex.schema.alterTable('requests', (t) => t.text('what'));
  await knex.schema.alterTable('runs', (t) => t.timestamp('kept_since').notNullable().defaultTo(knex.fn.now()));
  await knex.schema.alterTable('jobs', (t) => t.timestamp('closed_since'));
  await knex.raw('UPDATE runs SET kept_since = least(created_at, now())');
  await knex.raw('UPDATE jobs SET closed_since = least(closed_at, now()) WHERE closed_at IS NOT NULL');
  await knex.raw(keptSince);
  await knex.raw(closedSince);
  await knex.raw(
    'CREATE TRIGGER runs_kept_since BEFORE INSERT OR UPDATE ON runs FOR EACH ROW EXECUTE FUNCTION keep_time()',
  );
  await knex.raw(
    'CREATE TRIGGER jobs_closed_since BEFORE INSERT OR UPDATE ON jobs FOR EACH ROW EXECUTE FUNCTION close_time()',
  );
  const schema = await schemaOf(knex);
  for (const [name, text] of Object.entries(functions)) {
    await knex.raw(text.replaceAll('?', '\\?'));
    await settle(knex, name, schema, true);
  }
};

exports.down = async (knex) => {
  const schema = await schemaOf(knex);
  for (const [name, text] of Object.entries(partitions.functions)) {
    await knex.raw(text.replace('CREATE FUNCTION', 'CREATE OR REPLACE FUNCTION').replaceAll('?', '\\?'));
    await settle(knex, name, schema, false);
  }
  await knex.raw('DROP TRIGGER jobs_closed_since ON jobs');
  await knex.raw('DROP TRIGGER runs_kept_since ON runs');
  await knex.raw('DROP FUNCTION close_time()');
  await knex.raw('DROP FUNCTION keep_time()');
  await knex.schema.alterTable('requests', (t) => t.dropColumn('what'));
  await knex.schema.alterTable('jobs', (t) => t.dropColumn('closed_since'));
  await knex.schema.alterTable('runs', (t) => t.dropColumn('kept_since'));
};
