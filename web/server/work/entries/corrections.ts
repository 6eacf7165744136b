import { ExpectedError, missing } from '../../record/errors.ts';
import { json, transaction, type Queries } from '../../record/db.ts';
import { addAudit } from '../../record/audit.ts';
import { actor } from '../../record/actor.ts';
import { teachLibrary } from '../library/teach.ts';
import { loadContent, verdictDue } from '../jobs/jobs.ts';
import type { ActionRow, CorrectionRow, EntryTable, JobContent, Touched } from '../../record/rows.ts';

/** A change of one row of a job, as columns of its table. */
interface RowChange {
  table: EntryTable;
  id: number;
  columns: object;
}

/** What entries of a table are called. */
export const entryNames: Readonly<Record<EntryTable, string>> = {
  runs: 'run',
  checks: 'check',
  readings: 'reading',
  injections: 'injection',
  proofs: 'result',
  actions: 'change',
  place_names: 'name of a place',
};

/** Notes a step, so that it can be undone, and lets the verdict follow. */
async function noteStep(q: Queries, jobId: number, what: string, touched: Touched[], undoes?: number): Promise<number> {
  const [{ id }] = (await q('corrections')
    .insert({ job_id: jobId, what, touched: json(touched), undoes: undoes ?? null })
    .returning('id')) as { id: number }[];
  await addAudit(q, jobId, what, { entries: touched.map(({ table, id: entry }) => `${table}:${entry}`) });
  await verdictDue(q, jobId, what);
  const closed = await q('jobs').where({ id: jobId }).whereNotNull('closed_at').first('id');
  if (closed) await teachLibrary(q, jobId);
  return id;
}

/**
 * Enters rows as one step that can be undone.
 *
 * @param what the step in a few words, for the record and the undo
 * @param rows of any tables of the job, without its id
 * @returns the ids of the rows, in their order
 */
export async function enterRows(
  q: Queries,
  jobId: number,
  what: string,
  rows: readonly { table: EntryTable; columns: object }[],
): Promise<number[]> {
  const ids: number[] = [];
  for (const { table, columns } of rows) {
    const [{ id }] = (await q(table)
      .insert({ job_id: jobId, ...columns })
      .returning('id')) as { id: number }[];
    ids.push(id);
  }
  await noteStep(
    q,
    jobId,
    what,
    rows.map(({ table }, k) => ({ table, id: ids[k], before: null })),
  );
  return ids;
}

/** Notes rows that were entered already as one step. */
export const noteEntered = (
  q: Queries,
  jobId: number,
  what: string,
  table: EntryTable,
  ids: number[],
): Promise<number> =>
  noteStep(
    q,
    jobId,
    what,
    ids.map((id) => ({ table, id, before: null })),
  );

/** Changes rows, and gives back what their columns held before. */
async function applyChanges(q: Queries, jobId: number, changes: readonly RowChange[]): Promise<Touched[]> {
  const touched: Touched[] = [];
  for (const { table, id, columns } of changes) {
    const { rows } = await q.raw<{ rows: { before: Record<string, unknown> }[] }>(
      `SELECT (SELECT jsonb_object_agg(k, to_jsonb(e) -> k) FROM unnest(?::text[]) k) AS before
       FROM ?? e WHERE id = ? AND job_id = ? FOR UPDATE`,
      [Object.keys(columns), table, id, jobId],
    );
    if (rows.length === 0) throw missing(`This ${entryNames[table]}`);
    await q(table).where({ id, job_id: jobId }).update(columns);
    touched.push({ table, id, before: rows[0].before });
  }
  return touched;
}

/**
 * Changes entries as one step that can be undone: all of them or none.
 *
 * @param entered rows that were entered with them
 * @returns the number of the step
 * @throws {ExpectedError} for an entry that the job does not have
 */
export async function changeRows(
  q: Queries,
  jobId: number,
  what: string,
  changes: readonly RowChange[],
  entered: readonly { table: EntryTable; id: number }[] = [],
): Promise<number> {
  const touched = await applyChanges(q, jobId, changes);
  return noteStep(q, jobId, what, [...touched, ...entered.map((e) => ({ ...e, before: null }))]);
}

/** What taking a change back does to its followers: they belong to the change before it. */
function withoutAction({ record }: JobContent, action: ActionRow): RowChange[] {
  const order = record.actions;
  const before = order[order.findIndex((a) => a.id === action.id) - 1]?.action_key ?? null;
  const follows = (['runs', 'checks', 'readings', 'injections', 'proofs'] as const).flatMap((table) =>
    record[table]
      .filter((e) => e.after_action === action.action_key)
      .map(({ id }): RowChange => ({ table, id, columns: { after_action: before } })),
  );
  const undone = order
    .filter((a) => a.undoes === action.action_key)
    .map(({ id }): RowChange => ({ table: 'actions', id, columns: { undoes: null } }));
  return [...follows, ...undone];
}

/**
 * Takes an entry back as entered by mistake: it leaves the record's use and stands in no report. What followed a change that is
 * taken back follows the one before it.
 *
 * @returns the step that undoes it, and how many entries follow another change now
 * @throws {ExpectedError} for an entry that the job does not have
 */
export async function takeBackEntry(
  jobId: number,
  table: EntryTable,
  entryId: number,
): Promise<{ step: number; moved: number }> {
  return transaction(async (q) => {
    const content = await loadContent(q, jobId);
    const action = table === 'actions' ? content.record.actions.find((a) => a.id === entryId) : undefined;
    if (table === 'actions' && !action) throw missing('This change');
    if (action && content.job.is_practice)
      throw new ExpectedError(
        'input',
        'A change to a practice unit was made: it cannot be taken back. Put the part back.',
      );
    const moves = action ? withoutAction(content, action) : [];
    const taken: RowChange = { table, id: entryId, columns: { deleted_at: q.fn.now() } };
    const step = await changeRows(q, jobId, `${entryNames[table]} entered by mistake`, [...moves, taken]);
    return { step, moved: moves.filter((m) => m.table !== 'actions').length };
  });
}

/** Puts an entry back that was taken back. */
export async function putBackEntry(jobId: number, table: EntryTable, entryId: number): Promise<number> {
  return transaction((q) =>
    changeRows(q, jobId, `${entryNames[table]} put back`, [{ table, id: entryId, columns: { deleted_at: null } }]),
  );
}

/** The newest step of whoever asks that was not undone. */
async function lastStep(q: Queries, jobId: number): Promise<CorrectionRow | undefined> {
  return q<CorrectionRow>('corrections')
    .where({ job_id: jobId })
    .whereNull('undone_at')
    .whereNull('undoes')
    .whereRaw('person_id IS NOT DISTINCT FROM ?', [actor()?.person.id ?? null])
    .orderBy('id', 'desc')
    .first();
}

/**
 * Undoes a step: what it changed is as it was before, what it entered is taken back.
 *
 * @param step its number; the newest of whoever asks where null
 * @returns what was undone, and the step that undoes the undoing
 * @throws {ExpectedError} where nothing is left to undo, or where somebody changed the same entry since
 */
export async function undoStep(jobId: number, step: number | null): Promise<{ step: number; what: string }> {
  return transaction(async (q) => {
    const content = await loadContent(q, jobId);
    const row =
      step === null
        ? await lastStep(q, jobId)
        : await q<CorrectionRow>('corrections').where({ job_id: jobId, id: step }).whereNull('undone_at').first();
    if (!row)
      throw new ExpectedError('input', step === null ? 'There is nothing to undo.' : 'This was undone already.');
    if (content.job.is_practice && row.touched.some((t) => t.table === 'actions'))
      throw new ExpectedError('input', 'A change to a practice unit was made: it cannot be undone. Put the part back.');
    const keys = new Set(row.touched.map((t) => `${t.table}:${t.id}`));
    const later = await q<CorrectionRow>('corrections')
      .where({ job_id: jobId })
      .where('id', '>', row.id)
      .whereNull('undone_at')
      .select('id', 'touched', 'undoes');
    if (later.some((l) => l.undoes !== row.id && l.touched.some((t) => keys.has(`${t.table}:${t.id}`))))
      throw new ExpectedError('conflict', `“${row.what}” was corrected since. Undo that correction first.`);
    const changes = row.touched.flatMap((t): RowChange[] => {
      if (t.before !== null) return [];
      const action = t.table === 'actions' ? content.record.actions.find((a) => a.id === t.id) : undefined;
      return [
        ...(action ? withoutAction(content, action) : []),
        { table: t.table, id: t.id, columns: { deleted_at: q.fn.now() } },
      ];
    });
    const touched = [...(await applyChanges(q, jobId, changes)), ...(await putBack(q, jobId, row.touched))];
    await q('corrections').where({ id: row.id }).update({ undone_at: q.fn.now() });
    const undone = await noteStep(q, jobId, `undone: ${row.what}`, touched, row.id);
    return { step: undone, what: row.what };
  });
}

/** Gives rows back what their columns held before a step, in the types of their columns. */
async function putBack(q: Queries, jobId: number, touched: readonly Touched[]): Promise<Touched[]> {
  const out: Touched[] = [];
  for (const { table, id, before } of touched) {
    if (before === null) continue;
    const names = Object.keys(before);
    const { rows } = await q.raw<{ rows: { now: Record<string, unknown> }[] }>(
      `SELECT (SELECT jsonb_object_agg(k, to_jsonb(e) -> k) FROM unnest(?::text[]) k) AS now FROM ?? e WHERE id = ? AND job_id = ? FOR UPDATE`,
      [names, table, id, jobId],
    );
    if (rows.length === 0) throw missing(`This ${entryNames[table]}`);
    const columns = names.map(() => '??').join(', ');
    await q.raw(
      `UPDATE ?? AS e SET (${columns}) = (SELECT ${names.map(() => 'p.??').join(', ')} FROM jsonb_populate_record(e, ?::jsonb) p) WHERE e.id = ?`,
      [table, ...names, ...names, json(before), id],
    );
    out.push({ table, id, before: rows[0].now });
  }
  return out;
}
