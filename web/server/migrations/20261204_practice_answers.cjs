/** What the named next test was worth, and what somebody says at the end, after measuring. */
exports.up = async (knex) => {
  await knex.schema.alterTable('practice_calls', (t) => {
    t.double('test_points');
    // How likely the engine thought what was expected of the test.
    t.double('expects_p');
    t.jsonb('final_shares');
    t.double('final_points');
    t.double('final_engine_points');
  });
  await knex.raw(`ALTER TABLE practice_calls ADD CONSTRAINT practice_calls_final
    CHECK (num_nulls(final_shares, final_points, final_engine_points) IN (0, 3))`);
};

exports.down = async (knex) => {
  await knex.schema.alterTable('practice_calls', (t) =>
    t.dropColumns('test_points', 'expects_p', 'final_shares', 'final_points', 'final_engine_points'),
  );
};
