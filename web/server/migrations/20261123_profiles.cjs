'use strict';

exports.up = async (knex) => {
  // Every save is a new version; what a job was assessed with can always be read again.
  await knex.schema.createTable('profiles', (t) => {
    t.increments('id');
    t.text('profile_id').notNullable();
    t.integer('version').notNullable();
    t.text('name').notNullable();
    t.text('note').notNullable().defaultTo('');
    t.jsonb('content').notNullable();
    t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
    t.unique(['profile_id', 'version']);
  });
  await knex.raw(`ALTER TABLE profiles
    ADD CONSTRAINT profiles_version CHECK (version > 0),
    ADD CONSTRAINT profiles_named CHECK (length(profile_id) BETWEEN 1 AND 80 AND content ->> 'id' = profile_id)`);
  await knex.raw(`CREATE TRIGGER profiles_append_only BEFORE UPDATE OR DELETE ON profiles
    FOR EACH ROW EXECUTE FUNCTION refuse_change()`);

  // 0 is the profile as it came with the application.
  await knex.schema.alterTable('jobs', (t) => t.integer('profile_version').notNullable().defaultTo(0));
  await knex.schema.alterTable('assessments', (t) => {
    t.text('profile');
    t.integer('profile_version');
  });
  await knex.raw('ALTER TABLE jobs ADD CONSTRAINT jobs_profile_version CHECK (profile_version >= 0)');

  // A run of a healthy unit that others of its model are held against.
  await knex.schema.createTable('reference_runs', (t) => {
    t.increments('id');
    t.integer('run_id').notNullable().references('runs.id').onDelete('CASCADE').unique();
    t.text('profile_id').notNullable().index();
    t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
  });
};

exports.down = async (knex) => {
  await knex.schema.dropTableIfExists('reference_runs');
  await knex.schema.alterTable('assessments', (t) => t.dropColumns('profile', 'profile_version'));
  await knex.schema.alterTable('jobs', (t) => t.dropColumn('profile_version'));
  await knex.schema.dropTableIfExists('profiles');
};
