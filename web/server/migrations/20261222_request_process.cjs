'use strict';

/** Which process answers a request that is under way: of one that has died nobody waits for an answer. */
exports.up = (knex) => knex.schema.alterTable('requests', (t) => t.text('process'));

exports.down = (knex) => knex.schema.alterTable('requests', (t) => t.dropColumn('process'));
