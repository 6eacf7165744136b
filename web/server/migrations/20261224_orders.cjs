'use strict';

/** Where a part is ordered, and orders that will not come. */
exports.up = async (knex) => {
  await knex.schema.alterTable('parts', (t) => t.text('supplier').notNullable().defaultTo(''));
  await knex.schema.alterTable('part_orders', (t) => t.timestamp('cancelled_at'));
  await knex.raw(
    'ALTER TABLE part_orders ADD CONSTRAINT part_orders_ended CHECK (arrived_at IS NULL OR cancelled_at IS NULL)',
  );
};

exports.down = async (knex) => {
  await knex.schema.alterTable('part_orders', (t) => t.dropColumn('cancelled_at'));
  await knex.schema.alterTable('parts', (t) => t.dropColumn('supplier'));
};
