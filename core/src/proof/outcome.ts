import { circuitIds, circuitNames, type CircuitId, type OutcomeGrade } from '../catalogue/index.ts';
import { sumBy, type PerHypothesis } from '../inference/index.ts';
import { sayAction, senseOf, shortsOf, type History } from '../observation/index.ts';
import { formatPercent, formatResistance } from '../quantity/index.ts';
import limits from './limits.json';

/** What is believed when a job is closed. */
export interface Believed {
  history: History;
  /** By hypothesis; sums to 1. */
  posterior: PerHypothesis;
  now: { works: number };
}

/** What the evidence supports as the outcome of a job, with the reasons. Nothing more is proposed than that. */
export interface OutcomeProposal {
  /** Null where a circuit was found and nothing was repaired: declined and not economical are the shop's to say. */
  grade: OutcomeGrade | null;
  circuit: CircuitId | null;
  /** Element or part, in words; empty where none was named. */
  target: string;
  /** What cured it, in words; empty where nothing did. */
  fix: string;
  because: string[];
}

/**
 * Proposes the outcome of a job: the circuit whose change it works after, measured where something was found at that
 * circuit before, cleared where it was not; a fault that went with no change to its circuit has disappeared.
 *
 * @returns null where the evidence supports none
 */
export function proposeOutcome({ history, posterior, now }: Believed): OutcomeProposal | null {
  const { value, space } = history;
  const circuits = sumBy(posterior, space.circuitOf, circuitIds.length);
  const accused = circuitIds.filter((id) => id !== 'none' && id !== 'unmodelled');
  const top = accused.reduce((a, b) => (circuits[circuitIds.indexOf(b)] > circuits[circuitIds.indexOf(a)] ? b : a));
  const p = circuits[circuitIds.indexOf(top)];
  const leads = `${circuitNames[top]} stands at ${formatPercent(p)}`;
  if (value.actions.length === 0 || now.works < limits.proposeFrom) {
    const found = foundAt(history, top);
    if (p < limits.proposeFrom || found.length === 0) return null;
    const target = placeAt(history, top);
    return { grade: null, circuit: top, target, fix: '', because: [...found, leads, 'Nothing was repaired yet.'] };
  }
  const works = `It works now, ${formatPercent(now.works)}.`;
  const kept = value.actions.filter((a) => !value.actions.some((b) => b.undoes === a.id));
  const cure = kept.findLast((a) => a.circuit === top);
  const cleaned = kept.findLast((a) => a.kind === 'clean' && a.circuit === null);
  if (cleaned && (!cure || p < limits.leadsFrom))
    return {
      grade: 'cleared',
      circuit: null,
      target: '',
      fix: `${capital(sayAction(cleaned))}.`,
      because: [works, `Cleaning cured it, and no one circuit is known to be the cause (${leads}).`],
    };
  if (!cure || p < limits.leadsFrom) {
    const because = [works, `No change was made to the leading circuit (${leads}): the fault went unexplained.`];
    return { grade: 'disappeared', circuit: null, target: '', fix: '', because };
  }
  const found = foundAt(history, top);
  return {
    grade: found.length > 0 ? 'measured' : 'cleared',
    circuit: top,
    target: cure.target || placeAt(history, top),
    fix: `${capital(sayAction(cure))}.`,
    because: [
      works,
      `${capital(sayAction(cure))} before that; ${leads}.`,
      ...(found.length > 0 ? found : ['Nothing inside that circuit was measured, so the cause itself is not known.']),
    ],
  };
}

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

/** What was found by measurement at a circuit, as sentences. */
function foundAt(history: History, circuit: CircuitId): string[] {
  const { value } = history;
  const shorts = shortsOf(history)
    .filter((s) => s.circuit === circuit || s.hotCircuit === circuit)
    .map((s) => `Short measured at ${s.where}${s.ohm === null ? '' : `: ${formatResistance(s.ohm)}`}.`);
  const readings = value.readings.flatMap((r) => {
    if (r.circuit !== circuit) return [];
    const sense = senseOf(r, value.device.expect);
    const isBad = sense.of !== 'nothing' && (limits.badWords as string[]).includes(sense.word);
    return isBad ? [capital(`${r.where} measured ${sense.word}.`)] : [];
  });
  const heat = [
    ...value.injections
      .filter((i) => i.hotCircuit === circuit && (i.heat === 'one-spot' || i.heat === 'several-spots'))
      .map((i) => capital(`${i.hot ?? 'one spot'} warmed when ${i.rail} was fed.`)),
    ...value.checks
      .filter((c) => c.id === 'heat-view' && c.circuit === circuit && c.outcome === 'one-spot')
      .map((c) => capital(`${c.where || 'one spot'} warmed.`)),
  ];
  return [...new Set([...shorts, ...(shorts.length > 0 ? [] : readings), ...heat])];
}

/** The place inside a circuit that was named: what warmed, else where it was measured. */
function placeAt({ value }: History, circuit: CircuitId): string {
  return (
    value.injections.findLast((i) => i.hotCircuit === circuit && i.hot)?.hot ??
    value.checks.findLast((c) => c.id === 'heat-view' && c.circuit === circuit && c.where)?.where ??
    value.readings.findLast((r) => r.circuit === circuit)?.where ??
    ''
  );
}
