import {
  checkFields,
  gradeTypes,
  injectionFields,
  keysOfNotes,
  mergeTyped,
  packageFiles,
  proofFields,
  readingFields,
  streamZip,
  toColumns,
  zipFiles,
  type Case,
  type CasePackage,
  type Check,
  type Field,
  type Fields,
  type PackageFiles,
  type PackedFile,
  type RunContent,
  type ValuesOf,
} from '@umbral/core';
import { blocksOf } from '../jobs/chunks.ts';
import { db, json, plainText, transaction, type Queries } from '../../record/db.ts';
import { addAudit } from '../../record/audit.ts';
import type { assess } from '../../analysis/engine.ts';
import { readPackageFile } from '../../analysis/files.ts';
import { insertMany } from '../../record/insert-many.ts';
import { loadContent, reassessJob } from '../jobs/jobs.ts';
import { attachmentFiles, storeAttachments, withoutAttachments } from './package-attachments.ts';
import { findProfile } from '../shop/profiles.ts';
import { confirmCase } from '../library/teach.ts';
import { storeLog, storeRun } from '../entries/record.ts';
import { recordOf, type JobRow, type Written } from '../../record/rows.ts';
import { withUpload } from '../../record/upload.ts';

/** Imports a case package as a new job: checked whole first, then stored in one transaction. */
export async function importPackage(
  source: AsyncIterable<Uint8Array>,
  name: string,
  signal?: AbortSignal,
): Promise<number> {
  return withUpload(source, name, async ({ access, descriptor, size }) => {
    const found = await readPackageFile({ descriptor, size }, name);
    const files = await zipFiles(access, name);
    return transaction((q) => storePackage(q, found, files, { signal }));
  });
}

interface StoreOptions {
  signal?: AbortSignal;
  label?: string;
  isSample?: boolean;
  /** When the assessments were made, and when it was closed, where that is not now. */
  at?: Date;
  closedAt?: Date;
  /** Who is asked for the verdicts, where that is not the engine. */
  assess?: typeof assess;
}

/** Stores a package that has been checked. Assessed once at the end. */
export async function storePackage(
  q: Queries,
  found: CasePackage,
  files: PackageFiles,
  options: StoreOptions = {},
): Promise<number> {
  const value = withoutAttachments(found.case);
  const known = value.device.profile === null ? null : await findProfile(q, value.device.profile);
  const columns = { ...jobColumns(value, options), profile_version: known?.version ?? 0 };
  const [{ id: jobId }] = (await q('jobs').insert(columns).returning('id')) as { id: number }[];
  await storeRuns(q, jobId, { ...found, case: value }, files, options);
  await storeEntries(q, jobId, value);
  await storePlaces(q, jobId, value);
  await storeAttachments(q, jobId, found.case, files);
  await addAudit(q, jobId, 'imported from a package', { id: value.id, findings: found.findings.length });
  const { at, assess } = options;
  await reassessJob(q, jobId, 'import', { at: at && new Date(at.getTime() + 60_000), assess });
  const { outcome } = value;
  if (outcome?.circuit && (gradeTypes[outcome.grade].isConfirmed || outcome.extra?.proven === true))
    await confirmCase(q, jobId, { grade: outcome.grade, circuit: outcome.circuit, target: plainText(outcome.target) });
  return jobId;
}

/** The runs, and where the device was opened among them, the call as it stood then and what was changed. */
async function storeRuns(
  q: Queries,
  jobId: number,
  found: CasePackage,
  files: PackageFiles,
  { signal, at, assess }: StoreOptions,
): Promise<void> {
  const value = found.case;
  let opened = false;
  const open = async (): Promise<void> => {
    if (opened) return;
    opened = true;
    // The call as it stood before anything inside was touched is kept: it is the one that counts later.
    if ((await q('runs').where({ job_id: jobId }).first('id')) !== undefined)
      await reassessJob(q, jobId, 'import, before it was opened', { at, assess });
    await storeActions(q, jobId, value);
  };
  for (const { run, units } of found.runs) {
    const { unplugged, assembly } = run.setup;
    if (run.after !== null || unplugged.length > 0 || assembly === 'board-alone' || assembly === 'half') await open();
    if (run.typed !== null) {
      const typed = mergeTyped(run, run.typed);
      await storeRun(q, jobId, typed.run, value.device, typed.trace, { doneAt: run.at ?? null });
    } else {
      const fileName = run.file ?? '';
      const doneAt = run.at === undefined ? null : new Date(run.at);
      const log = { fileName, mapping: null, source: files.open(fileName), units, signal, doneAt };
      await storeLog(q, jobId, run, value.device, log);
    }
  }
  if (value.actions.length + value.readings.length + value.injections.length > 0) await open();
}

/** Why an entry counts for nothing; an entry that is void without a reason is all the same. */
const voidWhy = (e: { void?: { why: string } }): string | null =>
  e.void === undefined ? null : plainText(e.void.why ?? '').trim() || 'no reason given';

/** How a value of a record is written: texts without what a database refuses, lists and spans as JSON. */
function written(value: unknown, { kind }: Field<unknown>): unknown {
  if (typeof value === 'string') return plainText(value);
  if (kind === 'names') return json((value as string[]).map(plainText));
  return kind === 'span' && value !== null ? json(value) : value;
}

/** Entries of one kind as rows, with what every entry bears beside what it says. */
const entryRows = <F extends Fields>(
  jobId: number,
  fields: F,
  entries: readonly (ValuesOf<F> & Pick<Check, 'at' | 'void' | 'extra'>)[],
) =>
  entries.map((e) => ({
    job_id: jobId,
    ...toColumns(fields, e, written),
    done_at: e.at ?? null,
    void_why: voidWhy(e),
    extra: e.extra ? json(e.extra) : null,
  }));

async function storeEntries(q: Queries, jobId: number, { checks, readings, injections, proofs }: Case): Promise<void> {
  const setups = checks.map(({ setup }) => ({ setup: setup ? json(setup) : null }));
  await insertMany(
    q,
    'checks',
    entryRows(jobId, checkFields, checks).map((row, k) => ({ ...row, ...setups[k] })),
  );
  await insertMany(q, 'readings', entryRows(jobId, readingFields, readings));
  await insertMany(q, 'injections', entryRows(jobId, injectionFields, injections));
  const { id: _own, ...columns } = proofFields;
  const said = proofs.map((p) => ({
    ...p,
    reason: plainText(p.reason) || (p.result === 'not-done' ? 'no reason given' : ''),
  }));
  await insertMany(q, 'proofs', entryRows(jobId, columns, said));
}

async function storePlaces(q: Queries, jobId: number, { places }: Case): Promise<void> {
  const rows = places.map(({ where, circuit, same = [], net = null }) => ({
    job_id: jobId,
    where: plainText(where).trim(),
    circuit,
    same: json(same.map(plainText)),
    net,
  }));
  await insertMany(q, 'place_names', rows);
}

async function storeActions(q: Queries, jobId: number, value: Case): Promise<void> {
  const rows = value.actions.map((a) => ({
    job_id: jobId,
    action_key: a.id,
    kind: a.kind,
    circuit: a.circuit,
    target: plainText(a.target),
    note: plainText(a.note),
    run_before: a.runBefore,
    undoes: a.undoes,
    planned: a.planned ?? false,
    done_at: a.at ?? null,
    void_why: voidWhy(a),
    extra: keysOrNull(keysOfNotes(a)),
  }));
  await insertMany(q, 'actions', rows);
}

const keysOrNull = (keys: object | null): string | null => (keys ? json(keys) : null);

function jobColumns(value: Case, options: StoreOptions): Written<JobRow> {
  const { device, outcome } = value;
  const named =
    options.label ?? ([device.model, device.serial].filter(Boolean).join(', ') || `${device.class} from package`);
  return {
    case_id: plainText(value.id),
    label: plainText(named).slice(0, 200),
    device_class: device.class,
    model: plainText(device.model),
    serial: plainText(device.serial),
    profile: device.profile,
    expect: json(device.expect),
    complaint: plainText(value.complaint),
    complaint_kind: value.complaintKind,
    intake: json(value.intake),
    stage: outcome ? 'close' : 'call',
    outcome_grade: outcome?.grade ?? null,
    outcome_circuit: outcome?.circuit ?? null,
    outcome_target: plainText(outcome?.target ?? ''),
    outcome_fix: plainText(outcome?.fix ?? ''),
    outcome_extra: outcome?.extra ? json(outcome.extra) : null,
    closed_at: outcome ? (options.closedAt ?? new Date()) : null,
    extra: json({ ...(value.extra ? { case: value.extra } : {}), ...(device.extra ? { device: device.extra } : {}) }),
    is_sample: options.isSample ?? false,
  };
}

/** The files of a job's case package. */
export async function packageContents(jobId: number, alsoInTrash = false): Promise<PackedFile[]> {
  const q = db();
  const content = await loadContent(q, jobId, alsoInTrash);
  const contents = new Map<string, RunContent>(
    content.record.runs.map((row) => [
      row.run_key,
      { blocks: blocksOf(q, row), startedAt: row.started_at?.toISOString() ?? null },
    ]),
  );
  const value = recordOf(content);
  const attached = await attachmentFiles(q, content);
  return [
    ...packageFiles({ ...value, extra: { ...value.extra, ...attached.keys } }, (runId) => contents.get(runId)!),
    ...attached.files,
  ];
}

/** A job as a case package, zipped, as a stream. */
export async function exportPackage(jobId: number): Promise<{ name: string; zip: ReadableStream<Uint8Array> }> {
  const zip = streamZip(await packageContents(jobId));
  return { name: `umbral-job-${String(jobId).padStart(4, '0')}.zip`, zip };
}
