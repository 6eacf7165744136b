import {
  engineVersion,
  fitRecalibration,
  unpackSignature,
  type KnownCall,
  type LibraryCase,
  type Recalibration,
} from '@umbral/core';
import type { Queries } from '../db.ts';
import type { LibraryCaseRow, LibraryRunRow } from '../tables.ts';
import { frozenCalls } from './frozen.ts';

/** What the shop has learned, as the engine takes it. */
export interface KnownLibrary {
  /** Moves with everything that is learned. */
  version: string;
  cases: LibraryCase[];
  /** Null where it is switched off, there are too few calls, or it does not help. */
  recalibration: Recalibration | null;
}

declare global {
  /** The library as it was read last: reading it takes longer than a call. */
  var umbralLibrary: KnownLibrary | undefined;
}

/** The version that the library has now. */
export async function libraryVersion(q: Queries): Promise<string> {
  const row = await q('library_state').where({ id: 1 }).first('version', 'recalibrate');
  return `${row?.version ?? 0}${row?.recalibrate ? '' : ' as said'} ${engineVersion}`;
}

/** Everything that was confirmed, read anew only where something was learned since. */
export async function loadLibrary(q: Queries): Promise<KnownLibrary> {
  const version = await libraryVersion(q);
  const kept = globalThis.umbralLibrary;
  if (kept?.version === version) return kept;
  const cases = await libraryCases(q);
  const state = await q('library_state').where({ id: 1 }).first('recalibrate');
  const recalibration = state?.recalibrate ? fitRecalibration(await knownCalls(q)) : null;
  return (globalThis.umbralLibrary = { version, cases, recalibration });
}

type CaseRow = LibraryCaseRow & { shop: string | null };

/** Confirmed cases with the signatures of their runs, the oldest first. */
export async function libraryCases(q: Queries): Promise<LibraryCase[]> {
  const rows = (await q('library_cases as c')
    .leftJoin('libraries as l', 'l.id', 'c.library_id')
    .leftJoin('jobs as j', 'j.id', 'c.job_id')
    .whereNull('j.deleted_at')
    .orderBy([{ column: 'c.closed_at' }, { column: 'c.id' }])
    .select('c.*', 'l.shop')) as CaseRow[];
  const runs = new Map<number, LibraryRunRow[]>();
  for (const run of (await q('library_runs').orderBy('id')) as LibraryRunRow[])
    runs.set(run.case_id, [...(runs.get(run.case_id) ?? []), run]);
  return rows.map((row) => caseOfRow(row, runs.get(row.id) ?? []));
}

function caseOfRow(row: CaseRow, runs: readonly LibraryRunRow[]): LibraryCase {
  return {
    id: row.case_key,
    origin: row.shop,
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
export function sayCase(row: Pick<CaseRow, 'job_id' | 'shop' | 'element' | 'circuit'>): string {
  const from = row.job_id === null ? `one of ${row.shop ?? 'another shop'}` : `job ${row.job_id}`;
  return row.element === '' ? from : `${from} (${row.element})`;
}

/** Confirmed calls with what the engine said itself, before any correction, the oldest first. */
async function knownCalls(q: Queries): Promise<KnownCall[]> {
  const calls = await frozenCalls(q);
  return calls.flatMap((call): KnownCall[] => {
    if (!call.isConfirmed || call.circuit === null || call.circuits.length === 0) return [];
    return [call.circuits.map(({ id, uncorrected }) => ({ p: uncorrected, wasIt: id === call.circuit }))];
  });
}

/** What a job is called in the library; empty where it is not in it. */
export async function libraryKeyOf(q: Queries, jobId: number): Promise<string> {
  return (await q('library_cases').where({ job_id: jobId }).first('case_key'))?.case_key ?? '';
}
