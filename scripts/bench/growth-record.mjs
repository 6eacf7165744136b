// A record of so many closed jobs, made of a made-up year in minutes: other models, levels, shapes and percentages each.

/** Models of one base model, people and years that the closed jobs are spread over. */
const [series, people, years] = [12, 40, 10];

/** A number from 0 to 1 that belongs to a copy of a row and nothing else. */
const chance = (salt) => `(abs(hashtext(${salt} || ':' || b.id || ':' || n)) % 100000) / 100000.0`;
/** The same with two numbers, as a bell around 1. */
const near = (spread, salt) => `(1 + ${spread} * (${chance(`'a${salt}'`)} + ${chance(`'b${salt}'`)} - 1))`;

async function columnsOf(db, table) {
  const { rows } = await db.raw(
    `SELECT column_name AS name FROM information_schema.columns
     WHERE table_schema = 'public' AND table_name = ? AND is_generated = 'NEVER' AND column_name <> 'id' ORDER BY ordinal_position`,
    [table],
  );
  return rows.map((r) => r.name);
}

/** Copies rows of a table so often; a column that is named gets what stands there for it, in SQL of the row `b` and the copy `n`. */
async function copy(db, table, copies, { from, set }) {
  const columns = await columnsOf(db, table);
  const values = columns.map((c) => set[c] ?? `b."${c}"`);
  const own = set.id ? ['id', ...columns] : columns;
  if (set.id) values.unshift(set.id);
  await db.raw(
    `INSERT INTO ${table} (${own.map((c) => `"${c}"`).join()}) SELECT ${values.join()} FROM (${from}) b, generate_series(1, ${copies}) n`,
  );
  if (set.id) await db.raw(`SELECT setval(pg_get_serial_sequence('${table}', 'id'), (SELECT max(id) FROM ${table}))`);
}

/** Other numbers in a signature: each a little beside what it was, by the middle bytes of its fraction. */
const variedSignature = `CREATE OR REPLACE FUNCTION pg_temp.varied(data bytea, seed int) RETURNS bytea LANGUAGE plpgsql AS $$
  DECLARE r bigint := abs(seed) % 2147483;
  BEGIN
    FOR k IN 0..length(data) / 4 - 1 LOOP
      r := (r * 1103 + 12345) % 2147483;
      -- A zero stays one, and what there is none of stays none.
      IF get_byte(data, 4 * k + 3) NOT IN (0, 127, 255) THEN
        data := set_byte(data, 4 * k + 1, (r % 256)::int);
        data := set_byte(data, 4 * k + 2, (get_byte(data, 4 * k + 2) & 224) | (r / 256 % 32)::int);
      END IF;
    END LOOP;
    RETURN data;
  END $$`;

/**
 * Multiplies the closed jobs that are there.
 *
 * @param db as the owner of the tables
 * @param wanted closed jobs afterwards, about
 */
export async function growRecord(db, wanted) {
  const base = `SELECT * FROM jobs WHERE closed_at IS NOT NULL AND deleted_at IS NULL AND NOT is_practice`;
  const [{ count, highest }] = (await db.raw(`SELECT count(*)::int AS count, max(id) AS highest FROM (${base}) x`))
    .rows;
  const copies = Math.max(0, Math.ceil(wanted / count) - 1);
  if (copies === 0) return;
  const step = highest + 1;
  const jobOf = `(b.job_id + ${step} * n)`;
  const model = `CASE WHEN model = '' THEN '' ELSE model || ' ' || chr(65 + (n % ${series})) END`;
  const back = `make_interval(days => (${years * 365} * n / ${copies})::int)`;
  await db.transaction(async (q) => {
    await q.raw('SET LOCAL synchronous_commit = off');
    await q.raw(variedSignature);
    await q.raw(`CREATE TEMP TABLE base ON COMMIT DROP AS SELECT id FROM (${base}) x`);
    const belongs = (table, more = '') => `SELECT * FROM ${table} WHERE job_id IN (SELECT id FROM base)${more}`;
    const person = `'technician ' || (1 + (b.id * 7 + n * 13) % ${people})`;
    await copy(q, 'jobs', copies, {
      from: base,
      set: {
        id: `b.id + ${step} * n`,
        case_id: `b.case_id || '-' || n`,
        label: `b.label || ', ' || n`,
        model: model.replaceAll('model', 'b.model'),
        technician: person,
        closed_at: `b.closed_at - ${back}`,
        created_at: `b.created_at - ${back}`,
        opened_at: `b.opened_at - ${back}`,
        updated_at: `b.updated_at - ${back}`,
      },
    });
    const moved = { job_id: jobOf, created_at: `b.created_at - ${back}` };
    // A run names the change that it follows.
    for (const table of ['actions', 'runs', 'checks', 'readings', 'injections', 'proofs', 'confirmations'])
      await copy(q, table, copies, { from: belongs(table), set: moved });
    const [{ last }] = (await q.raw('SELECT max(id) AS last FROM assessments')).rows;
    const assessmentOf = (id) => `(${id} + ${last} * n)`;
    await copy(q, 'assessments', copies, {
      from: belongs('assessments'),
      set: { ...moved, id: assessmentOf('b.id'), inputs_hash: `b.inputs_hash || n` },
    });
    await copy(q, 'openings', copies, {
      from: belongs('openings'),
      set: { ...moved, assessment_id: assessmentOf('b.assessment_id') },
    });
    await copy(q, 'audit', copies, { from: belongs('audit'), set: moved });
    const [{ top }] = (await q.raw('SELECT max(id) AS top FROM library_cases')).rows;
    const caseOf = (id) => `(${id} + ${top} * n)`;
    await copy(q, 'library_cases', copies, {
      from: belongs('library_cases'),
      set: {
        id: caseOf('b.id'),
        job_id: jobOf,
        case_key: `b.case_key || '-${step}-' || n`,
        model: model.replaceAll('model', 'b.model'),
        technician: person,
        closed_at: `b.closed_at - ${back}`,
      },
    });
    await copy(q, 'library_runs', copies, {
      from: `SELECT r.* FROM library_runs r JOIN library_cases c ON c.id = r.case_id WHERE c.job_id IN (SELECT id FROM base)`,
      set: {
        case_id: caseOf('b.case_id'),
        data: 'pg_temp.varied(b.data, b.id * 31 + n)',
        amps: `b.amps * ${near(0.6, 'level')}`,
      },
    });
    await copy(q, 'calls', copies, {
      from: `SELECT c.*, c.job_id AS id FROM calls c WHERE job_id IN (SELECT id FROM base)`,
      set: {
        job_id: jobOf,
        model: model.replaceAll('model', 'b.model'),
        technician: person,
        closed_at: `b.closed_at - ${back}`,
        month: `to_char(b.closed_at - ${back}, 'YYYY-MM')`,
        assessment_id: assessmentOf('b.assessment_id'),
      },
    });
    await q.raw('UPDATE library_state SET unfitted = unfitted + ?', [count * copies]);
  });
  await db.raw('ANALYZE');
}
