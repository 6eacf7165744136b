/**
 * Who works here and what each of them did: people with their sign-in, sessions, tokens for programs, who is in a job, and
 * a name beside every entry. Whose device is on the leads of a supply. Benches with a recorder of their own. Nothing that
 * is append-only can be emptied either.
 */
const named = [
  'jobs',
  'runs',
  'checks',
  'readings',
  'actions',
  'injections',
  'proofs',
  'assessments',
  'openings',
  'audit',
  'attachments',
  'firmware_dumps',
  'recordings',
  'calibrations',
  'profiles',
  'reference_runs',
  'reference_readings',
];
const appendOnly = ['assessments', 'openings', 'audit', 'profiles', 'calibrations'];
/** Tables whose changes are told to whoever has the job open; everything else leaves an audit row as well. */
const told = ['jobs', 'audit'];
const roles = "('lead', 'technician')";

/** What keeps rows as they are; deleting a job for good goes past it, and nothing else does. */
const refuseChange = (mayErase) => `CREATE OR REPLACE FUNCTION refuse_change() RETURNS trigger LANGUAGE plpgsql AS $$
  BEGIN
    ${mayErase ? "IF TG_OP = 'DELETE' AND current_setting('umbral.erasing', true) = 'yes' THEN RETURN OLD; END IF;" : ''}
    RAISE EXCEPTION 'rows of % are never changed or deleted', TG_TABLE_NAME;
  END $$`;

/**
 * Deletes a job that is in the trash, with all that belongs to it, and notes that it did. It runs as the owner of the
 * tables: whoever works with the rows may not delete those that are append-only in any other way.
 */
const eraseJob = `CREATE FUNCTION erase_job(erased integer, why text) RETURNS void
  LANGUAGE plpgsql SECURITY DEFINER SET search_path FROM CURRENT AS $$
  DECLARE gone jobs%ROWTYPE; counted integer;
  BEGIN
    SELECT * INTO gone FROM jobs WHERE id = erased AND deleted_at IS NOT NULL FOR UPDATE;
    IF NOT FOUND THEN RAISE EXCEPTION 'job % is not in the trash', erased USING ERRCODE = 'P0002'; END IF;
    SELECT count(*) INTO counted FROM runs WHERE job_id = erased;
    PERFORM set_config('umbral.erasing', 'yes', true);
    DELETE FROM audit WHERE job_id = erased;
    DELETE FROM openings WHERE job_id = erased;
    DELETE FROM assessments WHERE job_id = erased;
    UPDATE runs SET after_action = NULL WHERE job_id = erased;
    DELETE FROM jobs WHERE id = erased;
    PERFORM set_config('umbral.erasing', '', true);
    INSERT INTO audit (job_id, what, detail) VALUES (NULL, 'job deleted for good',
      jsonb_build_object('job', erased, 'model', gone.model, 'runs', counted, 'trashed', gone.deleted_at, 'why', why));
  END $$`;

exports.up = async (knex) => {
  await knex.schema.createTable('people', (t) => {
    t.increments('id');
    t.text('name').notNullable();
    t.text('role').notNullable();
    // Argon2id in its usual text form; null where there is none yet.
    t.text('password_hash');
    t.text('pin_hash');
    t.integer('failures').notNullable().defaultTo(0);
    t.timestamp('locked_until');
    t.boolean('is_demo').notNullable().defaultTo(false);
    t.timestamp('disabled_at');
    t.integer('version').notNullable().defaultTo(1);
    t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
  });
  await knex.raw(`ALTER TABLE people
    ADD CONSTRAINT people_role CHECK (role IN ${roles}),
    ADD CONSTRAINT people_name CHECK (length(name) BETWEEN 1 AND 80 AND name = btrim(name))`);
  await knex.raw('CREATE UNIQUE INDEX people_name_once ON people (lower(name))');

  // A session is known by the hash of what its cookie holds.
  await knex.schema.createTable('sessions', (t) => {
    t.text('hash').primary();
    t.integer('person_id').notNullable().references('people.id').onDelete('CASCADE');
    t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
    t.timestamp('seen_at').notNullable().defaultTo(knex.fn.now());
    t.timestamp('expires_at').notNullable();
    t.timestamp('locked_at');
    t.index(['person_id']);
  });

  // Typed once: to make the first lead, or to choose a new password.
  await knex.schema.createTable('sign_in_codes', (t) => {
    t.text('hash').primary();
    t.integer('person_id').references('people.id').onDelete('CASCADE');
    t.timestamp('expires_at').notNullable();
    t.timestamp('used_at');
  });

  await knex.schema.createTable('tokens', (t) => {
    t.increments('id');
    t.text('name').notNullable();
    t.text('hash').notNullable().unique();
    t.specificType('scopes', 'text[]').notNullable();
    t.integer('person_id').notNullable().references('people.id');
    t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
    t.timestamp('used_at');
    t.timestamp('revoked_at');
  });
  await knex.raw(`ALTER TABLE tokens
    ADD CONSTRAINT tokens_name CHECK (length(name) BETWEEN 1 AND 80),
    ADD CONSTRAINT tokens_scopes CHECK (cardinality(scopes) > 0 AND scopes <@ ARRAY['packages:read', 'packages:write', 'bench'])`);

  await knex.schema.createTable('presence', (t) => {
    t.integer('job_id').notNullable().references('jobs.id').onDelete('CASCADE');
    t.text('tab').notNullable();
    t.integer('person_id').notNullable().references('people.id').onDelete('CASCADE');
    // What is being edited, by the name that stands on the screen; empty for looking.
    t.text('field').notNullable().defaultTo('');
    t.timestamp('seen_at').notNullable().defaultTo(knex.fn.now());
    t.primary(['job_id', 'tab']);
  });

  await knex.schema.createTable('benches', (t) => {
    t.increments('id');
    t.text('key').notNullable().unique();
    t.text('name').notNullable();
    t.integer('token_id').references('tokens.id');
    // What it last said of its instruments, and of itself.
    t.jsonb('state');
    t.jsonb('health');
    // Of the one process that may speak for it now.
    t.text('lease');
    t.double('clock_off_s');
    t.timestamp('seen_at');
    t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
  });

  await knex.schema.createTable('on_leads', (t) => {
    t.text('instrument_key').primary();
    t.integer('job_id').notNullable().references('jobs.id').onDelete('CASCADE');
    t.timestamp('since').notNullable().defaultTo(knex.fn.now());
  });

  await knex.schema.createTable('backups', (t) => {
    t.increments('id');
    t.timestamp('made_at').notNullable().defaultTo(knex.fn.now());
    t.text('file').notNullable();
    t.bigInteger('bytes').notNullable();
    t.text('sha256').notNullable();
  });

  for (const table of named) {
    await knex.schema.alterTable(table, (t) => t.integer('person_id').references('people.id'));
    // Whoever the transaction works for: said once at its beginning.
    await knex.raw(`ALTER TABLE ${table} ALTER COLUMN person_id
      SET DEFAULT NULLIF(current_setting('umbral.person', true), '')::integer`);
  }
  await knex.schema.alterTable('audit', (t) => t.text('event_key').unique());
  await knex.schema.alterTable('recordings', (t) => {
    t.integer('bench_id').references('benches.id');
    t.text('begin_key').unique();
  });
  // An instrument is at one bench: null for the one beside the database.
  await knex.schema.alterTable('instruments', (t) => t.integer('bench_id').references('benches.id'));
  await knex.raw(refuseChange(true));
  await knex.raw(eraseJob);
  // Whoever has a job open hears of it when anything in it changes.
  await knex.raw(`CREATE FUNCTION tell_job() RETURNS trigger LANGUAGE plpgsql AS $$
    BEGIN
      PERFORM pg_notify('umbral_jobs', (CASE WHEN TG_TABLE_NAME = 'jobs' THEN to_jsonb(NEW)->>'id' ELSE to_jsonb(NEW)->>'job_id' END));
      RETURN NULL;
    END $$`);
  for (const table of told)
    await knex.raw(`CREATE TRIGGER ${table}_told AFTER INSERT OR UPDATE ON ${table}
      FOR EACH ROW EXECUTE FUNCTION tell_job()`);
  await knex.raw(`CREATE TRIGGER calibrations_append_only BEFORE UPDATE OR DELETE ON calibrations
    FOR EACH ROW EXECUTE FUNCTION refuse_change()`);
  for (const table of appendOnly)
    await knex.raw(`CREATE TRIGGER ${table}_never_emptied BEFORE TRUNCATE ON ${table}
      FOR EACH STATEMENT EXECUTE FUNCTION refuse_change()`);
};

exports.down = async (knex) => {
  for (const table of appendOnly) await knex.raw(`DROP TRIGGER ${table}_never_emptied ON ${table}`);
  await knex.raw('DROP FUNCTION erase_job(integer, text)');
  await knex.raw(refuseChange(false));
  for (const table of told) await knex.raw(`DROP TRIGGER ${table}_told ON ${table}`);
  await knex.raw('DROP FUNCTION tell_job()');
  await knex.raw('DROP TRIGGER calibrations_append_only ON calibrations');
  await knex.schema.alterTable('instruments', (t) => t.dropColumn('bench_id'));
  await knex.schema.alterTable('recordings', (t) => {
    for (const column of ['bench_id', 'begin_key']) t.dropColumn(column);
  });
  await knex.schema.alterTable('audit', (t) => t.dropColumn('event_key'));
  for (const table of named) await knex.schema.alterTable(table, (t) => t.dropColumn('person_id'));
  for (const table of ['backups', 'on_leads', 'benches', 'presence', 'tokens', 'sign_in_codes', 'sessions', 'people'])
    await knex.schema.dropTable(table);
};
