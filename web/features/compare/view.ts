import {
  comparedNames,
  compareRuns,
  formatCurrent,
  formatPower,
  formatSeconds,
  formatVoltage,
  seenRun,
  type RunComparison,
  type SeenRun,
} from '@umbral/core';
import { markerNames } from '@umbral/core/words';
import { actionWords } from '@/features/job/story-view';
import { jobNumber, runTitle } from '@/features/words';
import { db, type Queries } from '@/server/record/db';
import { loadContent } from '@/server/work/jobs/jobs';
import { referencesFor } from '@/server/work/jobs/references';
import { caseOf, runOf, type RunRow } from '@/server/record/rows';
import { pairToCompare } from './pair';
import { alignedPath, anchorsOf, anchorTimes, axisTicks, commonAxis, type Anchor } from './aligned';

export interface ComparedRun {
  key: string;
  title: string;
  pattern: string;
  path: string;
  /** The change that was made before this run, in words. */
  after: string;
  /** Against the first one; null for the first itself. */
  comparison:
    (RunComparison & { rows: { name: string; from: string; to: string; times: string; changed: boolean }[] }) | null;
}

export interface CompareView {
  jobId: number;
  title: string;
  /** All that can be chosen: runs of the job, then runs of healthy units of this model. */
  choices: { key: string; title: string; isChosen: boolean }[];
  chosen: ComparedRun[];
  anchors: { id: Anchor; name: string }[];
  anchor: Anchor;
  axis: { from: number; to: number; ticks: number[] };
  /** Currents that get a line, with where they are, as a share of the height from above. */
  levels: { says: string; at: number }[];
}

const maxChosen = 6;
const anchorName = (id: Anchor): string =>
  id === 'begin' ? 'the start of each run' : id === 'clock' ? 'the clock' : markerNames[id];

interface Candidate {
  key: string;
  title: string;
  row: RunRow;
  seen: SeenRun;
}

/**
 * Everything that the comparison of runs shows.
 *
 * @param wanted keys of the runs to compare, the first being what the others are held against; a pair of one setup where empty
 * @param of the run that such a pair is chosen for; the newest where null
 */
export async function loadCompareView(
  jobId: number,
  wanted: string[],
  wantedAnchor: string | null,
  of: string | null = null,
): Promise<CompareView> {
  const q = db();
  const content = await loadContent(q, jobId);
  const value = caseOf(content);
  const own = content.runs.map((row): Candidate => {
    const run = runOf(row);
    return { key: row.run_key, title: `${row.run_key}: ${runTitle(run)}`, row, seen: seenRun(value, run, row.shape) };
  });
  const all = [...own, ...(await referenceRuns(q, content.job.profile, own, jobId))];
  const found = wanted.flatMap((key) => all.find((c) => c.key === key) ?? []).slice(0, maxChosen);
  const pair = pairToCompare(
    value,
    own.map((c) => c.seen),
    of,
  );
  const chosen = found.length > 0 ? found : pair.flatMap((key) => own.find((c) => c.key === key) ?? []);
  const alignable = chosen.map(({ row }) => ({
    preview: row.preview,
    markers: row.shape.markers,
    startedAt: row.started_at,
  }));
  const anchors = chosen.length > 0 ? anchorsOf(alignable) : [];
  const anchor = anchors.find((a) => a === wantedAnchor) ?? anchors[0] ?? 'begin';
  const times = anchorTimes(alignable, anchor);
  const axis = chosen.length > 0 ? commonAxis(alignable, times) : { from: 0, to: 1 };
  const actionOf = (key: string | null): string => {
    const found = content.actions.find((a) => a.action_key === key);
    return found ? actionWords(found) : '';
  };
  const highest = Math.max(0.002, ...chosen.flatMap(({ row }) => row.preview.mean.map((x) => x ?? 0)));
  return {
    jobId,
    title: `Job ${jobNumber(jobId)} · ${content.job.label}`,
    choices: all.map(({ key, title }) => ({ key, title, isChosen: chosen.some((c) => c.key === key) })),
    chosen: chosen.map((c, k) => ({
      key: c.key,
      title: c.title,
      pattern: patternOf(c.seen),
      after: actionOf(c.row.after_action),
      path: alignedPath(c.row.preview, times[k], axis, highest),
      comparison: k === 0 ? null : compared(chosen[0].seen, c.seen),
    })),
    anchors: anchors.map((id) => ({ id, name: anchorName(id) })),
    anchor,
    axis: { ...axis, ticks: axisTicks(axis) },
    levels: levelsOf(highest),
  };
}

/** Runs of healthy units of the same model, made in the setup of one of the job's runs. */
async function referenceRuns(
  q: Queries,
  profile: string | null,
  own: Candidate[],
  jobId: number,
): Promise<Candidate[]> {
  if (profile === null) return [];
  const ids = new Set<number>();
  for (const { row } of own) for (const r of await referencesFor(q, profile, row)) ids.add(r.runId);
  const rows = await q<RunRow>('runs')
    .whereIn('id', [...ids])
    .whereNot({ job_id: jobId })
    .orderBy('id');
  const out: Candidate[] = [];
  for (const row of rows) {
    const run = runOf(row);
    const key = `healthy-${row.id}`;
    const value = caseOf(await loadContent(q, row.job_id));
    const title = `healthy, job ${jobNumber(row.job_id)}: ${runTitle(run)}`;
    out.push({ key, title, row, seen: seenRun(value, { ...run, id: key }, row.shape) });
  }
  return out;
}

function patternOf({ patterns }: SeenRun): string {
  const top = [...patterns].sort((a, b) => b.p - a.p)[0];
  return top?.id ?? '';
}

function compared(from: SeenRun, to: SeenRun): NonNullable<ComparedRun['comparison']> {
  const comparison = compareRuns(from, to);
  return {
    ...comparison,
    rows: comparison.differences.map((d) => ({
      name: comparedNames[d.what],
      from: said(d.what, d.from, comparison.inWatts),
      to: said(d.what, d.to, comparison.inWatts),
      times: Number.isFinite(d.times) ? `${d.times < 10 ? d.times.toFixed(1) : Math.round(d.times)} ×` : 'new or gone',
      changed: d.changed,
    })),
  };
}

function said(what: RunComparison['differences'][number]['what'], value: number | null, inWatts: boolean): string {
  if (value === null) return '–';
  if (what === 'contract') return formatVoltage(value);
  if (what === 'rise' || what === 'period') return formatSeconds(value);
  return inWatts ? formatPower(value) : formatCurrent(value);
}

function levelsOf(highest: number): CompareView['levels'] {
  const round = [0.001, 0.002, 0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 20];
  return round
    .filter((a) => a <= highest && a >= highest / 30)
    .slice(-3)
    .map((a) => ({ says: formatCurrent(a, 0.001), at: 1 - 0.96 * Math.sqrt(a / highest) }));
}
