'use strict';

/** What the display of a practice unit showed. */
exports.up = (knex) =>
  knex.schema.alterTable('practice_units', (t) => t.jsonb('watched').notNullable().defaultTo('[]'));

exports.down = (knex) => knex.schema.alterTable('practice_units', (t) => t.dropColumn('watched'));
