/** Words of jobs are found by an index, as those of confirmed cases are. */
exports.up = (knex) =>
  knex.raw(`CREATE INDEX jobs_by_words ON jobs
    USING gin (to_tsvector('simple', label || ' ' || model || ' ' || serial || ' ' || complaint))`);

exports.down = (knex) => knex.raw('DROP INDEX jobs_by_words');
