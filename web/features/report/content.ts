import {
  checkTypes,
  circuitNames,
  formatCurrent,
  formatPercent,
  formatResistance,
  formatVoltage,
  isCheck,
  patternNames,
  sayAction,
  standing,
  seenRun,
  type Assessment,
  type CircuitId,
  circuitTypes,
} from '@umbral/core';
import { actionWords } from '@/features/job/story-view';
import { complaintWords, dayWords, gradeWords, jobNumber, runTitle, setupWords } from '@/features/words';
import { actionOf, caseOf, runOf, type JobContent, type ReadingRow, type RunRow } from '@/server/rows';
import { openProofsOf } from '@/server/job-edits';

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
  pictures: { id: number; caption: string }[];
}

/** What a report is made from. */
export interface ReportSource {
  content: JobContent;
  assessments: { result: Assessment; created_at: Date; id: number }[];
  /** The assessment that was in force when the device was opened; null where it was not. */
  openingId: number | null;
  dumps: { name: string; sha256: string; size: number }[];
  pictures: { id: number; caption: string }[];
  hashes: ReadonlyMap<number, string>;
  /** Name of what the model's profile calls so by its id. */
  nameOf: (where: string) => string;
}

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);
const sentence = (text: string): string => `${capital(text.trim()).replace(/[.\s]+$/, '')}.`;
const day = (at: Date): string => at.toISOString().slice(0, 10);

/** What was brought, found, done, shown and not shown, in words for somebody who does not repair devices. */
export function customerReport({ content, assessments }: ReportSource): Report {
  const { job } = content;
  const result = assessments.at(-1)?.result ?? null;
  const proof = result?.proof ?? null;
  const told = (proof?.protocols ?? []).filter((p) => !p.inHouse);
  const inHouse = (proof?.protocols ?? []).filter((p) => p.inHouse).map((p) => `${p.name}:`);
  const shown = told.flatMap((p) => p.steps.filter((s) => s.result === 'pass').map((s) => sentence(s.says)));
  const open = openLines(content, result).filter((line) => !inHouse.some((name) => line.startsWith(name)));
  const liquid = job.intake.liquid ? ['Liquid had got in.'] : [];
  const sections: ReportSection[] = [
    {
      title: 'What was brought',
      lines: [
        job.complaint ? `“${job.complaint}”` : 'No complaint was noted.',
        ...liquid,
        ...(job.intake.dropped ? ['It had been dropped.'] : []),
        ...(job.intake.batterySwollen ? ['Its battery was swollen.'] : []),
      ],
    },
    { title: 'What was found', lines: foundLines(content, result) },
    { title: 'What was done', lines: doneLines(content) },
    { title: 'What was shown to work', lines: shown },
    { title: 'What was not shown', lines: open.map(sentence) },
    { title: 'Left off the board', lines: (proof?.leftOff ?? []).map((x) => sentence(x.says)) },
    { title: 'What may come back', lines: (proof?.risks ?? []).map(sentence) },
    { title: 'What to do', lines: adviceLines(content, result) },
  ];
  return {
    audience: 'customer',
    title: `Repair report, job ${jobNumber(job.id)}`,
    facts: [
      ['Device', deviceWords(content)],
      ['Brought in', day(job.created_at)],
      ['Report of', day(job.closed_at ?? job.updated_at)],
    ],
    sections: sections.filter((s) => s.lines.length > 0),
    runs: [],
    tables: [],
    pictures: [],
  };
}

/** What is not shown: as it stood at closing, or as it stands now. */
function openLines({ job }: JobContent, result: Assessment | null): string[] {
  return job.closed_at ? job.outcome_open : openProofsOf(result);
}

function deviceWords({ job }: JobContent): string {
  return [...new Set([job.label, job.model].filter(Boolean))].join(', ');
}

function foundLines({ job }: JobContent, result: Assessment | null): string[] {
  const plain = (id: CircuitId): string => circuitTypes[id].plain;
  const target = job.outcome_target ? ` (${job.outcome_target})` : '';
  const at = job.outcome_circuit ? `${plain(job.outcome_circuit)}${target}` : '';
  switch (job.outcome_grade) {
    case 'measured':
      return [`The fault was in ${at}. It was measured, and the repair confirmed it.`];
    case 'cleared':
      return [`The fault was in ${at || 'the device'}. The repair cured it; the cause itself was not measured.`];
    case 'disappeared':
      return ['The fault went away without its cause being found. That is not a repair: it may come back.'];
    case 'not-found':
      return ['The fault was not found.'];
    case 'declined':
      return [at ? `The fault is in ${at}. It was not repaired.` : 'It was not repaired.'];
    case 'not-economical':
      return [
        at
          ? `The fault is in ${at}. A repair would cost more than it is worth.`
          : 'A repair would cost more than it is worth.',
      ];
    default: {
      const proposal = result?.outcome;
      if (proposal?.circuit)
        return [`By now, the fault was in ${plain(proposal.circuit)}. The work is not finished yet.`];
      const [top] = result?.circuits ?? [];
      return top && top.id !== 'none' && top.id !== 'unmodelled'
        ? [
            `By now, the fault is most likely in ${plain(top.id)} (${formatPercent(top.p)}). The work is not finished yet.`,
          ]
        : ['The work is not finished yet.'];
    }
  }
}

function doneLines({ job, actions }: JobContent): string[] {
  const done = actions.map((a) => sentence(sayAction(actionOf(a))));
  return job.outcome_fix && !done.includes(sentence(job.outcome_fix)) ? [...done, sentence(job.outcome_fix)] : done;
}

function adviceLines({ job }: JobContent, result: Assessment | null): string[] {
  const lines: string[] = [];
  if (job.recall_at) lines.push(`Bring it in again by ${dayWords(job.recall_at)} to be looked at.`);
  if (job.intake.batterySwollen)
    lines.push('Never use, press or charge the swollen battery; hand it in where batteries are collected.');
  if ((result?.proof?.risks.length ?? 0) > 0 || job.outcome_grade === 'disappeared')
    lines.push('Copy what is on it to a safe place now.');
  if (job.outcome_grade === null) lines.push('Wait for word from the shop before it is used again.');
  return lines;
}

/** Everything that was recorded, for whoever opens the device next. */
export function technicianReport(source: ReportSource): Report {
  const { content, assessments, openingId, dumps, hashes, nameOf } = source;
  const { job, runs, checks, readings, injections, actions, proofs } = content;
  const value = caseOf(content);
  const result = assessments.at(-1)?.result ?? null;
  const epochOf = (after: string | null): number => actions.findIndex((a) => a.action_key === after) + 1;
  const state = (after: string | null): string => {
    const k = epochOf(after);
    return actions.length === 0 ? '' : k === 0 ? 'before any change' : `after change ${k}`;
  };
  const opening = assessments.find((a) => a.id === openingId)?.result ?? null;
  const suspects = (a: Assessment | null): string =>
    (a?.circuits ?? [])
      .slice(0, 3)
      .map((c) => `${circuitNames[c.id]} ${formatPercent(c.p)}`)
      .join(', ');
  const customer = customerReport(source);
  const outcome = [
    job.outcome_grade
      ? [
          capital(gradeWords[job.outcome_grade]),
          job.outcome_circuit ? circuitNames[job.outcome_circuit] : '',
          job.outcome_target,
          job.outcome_fix,
        ]
          .filter(Boolean)
          .join(' · ')
      : 'Not closed.',
    opening ? `Call when it was opened: ${suspects(opening)}.` : '',
    result ? `Call now: ${suspects(result)}.` : '',
  ].filter(Boolean);
  const reasons = (result?.circuits[0]?.evidence ?? [])
    .slice(0, 12)
    .map((e) => `${e.for > 0 ? 'for' : 'against'} ${Math.abs(e.for).toFixed(1)}: ${e.item}`);
  return {
    audience: 'technician',
    title: `Job ${jobNumber(job.id)}: record for the next technician`,
    facts: [
      ['Device', deviceWords(content)],
      ['Serial', job.serial],
      ['Kind', job.device_class],
      [
        'Complaint',
        [job.complaint, job.complaint_kind ? complaintWords[job.complaint_kind] : ''].filter(Boolean).join(' · '),
      ],
      ['Intake', intakeWords(content)],
      ['Brought in', day(job.created_at)],
      ['Engine', result?.engine ?? ''],
    ].filter(([, v]) => v !== '') as [string, string][],
    sections: [
      { title: 'Outcome', lines: outcome },
      ...(reasons.length > 0 && result
        ? [{ title: `Why ${circuitNames[result.circuits[0].id]} (decibans)`, lines: reasons }]
        : []),
      {
        title: 'Changes, in order',
        lines: actions.map(
          (a, k) => `${k + 1}. ${[actionWords(a), changeDetail(a.extra), a.note].filter(Boolean).join(' · ')}`,
        ),
      },
      { title: 'What was not shown', lines: openLines(content, result).map(sentence) },
      ...customer.sections.filter((s) => ['Left off the board', 'What may come back'].includes(s.title)),
      { title: 'Chip contents kept', lines: dumps.map((d) => `${d.name}, ${d.size} bytes, SHA-256 ${d.sha256}`) },
    ].filter((s) => s.lines.length > 0),
    runs: runs.map((r) => {
      const seen = seenRun(value, runOf(r), r.shape);
      const top = [...seen.patterns].sort((a, b) => b.p - a.p)[0];
      const { amps, resolutionA } = standing(seen);
      return {
        key: r.run_key,
        title: `${r.run_key}: ${runTitle(runOf(r))}`,
        setup: setupWords(runOf(r)).slice(1).join(', '),
        seen: [
          top ? `${patternNames[top.id]}, ${formatPercent(top.p)}` : 'not recognised',
          amps === null ? '' : `holds ${formatCurrent(amps, resolutionA)}`,
          r.typed ?? '',
        ]
          .filter(Boolean)
          .join(' · '),
        state: state(r.after_action),
        levels: evenly(r.preview.mean, 120),
        hash: hashes.get(r.id) ?? '',
      };
    }),
    tables: [
      {
        title: 'Checks',
        rows: checks.map((c) => ({
          what: isCheck(c.check_id) ? checkTypes[c.check_id].name : c.check_id,
          seen: [(c.outcome ?? '').replaceAll('-', ' '), nameOf(c.where), c.note].filter(Boolean).join(' · '),
          state: state(c.after_action),
        })),
      },
      {
        title: 'Readings',
        rows: readings.map((r) => ({ what: nameOf(r.where), seen: readingWords(r), state: state(r.after_action) })),
      },
      {
        title: 'Injections',
        rows: injections.map((i) => ({
          what: `${formatVoltage(i.set_v)} on ${nameOf(i.rail)}`,
          seen: [
            i.amps === null ? '' : `${formatCurrent(i.amps)} flowed`,
            i.heat === null ? '' : i.hot ? nameOf(i.hot) : i.heat.replaceAll('-', ' '),
            i.note,
          ]
            .filter(Boolean)
            .join(' · '),
          state: state(i.after_action),
        })),
      },
      {
        title: 'Proofs',
        rows: [
          ...(result?.proof?.protocols ?? []).flatMap((p) =>
            p.steps
              .filter((s) => s.result !== null)
              .map((s) => ({
                what: `${p.name}: ${s.says}`,
                seen: [{ pass: 'shown', fail: 'failed', 'not-done': 'not done' }[s.result!], s.because].join(' · '),
                state: state(actions.at(-1)?.action_key ?? null),
              })),
          ),
          ...proofs
            .filter((p) => p.result !== null && epochOf(p.after_action) < actions.length)
            .map((p) => ({
              what: p.step.replaceAll('-', ' '),
              seen: [{ pass: 'shown', fail: 'failed', 'not-done': 'not done' }[p.result!], p.reason]
                .filter(Boolean)
                .join(' · '),
              state: state(p.after_action),
            })),
        ],
      },
    ].filter((t) => t.rows.length > 0),
    pictures: source.pictures,
  };
}

function intakeWords({ job }: JobContent): string {
  const { intake } = job;
  return [
    intake.liquid ? 'liquid' : '',
    intake.dropped ? 'dropped' : '',
    intake.priorRepair ? 'repaired before' : '',
    intake.batterySwollen ? (intake.batteryIsolated ? 'swollen pack, put away' : 'swollen pack') : '',
    intake.dataWanted ? 'data wanted' : '',
  ]
    .filter(Boolean)
    .join(', ');
}

function changeDetail(extra: Record<string, unknown> | null): string {
  const { part, orientation, confounders } = (extra ?? {}) as {
    part?: string;
    orientation?: string;
    confounders?: string[];
  };
  return [part, orientation, ...(confounders ?? [])].filter(Boolean).join(', ');
}

function readingWords(r: ReadingRow): string {
  const show = (x: number | null): string => (r.unit === 'ohm' ? formatResistance(x) : formatVoltage(x));
  const shown = r.ol ? 'open line' : r.swing ? `${show(r.swing.low)} to ${show(r.swing.high)}` : show(r.value);
  const how = r.across ? 'across it' : r.mode === 'voltage' ? (r.prompted ? 'after the press' : 'voltage') : r.mode;
  return [`${how} ${shown}`, r.reference === null ? '' : `good board ${show(r.reference)}`].filter(Boolean).join(', ');
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
