import { createHash } from 'node:crypto';
import { circuitTypes, packageFiles, type Profile } from '@umbral/core';
import { sayMeasured } from '@umbral/core/words';
import { capital, customerReport, type Report, type ReportPicture } from './content';
import { technicianReport } from './technician';
import { causePlace } from '@/server/work/boards/cause-cut';
import { attachmentsOf } from '@/server/work/entries/attachments';
import { blocksOf } from '@/server/work/jobs/chunks';
import { db, type Queries } from '@/server/record/db';
import { dumpsOf } from '@/server/work/entries/dumps';
import { loadContent } from '@/server/work/jobs/jobs';
import { nameIn } from '@/server/work/opened/measure';
import { findUnit } from '@/server/work/practice/units';
import { loadPolicy } from '@/server/work/shop/policy';
import { findProfile } from '@/server/work/shop/profiles';
import { caseOf, type AssessmentRow, type JobContent } from '@/server/record/rows';

type Audience = Report['audience'];

/** SHA-256 of the file that each recorded run has in the case package, so that the two can be held against each other. */
async function hashesOf(q: Queries, content: JobContent): Promise<Map<number, string>> {
  const contents = new Map(
    content.runs.map((row) => [
      row.run_key,
      { blocks: blocksOf(q, row), startedAt: row.started_at?.toISOString() ?? null },
    ]),
  );
  const recorded = content.runs.filter((r) => r.typed === null);
  const files = packageFiles(caseOf({ ...content, runs: recorded }), (key) => contents.get(key)!).filter((f) =>
    f.name.startsWith('runs/'),
  );
  const out = new Map<number, string>();
  for (const [k, row] of recorded.entries()) {
    const hash = createHash('sha256');
    for await (const block of files[k].content) hash.update(block);
    out.set(row.id, hash.digest('hex'));
  }
  return out;
}

/** A practice unit is closed on its own page; its report reads as that of a job. */
async function asClosed(q: Queries, content: JobContent): Promise<JobContent> {
  if (!content.job.is_practice) return content;
  const unit = await findUnit(q, content.job.id);
  if (!unit?.closing) return content;
  const { grade, circuit, fix, open } = unit.closing;
  const closed = { outcome_grade: grade, outcome_circuit: circuit, outcome_fix: fix, outcome_open: open };
  return { ...content, job: { ...content.job, ...closed, closed_at: unit.finished_at } };
}

async function ownPictures(q: Queries, jobId: number): Promise<ReportPicture[]> {
  return (await attachmentsOf(q, jobId)).map((p) => ({
    id: p.id,
    caption: [p.caption || `${p.of_kind} picture ${p.id}`, p.point?.says].filter(Boolean).join(': '),
    around: null,
  }));
}

/** Where the cause was on the board, as it came and after the repair, with what was read there. */
async function causeCuts(q: Queries, content: JobContent, profile: Profile | null): Promise<ReportPicture[]> {
  const { job, readings } = content;
  const place = await causePlace(q, job, profile);
  if (!place || place.pictures.length === 0) return [];
  const { x, y, net, pictures } = place;
  const read = readings.filter((r) => net !== '' && r.where.toLowerCase() === net.toLowerCase());
  const [before, after] = [read.at(0), read.length > 1 ? read.at(-1) : undefined];
  const what = job.outcome_target || (job.outcome_circuit ? circuitTypes[job.outcome_circuit].plain : '');
  const says = (reading: (typeof read)[number] | undefined): string => (reading ? `: ${sayMeasured(reading)}` : '');
  const [first, last] = [pictures[0], pictures[pictures.length - 1]];
  if (first === last) {
    const values = [before && `before${says(before)}`, after && `after${says(after)}`].filter(Boolean).join(', ');
    return [{ id: first.id, caption: `${capital(what)}${values && ` (${values})`}`, around: { x, y } }];
  }
  return [
    { id: first.id, caption: `${capital(what)}, before${says(before)}`, around: { x, y } },
    { id: last.id, caption: `${capital(what)}, after${says(after)}`, around: { x, y } },
  ];
}

/** The report of a job as it stands. */
export async function loadReport(jobId: number, audience: Audience): Promise<Report> {
  const q = db();
  const content = await asClosed(q, await loadContent(q, jobId));
  const assessments = await q<AssessmentRow>('assessments').where({ job_id: jobId }).orderBy('id');
  const opening = await q('openings').where({ job_id: jobId }).first<{ assessment_id: number } | undefined>();
  const { profile, profile_version } = content.job;
  const known = profile ? await findProfile(q, profile, profile_version) : null;
  const isFull = audience === 'technician';
  const source = {
    content,
    assessments,
    openingId: opening?.assessment_id ?? null,
    dumps: isFull ? await dumpsOf(q, jobId) : [],
    pictures: [
      ...(await causeCuts(q, content, known?.profile ?? null)),
      ...(isFull ? await ownPictures(q, jobId) : []),
    ],
    shop: await loadPolicy(q),
    nameOf: (where: string) => nameIn(known, where),
    hashes: isFull ? await hashesOf(q, content) : new Map<number, string>(),
  };
  return isFull ? technicianReport(source) : customerReport(source);
}
