import type { PerHypothesis } from '../inference/index.ts';
import type { Reading } from '../case/index.ts';
import { placeAt } from '../hypotheses/index.ts';
import { predictRails, twinTrust, type ProbePhase, type Space } from '../prediction/index.ts';
import { marginalsOf, meanOverFaults, type Question, type SharedFact } from './question.ts';
import {
  joined,
  kinds,
  mixed,
  placeKey,
  railIndexOf,
  shareAt,
  spreadOverHypotheses,
  type Asked,
} from './reading-tables.ts';
import rules from './readings.json';
import { packVoltageQuestion, runsSay } from './run.ts';
import { columnOf, standsAt, standingWords, type Point, type Words } from './standing.ts';

/** The phase in which a voltage was read. Nobody said: while it holds. */
export function phaseOf(reading: Pick<Reading, 'prompted' | 'feed'>): ProbePhase {
  if (reading.feed !== null) return 'plugged';
  return reading.prompted === false ? 'before' : 'after';
}

const voltageWords = ['present', 'low', 'swings', 'missing', 'high'] as const;

/** What every hypothesis expects of a voltage with the device fed, by how far up the ladder the point stands. */
export function voltageQuestion(history: Asked, point: Point): Question {
  const { space } = history;
  if (point.circuit === 'battery.pack' && point.phase === 'plugged' && space.closeness !== 'own')
    return packVoltageQuestion(history);
  const rail = railIndexOf(space, point.where);
  const predicted = rail < 0 ? null : predictRails(space.twin, () => true);
  const trust = twinTrust(space.closeness);
  const fact = ladderUpTo(history, point);
  const outcomes = marginalsOf(fact, voltageWords);
  return {
    key: `voltage:${rail >= 0 ? rail : `${point.circuit}:${placeKey(space, point)}`}:${point.phase}`,
    repeats: rules.repeats,
    saysUnmodelled: true,
    ...(rail < 0 && { rests: fact }),
    outcomes: predicted
      ? spreadOverHypotheses(space.hypotheses.length, voltageWords, (h) => {
          const word = predicted[h]?.[point.phase][rail];
          const usual = Object.fromEntries(voltageWords.map((w) => [w, outcomes[w][h]]));
          return joined(trust, word === undefined ? null : rules.predicted[word], usual);
        })
      : outcomes,
  };
}

/**
 * How far up the ladder the rails of one phase stand: all voltages of the phase rest on that. Below the step where the path of the
 * current is broken they stand, and above it they are gone, but for those with a feed of their own.
 */
function ladderUpTo(history: Asked, point: Point): SharedFact {
  const { space, seen, over } = history;
  const steps = rules.columns.length;
  const column = columnOf(point);
  const rows = space.hypotheses.map(({ circuit }) => rules.columns.map((_, k) => standsAt(circuit, k, seen)));
  const ladders = rows.map((row, h) => {
    // A cause that is not known leaves standing what any would.
    const stands =
      h === over.unmodelled
        ? row.map((_, k) =>
            meanOverFaults(
              rows.map((r) => r[k]),
              over,
            ),
          )
        : row;
    // Nothing broken up to a step: no step before it stands less.
    const whole = stands.map((_, k) => Math.min(...stands.slice(0, k + 1)));
    return { stands, whole };
  });
  const values = Array.from({ length: steps + 1 }, (_, k) =>
    ladders.map(({ whole }) => (k === 0 ? 1 : whole[k - 1]) - (k < steps ? whole[k] : 0)),
  );
  const tables = values.map((_, broken) =>
    ladders.map(({ stands, whole }, h) => {
      const byItself = (stands[column] - whole[column]) / Math.max(1 - whole[column], 1e-9);
      return voltageTable(space, point, h, standingWords(broken > column ? rules.standsWhole : byItself));
    }),
  );
  const given = voltageWords.map((word) => [word, tables.map((by) => by.map((table) => table[word]))] as const);
  return neverRaised(history, point, { fact: `ladder:${point.phase}`, values, given: Object.fromEntries(given) });
}

/**
 * A rail that stands never speaks for its own circuit, also where what the runs accuse would leave it standing even less:
 * its circuit then stands as often as all others together do.
 */
function neverRaised(history: Asked, { circuit }: Point, fact: SharedFact): SharedFact {
  const { space, over } = history;
  if (space.closeness === 'own' || circuit === null) return fact;
  const says = runsSay(history);
  const { present } = marginalsOf(fact, ['present']);
  const mean = (isOwn: boolean): number => {
    const of = space.hypotheses.flatMap((x, h) => ((x.circuit === circuit) === isOwn ? [h] : []));
    const weight = of.reduce((sum, h) => sum + over.prior[h] * says[h], 0);
    return weight > 0 ? of.reduce((sum, h) => sum + over.prior[h] * says[h] * present[h], 0) / weight : 1;
  };
  const least = (rules.standsAtMost * mean(false)) / mean(true);
  if (least >= 1) return fact;
  const scaled = (word: string, by: PerHypothesis, v: number): PerHypothesis =>
    by.map((p, h) => {
      if (space.hypotheses[h].circuit !== circuit) return p;
      const stands = fact.given.present[v][h];
      return word === 'present' ? p * least : (p * (1 - stands * least)) / Math.max(1 - stands, 1e-9);
    });
  const given = Object.entries(fact.given).map(([word, list]) => [word, list.map((by, v) => scaled(word, by, v))]);
  return { ...fact, given: Object.fromEntries(given) as SharedFact['given'] };
}

/** A voltage at a point: as its own fault has it there, else as the ladder stands. */
function voltageTable(space: Space, point: Point, h: number, elsewhere: Words): Words {
  const hypothesis = space.hypotheses[h];
  const kind = (rules.voltageKind as Record<string, string>)[kinds[hypothesis.circuit] ?? 'rail'];
  const own = (rules.ownVoltage as Record<string, Words>)[kind];
  const place = placeAt(space.places, point.circuit, point.where);
  if (point.circuit === null) return place && hypothesis.place === place.key ? own : elsewhere;
  // A pack stands by itself, whatever it feeds.
  if (point.circuit === 'battery.pack' && hypothesis.circuit !== 'battery.pack') {
    const stands = rules.packStands as Partial<Record<string, number>>;
    return standingWords(stands[hypothesis.circuit] ?? rules.packStands.default);
  }
  if (hypothesis.circuit !== point.circuit) return elsewhere;
  if (space.closeness === 'own' || !place) return mixed(shareAt(space, point.circuit), own, elsewhere);
  return hypothesis.place === place.key ? own : elsewhere;
}
