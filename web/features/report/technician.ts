import type { proofResults } from '@umbral/core';
import {
  checkTypes,
  circuitNames,
  formatCurrent,
  formatPercent,
  formatVoltage,
  isCheck,
  sayEvidence,
  sayMeasured,
  patternNames,
  placeName,
  standingLevel,
  seenRun,
  type Assessment,
} from '@umbral/core';
import { actionWords } from '@/features/job/story-view';
import { complaintWords, gradeWords, jobNumber, runTitle, setupWords } from '@/features/words';
import {
  readingOf,
  recordOf,
  runOf,
  type JobContent,
  type ReadingRow,
  type RunRow,
  actionOf,
  type ActionRow,
} from '@/server/record/rows';
import {
  capital,
  customerReport,
  day,
  deviceWords,
  openLines,
  sentence,
  stateLines,
  type Report,
  type ReportRow,
  type ReportRun,
  type ReportSection,
  type ReportSource,
} from './content';

const maxReasons = 12;
/** Stretches of a run's silhouette. */
const maxLevels = 120;

/** Everything that was recorded, for whoever opens the device next. */
export function technicianReport(source: ReportSource): Report {
  const { content, assessments, openingId, dumps } = source;
  const { job } = content;
  const result = assessments.at(-1)?.result ?? null;
  const opening = assessments.find((a) => a.id === openingId)?.result ?? null;
  const customer = customerReport(source);
  return {
    audience: 'technician',
    title: `Job ${jobNumber(job.id)}: record for the next technician`,
    facts: factsOf(content, result),
    sections: [
      { title: 'How it is now', lines: stateLines(result) },
      { title: 'Outcome', lines: outcomeLines(content, opening, result) },
      ...reasonsOf(content, result),
      {
        title: 'Changes, in order',
        lines: changeLines(content),
      },
      { title: 'What was not tested', lines: openLines(content, result).map(sentence) },
      { title: 'Parts not refitted', lines: (result?.proof?.leftOff ?? []).map((x) => sentence(x.says)) },
      ...customer.sections.filter((s) => s.title === 'What may come back'),
      { title: 'Saved chip dumps', lines: dumps.map((d) => `${d.name}, ${d.size} bytes, SHA-256 ${d.sha256}`) },
    ].filter((s) => s.lines.length > 0),
    runs: runsOf(source),
    tables: [
      { title: 'Before and after', rows: beforeAndAfter(source) },
      { title: 'Checks', rows: checkRows(source) },
      { title: 'Readings', rows: readingRows(source) },
      { title: 'Injections', rows: injectionRows(source) },
      { title: 'Proofs', rows: proofRows(content, result) },
    ].filter((t) => t.rows.length > 0),
    pictures: source.pictures,
  };
}

const listed = (parts: (string | null)[]): string => parts.filter(Boolean).join(' · ');

/** How many changes had been made by then. */
const epochOf = ({ actions }: JobContent, after: string | null): number =>
  actions.findIndex((a) => a.action_key === after) + 1;

/** Changes as they were made; those that count have a number. */
function changeLines({ actions, record }: JobContent): string[] {
  return record.actions.map((a) => {
    const words = listed([actionWords(a), changeDetail(a), a.note]);
    if (a.void_why) return `Void, ${a.void_why}: ${words}`;
    return a.planned ? `Planned, not done: ${words}` : `${actions.findIndex((b) => b.id === a.id) + 1}. ${words}`;
  });
}

/** The whole record of a kind of entry, each with the state of the device that it belongs to, or why it is void. */
function withState<T extends { id: number; after_action: string | null; void_why: string | null }>(
  content: JobContent,
  counted: readonly T[],
  record: readonly T[],
): { row: T; state: string }[] {
  return record.map((entry) => {
    if (entry.void_why) return { row: entry, state: `void: ${entry.void_why}` };
    const row = counted.find((c) => c.id === entry.id) ?? entry;
    return { row, state: stateWords(content, row.after_action) };
  });
}

/** What every place read before the changes and reads now, side by side. */
function beforeAndAfter({ content, nameOf }: ReportSource): ReportRow[] {
  const { readings } = content;
  const keyOf = (r: ReadingRow): string => `${placeName(nameOf(r.where))} ${r.mode} ${r.across}`;
  return [...new Set(readings.map(keyOf))].flatMap((key) => {
    const here = readings.filter((r) => keyOf(r) === key);
    const [first, last] = [here[0], here[here.length - 1]];
    const [from, to] = [epochOf(content, first.after_action), epochOf(content, last.after_action)];
    if (to <= from) return [];
    const [before, after] = [sayMeasured(readingOf(first)), sayMeasured(readingOf(last))];
    return [
      {
        what: nameOf(last.where),
        seen: `${before} before, ${after} after`,
        state: stateWords(content, last.after_action),
      },
    ];
  });
}

/** In what state of the device it was, in words; nothing where it was never changed. */
function stateWords(content: JobContent, after: string | null): string {
  if (content.actions.length === 0) return '';
  const k = epochOf(content, after);
  return k === 0 ? 'before any change' : `after change ${k}`;
}

function suspectWords(assessment: Assessment): string {
  return assessment.circuits
    .slice(0, 3)
    .map((c) => `${circuitNames[c.id]} ${formatPercent(c.p)}`)
    .join(', ');
}

function factsOf(content: JobContent, result: Assessment | null): [string, string][] {
  const { job } = content;
  const facts: [string, string][] = [
    ['Device', deviceWords(content)],
    ['Serial', job.serial],
    ['Kind', job.device_class],
    ['Complaint', listed([job.complaint, job.complaint_kind ? complaintWords[job.complaint_kind] : ''])],
    ['Intake', intakeWords(content)],
    ['Brought in', day(job.created_at)],
    ['Engine', result?.engine ?? ''],
  ];
  return facts.filter(([, v]) => v !== '');
}

function outcomeLines({ job }: JobContent, opening: Assessment | null, result: Assessment | null): string[] {
  const closed = job.outcome_grade
    ? listed([
        capital(gradeWords[job.outcome_grade]),
        job.outcome_circuit ? circuitNames[job.outcome_circuit] : '',
        job.outcome_target,
        job.outcome_fix,
      ])
    : 'Not closed.';
  return [
    closed,
    ...(opening ? [`Verdict when opened: ${suspectWords(opening)}.`] : []),
    ...(result ? [`Current verdict: ${suspectWords(result)}.`] : []),
  ];
}

/** The evidence for the cause: of the circuit that the job was closed with, else of the first suspect. */
function reasonsOf({ job }: JobContent, result: Assessment | null): ReportSection[] {
  const cause = result?.circuits.find((c) => c.id === job.outcome_circuit);
  const first = cause ?? result?.circuits.at(0);
  if (!first || first.evidence.length === 0) return [];
  const lines = first.evidence
    .slice(0, maxReasons)
    .map((e) => `${e.for > 0 ? 'for' : 'against'} ${Math.abs(e.for).toFixed(1)}: ${sayEvidence(e)}`);
  return [{ title: `Why ${circuitNames[first.id]} (decibans)`, lines }];
}

function runsOf({ content, hashes }: ReportSource): ReportRun[] {
  const value = recordOf(content);
  return withState(content, content.runs, content.record.runs).map(({ row: r, state }) => {
    const seen = seenRun(value, runOf(r), r.shape);
    const top = [...seen.patterns].sort((a, b) => b.p - a.p).at(0);
    const { amps, resolutionA } = standingLevel(seen);
    return {
      key: r.run_key,
      title: `${r.run_key}: ${runTitle(runOf(r))}`,
      setup: setupWords(runOf(r)).slice(1).join(', '),
      seen: listed([
        top ? `${patternNames[top.id]}, ${formatPercent(top.p)}` : 'not recognised',
        amps === null ? '' : `holds ${formatCurrent(amps, resolutionA)}`,
        r.typed,
      ]),
      state,
      levels: evenly(r.preview.mean, maxLevels),
      hash: hashes.get(r.id) ?? '',
    };
  });
}

function checkRows({ content, nameOf }: ReportSource): ReportRow[] {
  return withState(content, content.checks, content.record.checks).map(({ row: c, state }) => ({
    what: isCheck(c.check_id) ? checkTypes[c.check_id].name : c.check_id,
    seen: listed([(c.outcome ?? '').replaceAll('-', ' '), nameOf(c.where), c.note]),
    state,
  }));
}

function readingRows({ content, nameOf }: ReportSource): ReportRow[] {
  return withState(content, content.readings, content.record.readings).map(({ row: r, state }) => ({
    what: nameOf(r.where),
    seen: readingWords(r),
    state,
  }));
}

function injectionRows({ content, nameOf }: ReportSource): ReportRow[] {
  return withState(content, content.injections, content.record.injections).map(({ row: i, state }) => ({
    what: `${formatVoltage(i.set_v)} on ${nameOf(i.rail)}`,
    seen: listed([
      i.amps === null ? '' : `${formatCurrent(i.amps)} flowed`,
      i.heat === null ? '' : i.hot ? nameOf(i.hot) : i.heat.replaceAll('-', ' '),
      i.note,
    ]),
    state,
  }));
}

const resultWords: Record<(typeof proofResults)[number], string> = {
  pass: 'shown',
  fail: 'failed',
  'not-done': 'not done',
};

function proofRows(content: JobContent, result: Assessment | null): ReportRow[] {
  const { actions, proofs } = content;
  const now = stateWords(content, actions.at(-1)?.action_key ?? null);
  const judged = (result?.proof?.protocols ?? []).flatMap((p) =>
    p.steps.flatMap((s): ReportRow[] =>
      s.result === null
        ? []
        : [{ what: `${p.name}: ${s.says}`, seen: listed([resultWords[s.result], s.because]), state: now }],
    ),
  );
  const earlier = proofs.filter((p) => epochOf(content, p.after_action) < actions.length);
  return [
    ...judged,
    ...earlier.flatMap((p): ReportRow[] =>
      p.result === null
        ? []
        : [
            {
              what: p.step.replaceAll('-', ' '),
              seen: listed([resultWords[p.result], p.reason]),
              state: stateWords(content, p.after_action),
            },
          ],
    ),
  ];
}

function intakeWords({ job }: JobContent): string {
  const { intake } = job;
  return [
    intake.liquid ? 'liquid' : '',
    intake.dropped ? 'dropped' : '',
    intake.priorRepair ? 'repaired before' : '',
    intake.batterySwollen ? (intake.batteryIsolated ? 'swollen battery, stored safely' : 'swollen battery') : '',
    intake.dataWanted ? 'data needed' : '',
  ]
    .filter(Boolean)
    .join(', ');
}

function changeDetail(row: ActionRow): string {
  const { part, orientation, confounders } = actionOf(row);
  return [part, orientation, ...confounders].filter(Boolean).join(', ');
}

function readingWords(r: ReadingRow): string {
  const reading = readingOf(r);
  const how = r.across ? 'across it' : r.mode === 'voltage' ? (r.prompted ? 'after power-on' : 'voltage') : r.mode;
  const good = { ...reading, says: null, ol: false, swing: null, bound: null, value: r.reference };
  return [`${how} ${sayMeasured(reading)}`, r.reference === null ? '' : `known-good board ${sayMeasured(good)}`]
    .filter(Boolean)
    .join(', ');
}

/** A run's preview in so many even stretches. */
function evenly(levels: RunRow['preview']['mean'], most: number): (number | null)[] {
  if (levels.length <= most) return [...levels];
  return Array.from({ length: most }, (_, k) => {
    const part = levels
      .slice(Math.floor((k * levels.length) / most), Math.floor(((k + 1) * levels.length) / most))
      .filter((x): x is number => x !== null);
    return part.length === 0 ? null : Math.max(...part);
  });
}
