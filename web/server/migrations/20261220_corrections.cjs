/**
 * Corrections: when an entry was done, that it counts for nothing, that a change is only planned or was entered by mistake, and
 * what stood there before, step by step, so that every step can be undone.
 */
const entries = ['runs', 'checks', 'readings', 'injections', 'proofs', 'actions'];

exports.up = async (knex) => {
  for (const table of entries) {
    await knex.schema.alterTable(table, (t) => {
      t.timestamp('done_at');
      t.text('void_why');
    });
    await knex.raw(`ALTER TABLE ?? ALTER COLUMN done_at SET DEFAULT now()`, [table]);
    await knex.raw(`ALTER TABLE ?? ADD CONSTRAINT ?? CHECK (void_why IS NULL OR btrim(void_why) <> '')`, [
      table,
      `${table}_void`,
    ]);
  }
  await knex.schema.alterTable('actions', (t) => {
    t.timestamp('deleted_at');
    t.boolean('planned').notNullable().defaultTo(false);
  });
  await knex.schema.alterTable('checks', (t) => t.jsonb('setup'));
  await knex.schema.alterTable('place_names', (t) => {
    t.setNullable('circuit');
    // Other names of the same place, and the number of a net that places share.
    t.jsonb('same').notNullable().defaultTo('[]');
    t.integer('net');
    t.timestamp('deleted_at');
  });
  await knex.schema.createTable('corrections', (t) => {
    t.increments('id');
    t.integer('job_id').notNullable().references('jobs.id').onDelete('CASCADE');
    t.text('what').notNullable();
    // Rows that the step touched, with what their columns held before; nothing before it for a new row.
    t.jsonb('touched').notNullable();
    // The step that this one undid.
    t.integer('undoes').references('corrections.id').onDelete('CASCADE');
    t.timestamp('undone_at');
    t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
    t.integer('person_id').references('people.id');
    t.index(['job_id', 'id']);
  });
  await knex.raw(
    `ALTER TABLE corrections ALTER COLUMN person_id SET DEFAULT NULLIF(current_setting('umbral.person', true), '')::integer`,
  );
};

exports.down = async (knex) => {
  await knex.schema.dropTable('corrections');
  // What says nothing but that two names are one place has no circuit to be kept with.
  await knex('place_names').whereNull('circuit').delete();
  await knex.schema.alterTable('place_names', (t) => {
    t.dropNullable('circuit');
    t.dropColumns('same', 'net', 'deleted_at');
  });
  await knex.schema.alterTable('checks', (t) => t.dropColumn('setup'));
  // An older version knows no change that does not count.
  await knex('actions').whereNotNull('deleted_at').orWhere('planned', true).orWhereNotNull('void_why').update({
    kind: 'other',
    circuit: null,
    note: 'not done',
  });
  await knex.schema.alterTable('actions', (t) => t.dropColumns('deleted_at', 'planned'));
  for (const table of entries) {
    if (table !== 'actions')
      await knex(table).whereNotNull('void_why').whereNull('deleted_at').update({ deleted_at: knex.fn.now() });
    await knex.schema.alterTable(table, (t) => t.dropColumns('done_at', 'void_why'));
  }
};
