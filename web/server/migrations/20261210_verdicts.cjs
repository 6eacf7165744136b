/**
 * What is entered is kept at once, and the verdict follows when the engine has answered: a job counts its changes, and which
 * of them its newest verdict knows. Where the two differ a verdict is due.
 */
exports.up = (knex) =>
  knex.schema.alterTable('jobs', (t) => {
    t.integer('changes').notNullable().defaultTo(0);
    t.integer('changes_judged').notNullable().defaultTo(0);
  });

exports.down = (knex) =>
  knex.schema.alterTable('jobs', (t) => {
    t.dropColumn('changes');
    t.dropColumn('changes_judged');
  });
