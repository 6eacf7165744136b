/**
 * The board of a model as a map: sides, the pictures that lie on them, where probes go, and what was seen there. Places are in
 * widths of the board, so that they stand whatever picture is put under them.
 */
const tables = ['board_sides', 'board_pictures', 'board_points', 'board_marks', 'job_boards'];

exports.up = async (knex) => {
  const common = (t) => {
    t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
    t.integer('person_id').references('people.id');
  };
  await knex.schema.createTable('board_sides', (t) => {
    t.increments('id');
    t.text('model_key').notNullable();
    // What is printed on the board; empty where nobody said.
    t.text('revision').notNullable().defaultTo('');
    t.text('side').notNullable();
    // Of a board in several pieces; empty for the whole.
    t.text('part').notNullable().defaultTo('');
    t.double('height').notNullable();
    t.timestamp('deleted_at');
    common(t);
  });
  await knex.raw(`ALTER TABLE board_sides
    ADD CONSTRAINT board_sides_model CHECK (btrim(model_key) <> ''),
    ADD CONSTRAINT board_sides_height CHECK (height > 0 AND height <= 8)`);
  await knex.raw(
    'CREATE UNIQUE INDEX board_sides_once ON board_sides (model_key, revision, side, part) WHERE deleted_at IS NULL',
  );
  await knex.schema.createTable('board_pictures', (t) => {
    t.increments('id');
    t.integer('side_id').notNullable().references('board_sides.id').onDelete('CASCADE');
    // A picture of one device; null for those of the model.
    t.integer('job_id').references('jobs.id').onDelete('CASCADE');
    t.text('kind').notNullable();
    t.text('caption').notNullable().defaultTo('');
    // The same places in the picture and on the board.
    t.jsonb('pairs').notNullable();
    t.integer('width').notNullable();
    t.integer('height').notNullable();
    t.binary('image').notNullable();
    t.binary('middle').notNullable();
    t.timestamp('deleted_at');
    common(t);
    t.index(['side_id']);
    t.index(['job_id']);
  });
  await knex.raw(`ALTER TABLE board_pictures
    ADD CONSTRAINT board_pictures_kind CHECK (kind IN ('photo', 'heat')),
    ADD CONSTRAINT board_pictures_size CHECK (width > 0 AND height > 0)`);
  await knex.schema.createTable('board_points', (t) => {
    t.increments('id');
    t.integer('side_id').notNullable().references('board_sides.id').onDelete('CASCADE');
    t.double('x').notNullable();
    t.double('y').notNullable();
    t.text('kind').notNullable();
    t.text('name').notNullable();
    // Points of one net share readings: a rail's id, or what the shop calls it.
    t.text('net').notNullable();
    t.text('circuit');
    t.timestamp('deleted_at');
    common(t);
    t.index(['side_id']);
  });
  await knex.raw(`ALTER TABLE board_points
    ADD CONSTRAINT board_points_place CHECK (x >= 0 AND x <= 1 AND y >= 0 AND y <= 8),
    ADD CONSTRAINT board_points_net CHECK (btrim(net) <> '')`);
  await knex.schema.createTable('board_marks', (t) => {
    t.increments('id');
    t.integer('side_id').notNullable().references('board_sides.id').onDelete('CASCADE');
    t.integer('job_id').notNullable().references('jobs.id').onDelete('CASCADE');
    t.text('kind').notNullable();
    // Corners of an area.
    t.jsonb('area').notNullable();
    t.text('where').notNullable().defaultTo('');
    t.text('circuit');
    // The observation that it is.
    t.integer('check_id').references('checks.id').onDelete('CASCADE');
    t.timestamp('deleted_at');
    common(t);
    t.index(['side_id']);
    t.index(['job_id']);
  });
  await knex.schema.createTable('job_boards', (t) => {
    t.integer('job_id').primary().references('jobs.id').onDelete('CASCADE');
    t.text('revision').notNullable();
    common(t);
  });
  for (const table of tables)
    await knex.raw(
      `ALTER TABLE ?? ALTER COLUMN person_id SET DEFAULT NULLIF(current_setting('umbral.person', true), '')::integer`,
      [table],
    );
};

exports.down = async (knex) => {
  for (const table of [...tables].reverse()) await knex.schema.dropTable(table);
};
