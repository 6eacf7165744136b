/** Search over everything: words of jobs by an index, and names as they are misspelt by their trigrams. */
exports.up = async (knex) => {
  // One at a time: two that make it at once trip over each other.
  await knex.raw(`SELECT pg_advisory_xact_lock(hashtext('pg_trgm'))`);
  await knex.raw('CREATE EXTENSION IF NOT EXISTS pg_trgm WITH SCHEMA public');
  await knex.raw(`CREATE INDEX jobs_by_words ON jobs
    USING gin (to_tsvector('simple', label || ' ' || model || ' ' || serial || ' ' || complaint))`);
};

exports.down = async (knex) => {
  // The extension stays: another schema of this database may use it.
  await knex.raw('DROP INDEX jobs_by_words');
};
