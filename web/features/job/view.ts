import {
  checkTypes,
  circuitNames,
  dayOf,
  engineVersion,
  formatPercent,
  isWorking,
  patternNames,
  patternTypes,
  sayDevicesLeft,
  sayOutcome,
  sayOutlook,
  topPattern,
  type Assessment,
  type Case,
  type Conclusion,
  type OutcomeProposal,
  type ProofState,
  type Suggestion,
  type UnnamedPlace,
} from '@umbral/core';
import { attachmentsOf, type PicturePoint } from '@/server/work/entries/attachments';
import { runningWaits } from '@/server/work/entries/waits';
import { db, type Queries } from '@/server/record/db';
import { dumpsOf, judgeDumps, type DumpsVerdict } from '@/server/work/entries/dumps';
import { loadContent } from '@/server/work/jobs/jobs';
import { placesIn } from '@/server/work/jobs/places';
import { nameIn } from '@/server/work/opened/measure';
import { loadPolicy } from '@/server/work/shop/policy';
import { loadPractice, type PracticeView } from '@/server/work/practice/view';
import { findProfile } from '@/server/work/shop/profiles';
import { referencesFor } from '@/server/work/jobs/references';
import { caseOf, runOf, type AssessmentRow, type JobContent } from '@/server/record/rows';
import { runTitle, stateView, type StateView } from '@/features/words';
import { confirmationViews, type ConfirmationView } from './confirmations-view';
import { nearViews, type NearView } from './near-view';
import { nextName } from './next-name';
import { runView, type RunView } from './run-view';
import { actionWords, storyOf, type StoryEntry } from './story-view';
import { suspectsOf, type Suspected } from '@/features/suspects/suspects';
import { elementNames, jobHead, type JobHead } from './job-head';

export type { ConfirmationView } from './confirmations-view';
export type { NearView } from './near-view';
export type { RunView } from './run-view';
export type { StoryEntry } from './story-view';

export interface SuspectView extends Suspected {
  reasons: { item: string; for: number }[];
}

export interface NextView {
  suggestion: Suggestion;
  name: string;
  outcomes: readonly string[];
  /** For each leading suspect the likeliest outcomes, with their probability. */
  predicts: { circuit: string; says: string }[];
}

/** The time of a step that runs. ISO 8601. */
export interface TimerView {
  protocol: string;
  step: string;
  startedAt: string;
  dueAt: string;
}

/** A picture that belongs to the job or to an entry of its story. */
export interface PictureView {
  id: number;
  of: string;
  words: string;
  width: number;
  height: number;
  /** A place on it: shares of width and height, with what is there. */
  point: PicturePoint | null;
}

export interface JobView {
  job: JobHead;
  value: Pick<Case, 'device' | 'intake' | 'complaintKind'>;
  form: { technician: string; dueOn: string };
  story: StoryEntry[];
  runs: { key: string; title: string }[];
  actions: { key: string; words: string }[];
  chosen: RunView | null;
  verdict: {
    pattern: RunView['pattern'][number] | null;
    says: string;
    suspects: SuspectView[];
    /** Suspects that cannot be told apart yet, and the test that splits them; null where one is enough. */
    group: { names: string[]; p: number; splitBy: string | null } | null;
    warnings: string[];
    /** An older engine made it: sources or data have changed since. */
    isOld: boolean;
  } | null;
  /** How the device is now, in words; null before a verdict. */
  state: StateView | null;
  /** It was seen to work since the last change. */
  works: boolean;
  /** Where the proof of the last change stands; null before any change, or in calls that were kept before. */
  proof: ProofState | null;
  /** The unit behind it, where it is one to practise on; null for a job of the shop. */
  practice: PracticeView | null;
  /** What the evidence supports as the outcome. */
  proposal: OutcomeProposal | null;
  /** Name of its circuit; empty where it has none. */
  proposalCircuit: string;
  /** Times that run, by protocol and step. */
  timers: TimerView[];
  /** Something was entered that the verdict does not know yet. */
  isDue: boolean;
  /** How many of its changes the verdict on this page knows. */
  judged: number;
  /** What is known of the device where its model has no profile; null where it has one, or nothing was assessed. */
  device: { classProfile: string; says: string | null } | null;
  /** Confirmed cases that look like this one, the likeliest first. */
  near: NearView[];
  /** What people found that it was; empty for a job that is open. */
  confirmations: ConfirmationView[];
  next: NextView[];
  pictures: PictureView[];
  dumps: { id: number; name: string; sha256: string; size: number }[];
  /** Whether the old content of a chip is safe. */
  dumpsSay: DumpsVerdict;
  /** Places that were named in the job, and what the model's profile has. */
  elements: string[];
  /** Halves of a device that was taken apart, as its runs call them. */
  halves: string[];
  /** Places without a circuit, with what they most likely belong to. */
  unnamed: UnnamedPlace[];
  /** How long until it is decided, as a sentence; empty where nothing is left to test. */
  outlook: string;
}

/** Names by number, also of those who work here no more. */
async function namesOfPeople(q: Queries): Promise<Map<number, string>> {
  const rows = (await q('people').select('id', 'name')) as { id: number; name: string }[];
  return new Map(rows.map(({ id, name }) => [id, name]));
}

/** Everything that the job's page shows. */
export async function loadJobView(jobId: number, chosenKey: string | null, personId: number): Promise<JobView> {
  const q = db();
  const people = await namesOfPeople(q);
  const content = await loadContent(q, jobId);
  const [assessments, opening] = await Promise.all([
    q<AssessmentRow>('assessments').where({ job_id: jobId }).orderBy('id'),
    q('openings').where({ job_id: jobId }).first<{ assessment_id: number; created_at: Date } | undefined>(),
  ]);
  const value = caseOf(content);
  const made = assessments.at(-1)?.result ?? null;
  const practice = await loadPractice(q, content, personId, nextName);
  const isHidden = isUncalledUnit(practice);
  const latest = isHidden ? null : made;
  const proposal = latest?.conclusion?.outcome ?? null;
  const { runs, job } = content;
  const chosenRow = runs.find((r) => r.run_key === chosenKey) ?? runs.at(-1) ?? null;
  const known = job.profile ? await findProfile(q, job.profile, job.profile_version) : null;
  const newest = job.profile ? await findProfile(q, job.profile) : null;
  const [pictures, dumps] = await Promise.all([attachmentsOf(q, jobId), dumpsOf(q, jobId)]);
  const references = chosenRow && job.profile ? await referencesFor(q, job.profile, chosenRow) : [];
  const waits = (await runningWaits(q)).filter((w) => w.jobId === jobId);
  const chosen = chosenRow ? await runView(value, chosenRow, latest, known, references) : null;
  return {
    job: jobHead(content, known, newest?.version ?? null, waits),
    value: { device: value.device, intake: value.intake, complaintKind: value.complaintKind },
    form: { technician: job.technician, dueOn: job.due_at ? dayOf((await loadPolicy(q)).hours, job.due_at) : '' },
    unnamed: latest?.unnamed ?? [],
    story: storyOf(content, isHidden ? [] : assessments, opening ?? null, (where) => nameIn(known, where), people),
    runs: runs.map((r) => ({ key: r.run_key, title: `${r.run_key}: ${runTitle(runOf(r))}` })),
    halves: [...new Set(value.runs.flatMap((r) => (r.setup.assembly === 'half' ? [r.setup.half || 'upper'] : [])))],
    actions: content.actions.map((a) => ({ key: a.action_key, words: actionWords(a) })),
    chosen,
    verdict: latest ? verdictOf(latest, chosen) : null,
    state: stateView(latest),
    works: content.actions.length > 0 && latest?.state !== undefined && isWorking(latest.state),
    isDue: job.changes !== job.changes_judged,
    judged: job.changes_judged,
    // Calls that were kept before populations were have none.
    device:
      !known && latest?.device ? { classProfile: latest.device.profile, says: sayDevicesLeft(latest.device) } : null,
    practice,
    proof: latest?.proof ?? null,
    proposal,
    proposalCircuit: proposal?.circuit ? circuitNames[proposal.circuit] : '',
    timers: timersOf(content),
    near: latest?.near ? await nearViews(q, latest.near, content) : [],
    confirmations: job.closed_at ? await confirmationViews(q, jobId, people) : [],
    next: latest ? latest.next.map(nextView) : [],
    pictures: pictures.map((p) => ({
      id: p.id,
      of: p.of_kind === 'job' ? 'job' : `${p.of_kind}-${p.of_id}`,
      words: p.caption || `${p.of_kind} picture ${p.id}`,
      width: p.width,
      height: p.height,
      point: p.point,
    })),
    dumps: dumps.map(({ id, name, sha256, size }) => ({ id, name, sha256, size })),
    dumpsSay: judgeDumps(dumps),
    elements: [...new Set([...placesIn(content), ...(known ? elementNames(known.profile) : [])])],
    // Calls that were kept before the tests were played forward have no outlook.
    outlook: latest?.outlook ? sayOutlook(latest.outlook) : '',
  };
}

/** Times of steps that run, from the record: a page that was left or a server that stopped loses none. */
export function timersOf({ proofs }: JobContent): TimerView[] {
  return proofs.flatMap(({ protocol, step, result, started_at, due_at }) =>
    result === null && started_at && due_at
      ? [{ protocol, step, startedAt: started_at.toISOString(), dueAt: due_at.toISOString() }]
      : [],
  );
}

/** Of a unit to practise on the verdict is shown once it was called. */
const isUncalledUnit = (practice: PracticeView | null): boolean =>
  practice !== null && practice.called === null && practice.truth === null;

function verdictOf(a: Assessment, chosen: RunView | null): NonNullable<JobView['verdict']> {
  const failing = a.runs.findLast((r) => patternTypes[topPattern(r.pattern)].healthyWhen === undefined);
  const run = a.runs.find((r) => r.id === chosen?.run.id) ?? failing ?? a.runs.at(-1) ?? null;
  const top = run?.pattern[0] ?? null;
  return {
    pattern: top ? { id: top.id, name: patternNames[top.id], p: top.p } : null,
    says: run ? `in run ${run.id}` : 'from checks and readings alone',
    suspects: suspectsOf(a.circuits),
    group: groupView(a.conclusion),
    warnings: a.warnings,
    isOld: a.engine !== engineVersion,
  };
}

function groupView(conclusion: Conclusion | undefined): NonNullable<JobView['verdict']>['group'] {
  const group = conclusion?.group;
  if (!conclusion || !group || group.circuits.length < 2) return null;
  return { names: group.circuits.map((id) => circuitNames[id]), p: group.p, splitBy: conclusion.splitBy };
}

function nextView(s: Suggestion): NextView {
  const outcomes = s.check ? checkTypes[s.check].outcomes : [];
  return {
    suggestion: s,
    name: nextName(s),
    outcomes,
    predicts: s.predicts.map((p) => ({
      circuit: p.element?.name ?? circuitNames[p.circuit],
      says: predictionWords(p, s),
    })),
  };
}

/** The likeliest outcome and, where it is a close thing, the second. */
function predictionWords({ outcome, likely }: Suggestion['predicts'][number], { kind, hot }: Suggestion): string {
  const plain = (word: string): string => sayOutcome(word, kind, hot);
  // Calls made before the twin was asked hold no probabilities.
  const [first, second] = likely ?? [];
  if (!first) return plain(outcome);
  const said = `${plain(first.outcome)} ${formatPercent(first.p)}`;
  return second && second.p > 0.25 ? `${said}, ${plain(second.outcome)} ${formatPercent(second.p)}` : said;
}
