'use strict';

/** Columns that hold an id of a catalogue, by the constraint that keeps them so. */
const constraints = [
  { name: 'jobs_class', table: 'jobs', column: 'device_class', catalogue: 'deviceClasses' },
  { name: 'jobs_stage', table: 'jobs', column: 'stage', catalogue: 'stageIds' },
  { name: 'jobs_grade', table: 'jobs', column: 'outcome_grade', catalogue: 'outcomeGrades' },
  { name: 'jobs_complaint', table: 'jobs', column: 'complaint_kind', catalogue: 'complaintKinds' },
  { name: 'jobs_outcome_circuit', table: 'jobs', column: 'outcome_circuit', catalogue: 'circuitIds' },
  { name: 'actions_kind', table: 'actions', column: 'kind', catalogue: 'actionKinds' },
  { name: 'actions_circuit', table: 'actions', column: 'circuit', catalogue: 'circuitIds' },
  { name: 'runs_feed', table: 'runs', column: 'feed', catalogue: 'feeds' },
  { name: 'confirmations_circuit', table: 'confirmations', column: 'circuit', catalogue: 'circuitIds' },
  { name: 'library_cases_class', table: 'library_cases', column: 'device_class', catalogue: 'deviceClasses' },
  { name: 'library_cases_circuit', table: 'library_cases', column: 'circuit', catalogue: 'circuitIds' },
  { name: 'library_cases_grade', table: 'library_cases', column: 'grade', catalogue: 'outcomeGrades' },
  { name: 'library_runs_feed', table: 'library_runs', column: 'feed', catalogue: 'feeds' },
  { name: 'notes_class', table: 'notes', column: 'device_class', catalogue: 'deviceClasses' },
  { name: 'notes_circuit', table: 'notes', column: 'circuit', catalogue: 'circuitIds' },
  { name: 'notes_feed', table: 'notes', column: 'feed', catalogue: 'feeds' },
  { name: 'waits_kind', table: 'waits', column: 'kind', catalogue: 'waitKinds' },
  { name: 'takes_kind', table: 'takes', column: 'kind', catalogue: 'workKinds' },
  { name: 'parts_class', table: 'parts', column: 'device_class', catalogue: 'deviceClasses' },
  { name: 'parts_circuit', table: 'parts', column: 'circuit', catalogue: 'circuitIds' },
  { name: 'donors_class', table: 'donors', column: 'device_class', catalogue: 'deviceClasses' },
  { name: 'donor_parts_circuit', table: 'donor_parts', column: 'circuit', catalogue: 'circuitIds' },
  { name: 'practice_units_circuit', table: 'practice_units', column: 'circuit', catalogue: 'circuitIds' },
  { name: 'practice_team_circuit', table: 'practice_team_units', column: 'circuit', catalogue: 'circuitIds' },
  { name: 'practice_calls_pattern', table: 'practice_calls', column: 'pattern', catalogue: 'patternIds' },
  { name: 'place_names_circuit', table: 'place_names', column: 'circuit', catalogue: 'circuitIds' },
  { name: 'board_sides_side', table: 'board_sides', column: 'side', catalogue: 'boardSides' },
  { name: 'board_points_kind', table: 'board_points', column: 'kind', catalogue: 'pointKinds' },
  { name: 'board_points_circuit', table: 'board_points', column: 'circuit', catalogue: 'circuitIds' },
  { name: 'board_marks_kind', table: 'board_marks', column: 'kind', catalogue: 'markKinds' },
  { name: 'board_marks_circuit', table: 'board_marks', column: 'circuit', catalogue: 'circuitIds' },
  { name: 'recordings_feed', table: 'recordings', column: 'feed', catalogue: 'feeds' },
];

/**
 * Lets the database take the ids of the catalogues and no others. Runs after the migrations at every start, and changes
 * only what a catalogue has changed; a null is a matter of the column.
 *
 * @param knex of the owner of the tables
 * @param {Record<string, readonly string[]>} catalogues the core's lists of ids, by the name they are exported under
 * @throws where a row holds an id that is in its catalogue no more: write a migration that says what becomes of it
 */
exports.applyCatalogues = async (knex, catalogues) => {
  for (const { name, table, column, catalogue } of constraints) {
    const ids = catalogues[catalogue];
    const {
      rows: [found],
    } = await knex.raw(
      `SELECT obj_description(oid, 'pg_constraint') AS ids FROM pg_constraint
       WHERE conname = ? AND conrelid = ?::regclass`,
      [name, table],
    );
    const wanted = ids.join(' ');
    if (found?.ids === wanted) continue;
    const list = ids.map((id) => `'${id.replaceAll("'", "''")}'`).join(', ');
    await knex.transaction(async (q) => {
      await q.raw('ALTER TABLE ?? DROP CONSTRAINT IF EXISTS ??', [table, name]);
      await q.raw(`ALTER TABLE ?? ADD CONSTRAINT ?? CHECK (?? IN (${list}))`, [table, name, column]);
      await q.raw(`COMMENT ON CONSTRAINT ?? ON ?? IS '${wanted}'`, [name, table]);
    });
  }
};
