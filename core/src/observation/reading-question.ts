import type { CircuitId } from '../catalogue/index.ts';
import { placeName, type Reading } from '../case/index.ts';
import { samePlace, suggestedCircuits } from '../hypotheses/index.ts';
import type { Space } from '../prediction/index.ts';
import { groundQuestion } from './ground-question.ts';
import type { Question } from './question.ts';
import { senseOf, type PlaceBefore, type Sense } from './reading-sense.ts';
import { railIndexOf, spreadOverHypotheses, type Asked } from './reading-tables.ts';
import rules from './readings.json';
import { phaseOf, voltageQuestion } from './voltage-question.ts';

/**
 * Between the ends of a part that should conduct: open is the fault or stands in its way. A part that nobody knows the
 * circuit of may be of any circuit that has such parts.
 */
function acrossQuestion(space: Space, circuit: CircuitId | null, where: string): Question {
  const table = rules.acrossOpen as Partial<Record<CircuitId, number>>;
  const said = circuit === null ? suggestedCircuits(where) : null;
  const openIf = (of: CircuitId): number => {
    if (circuit !== null) return of === circuit ? (table[of] ?? rules.acrossDefault) : rules.acrossOther;
    const share = said?.size ? (said.has(of) ? rules.acrossUnknown.said : 0) : rules.acrossUnknown.share;
    return rules.acrossOther + share * (table[of] ?? 0);
  };
  return {
    key: `across:${circuit ?? 'unknown'}:${placeName(where)}`,
    repeats: rules.repeats,
    lacking: 'works',
    outcomes: spreadOverHypotheses(space.hypotheses.length, ['conducts', 'open'], (h) => {
      const open = openIf(space.hypotheses[h].circuit);
      return { open, conducts: 1 - open };
    }),
  };
}

/**
 * What was read at the place of a reading before it, and how the device stood.
 *
 * @param reading one of the case
 */
export function placeBefore({ value, epochOf }: Pick<Asked, 'value' | 'epochOf'>, reading: Reading): PlaceBefore {
  const until = value.readings.indexOf(reading);
  const epoch = epochOf(reading.after);
  const undone = new Set(value.actions.flatMap((a) => (a.undoes === null ? [] : [a.undoes])));
  return {
    readings: value.readings
      .slice(0, Math.max(until, 0))
      .filter((r) => r.circuit === reading.circuit || r.circuit === null || reading.circuit === null)
      .filter((r) => samePlace(r.where, reading.where)),
    coilsOff: value.actions
      .slice(0, epoch)
      .some((a) => a.kind === 'isolate' && a.circuit === 'core.supply' && !undone.has(a.id)),
  };
}

/** Words for the side of a lifted coil or link on which the load is. */
const loadSide = /\b(chip|load|processor|output|far) side\b|\bside of the (chip|load|processor)\b/i;

/** The question that a reading answers; null where it says nothing, with the reason in `sense`. */
export function questionOf(history: Asked, reading: Reading): { question: Question | null; sense: Sense } {
  const { space, value } = history;
  const before = placeBefore(history, reading);
  const sense = senseOf(reading, value.device.expect, before);
  const circuit = reading.circuit ?? circuitOfRail(space, reading.where);
  if (sense.of === 'nothing') return { question: null, sense };
  const point = { where: reading.where, circuit, state: reading.state, phase: phaseOf(reading) };
  if (sense.of === 'across') return { question: acrossQuestion(space, circuit, reading.where), sense };
  if (sense.of === 'voltage') return { question: voltageQuestion(history, point), sense };
  const isPartial = reading.value !== null && reading.value >= rules.hardShortOhm && reading.mode === 'resistance';
  const isLifted = value.actions.some((a) => a.kind === 'isolate');
  return {
    question: groundQuestion(history, {
      ...point,
      isCoreRail: isCoreRail(reading),
      isPartial,
      isLoadSide: isLifted && (circuit === 'core.soc' || loadSide.test(reading.where)),
    }),
    sense,
  };
}

/** Undefined for what is no core circuit, or where nobody knows what a good board reads. */
function isCoreRail({ circuit, mode, reference }: Reading): boolean | undefined {
  if (circuit !== 'core.supply' || reference === null) return undefined;
  return reference < (mode === 'diode' ? rules.corePullUpTo.diode : rules.corePullUpTo.resistance);
}

function circuitOfRail(space: Space, where: string): CircuitId | null {
  const rail = railIndexOf(space, where);
  return rail < 0 ? null : space.twin.board.profile.rails[rail].circuit;
}
