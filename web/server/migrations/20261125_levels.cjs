/** Coarser levels of long runs, so that they open and zoom at once; built when a run is stored. */
exports.up = async (knex) => {
  await knex.schema.createTable('run_levels', (t) => {
    t.integer('run_id').notNullable().references('runs.id').onDelete('CASCADE');
    t.integer('level').notNullable();
    t.integer('seq').notNullable();
    t.integer('buckets').notNullable();
    t.double('t0').notNullable();
    t.double('t1').notNullable();
    t.binary('data').notNullable();
    t.primary(['run_id', 'level', 'seq']);
  });
  await knex.raw(
    'ALTER TABLE run_levels ADD CONSTRAINT run_levels_range CHECK (buckets > 0 AND t1 >= t0 AND level BETWEEN 0 AND 9)',
  );
};

exports.down = async (knex) => {
  await knex.schema.dropTable('run_levels');
};
