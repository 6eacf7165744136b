import {
  checkTypes,
  circuitNames,
  formatCurrent,
  formatPercent,
  formatVoltage,
  fullScaleA,
  isCheck,
  patternNames,
  protocols,
  sayAction,
  sayMeasured,
  type Assessment,
  type CheckId,
  type CircuitId,
  type ReadingMode,
  lastDone,
  typeMeasured,
  withNames,
} from '@umbral/core';
import {
  actionOf,
  recordOf,
  deviceOfRow,
  readingOf,
  runOf,
  type ActionRow,
  type AssessmentRow,
  type CheckRow,
  type InjectionRow,
  type JobContent,
  type ProofRow,
  type ReadingRow,
  type RunRow,
} from '@/server/record/rows';
import { gradeWords, runTitle } from '@/features/words';
import { silhouettePath, thinSheet } from '@/ui/silhouette';
import type { ActionForm, CheckForm, InjectionForm } from './entry-forms';

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
  /** The row that it is, where it can be corrected; null for what the job says of itself. */
  entry: EntryView | null;
  /** State of the device that it belongs to: 0 before any change, then the number of the change. */
  epoch: number;
  /** Where it was seen or done, and the circuit of that place: null while nobody has said. Null for what has no place. */
  place: { where: string; circuit: CircuitId | null } | null;
}

/** The row behind an entry: what can be corrected of it, and whether it counts. */
export interface EntryView {
  table: 'runs' | 'checks' | 'readings' | 'injections' | 'proofs' | 'actions';
  id: number;
  /** Why it counts for nothing; empty for what counts. */
  voidWhy: string;
  /** A change that is not done yet. */
  isPlanned: boolean;
  /** Its form as it was filled in; null for what is corrected elsewhere. */
  form: EntryForm | null;
  /** A change: the run that shows the state before it, and its key. */
  change: { key: string; runBefore: string | null } | null;
}

/** Forms as they were filled in, by the kind of entry. */
export type EntryForm =
  | { of: 'check'; values: CheckForm }
  | { of: 'reading'; values: { where: string; text: string; mode: ReadingMode } }
  | { of: 'injection'; values: InjectionForm }
  | { of: 'action'; values: ActionForm }
  | { of: 'run'; values: { line: string } };

/** What was done, in a few words: "Capacitor at the edge removed". */
export function actionWords(a: ActionRow): string {
  const words = sayAction(actionOf(a));
  return words.charAt(0).toUpperCase() + words.slice(1);
}

/** What is noted of a change: its circuit, its number, how the part sat, and the run that shows the state before it. */
function actionDetail(a: ActionRow): string {
  const { part, orientation, confounders } = actionOf(a);
  return [
    a.circuit && a.target ? circuitNames[a.circuit] : '',
    a.note,
    part,
    orientation,
    ...confounders,
    a.run_before ? `run before it: ${a.run_before}` : '',
  ]
    .filter(Boolean)
    .join(' · ');
}

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
  const { job, record } = content;
  const { runs, checks, readings, injections, actions, proofs } = record;
  const make: Make = (e, { created_at, done_at, person_id, void_why }) => ({
    ...plainEntry,
    ...e,
    entry: e.entry ? { ...e.entry, voidWhy: void_why ?? '' } : null,
    at: (done_at ?? created_at).toISOString(),
    by: people.get(person_id ?? -1) ?? '',
  });
  const latest = assessments.at(-1)?.result ?? null;
  const named = withNames(recordOf(content));
  const done = content.actions.map((a) => a.action_key);
  const follows = lastDone(actions.map((a) => ({ id: a.action_key, isDone: done.includes(a.action_key) })));
  const after = (key: string | null, e: StoryEntry): StoryEntry => ({
    ...e,
    epoch: done.indexOf(follows(key) ?? '') + 1,
  });
  const entries: StoryEntry[] = [
    intakeEntry(content, make),
    ...runs.map((r) => after(r.after_action, runEntry(r, latest, fullScaleA(deviceOfRow(job), r.feed), make))),
    ...checks.map((c, k) => {
      const entry = after(c.after_action, checkEntry({ ...c, where: nameOf(c.where) }, make));
      return { ...entry, place: placeOf(c.where, named.checks[k].circuit) };
    }),
    ...readings.map((r, k) => {
      const entry = after(r.after_action, readingEntry({ ...r, where: nameOf(r.where) }, make));
      return { ...entry, place: placeOf(r.where, named.readings[k].circuit) };
    }),
    ...injections.map((i, k) => {
      const entry = after(
        i.after_action,
        injectionEntry({ ...i, rail: nameOf(i.rail), hot: i.hot && nameOf(i.hot) }, make),
      );
      const { circuit, hotCircuit } = named.injections[k];
      const isHotUnnamed = i.hot !== null && hotCircuit === null && circuit !== null;
      return { ...entry, place: isHotUnnamed ? placeOf(i.hot ?? '', hotCircuit) : placeOf(i.rail, circuit) };
    }),
    ...proofs.map((p) => after(p.after_action, proofEntry(p, make))),
    ...actions.map((a, k) => {
      const { unit, target, circuit } = named.actions[k];
      const place = unit === null ? placeOf(target, circuit) : null;
      // What does not count stands where it would have been.
      const epoch = done.includes(a.action_key)
        ? done.indexOf(a.action_key) + 1
        : done.indexOf(follows(a.action_key) ?? '') + 1;
      return { ...actionEntry(a, make), epoch, place };
    }),
    ...assessments.map((a, k) => {
      const isFrozen = a.id === opening?.assessment_id;
      // What was in force when it was opened was made before anything was changed.
      const epoch = isFrozen ? 0 : content.actions.filter((x) => x.created_at <= a.created_at).length;
      return { ...assessmentEntry(a, k + 1, isFrozen, make), epoch };
    }),
    ...(job.closed_at ? [{ ...closedEntry(content, job.closed_at, make), epoch: done.length }] : []),
  ];
  // A change stands at the head of the state that it begins; within a state the order is that of time.
  const counts = (e: StoryEntry): boolean => !e.entry?.isPlanned && !e.entry?.voidWhy;
  const rank = (e: StoryEntry): number => (e.kind === 'action' && counts(e) ? 0 : 1);
  return entries.sort((a, b) => a.epoch - b.epoch || rank(a) - rank(b) || a.at.localeCompare(b.at));
}

const plainEntry = {
  runKey: null,
  silhouette: '',
  entry: null,
  place: null,
  epoch: 0,
};

/** The row of an entry, with its form as it was filled in. */
const entryOf = (table: EntryView['table'], id: number, form: EntryForm | null = null): EntryView => ({
  table,
  id,
  voidWhy: '',
  isPlanned: false,
  form,
  change: null,
});

const placeOf = (where: string, circuit: CircuitId | null): StoryEntry['place'] =>
  where.trim() === '' ? null : { where, circuit };

function intakeEntry({ job }: JobContent, make: Make): StoryEntry {
  const isHazard = job.intake.batterySwollen && !job.intake.batteryIsolated;
  const detail = isHazard ? 'hazard: swollen battery' : 'no hazards noted';
  return make({ key: 'intake', kind: 'intake', title: 'Intake', detail }, job);
}

function actionEntry(a: ActionRow, make: Make): StoryEntry {
  const change = { key: a.action_key, runBefore: a.run_before };
  const { part, orientation, confounders, stays, unit, with: origin } = actionOf(a);
  const values: ActionForm = {
    kind: a.kind,
    circuit: a.circuit ?? '',
    target: a.target,
    note: a.note,
    runBefore: a.run_before ?? '',
    undoes: a.undoes ?? '',
    part,
    orientation,
    confounders: [...confounders],
    stays: stays === 'off',
    unit: unit ?? '',
    with: origin ?? '',
  };
  const entry = { ...entryOf('actions', a.id, { of: 'action', values }), change, isPlanned: a.planned };
  return make({ key: `action-${a.id}`, kind: 'action', title: actionWords(a), detail: actionDetail(a), entry }, a);
}

function assessmentEntry(a: AssessmentRow, number: number, isFrozen: boolean, make: Make): StoryEntry {
  const top = a.result.circuits.at(0);
  return make(
    {
      key: `assessment-${a.id}`,
      kind: isFrozen ? 'opened' : 'assessment',
      title: isFrozen ? `Verdict ${number}, when opened` : `Verdict ${number}`,
      detail: top ? `${circuitNames[top.id]} ${formatPercent(top.p)}` : '',
    },
    a,
  );
}

function closedEntry({ job }: JobContent, at: Date, make: Make): StoryEntry {
  const detail = job.outcome_grade ? gradeWords[job.outcome_grade] : '';
  return make({ key: 'closed', kind: 'closed', title: 'Closed', detail }, { created_at: at });
}

/** When a row was entered, and by whom. */
interface Entered {
  created_at: Date;
  person_id?: number | null;
  done_at?: Date | null;
  void_why?: string | null;
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
      silhouette: silhouettePath(thinSheet(r.preview.mean), full),
      entry: entryOf('runs', r.id, r.typed === null ? null : { of: 'run', values: { line: r.typed } }),
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
      entry: entryOf('checks', c.id, {
        of: 'check',
        values: {
          check: c.check_id,
          outcome: c.outcome ?? '',
          note: c.note,
          where: c.where,
          circuit: c.circuit ?? '',
          rail: c.rail,
          half: c.half ?? '',
          unplugged: c.unplugged.join(', '),
        },
      }),
    },
    c,
  );
}

function readingEntry(r: ReadingRow, make: Make): StoryEntry {
  const reading = readingOf(r);
  const value = sayMeasured(reading);
  const good = { ...reading, says: null, ol: false, swing: null, bound: null, value: r.reference };
  const detail = r.reference === null ? value : `${value}, known good: ${sayMeasured(good)}`;
  return make(
    {
      key: `reading-${r.id}`,
      kind: 'reading',
      title: r.where,
      detail: `${r.across ? 'across it' : r.mode} ${detail}`,
      entry: entryOf('readings', r.id, {
        of: 'reading',
        values: { where: r.where, text: typeMeasured(reading), mode: r.mode },
      }),
    },
    r,
  );
}

const resultWords = { pass: 'shown', fail: 'failed', 'not-done': 'not done' } as const;

function proofEntry(p: ProofRow, make: Make): StoryEntry {
  const protocol = protocols.find((x) => x.id === p.protocol);
  const said = p.result === null ? 'in progress' : resultWords[p.result];
  return make(
    {
      key: `proof-${p.id}`,
      kind: 'proof',
      title: protocol?.name ?? 'Proof',
      detail: [said, p.reason].filter(Boolean).join(' · '),
      entry: p.result === null ? null : entryOf('proofs', p.id),
    },
    p,
  );
}

/** A quantity as it is typed into a form, digit for digit. */
const asTyped = (value: number | null, unit: string): string => (value === null ? '' : `${value} ${unit}`);

function injectionEntry(i: InjectionRow, make: Make): StoryEntry {
  const flowed = i.amps === null ? '' : `${formatCurrent(i.amps)} flow`;
  const warmed =
    i.heat === null
      ? ''
      : i.heat === 'none'
        ? 'nothing gets warm'
        : `${i.hot ?? i.heat.replaceAll('-', ' ')} gets warm`;
  return make(
    {
      key: `injection-${i.id}`,
      kind: 'injection',
      title: `${formatVoltage(i.set_v)} on ${i.rail}`,
      detail: [flowed, warmed, i.note].filter(Boolean).join(' · '),
      entry: entryOf('injections', i.id, {
        of: 'injection',
        values: {
          rail: i.rail,
          circuit: i.circuit ?? '',
          setV: asTyped(i.set_v, 'V'),
          limitA: asTyped(i.limit_a, 'A'),
          amps: asTyped(i.amps, 'A'),
          leadsOhm: asTyped(i.leads_ohm, 'ohm'),
          referenceA: asTyped(i.reference_a, 'A'),
          heat: i.heat ?? '',
          hot: i.hot ?? '',
          hotCircuit: i.hot_circuit ?? '',
          note: i.note,
        },
      }),
    },
    i,
  );
}
