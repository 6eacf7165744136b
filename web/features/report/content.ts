import {
  actionTypes,
  changesLeft,
  circuitTypes,
  partStates,
  sayAction,
  tellChange,
  withArticle,
  withUndone,
  type Action,
  type Assessment,
  type CircuitId,
} from '@umbral/core';
import { jobNumber } from '@/features/words';
import { actionOf, type JobContent } from '@/server/record/rows';
import { openProofsOf } from '@/server/work/entries/job-edits';

/** A row of a table: what it is, what was seen, and whether it stood before the last change. */
export interface ReportRow {
  what: string;
  seen: string;
  state: string;
}

export interface ReportRun {
  key: string;
  title: string;
  setup: string;
  seen: string;
  state: string;
  /** Even stretches of the current, amperes; null where nothing was measured. */
  levels: (number | null)[];
  /** SHA-256 of its samples; empty for a typed line, which stands there itself. */
  hash: string;
}

export interface ReportSection {
  title: string;
  lines: string[];
}

/** A report, for the customer or for the next technician. */
export interface Report {
  audience: 'customer' | 'technician';
  title: string;
  /** Name and value; nothing of the owner that the job does not need. */
  facts: [string, string][];
  sections: ReportSection[];
  runs: ReportRun[];
  tables: { title: string; rows: ReportRow[] }[];
  pictures: ReportPicture[];
}

/** A picture of the job, or the part of a board's picture around a place. */
export interface ReportPicture {
  id: number;
  caption: string;
  /** Widths of the board; null for a picture of the job. */
  around: { x: number; y: number } | null;
}

/** What a report is made from. */
export interface ReportSource {
  content: JobContent;
  assessments: { result: Assessment; created_at: Date; id: number }[];
  /** The assessment that was in force when the device was opened; null where it was not. */
  openingId: number | null;
  dumps: { name: string; sha256: string; size: number }[];
  pictures: ReportPicture[];
  hashes: ReadonlyMap<number, string>;
  /** Who it comes from, and how that shop is reached; empty where nobody said. */
  shop: { name: string; contact: string };
  /** Name of what the model's profile calls so by its id. */
  nameOf: (where: string) => string;
}

export const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);
export const sentence = (text: string): string => `${capital(text.trim()).replace(/[.\s]+$/, '')}.`;
export const day = (at: Date): string => at.toISOString().slice(0, 10);

/** A day as a customer writes it: 29 November 2026. */
const plainDay = (at: Date): string =>
  at.toLocaleDateString('en-GB', { day: 'numeric', month: 'long', year: 'numeric' });

/** Grades of a device that goes back as it is: no list of proofs follows. */
const notRepaired = ['not-found', 'declined', 'not-economical'];

/** What was brought, what was wrong, done, tested and not tested, in words for somebody who does not repair devices. */
export function customerReport(source: ReportSource): Report {
  const { content, assessments, pictures, shop } = source;
  const { job } = content;
  const result = assessments.at(-1)?.result ?? null;
  const proof = result?.proof ?? null;
  const isDead = job.outcome_grade !== null && notRepaired.includes(job.outcome_grade);
  const told = isDead ? [] : (proof?.protocols ?? []).filter((p) => !p.inHouse);
  const inHouse = (proof?.protocols ?? []).filter((p) => p.inHouse).map((p) => `${p.name}:`);
  const passed = told.flatMap((p) => p.steps.filter((s) => s.result === 'pass').map((s) => sentence(s.says)));
  const open = isDead
    ? []
    : openLines(content, result)
        .filter((line) => !inHouse.some((name) => line.startsWith(name)))
        .flatMap((line) => withoutRecord(line).split('; '))
        .map((step) => step.replace(/: it starts$/, ''));
  const trials = changesOf(content).filter((a) => actionTypes[a.kind].isTrial);
  const sections: ReportSection[] = [
    {
      title: 'What you reported',
      lines: [
        job.complaint ? `“${job.complaint}”` : 'No complaint was noted.',
        ...(job.intake.liquid ? ['It had liquid damage.'] : []),
        ...(job.intake.dropped ? ['It was dropped.'] : []),
        ...(job.intake.batterySwollen ? ['Its battery was swollen.'] : []),
        ...(job.data_only ? ['You asked us to recover only your data.'] : []),
      ],
    },
    { title: 'What was wrong', lines: foundLines(content, result) },
    { title: 'What we did', lines: doneLines(content) },
    { title: 'How it is now', lines: stateLines(result) },
    { title: 'What we tested', lines: [...new Set([...trials.map(tellChange), ...passed])] },
    { title: 'What we did not test', lines: open.map(sentence) },
    { title: 'What may come back', lines: isDead ? [] : (proof?.risks ?? []).map(sentence) },
    { title: 'What you should do', lines: adviceLines(content, result, isDead) },
  ];
  const facts: [string, string][] = [
    ['From', shop.name],
    ['Contact', shop.contact],
    ['Device', deviceWords(content)],
    ['Received', plainDay(job.created_at)],
    ['Date of this report', plainDay(job.closed_at ?? job.updated_at)],
  ];
  return {
    audience: 'customer',
    title: `Repair report, job ${jobNumber(job.id)}`,
    facts: facts.filter(([, value]) => value !== ''),
    sections: sections.filter((s) => s.lines.length > 0),
    runs: [],
    tables: [],
    pictures: pictures.filter((p) => p.around !== null),
  };
}

/** The one statement of how the device is, as every screen has it; nothing of a device that nobody touched. */
export function stateLines(result: Assessment | null): string[] {
  const state = result?.state;
  return !state || state.id === 'not-changed' ? [] : [state.sentence];
}

/** Changes that the device bears. */
const changesOf = ({ actions }: JobContent): Action[] => changesLeft(withUndone(actions.map(actionOf)));

/** Without what only the record knows: numbers of runs and currents mean nothing to a customer. */
const withoutRecord = (line: string): string =>
  line
    .replace(/ \((?:failed|not done)[^)]*\)/g, '')
    .replace(/\brun r\d+\b[^;]*/gi, '')
    // Before its steps the name of a proof says nothing more; without them it is all that is said.
    .replace(/^[^:;]+: (?!not done$)|: not done$/, '')
    .trim();

/** What is not shown: as it stood at closing, or as it stands now. */
export function openLines({ job }: JobContent, result: Assessment | null): string[] {
  return job.closed_at ? job.outcome_open : openProofsOf(result);
}

export function deviceWords({ job }: JobContent): string {
  // Who names a device often says its model already.
  const says = job.label.toLowerCase().includes(job.model.toLowerCase()) ? [job.label] : [job.label, job.model];
  return says.filter(Boolean).join(', ');
}

function foundLines({ job }: JobContent, result: Assessment | null): string[] {
  const { outcome_circuit: circuit, outcome_target: target } = job;
  const at = circuit ? placeWords(circuit, target) : null;
  switch (job.outcome_grade) {
    case 'measured':
      return [`We measured a fault in ${at ?? 'the device'}.`];
    case 'cleared':
      return [`The fault was most likely in ${at ?? 'the device'}. We did not measure it.`];
    case 'disappeared':
      return ['The fault disappeared before we could find its cause. We did not repair it.'];
    case 'not-found':
      return ['We did not find the fault.'];
    case 'declined':
      return [at ? `The fault is in ${at}. It was not repaired.` : 'It was not repaired.'];
    case 'not-economical':
      return [...(at ? [`The fault is in ${at}.`] : []), 'A repair would cost more than it is worth.'];
    default: {
      const proposal = result?.conclusion?.outcome;
      const where = proposal?.circuit ? circuitTypes[proposal.circuit].plain : proposal?.target;
      return [...(where ? [`The fault is most likely in ${where}.`] : []), 'The work is not finished yet.'];
    }
  }
}

/** A circuit in plain words with the part in it, where that says more: "a supply on the main board, at coil 2". */
function placeWords(circuit: CircuitId, target: string): string {
  const { plain } = circuitTypes[circuit];
  const isNamed = target === '' || plain.toLowerCase().endsWith(target.toLowerCase());
  return isNamed ? plain : `${plain}, at ${withArticle(target)}`;
}

/** Repairs that stay in the device, one sentence each; what was only apart, together or tried is none. */
function doneLines(content: JobContent): string[] {
  const { job, actions } = content;
  const left = changesOf(content);
  const isOff = (a: Action): boolean => a.kind === 'remove' && !left.some((b) => b.undoes === a.id);
  // What came off and was replaced since is told once.
  const last = new Set(partStates(left).map((p) => p.action.id));
  const repairs = left.filter(
    (a) => actionTypes[a.kind].isAssembly !== true && (a.kind !== 'remove' || last.has(a.id)),
  );
  const told = [...new Set(repairs.map((a) => tellChange(a) + (isOff(a) && a.stays ? ' It was not refitted.' : '')))];
  const said = new Set(actions.map((a) => sentence(sayAction(actionOf(a))).toLowerCase()));
  const fix = job.outcome_fix === '' ? '' : sentence(job.outcome_fix);
  return fix === '' || said.has(fix.toLowerCase()) || told.includes(fix) ? told : [...told, fix];
}

function adviceLines({ job }: JobContent, result: Assessment | null, isDead: boolean): string[] {
  const lines: string[] = [];
  if (job.recall_at) lines.push(`Bring it back for a check by ${plainDay(new Date(job.recall_at))}.`);
  if (job.intake.batterySwollen)
    lines.push('Never use, press or charge the swollen battery. Take it to a battery collection point.');
  if (isDead)
    lines.push(
      job.intake.dataWanted
        ? 'Ask us about your data before you give the device away.'
        : 'Your data may still be on the device. Ask us before you give it away.',
    );
  else if ((result?.proof?.risks.length ?? 0) > 0 || job.outcome_grade === 'disappeared')
    lines.push('Back up your data now.');
  if (job.outcome_grade === null) lines.push('Wait for our message before you use it again.');
  return lines;
}
