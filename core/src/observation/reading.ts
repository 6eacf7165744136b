import { namedChecks, circuitNames } from '../catalogue/index.ts';
import { plainReading, sayMeasured, type Check, type Reading } from '../case/index.ts';
import { formatResistance, formatVoltage } from '../quantity/index.ts';
import type { Entry, History, ObservationKind } from './kind.ts';
import { probeCandidates } from './reading-candidates.ts';
import { questionOf } from './reading-question.ts';
import { isAcross, type Sense } from './reading-sense.ts';
import rules from './readings.json';

const senseWords: Record<string, string> = {
  'ground:short': 'short to ground',
  'ground:low': 'low',
  'ground:normal': 'no short',
  'ground:high': 'open',
  'voltage:present': 'is up',
  'voltage:low': 'too low',
  'voltage:swings': 'swings, so the rail is not up',
  'voltage:missing': 'missing',
  'voltage:high': 'too high',
  'across:conducts': 'conducts normally',
  'across:open': 'open',
};

/** A reading in words, with what it means. */
function sayReading(reading: Reading, sense: Sense): string {
  const show = (x: number): string => (reading.unit === 'ohm' ? formatResistance(x) : formatVoltage(x));
  const value = sayMeasured(reading);
  const across = isAcross(reading) ? ' across it' : '';
  const against = reading.reference === null ? '' : ` (known good: ${show(reading.reference)})`;
  const means = sense.of === 'nothing' ? '' : `, ${senseWords[`${sense.of}:${sense.word}`]}`;
  const place = reading.where || (reading.circuit ? circuitNames[reading.circuit] : 'a point');
  return `${place}: ${value}${across}${against}${means}`;
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
  const common = { kind: 'reading', source, epoch: history.epochOf(reading.after) };
  if (!question || sense.of === 'nothing')
    return {
      ...common,
      leftOut: `${sayReading(reading, sense)}: ${sense.of === 'nothing' ? sense.why : 'says nothing'}`,
    };
  return {
    ...common,
    sentence: sayReading(reading, sense),
    answer: { question, word: sense.word },
    likelihood: null,
  };
}
