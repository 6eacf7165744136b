import {
  checkTypes,
  circuitNames,
  formatCurrent,
  formatPercent,
  formatSeconds,
  formatVoltage,
  patternNames,
  sayOutlook,
  type Assessment,
  type Suggestion,
} from '@umbral/core';

/** The keys of `umbral-assessment/1` and no others. */
export function assessmentJson(a: Assessment): unknown {
  const { outlook: _forPeople, ...rest } = a;
  return {
    ...rest,
    circuits: a.circuits.map(({ targets: _inside, ...circuit }) => circuit),
    next: a.next.map(({ risk: _risk, ...n }) => ({
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
  lines.push('', 'Suspects');
  for (const c of a.circuits.filter((x, k) => k < 3 || x.p >= 0.05).slice(0, 7)) {
    lines.push(
      `  ${formatPercent(c.p).padStart(5)}  ${circuitNames[c.id]} (${c.id})${c.target === null ? '' : `: ${c.target}`}`,
    );
    for (const e of c.evidence.slice(0, 3))
      lines.push(`         ${e.for > 0 ? '+' : ''}${e.for.toFixed(1)} dB  ${e.item}`);
  }
  lines.push('', 'Next');
  for (const s of a.next.slice(0, 4)) lines.push(`  ${sayNext(s)}`);
  if (a.next.length === 0) lines.push('  nothing that would change the call');
  const outlook = sayOutlook(a.outlook);
  if (outlook) lines.push(`  ${outlook}`);
  if (a.warnings.length > 0) lines.push('', ...a.warnings.map((w) => `warning: ${w}`));
  return `${lines.join('\n')}\n`;
}

function sayNext(s: Suggestion): string {
  if (s.kind === 'stop') return s.why;
  const name = s.check ? checkTypes[s.check].name : s.why.split(':')[0];
  const predicts = s.predicts.map((p) => `if ${circuitNames[p.circuit].toLowerCase()}: ${p.outcome}`).join('; ');
  return `${name} (${s.minutes} min, ${s.bits.toFixed(2)} bit, ${s.risk}). ${predicts}`;
}
