import {
  checkTypes,
  circuitNames,
  formatCurrent,
  formatPercent,
  formatResistance,
  formatVoltage,
  fullScaleA,
  isCheck,
  patternNames,
  type Assessment,
  type CheckId,
} from '@umbral/core';
import {
  deviceOfRow,
  runOf,
  type ActionRow,
  type AssessmentRow,
  type CheckRow,
  type InjectionRow,
  type JobContent,
  type ReadingRow,
  type RunRow,
} from '@/server/rows';
import { thin } from '@/features/bench/queries';
import { runTitle } from '@/features/words';
import { silhouettePath } from '@/ui/silhouette';

/** One entry of the job's story, in time. */
export interface StoryEntry {
  key: string;
  kind: 'intake' | 'run' | 'check' | 'reading' | 'injection' | 'action' | 'assessment' | 'opened' | 'closed';
  at: string;
  title: string;
  detail: string;
  runKey: string | null;
  silhouette: string;
  removable: { table: 'runs' | 'checks' | 'readings' | 'injections'; id: number } | null;
}

/** What was done, in a few words. */
export function actionWords(a: ActionRow): string {
  const circuit = a.circuit ? circuitNames[a.circuit] : '';
  return [a.kind.replaceAll('-', ' '), a.target || circuit].filter(Boolean).join(': ');
}

/** Number, how it sat, and what was expected before it was done. */
function actionDetail(a: ActionRow): string {
  const extra = (a.extra ?? {}) as {
    part?: string;
    orientation?: string;
    confounders?: string[];
    predicts?: { name: string; moved: string }[];
  };
  const [first] = extra.predicts ?? [];
  return (
    [
      a.note,
      extra.part,
      extra.orientation,
      ...(extra.confounders ?? []),
      first ? `expected, if ${first.name}: ${movedWords[first.moved] ?? first.moved}` : '',
    ]
      .filter(Boolean)
      .join(' · ') || a.action_key
  );
}

const movedWords: Record<string, string> = {
  recovers: 'it recovers',
  improves: 'what was wrong at first is gone',
  falls: 'draws less',
  rises: 'draws more',
  same: 'nothing moves',
};

/** What happened to the job, in the order of time. */
export function storyOf(
  content: JobContent,
  assessments: AssessmentRow[],
  opening: { assessment_id: number; created_at: Date } | null,
): StoryEntry[] {
  const { job, runs, checks, readings, injections, actions } = content;
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
        detail:
          job.intake.batterySwollen && !job.intake.batteryIsolated ? 'hazard: swollen battery' : 'no hazards noted',
      },
      job.created_at,
    ),
    ...runs.map((r) => runEntry(r, assessments.at(-1)?.result ?? null, fullScaleA(deviceOfRow(job), r.feed), entry)),
    ...checks.map((c) => checkEntry(c, entry)),
    ...readings.map((r) => readingEntry(r, entry)),
    ...injections.map((i) => injectionEntry(i, entry)),
    ...actions.map((a) =>
      entry({ key: `action-${a.id}`, kind: 'action', title: actionWords(a), detail: actionDetail(a) }, a.created_at),
    ),
    ...assessments.map((a, k) => {
      const top = a.result.circuits[0];
      const frozen = a.id === opening?.assessment_id;
      return entry(
        {
          key: `assessment-${a.id}`,
          kind: frozen ? 'opened' : 'assessment',
          title: frozen ? `Verdict ${k + 1}, in force at opening` : `Verdict ${k + 1}`,
          detail: top ? `${circuitNames[top.id]} ${formatPercent(top.p)}` : '',
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
      detail: [(c.outcome ?? c.note).replaceAll('-', ' '), c.where].filter(Boolean).join(', '),
      removable: { table: 'checks', id: c.id },
    },
    c.created_at,
  );
}

function readingEntry(r: ReadingRow, make: Make): StoryEntry {
  const show = (x: number | null): string => (r.unit === 'ohm' ? formatResistance(x) : formatVoltage(x));
  const { swing } = r;
  const value = r.ol ? 'open line' : swing ? `${show(swing.low)} to ${show(swing.high)}` : show(r.value);
  const detail = r.reference === null ? value : `${value}, good: ${show(r.reference)}`;
  return make(
    {
      key: `reading-${r.id}`,
      kind: 'reading',
      title: r.where,
      detail: `${r.across ? 'across it' : r.mode} ${detail}`,
      removable: { table: 'readings', id: r.id },
    },
    r.created_at,
  );
}

function injectionEntry(i: InjectionRow, make: Make): StoryEntry {
  const flowed = i.amps === null ? '' : `${formatCurrent(i.amps)} flow`;
  const warmed =
    i.heat === null ? '' : i.heat === 'none' ? 'nothing warms' : `${i.hot ?? i.heat.replaceAll('-', ' ')} warms`;
  return make(
    {
      key: `injection-${i.id}`,
      kind: 'injection',
      title: `${formatVoltage(i.set_v)} on ${i.rail}`,
      detail: [flowed, warmed, i.note].filter(Boolean).join(' · '),
      removable: { table: 'injections', id: i.id },
    },
    i.created_at,
  );
}
