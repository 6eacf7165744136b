/** What of a library was removed, row by row, so that it can be put back for a while. */
exports.up = (knex) =>
  knex.schema.createTable('removed_rows', (t) => {
    t.integer('library_id').notNullable().index();
    t.text('table').notNullable();
    t.jsonb('row').notNullable();
    t.timestamp('removed_at').notNullable().defaultTo(knex.fn.now());
  });

exports.down = (knex) => knex.schema.dropTable('removed_rows');
