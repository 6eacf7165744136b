/**
 * Wrong tries to sign in are counted by name, known or not, and by address, before they are compared; and a screen from
 * which somebody signed in before has a count of its own, so that nobody elsewhere can make that person wait.
 */
exports.up = async (knex) => {
  await knex.schema.createTable('sign_in_tries', (t) => {
    t.text('key').primary();
    t.integer('tries').notNullable();
    t.timestamp('tried_at').notNullable().defaultTo(knex.fn.now());
    t.timestamp('locked_until');
  });
  await knex.schema.createTable('known_screens', (t) => {
    t.text('hash').notNullable();
    t.integer('person_id').notNullable().references('people.id').onDelete('CASCADE');
    t.timestamp('seen_at').notNullable().defaultTo(knex.fn.now());
    t.primary(['hash', 'person_id']);
  });
  await knex.schema.alterTable('people', (t) => {
    t.dropColumn('failures');
    t.dropColumn('locked_until');
  });
};

exports.down = async (knex) => {
  await knex.schema.alterTable('people', (t) => {
    t.integer('failures').notNullable().defaultTo(0);
    t.timestamp('locked_until');
  });
  await knex.schema.dropTable('known_screens');
  await knex.schema.dropTable('sign_in_tries');
};
