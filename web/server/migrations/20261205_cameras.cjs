/** How a camera looks at the display of an instrument: corners, what each number is. */
exports.up = (knex) => knex.schema.alterTable('instruments', (t) => t.jsonb('framing'));

exports.down = (knex) => knex.schema.alterTable('instruments', (t) => t.dropColumn('framing'));
