import {
  byCircuit,
  circuitIds,
  circuitNames,
  decibansOf,
  formatCurrent,
  formatFault,
  formatPercent,
  formatSeconds,
  formatVoltage,
  patternNames,
  sayDevicesLeft,
  sayEvidence,
  sayLeftOut,
  sayOutcome,
  sayOutlook,
  sayReason,
  type Assessment,
  type Belief,
  type Suggestion,
} from '@umbral/core';

/** The keys of `umbral-assessment/1` and no others. */
export function assessmentJson(a: Assessment): unknown {
  const {
    outlook: _forPeople,
    device: _ofDevice,
    proof: _ofChange,
    conclusion: _concluded,
    unnamed: _toName,
    ...rest
  } = a;
  return {
    ...rest,
    circuits: a.circuits.map(({ targets: _inside, evidence, ...circuit }) => ({
      ...circuit,
      evidence: evidence.map((e) => ({ item: sayEvidence(e), for: e.for })),
    })),
    next: a.next.map(({ risk: _risk, at: _at, phase: _phase, name: _name, ...n }) => ({
      ...n,
      predicts: n.predicts.map(({ circuit, outcome }) => ({ circuit, outcome })),
    })),
  };
}

/** An assessment for people, as lines of text. */
export function sayAssessment(a: Assessment): string {
  const lines: string[] = [];
  for (const run of a.runs) {
    const [top, second] = run.pattern;
    const other = second && second.p >= 0.1 ? `, or ${second.id} ${formatPercent(second.p)}` : '';
    lines.push(`Run ${run.id}: ${patternNames[top.id]} (${top.id} ${formatPercent(top.p)}${other})`);
    for (const s of run.segments.slice(0, 12)) {
      const level = s.meanA === null ? formatVoltage(s.meanV) : formatCurrent(s.meanA);
      const every = s.periodS === null ? '' : `, every ${formatSeconds(s.periodS)}`;
      lines.push(
        `    ${formatSeconds(s.t0).padStart(7)} to ${formatSeconds(s.t1).padStart(7)}  ${s.kind.padEnd(6)} ${level}${every}`,
      );
    }
    if (run.segments.length > 12) lines.push(`    and ${run.segments.length - 12} more segments`);
    for (const warning of run.warnings) lines.push(`    note: ${warning}`);
  }
  const device = sayDevicesLeft(a.device);
  if (device) lines.push('', `Device: ${device}`);
  lines.push('', 'Suspects');
  for (const c of a.circuits.filter((x, k) => k < 3 || x.p >= 0.05).slice(0, 7)) {
    lines.push(
      `  ${formatPercent(c.p).padStart(5)}  ${circuitNames[c.id]} (${c.id})${c.target === null ? '' : `: ${c.target}`}`,
    );
    for (const e of c.evidence.slice(0, 3))
      lines.push(`         ${e.for > 0 ? '+' : ''}${e.for.toFixed(1)} dB  ${sayEvidence(e)}`);
  }
  const group = a.conclusion?.group;
  if (group && group.circuits.length > 1)
    lines.push(
      `  One of ${group.circuits.map((id) => circuitNames[id]).join(', ')}: ${formatPercent(group.p)} together${
        a.conclusion?.splitBy ? `. Next: ${a.conclusion.splitBy}` : ''
      }`,
    );
  const now = a.now.map((n) => `${nowWords[n.id]} ${formatPercent(n.p)}`).join(', ');
  lines.push('', `Now: ${a.state?.sentence ?? ''} (${now})`, '', 'Next');
  for (const s of a.next.slice(0, 4)) lines.push(`  ${sayNext(s)}`);
  if (a.next.length === 0) lines.push('  nothing that would change the verdict');
  const outlook = sayOutlook(a.outlook);
  if (outlook) lines.push(`  ${outlook}`);
  if (a.warnings.length > 0) lines.push('', ...a.warnings.map((w) => `warning: ${w}`));
  return `${lines.join('\n')}\n`;
}

const nowWords = { works: 'it works', 'same-fault': 'the same fault', 'other-fault': 'another fault' } as const;

function sayNext(s: Suggestion): string {
  if (s.kind === 'stop') return s.why;
  if (s.kind === 'verify') return `${s.name} (${s.minutes} min). ${s.why}`;
  const predicts = s.predicts
    .map((p) => `if ${circuitNames[p.circuit]}: ${sayOutcome(p.outcome, s.kind, s.hot)}`)
    .join('; ');
  return `${s.name} (${s.minutes} min, ${s.bits.toFixed(2)} bit, ${s.risk}). ${predicts}`;
}

const maxExplained = 6;

/**
 * Every observation with what it says of the leading circuits and of the leading hypotheses, in decibans; then what was
 * left out and why.
 */
export function sayExplanation(belief: Belief): string {
  const { hypotheses, circuitOf } = belief.history.space;
  const names = hypotheses.map((h) =>
    [h.circuit, h.target, h.fault && formatFault(h.fault)].filter(Boolean).join(', '),
  );
  const left = belief.leftOut.map((l) => `  ${sayLeftOut(l)}`);
  return [
    'Weight of each observation for a circuit against the others, in decibans',
    ...table(belief, byCircuit(belief), circuitOf, circuitIds),
    // Without a profile, and with no place named, a circuit is one hypothesis.
    ...(hypotheses.length > circuitIds.length
      ? [
          '',
          'Weight for a hypothesis against the others',
          ...table(belief, belief.posterior, [...hypotheses.keys()], names),
        ]
      : []),
    ...(left.length > 0 ? ['', 'Left out', ...left] : []),
    '',
  ].join('\n');
}

/**
 * Observations by row, the leading groups by column: numbered where their names are longer than a column.
 *
 * @param p probability of every group now
 * @param groups group of every hypothesis
 */
function table(belief: Belief, p: readonly number[], groups: readonly number[], names: readonly string[]): string[] {
  const width = 16;
  const leaders = [...p.keys()].sort((a, b) => p[b] - p[a]).slice(0, maxExplained);
  const isNumbered = leaders.some((k) => names[k].length >= width);
  const row = (cells: string[], says = ''): string => `${cells.map((c) => c.padStart(width)).join('')}${says}`;
  const rows = belief.weighed.map((w) => {
    const weights = decibansOf(w.before, w.increments, groups, p.length);
    const cells = leaders.map((k) => `${weights[k] > 0 ? '+' : ''}${weights[k].toFixed(1)}`);
    return row(cells, `  ${w.epoch === 0 ? '' : `after change ${w.epoch}: `}${sayReason(w.reason)}`);
  });
  return [
    ...(isNumbered ? leaders.map((k, n) => `  (${n + 1}) ${names[k]}`) : []),
    row(leaders.map((k, n) => (isNumbered ? `(${n + 1})` : names[k]))),
    ...rows,
    row(
      leaders.map((k) => formatPercent(p[k])),
      '  now',
    ),
  ];
}
