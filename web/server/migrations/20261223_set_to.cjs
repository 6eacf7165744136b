'use strict';

/** What the supply said that it was set to while it recorded: a run has that, and not what somebody typed meanwhile. */
exports.up = (knex) => knex.schema.alterTable('recordings', (t) => t.jsonb('set_to').notNullable().defaultTo('[]'));

exports.down = (knex) => knex.schema.alterTable('recordings', (t) => t.dropColumn('set_to'));
