import { circuitIds, type CircuitId } from '../catalogue/index.ts';
import { plainReading, type Injection } from '../case/index.ts';
import { placeAt, type Hypothesis } from '../hypotheses/index.ts';
import type { Reason } from '../reasons/index.ts';
import { atProbe, elementNamed } from '../twin/index.ts';
import { injectionCandidates } from './injection-candidates.ts';
import { coarseHeat, fedHeatQuestion, fedHeatWord, ownHeat } from './heat-question.ts';
import heat from './heat.json';
import type { Entry, History, ObservationKind } from './kind.ts';
import { ohmOf } from './injected-ohm.ts';
import type { Question } from './question.ts';
import { groundQuestion } from './ground-question.ts';
import { senseOf } from './reading-sense.ts';
import readings from './readings.json';

/** The circuit of the rail that was fed: as said, or as the model's own profile has it. */
function circuitFed({ space }: History, injection: Injection): CircuitId | null {
  if (injection.circuit !== null) return injection.circuit;
  if (space.closeness !== 'own') return null;
  const found = elementNamed(space.twin.board.profile, injection.rail, atProbe);
  return found ? found.circuit : null;
}

/** An injection as a reason. What of it counts: a good board's current, the resistance that it is, the circuit that warms. */
function reasonOf(
  { rail, setV, amps, hot, heat: seen }: Injection,
  counts: Partial<{ goodA: number; ohm: number; hotCircuit: CircuitId | null }> = {},
): Reason {
  const none = { goodA: null, ohm: null, hotCircuit: null };
  return { id: 'injection', values: { rail, setV, amps, hot, heat: seen, ...none, ...counts } };
}

/** More than a good board takes in the same way, or no more. */
function againstGood({ space }: History, circuit: CircuitId | null, rail: string): Question {
  const here = placeAt(space.places, null, rail)?.key;
  const isAt = (h: Hypothesis): boolean =>
    circuit === null ? here !== undefined && h.place === here : h.circuit === circuit || circuitIds[h.net] === circuit;
  const more = space.hypotheses.map((h) => (isAt(h) ? heat.moreAtTheFault : heat.moreElsewhere));
  return {
    key: `draws:${circuit ?? 'unknown'}:${rail.toLowerCase()}`,
    repeats: heat.repeats,
    lacking: 'works',
    outcomes: { more, alike: more.map((p) => 1 - p) },
  };
}

function entriesOf(history: History, injection: Injection): Entry[] {
  const common = { kind: 'injection', source: `injection:${injection.id}`, epoch: history.epochOf(injection.after) };
  const circuit = circuitFed(history, injection);
  const out: Entry[] = [];
  const answered = (question: Question, word: string, counts: Parameters<typeof reasonOf>[1]): void => {
    out.push({ ...common, reason: reasonOf(injection, counts), answer: { question, word }, likelihood: null });
  };
  const { amps, referenceA } = injection;
  const ohm = ohmOf(injection);
  if (amps !== null && referenceA !== null && referenceA > 0) {
    const more = amps > heat.moreThanGood * referenceA;
    answered(againstGood(history, circuit, injection.rail), more ? 'more' : 'alike', { goodA: referenceA });
  } else if (ohm !== null) {
    const reading = {
      ...plainReading,
      where: injection.rail,
      circuit,
      mode: 'resistance' as const,
      value: ohm,
      unit: 'ohm' as const,
    };
    const sense = senseOf(reading, history.value.device.expect);
    if (sense.of === 'ground')
      answered(groundQuestion(history, { ...reading, isPartial: ohm >= readings.hardShortOhm }), sense.word, { ohm });
  }
  const own =
    injection.heat === null
      ? null
      : ownHeat(history.space, { where: injection.hot ?? '', rail: injection.rail, outcome: injection.heat });
  const word = own?.word ?? fedHeatWord({ ...injection, circuit });
  if (word !== null) {
    const asked = word === 'one-spot' ? coarseHeat : (question: Question): Question => question;
    answered(own?.question ?? asked(fedHeatQuestion(history.space, circuit, injection.rail)), word, {
      hotCircuit: injection.hotCircuit,
    });
  }
  if (out.length === 0) out.push({ ...common, reason: reasonOf(injection), why: { id: 'nothing-noted', values: {} } });
  return out;
}

/** A voltage put on a rail from any supply: what flowed, and what warmed. */
export const injectionKind: ObservationKind = {
  id: 'injection',
  entries: (history) => history.value.injections.flatMap((injection) => entriesOf(history, injection)),
  candidates: injectionCandidates,
};
