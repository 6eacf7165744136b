import {
  checkTypes,
  circuitNames,
  formatResistance,
  formatVoltage,
  fullScaleA,
  healthyBand,
  healthyPatterns as healthy,
  isCheck,
  patternNames,
  predictedDraw,
  sayOutlook,
  shippedProfile,
  topPattern,
  type Assessment,
  type BandStep,
  type Case,
  type CheckId,
  type CircuitId,
  type Marker,
  type PatternId,
  type Run,
  type Suggestion,
} from '@umbral/core';
import { db } from '@/server/db';
import { loadContent } from '@/server/jobs';
import {
  caseOf,
  deviceOfRow,
  runOf,
  type ActionRow,
  type AssessmentRow,
  type CheckRow,
  type JobContent,
  type JobRow,
  type ReadingRow,
  type RunRow,
} from '@/server/rows';
import { thin } from '@/features/bench/queries';
import { instrumentSentence, jobNumber, runTitle, segmentWords, setupWords, spanWords } from '@/features/words';
import { silhouettePath } from '@/ui/silhouette';
import { nextName } from './next-name';
import { leavesBand } from './band';

/** One entry of the job's story, in time. */
export interface StoryEntry {
  key: string;
  kind: 'intake' | 'run' | 'check' | 'reading' | 'action' | 'assessment' | 'opened' | 'closed';
  at: string;
  title: string;
  detail: string;
  runKey: string | null;
  silhouette: string;
  removable: { table: 'runs' | 'checks' | 'readings'; id: number } | null;
}

export interface SegmentView {
  t0: number;
  t1: number;
  level: string;
  does: string;
  span: string;
  kind: string;
  isFinding: boolean;
}

/** The chosen run, ready to be drawn. */
export interface RunView {
  id: number;
  version: number;
  run: Run;
  title: string;
  chips: string[];
  instrument: string;
  t0: number;
  t1: number;
  preview: RunRow['preview'];
  band: { low: (number | null)[]; high: (number | null)[] };
  leavesAt: number | null;
  /** What the leading suspects would draw in this setup, where their twin can tell. */
  predictions: { id: CircuitId; name: string; band: { low: (number | null)[]; high: (number | null)[] } }[];
  markers: Marker[];
  segments: SegmentView[];
  pattern: { id: PatternId; name: string; p: number }[];
  notes: string[];
  sentence: string;
}

export interface SuspectView {
  id: CircuitId;
  name: string;
  p: number;
  /** The element inside the circuit, where the model's profile names one. */
  target: string | null;
  reasons: { item: string; for: number }[];
}

export interface NextView {
  suggestion: Suggestion;
  name: string;
  outcomes: string[];
  /** For each leading suspect the likeliest outcomes, with their probability. */
  predicts: { circuit: string; says: string }[];
}

export interface JobView {
  job: {
    id: number;
    version: number;
    number: string;
    label: string;
    complaint: string;
    stage: string;
    isOpened: boolean;
    isClosed: boolean;
    grade: JobRow['outcome_grade'];
    outcomeCircuit: string | null;
    outcomeTarget: string;
    outcomeFix: string;
    waitingFor: string | null;
    waitingUntil: string | null;
    hazards: string[];
    facts: string[];
  };
  value: Pick<Case, 'device' | 'intake' | 'complaintKind'>;
  form: { technician: string; dueAt: string };
  story: StoryEntry[];
  runs: { key: string; title: string }[];
  actions: { key: string; words: string }[];
  chosen: RunView | null;
  verdict: {
    pattern: RunView['pattern'][number] | null;
    says: string;
    suspects: SuspectView[];
    warnings: string[];
  } | null;
  next: NextView[];
  /** How long until it is decided, as a sentence; empty where nothing is left to test. */
  outlook: string;
}

/** Everything that the job's page shows. */
export async function loadJobView(jobId: number, chosenKey: string | null): Promise<JobView> {
  const q = db();
  const content = await loadContent(q, jobId);
  const [assessments, opening] = await Promise.all([
    q<AssessmentRow>('assessments').where({ job_id: jobId }).orderBy('id'),
    q('openings').where({ job_id: jobId }).first<{ assessment_id: number; created_at: Date } | undefined>(),
  ]);
  const value = caseOf(content);
  const latest = assessments.at(-1)?.result ?? null;
  const { runs, job } = content;
  const chosenRow = runs.find((r) => r.run_key === chosenKey) ?? runs.at(-1) ?? null;
  const chosen = chosenRow ? runView(value, chosenRow, latest) : null;
  return {
    job: jobHead(content),
    value: { device: value.device, intake: value.intake, complaintKind: value.complaintKind },
    form: { technician: job.technician, dueAt: job.due_at?.toISOString().slice(0, 10) ?? '' },
    story: storyOf(content, assessments, opening ?? null),
    runs: runs.map((r) => ({ key: r.run_key, title: `${r.run_key}: ${runTitle(runOf(r))}` })),
    actions: content.actions.map((a) => ({ key: a.action_key, words: actionWords(a) })),
    chosen,
    verdict: latest ? verdictOf(latest, chosen) : null,
    next: latest ? latest.next.map(nextView) : [],
    // Calls that were kept before the tests were played forward have no outlook.
    outlook: latest?.outlook ? sayOutlook(latest.outlook) : '',
  };
}

function jobHead({ job }: JobContent): JobView['job'] {
  const { intake } = job;
  const hazards: string[] = [];
  if (intake.batterySwollen)
    hazards.push(
      'Swollen battery: do not charge it, do not press on it. Isolate it in a fire-safe place before anything else.',
    );
  if (intake.liquid) hazards.push('Liquid got in: gloves; a clean-looking board may still be wet under the chips.');
  const facts = [
    intake.liquid ? 'liquid' : 'no liquid',
    intake.dropped ? 'dropped' : '',
    intake.priorRepair ? 'repaired before' : 'not opened before',
    intake.dataWanted ? 'data wanted' : '',
    job.profile ? `profile ${shippedProfile(job.profile)?.name ?? job.profile}` : '',
  ].filter(Boolean);
  return {
    id: job.id,
    version: job.version,
    number: jobNumber(job.id),
    label: job.label,
    complaint: job.complaint,
    stage: job.stage,
    isOpened: job.opened_at !== null,
    isClosed: job.closed_at !== null,
    grade: job.outcome_grade,
    outcomeCircuit: job.outcome_circuit ? circuitNames[job.outcome_circuit] : null,
    outcomeTarget: job.outcome_target,
    outcomeFix: job.outcome_fix,
    waitingFor: job.waiting_for,
    waitingUntil: job.waiting_until?.toISOString() ?? null,
    hazards,
    facts,
  };
}

function runView(value: Case, row: RunRow, latest: Assessment | null): RunView {
  const run = runOf(row);
  const { shape, preview } = row;
  const assessed = latest?.runs.find((r) => r.id === row.run_key);
  const volts = shape.features.voltage.tail ?? row.setup.setV ?? value.device.expect.batteryV ?? 4;
  const prompt = shape.markers.find((m) => m.event === 'prompt');
  const drawsBand = row.quantity === 'current' && (row.feed === 'battery' || prompt !== undefined);
  const steps = drawsBand ? healthyBand(value.device, run, volts) : [];
  const band = bandOver(preview, steps, prompt?.t ?? null);
  const isFine = assessed ? healthy.includes(topPattern(assessed.pattern)) : false;
  const leavesAt = drawsBand && !isFine ? leavesBand(preview, band, shape.features.noiseA) : null;
  const pattern = (assessed?.pattern ?? []).slice(0, 3).map((p) => ({ id: p.id, name: patternNames[p.id], p: p.p }));
  const segments = segmentViews(shape, leavesAt, pattern[0]?.id ?? null);
  return {
    id: row.id,
    version: row.version,
    run,
    title: runTitle(run),
    chips: setupWords(run),
    instrument: instrumentSentence(run, shape.features.intervalS, shape.features.resolutionA),
    t0: preview.t0,
    t1: preview.t1,
    preview,
    band,
    leavesAt,
    predictions: latest ? predictionsOf(value, row, latest) : [],
    markers: shape.markers,
    segments,
    pattern,
    notes: assessed?.warnings ?? [...row.repairs, ...row.warnings],
    sentence: segments.map((s) => `${s.span}: ${s.level}, ${s.does}`).join('. '),
  };
}

const mostPredictions = 3;

function predictionsOf(value: Case, row: RunRow, latest: Assessment): RunView['predictions'] {
  const run = runOf(row);
  return latest.circuits
    .filter((c) => c.id !== 'unmodelled')
    .slice(0, mostPredictions)
    .flatMap(({ id }) => {
      const draw = predictedDraw(value, run, row.shape, id);
      if (draw.length === 0) return [];
      const { t0, t1, mean } = row.preview;
      const at = (k: number) => {
        const t = t0 + ((k + 0.5) / mean.length) * (t1 - t0);
        return draw.find((d) => d.t0 <= t && t < d.t1) ?? null;
      };
      const all = mean.map((_, k) => at(k));
      return [
        {
          id,
          name: circuitNames[id],
          band: { low: all.map((d) => d?.low ?? null), high: all.map((d) => d?.high ?? null) },
        },
      ];
    });
}

function bandOver(preview: RunRow['preview'], steps: BandStep[], promptT: number | null): RunView['band'] {
  const n = preview.mean.length;
  const at = (k: number): BandStep | null => {
    if (steps.length === 0) return null;
    const t = preview.t0 + ((k + 0.5) / n) * (preview.t1 - preview.t0);
    const since = promptT === null ? -Infinity : t - promptT;
    return steps.findLast((s) => s.fromS <= since || s.fromS === -Infinity) ?? null;
  };
  const all = Array.from({ length: n }, (_, k) => at(k));
  return { low: all.map((s) => s?.low ?? null), high: all.map((s) => s?.high ?? null) };
}

const mostSegments = 5;

/** Segments in words; where there are many, the last ones, which usually hold the finding, and the first. */
function segmentViews(shape: RunRow['shape'], leavesAt: number | null, pattern: PatternId | null): SegmentView[] {
  const all = shape.segments.filter((s) => s.t1 - s.t0 > 0);
  const shown =
    all.length <= mostSegments
      ? all
      : [
          ...all.slice(0, 2),
          ...[...all.slice(2)].sort((a, b) => b.t1 - b.t0 - (a.t1 - a.t0)).slice(0, mostSegments - 2),
        ];
  const inOrder = [...shown].sort((a, b) => a.t0 - b.t0);
  const finding =
    inOrder.find((s) => leavesAt !== null && s.t1 > leavesAt && s.t0 <= leavesAt + 0.6) ??
    (pattern && !healthy.includes(pattern) ? inOrder.at(-1) : undefined);
  return inOrder.map((s) => ({
    t0: s.t0,
    t1: s.t1,
    ...segmentWords(s, shape.features.resolutionA),
    span: spanWords(s.t0, s.t1),
    kind: s.kind,
    isFinding: s === finding,
  }));
}

function verdictOf(a: Assessment, chosen: RunView | null): NonNullable<JobView['verdict']> {
  const failing = a.runs.findLast((r) => !healthy.includes(topPattern(r.pattern)));
  const run = a.runs.find((r) => r.id === chosen?.run.id) ?? failing ?? a.runs.at(-1) ?? null;
  const top = run?.pattern[0] ?? null;
  const many = a.circuits.filter((c, k) => k < 3 || c.p >= 0.05).slice(0, 5);
  const unmodelled = a.circuits.find((c) => c.id === 'unmodelled');
  const shown = unmodelled && !many.includes(unmodelled) ? [...many, unmodelled] : many;
  return {
    pattern: top ? { id: top.id, name: patternNames[top.id], p: top.p } : null,
    says: run ? `in run ${run.id}` : 'from checks and readings alone',
    suspects: shown.map((c) => ({
      id: c.id,
      name: circuitNames[c.id],
      p: c.p,
      // "Memory · memory" says nothing more.
      target: c.target !== null && !circuitNames[c.id].toLowerCase().includes(c.target.toLowerCase()) ? c.target : null,
      reasons: c.evidence,
    })),
    warnings: a.warnings,
  };
}

function nextView(s: Suggestion): NextView {
  const outcomes = s.check ? checkTypes[s.check].outcomes : [];
  return {
    suggestion: s,
    name: nextName(s),
    outcomes,
    predicts: s.predicts.map((p) => ({
      circuit: circuitNames[p.circuit],
      says: predictionWords(p),
    })),
  };
}

/** The likeliest outcome and, where it is a close thing, the second. */
function predictionWords({ outcome, likely }: Suggestion['predicts'][number]): string {
  const plain = (word: string): string => word.replaceAll('-', ' ');
  const percent = (p: number): string => `${Math.round(p * 100)} %`;
  // Calls made before the twin was asked hold no probabilities.
  const [first, second] = likely ?? [];
  if (!first) return plain(outcome);
  const said = `${plain(first.outcome)} ${percent(first.p)}`;
  return second && second.p > 0.25 ? `${said}, ${plain(second.outcome)} ${percent(second.p)}` : said;
}

function actionWords(a: ActionRow): string {
  const circuit = a.circuit ? circuitNames[a.circuit].toLowerCase() : '';
  return [a.kind.replaceAll('-', ' '), a.target || circuit].filter(Boolean).join(': ');
}

function storyOf(
  content: JobContent,
  assessments: AssessmentRow[],
  opening: { assessment_id: number; created_at: Date } | null,
): StoryEntry[] {
  const { job, runs, checks, readings, actions } = content;
  const entry = (
    e: Partial<StoryEntry> & Pick<StoryEntry, 'key' | 'kind' | 'title' | 'detail'>,
    at: Date,
  ): StoryEntry => ({ runKey: null, silhouette: '', removable: null, ...e, at: at.toISOString() });
  const entries: StoryEntry[] = [
    entry(
      {
        key: 'intake',
        kind: 'intake',
        title: 'Intake',
        detail: job.intake.batterySwollen ? 'hazard: swollen battery' : 'no hazards noted',
      },
      job.created_at,
    ),
    ...runs.map((r) => runEntry(r, assessments.at(-1)?.result ?? null, fullScaleA(deviceOfRow(job), r.feed), entry)),
    ...checks.map((c) => checkEntry(c, entry)),
    ...readings.map((r) => readingEntry(r, entry)),
    ...actions.map((a) =>
      entry(
        { key: `action-${a.id}`, kind: 'action', title: actionWords(a), detail: a.note || a.action_key },
        a.created_at,
      ),
    ),
    ...assessments.map((a, k) => {
      const top = a.result.circuits[0];
      const frozen = a.id === opening?.assessment_id;
      return entry(
        {
          key: `assessment-${a.id}`,
          kind: frozen ? 'opened' : 'assessment',
          title: frozen ? `Verdict ${k + 1}, in force at opening` : `Verdict ${k + 1}`,
          detail: top ? `${circuitNames[top.id]} ${Math.round(top.p * 100)} %` : '',
        },
        a.created_at,
      );
    }),
  ];
  if (job.closed_at)
    entries.push(
      entry(
        { key: 'closed', kind: 'closed', title: 'Closed', detail: job.outcome_grade?.replaceAll('-', ' ') ?? '' },
        job.closed_at,
      ),
    );
  return entries.sort((a, b) => a.at.localeCompare(b.at));
}

type Make = (e: Partial<StoryEntry> & Pick<StoryEntry, 'key' | 'kind' | 'title' | 'detail'>, at: Date) => StoryEntry;

function runEntry(r: RunRow, latest: Assessment | null, full: number, make: Make): StoryEntry {
  const pattern = latest?.runs.find((x) => x.id === r.run_key)?.pattern[0];
  const detail = pattern ? patternNames[pattern.id] : 'not recognised yet';
  return make(
    {
      key: `run-${r.id}`,
      kind: 'run',
      title: `${r.run_key}: ${runTitle(runOf(r))}`,
      detail,
      runKey: r.run_key,
      silhouette: silhouettePath(thin(r.preview.mean), full),
      removable: { table: 'runs', id: r.id },
    },
    r.created_at,
  );
}

function checkEntry(c: CheckRow, make: Make): StoryEntry {
  const name = isCheck(c.check_id) ? checkTypes[c.check_id as CheckId].name : c.check_id;
  return make(
    {
      key: `check-${c.id}`,
      kind: 'check',
      title: name,
      detail: (c.outcome ?? c.note).replaceAll('-', ' '),
      removable: { table: 'checks', id: c.id },
    },
    c.created_at,
  );
}

function readingEntry(r: ReadingRow, make: Make): StoryEntry {
  const show = (x: number | null): string => (r.unit === 'ohm' ? formatResistance(x) : formatVoltage(x));
  const value = r.ol ? 'open line' : show(r.value);
  const detail = r.reference === null ? value : `${value}, good: ${show(r.reference)}`;
  return make(
    {
      key: `reading-${r.id}`,
      kind: 'reading',
      title: r.where,
      detail: `${r.mode} ${detail}`,
      removable: { table: 'readings', id: r.id },
    },
    r.created_at,
  );
}
