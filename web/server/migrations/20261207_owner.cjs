/**
 * What runs as the owner of the tables looks at the catalogue of the database first and at what a session made for itself
 * last: a table or function of somebody's own never stands in front of one that is meant. And a job that is deleted for
 * good leaves who did what to it and when, without what was written.
 */
const eraseJob = (trail) => `CREATE OR REPLACE FUNCTION erase_job(erased integer, why text) RETURNS void
  LANGUAGE plpgsql SECURITY DEFINER AS $$
  DECLARE gone jobs%ROWTYPE; counted integer; trail jsonb;
  BEGIN
    SELECT * INTO gone FROM jobs WHERE id = erased AND deleted_at IS NOT NULL FOR UPDATE;
    IF NOT FOUND THEN RAISE EXCEPTION 'job % is not in the trash', erased USING ERRCODE = 'P0002'; END IF;
    SELECT count(*) INTO counted FROM runs WHERE job_id = erased;
    SELECT coalesce(jsonb_agg(jsonb_build_object('id', id, 'what', what, 'person', person_id, 'at', created_at) ORDER BY id), '[]')
      INTO trail FROM audit WHERE job_id = erased;
    PERFORM set_config('umbral.erasing', 'yes', true);
    DELETE FROM audit WHERE job_id = erased;
    DELETE FROM openings WHERE job_id = erased;
    DELETE FROM assessments WHERE job_id = erased;
    UPDATE runs SET after_action = NULL WHERE job_id = erased;
    DELETE FROM jobs WHERE id = erased;
    PERFORM set_config('umbral.erasing', '', true);
    INSERT INTO audit (job_id, what, detail) VALUES (NULL, 'job deleted for good',
      jsonb_build_object('job', erased, 'model', gone.model, 'runs', counted, 'trashed', gone.deleted_at, 'why', why
        ${trail ? ", 'trail', trail" : ''}));
  END $$`;

const schemaOf = async (knex) => (await knex.raw('SELECT current_schema() AS name')).rows[0].name;

exports.up = async (knex) => {
  await knex.raw(eraseJob(true));
  await knex.raw('ALTER FUNCTION erase_job(integer, text) SET search_path = pg_catalog, ??, pg_temp', [
    await schemaOf(knex),
  ]);
  await knex.raw('REVOKE EXECUTE ON FUNCTION erase_job(integer, text) FROM PUBLIC');
};

exports.down = async (knex) => {
  await knex.raw(eraseJob(false));
  await knex.raw('ALTER FUNCTION erase_job(integer, text) SET search_path = ??', [await schemaOf(knex)]);
  await knex.raw('GRANT EXECUTE ON FUNCTION erase_job(integer, text) TO PUBLIC');
};
