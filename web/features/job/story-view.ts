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
  protocols,
  sayAction,
  type Assessment,
  type CheckId,
} from '@umbral/core';
import {
  actionOf,
  deviceOfRow,
  runOf,
  type ActionRow,
  type AssessmentRow,
  type CheckRow,
  type InjectionRow,
  type JobContent,
  type ProofRow,
  type ReadingRow,
  type RunRow,
} from '@/server/rows';
import { thin } from '@/features/bench/queries';
import { gradeWords, runTitle } from '@/features/words';
import { silhouettePath } from '@/ui/silhouette';

/** One entry of the job's story, in time. */
export interface StoryEntry {
  key: string;
  kind: 'intake' | 'run' | 'check' | 'reading' | 'injection' | 'action' | 'proof' | 'assessment' | 'opened' | 'closed';
  at: string;
  /** Who entered it; empty where nobody was signed in. */
  by: string;
  title: string;
  detail: string;
  runKey: string | null;
  silhouette: string;
  removable: { table: 'runs' | 'checks' | 'readings' | 'injections'; id: number } | null;
  /** State of the device that it belongs to: 0 before any change, then the number of the change. */
  epoch: number;
  /** A change: the run that shows the state before it, and its key. */
  change: { key: string; runBefore: string | null } | null;
}

/** What was done, in a few words: "Capacitor at the edge removed". */
export function actionWords(a: ActionRow): string {
  const words = sayAction(actionOf(a));
  return words.charAt(0).toUpperCase() + words.slice(1);
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
  return [
    a.circuit && a.target ? circuitNames[a.circuit] : '',
    a.note,
    extra.part,
    extra.orientation,
    ...(extra.confounders ?? []),
    a.run_before ? `before it: run ${a.run_before}` : 'no run of the state before',
    first ? `expected, if ${first.name}: ${movedWords[first.moved] ?? first.moved}` : '',
  ]
    .filter(Boolean)
    .join(' · ');
}

const movedWords: Record<string, string> = {
  recovers: 'it recovers',
  improves: 'what was wrong at first is gone',
  falls: 'draws less',
  rises: 'draws more',
  same: 'nothing moves',
};

/**
 * What happened to the job, divided by its changes, in the order of time within each state of the device.
 *
 * @param nameOf name of what the model's profile calls so by its id; ids are for files, not for people
 */
export function storyOf(
  content: JobContent,
  assessments: AssessmentRow[],
  opening: { assessment_id: number; created_at: Date } | null,
  nameOf: (where: string) => string = (where) => where,
  people: ReadonlyMap<number, string> = new Map(),
): StoryEntry[] {
  const { job, runs, checks, readings, injections, actions, proofs } = content;
  const epochOf = (after: string | null): number => actions.findIndex((a) => a.action_key === after) + 1;
  const epochAt = (at: Date): number => actions.filter((a) => a.created_at <= at).length;
  const entry = (
    e: Partial<StoryEntry> & Pick<StoryEntry, 'key' | 'kind' | 'title' | 'detail'>,
    { created_at, person_id }: Entered,
  ): StoryEntry => ({
    runKey: null,
    silhouette: '',
    removable: null,
    change: null,
    epoch: 0,
    ...e,
    at: created_at.toISOString(),
    by: people.get(person_id ?? -1) ?? '',
  });
  const entries: StoryEntry[] = [
    entry(
      {
        key: 'intake',
        kind: 'intake',
        title: 'Intake',
        detail:
          job.intake.batterySwollen && !job.intake.batteryIsolated ? 'hazard: swollen battery' : 'no hazards noted',
      },
      job,
    ),
    ...runs.map((r) => ({
      ...runEntry(r, assessments.at(-1)?.result ?? null, fullScaleA(deviceOfRow(job), r.feed), entry),
      epoch: epochOf(r.after_action),
    })),
    ...checks.map((c) => ({ ...checkEntry({ ...c, where: nameOf(c.where) }, entry), epoch: epochOf(c.after_action) })),
    ...readings.map((r) => ({
      ...readingEntry({ ...r, where: nameOf(r.where) }, entry),
      epoch: epochOf(r.after_action),
    })),
    ...injections.map((i) => ({
      ...injectionEntry({ ...i, rail: nameOf(i.rail), hot: i.hot && nameOf(i.hot) }, entry),
      epoch: epochOf(i.after_action),
    })),
    ...proofs.map((p) => ({ ...proofEntry(p, entry), epoch: epochOf(p.after_action) })),
    ...actions.map((a, k) =>
      entry(
        {
          key: `action-${a.id}`,
          kind: 'action',
          title: actionWords(a),
          detail: actionDetail(a),
          epoch: k + 1,
          change: { key: a.action_key, runBefore: a.run_before },
        },
        a,
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
          detail: top ? `${circuitNames[top.id]} ${formatPercent(top.p)}` : '',
          // What was in force when it was opened was made before anything was changed.
          epoch: frozen ? 0 : epochAt(a.created_at),
        },
        a,
      );
    }),
  ];
  if (job.closed_at)
    entries.push(
      entry(
        {
          key: 'closed',
          kind: 'closed',
          title: 'Closed',
          detail: job.outcome_grade ? gradeWords[job.outcome_grade] : '',
          epoch: actions.length,
        },
        { created_at: job.closed_at },
      ),
    );
  // A change stands at the head of the state that it begins; within a state the order is that of time.
  const rank = (e: StoryEntry): number => (e.kind === 'action' ? 0 : 1);
  return entries.sort((a, b) => a.epoch - b.epoch || rank(a) - rank(b) || a.at.localeCompare(b.at));
}

/** When a row was entered, and by whom. */
interface Entered {
  created_at: Date;
  person_id?: number | null;
}

type Make = (
  e: Partial<StoryEntry> & Pick<StoryEntry, 'key' | 'kind' | 'title' | 'detail'>,
  row: Entered,
) => StoryEntry;

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
    r,
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
    c,
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
    r,
  );
}

const resultWords = { pass: 'shown', fail: 'failed', 'not-done': 'not done' } as const;

function proofEntry(p: ProofRow, make: Make): StoryEntry {
  const protocol = protocols.find((x) => x.id === p.protocol);
  const said = p.result === null ? 'its time runs' : resultWords[p.result];
  return make(
    {
      key: `proof-${p.id}`,
      kind: 'proof',
      title: protocol?.name ?? 'Proof',
      detail: [said, p.reason].filter(Boolean).join(' · '),
    },
    p,
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
    i,
  );
}
