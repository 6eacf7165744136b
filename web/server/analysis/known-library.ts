import { engineVersion, unpackSignature, type LibraryCase, type Recalibration } from '@umbral/core';
import { db, type Queries } from '../record/db.ts';
import type { LibraryCaseRow, LibraryRunRow } from '../record/tables.ts';

/** What the shop has learned, as a question to the engine names it: the cases themselves are where the engine is. */
export interface KnownLibrary {
  /** Moves with everything that is learned. */
  version: string;
  /** The newest change of the cases; the engine's thread asks for those that it has not got. Null where it is given others. */
  revision: number | null;
  /** Null where it is switched off, there are too few calls, or it does not help. */
  recalibration: Recalibration | null;
}

/** What the library is now. */
export async function loadLibrary(q: Queries): Promise<KnownLibrary> {
  const row = await q('library_state').where({ id: 1 }).first();
  const correction = row?.recalibrate ? `corrected ${row.fits}` : 'as said';
  return {
    version: `${row?.version ?? 0} ${correction} ${engineVersion}`,
    revision: Number(row?.version ?? 0),
    recalibration: row?.recalibrate ? row.recalibration : null,
  };
}

/** What changed in the library, as its reader takes it: first what is gone, then what came. */
export interface LibraryChange {
  gone: string[];
  cases: LibraryCase[];
  /** Where the reader is with it. */
  revision: number;
}

/** Above every number of a row. */
const noRow = 2 ** 31 - 1;
/** Cases that are read and sent at once: some milliseconds of work. */
const atOnce = 500;

/**
 * Everything that changed in the library after a revision, some at a time, as it stood at one moment.
 *
 * @param since 0 for everything
 * @param take is waited for before more is read
 */
export const changesSince = (since: number, take: (change: LibraryChange) => Promise<void>): Promise<void> =>
  db().transaction((q) => tellChanges(q, since, take), { isolationLevel: 'repeatable read', readOnly: true });

/** The same as one transaction sees it: with what nobody else can see yet. */
export async function tellChanges(
  q: Queries,
  since: number,
  take: (change: LibraryChange) => Promise<void>,
): Promise<void> {
  const revision = Number((await q('library_state').where({ id: 1 }).first('version'))?.version ?? 0);
  if (since > 0)
    for (let after = ''; ;) {
      const gone = (await q('library_gone')
        .where('revision', '>', since)
        .where('case_key', '>', after)
        .orderBy('case_key')
        .limit(atOnce)
        .pluck('case_key')) as string[];
      if (gone.length === 0) break;
      await take({ gone, cases: [], revision: since });
      after = gone[gone.length - 1];
    }
  // Cases from before versions were counted carry 0: for whoever knows nothing they come first.
  for (let after = { revision: since, id: since === 0 ? 0 : noRow }; ;) {
    const rows = await casesAfter(q, after);
    const last = rows.at(-1);
    if (!last) break;
    await take({ gone: [], cases: await withRuns(q, rows), revision: since });
    after = { revision: Number(last.revision), id: last.id };
  }
  await take({ gone: [], cases: [], revision });
}

async function casesAfter(q: Queries, after: { revision: number; id: number }): Promise<LibraryCaseRow[]> {
  return (await q('library_cases')
    .whereRaw('(revision, id) > (?, ?)', [after.revision, after.id])
    .orderBy(['revision', 'id'])
    .limit(atOnce)) as LibraryCaseRow[];
}

async function withRuns(q: Queries, rows: readonly LibraryCaseRow[]): Promise<LibraryCase[]> {
  const list = (await q('library_runs')
    .whereIn(
      'case_id',
      rows.map((r) => r.id),
    )
    .orderBy('id')
    .select('case_id', 'run_key', 'setup', 'data')) as Pick<LibraryRunRow, 'case_id' | 'run_key' | 'setup' | 'data'>[];
  const runs = new Map<number, typeof list>(rows.map((row) => [row.id, []]));
  for (const run of list) runs.get(run.case_id)?.push(run);
  return rows.map((row) => libraryCaseOf(row, runs.get(row.id) ?? []));
}

/** A confirmed case as the engine takes it. */
export function libraryCaseOf(
  row: Omit<LibraryCaseRow, 'id' | 'library_id' | 'created_at' | 'revision' | 'technician' | 'words'>,
  runs: readonly Pick<LibraryRunRow, 'run_key' | 'setup' | 'data'>[],
): LibraryCase {
  return {
    id: row.case_key,
    origin: row.origin || null,
    model: row.model,
    deviceClass: row.device_class,
    circuit: row.circuit,
    element: row.element,
    part: row.part,
    cure: row.cure,
    grade: row.grade,
    weight: row.weight,
    closedAt: row.closed_at.getTime(),
    says: sayCase(row),
    signatures: runs.map((run) => unpackSignature(run.run_key, run.setup, run.data)),
  };
}

/** What a confirmed case is called in a sentence. */
function sayCase(row: Pick<LibraryCaseRow, 'job_id' | 'origin' | 'element'>): string {
  const from = row.job_id === null ? `one of ${row.origin || 'another shop'}` : `job ${row.job_id}`;
  return row.element === '' ? from : `${from} (${row.element})`;
}

/** What a job is called in the library; empty where it is not in it. */
export async function libraryKeyOf(q: Queries, jobId: number): Promise<string> {
  return (await q('library_cases').where({ job_id: jobId }).first('case_key'))?.case_key ?? '';
}
