/**
 * A case as a history: what was seen belongs to a state of the device that the last change before it began. Places and
 * circuits of checks, what a reading swings between, injections from any supply, and what a change takes back.
 */
const circuits = `circuit IS NULL OR circuit ~ '^[a-z.-]+$'`;

exports.up = async (knex) => {
  await knex.schema.alterTable('checks', (t) => {
    t.text('where').notNullable().defaultTo('');
    t.text('circuit');
    t.text('rail').notNullable().defaultTo('');
    t.text('after_action');
    t.foreign(['job_id', 'after_action']).references(['job_id', 'action_key']).inTable('actions');
  });
  await knex.schema.alterTable('readings', (t) => {
    t.boolean('across').notNullable().defaultTo(false);
    t.jsonb('swing');
    t.text('feed');
    t.double('shown_ohm');
    t.double('leads_ohm');
    t.text('after_action');
    t.foreign(['job_id', 'after_action']).references(['job_id', 'action_key']).inTable('actions');
  });
  await knex.schema.alterTable('actions', (t) => {
    t.text('undoes');
    t.foreign(['job_id', 'undoes']).references(['job_id', 'action_key']).inTable('actions');
  });
  await knex.schema.alterTable('runs', (t) => t.jsonb('contract'));
  await knex.schema.createTable('injections', (t) => {
    t.increments('id');
    t.integer('job_id').notNullable().references('jobs.id').onDelete('CASCADE');
    t.text('injection_key').notNullable();
    t.text('rail').notNullable();
    t.text('circuit');
    t.double('set_v').notNullable();
    t.double('limit_a');
    t.double('amps');
    t.double('leads_ohm');
    t.text('hot');
    t.text('hot_circuit');
    t.text('heat');
    t.double('reference_a');
    t.text('note').notNullable().defaultTo('');
    t.text('after_action');
    t.jsonb('extra');
    t.timestamp('deleted_at');
    t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
    t.unique(['job_id', 'injection_key']);
    t.foreign(['job_id', 'after_action']).references(['job_id', 'action_key']).inTable('actions');
  });
  await knex.raw(`ALTER TABLE injections
    ADD CONSTRAINT injections_volts CHECK (set_v > 0),
    ADD CONSTRAINT injections_limit CHECK (limit_a IS NULL OR limit_a > 0),
    ADD CONSTRAINT injections_amps CHECK (amps IS NULL OR amps >= 0),
    ADD CONSTRAINT injections_heat CHECK (heat IS NULL OR heat IN ('none', 'leads-only', 'uniform', 'one-spot', 'several-spots'))`);
  await knex.raw(`ALTER TABLE checks ADD CONSTRAINT checks_circuit CHECK (${circuits})`);
  await knex.raw(`ALTER TABLE readings
    ADD CONSTRAINT readings_across CHECK (NOT across OR state IS NULL),
    ADD CONSTRAINT readings_feed CHECK (feed IS NULL OR feed IN ('usb-c', 'dc-in')),
    ADD CONSTRAINT readings_swing CHECK (swing IS NULL OR (swing->>'low')::float8 <= (swing->>'high')::float8)`);
  await knex.raw(`ALTER TABLE actions ADD CONSTRAINT actions_undoes CHECK (undoes IS NULL OR undoes <> action_key)`);

  // What stood among the kept keys until now.
  await knex.raw(`UPDATE readings SET
    swing = extra->'swing',
    feed = extra->>'feed',
    shown_ohm = (extra->>'shownOhm')::float8,
    leads_ohm = (extra->>'leadsOhm')::float8,
    extra = NULLIF(extra - 'swing' - 'feed' - 'shownOhm' - 'leadsOhm', '{}'::jsonb)
    WHERE extra IS NOT NULL`);
  await knex.raw(`UPDATE checks SET
    "where" = COALESCE(extra->>'hot', ''),
    rail = COALESCE(extra->>'rail', ''),
    extra = NULLIF(extra - 'hot' - 'rail', '{}'::jsonb)
    WHERE extra IS NOT NULL AND check_id IN ('heat-view', 'inject')`);
  // What was entered after a change followed it.
  for (const table of ['checks', 'readings'])
    await knex.raw(`UPDATE ${table} x SET after_action = (
      SELECT a.action_key FROM actions a WHERE a.job_id = x.job_id AND a.created_at < x.created_at ORDER BY a.id DESC LIMIT 1)`);
};

exports.down = async (knex) => {
  await knex.raw(`UPDATE readings SET extra = NULLIF(COALESCE(extra, '{}'::jsonb) || jsonb_strip_nulls(jsonb_build_object(
    'swing', swing, 'feed', feed, 'shownOhm', shown_ohm, 'leadsOhm', leads_ohm)), '{}'::jsonb)`);
  await knex.raw(`UPDATE checks SET extra = NULLIF(COALESCE(extra, '{}'::jsonb) || jsonb_strip_nulls(jsonb_build_object(
    'hot', NULLIF("where", ''), 'rail', NULLIF(rail, ''))), '{}'::jsonb) WHERE check_id IN ('heat-view', 'inject')`);
  await knex.schema.dropTable('injections');
  await knex.schema.alterTable('runs', (t) => t.dropColumn('contract'));
  await knex.schema.alterTable('actions', (t) => t.dropColumn('undoes'));
  await knex.schema.alterTable('readings', (t) => {
    for (const column of ['across', 'swing', 'feed', 'shown_ohm', 'leads_ohm', 'after_action']) t.dropColumn(column);
  });
  await knex.schema.alterTable('checks', (t) => {
    for (const column of ['where', 'circuit', 'rail', 'after_action']) t.dropColumn(column);
  });
};
