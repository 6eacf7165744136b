import { namedChecks } from '../catalogue/index.ts';
import { measuredOf, plainReading, type Check, type Reading } from '../case/index.ts';
import type { Reason } from '../reasons/index.ts';
import type { Entry, History, ObservationKind } from './kind.ts';
import { probeCandidates } from './reading-candidates.ts';
import { questionOf } from './reading-question.ts';
import { isAcross, type Sense } from './reading-sense.ts';
import rules from './readings.json';

/** A reading as a reason, with what it means. */
function reasonOf(reading: Reading, sense: Sense): Reason {
  const { where, circuit, reference } = reading;
  const means = sense.of === 'nothing' ? null : `${sense.of}:${sense.word}`;
  return {
    id: 'reading',
    values: { ...measuredOf(reading), where, circuit, reference, isAcross: isAcross(reading), sense: means },
  };
}

/** Voltages, resistances and diode readings, at any point of any model. */
export const readingKind: ObservationKind = {
  id: 'reading',
  entries: (history) => [
    ...history.value.readings.map((reading, k) => entryOf(history, reading, `reading:${k}`)),
    ...history.value.checks.flatMap((check, k) => {
      const reading = mainRailReading(check);
      return reading ? [entryOf(history, reading, `check:${k}`)] : [];
    }),
  ],
  candidates: probeCandidates,
};

/** The check of the main rail is a reading to ground, said in a word. */
function mainRailReading({ id, outcome, where, after }: Check): Reading | null {
  if (id !== namedChecks.mainRail) return null;
  const value =
    outcome === 'short'
      ? rules.mainRail.short
      : outcome === 'low'
        ? rules.mainRail.low
        : outcome === 'normal'
          ? rules.mainRail.normal
          : null;
  if (value === null) return null;
  return {
    ...plainReading,
    where: where || 'main system rail',
    circuit: 'rail.main',
    mode: 'resistance',
    unit: 'ohm',
    says: null,
    value,
    after,
  };
}

function entryOf(history: History, reading: Reading, source: string): Entry {
  const { question, sense } = questionOf(history, reading);
  const common = { kind: 'reading', source, reason: reasonOf(reading, sense), epoch: history.epochOf(reading.after) };
  if (sense.of === 'nothing') return { ...common, why: sense.why };
  if (!question) return { ...common, why: { id: 'no-likelihoods', values: {} } };
  return {
    ...common,
    answer: { question, word: sense.word },
    likelihood: null,
  };
}
