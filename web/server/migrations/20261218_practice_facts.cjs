/** The fact that decides a practice unit is kept with its call, and how it was closed with the unit. */
exports.up = async (knex) => {
  await knex.schema.alterTable('practice_calls', (t) => {
    t.renameColumn('overlooked', 'missed');
    t.jsonb('decided');
  });
  await knex.schema.alterTable('practice_units', (t) => {
    t.jsonb('closing');
  });
};

exports.down = async (knex) => {
  await knex.schema.alterTable('practice_units', (t) => t.dropColumn('closing'));
  await knex.schema.alterTable('practice_calls', (t) => {
    t.dropColumn('decided');
    t.renameColumn('missed', 'overlooked');
  });
};
