import type { CircuitId } from '../catalogue/index.ts';
import type { Reading } from '../case/index.ts';
import { circuitIndex, placeAt } from '../hypotheses/index.ts';
import { predictRails, standingExpected, twinTrust, type ProbePhase } from '../prediction/index.ts';
import { populationOf } from './population.ts';
import { meanOverFaults, type Question } from './question.ts';
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
  return {
    alike: {
      group: `ladder:${point.phase}`,
      no: absentWords,
      certainty: rules.alikeRails[space.closeness],
    },
    key: `voltage:${rail >= 0 ? rail : `${point.circuit}:${placeKey(space, point)}`}:${point.phase}`,
    repeats: rules.repeats,
    outcomes: neverRaised(
      history,
      point.circuit,
      asWorldsStand(
        history,
        point,
        spreadOverHypotheses(space.hypotheses.length, voltageWords, (h) => {
          const word = predicted?.[h]?.[point.phase][rail];
          return joined(trust, word === undefined ? null : rules.predicted[word], voltageTable(history, point, h));
        }),
      ),
    ),
  };
}

/**
 * What the worlds of a population say of a rail of another circuit than the one at fault, joined with the table: whether it
 * stands. What is seen where it does not stays as the table has it.
 */
function asWorldsStand(history: Asked, point: Point, lists: Record<string, number[]>): Record<string, number[]> {
  const view = populationOf(history);
  if (!view || point.circuit === null) return lists;
  const stands = standingExpected(view.worlds, view.weights, circuitIndex(point.circuit), point.phase);
  const w = view.shares.rails;
  const out = Object.fromEntries(voltageWords.map((word) => [word, [...lists[word]]]));
  history.space.hypotheses.forEach((x, h) => {
    const q = stands[x.index];
    if (q === null || x.circuit === point.circuit) return;
    const before = lists.present[h];
    const present = (1 - w) * before + w * q;
    for (const word of voltageWords)
      out[word][h] = word === 'present' ? present : (lists[word][h] * (1 - present)) / Math.max(1 - before, 1e-9);
  });
  return out;
}

/**
 * A rail that stands never speaks for its own circuit, also where what the runs accuse would leave it standing even less:
 * its circuit then stands as often as all others together do.
 */
function neverRaised(
  history: Asked,
  circuit: CircuitId | null,
  lists: Record<string, number[]>,
): Record<string, number[]> {
  const { space, over } = history;
  if (space.closeness === 'own' || circuit === null) return lists;
  const says = runsSay(history);
  const any = meanOverFaults(lists.present, over);
  const mean = (isOwn: boolean): number => {
    let [sum, weight] = [0, 0];
    space.hypotheses.forEach((x, h) => {
      if ((x.circuit === circuit) !== isOwn) return;
      // A cause that is not known shows what any would.
      sum += over.prior[h] * says[h] * (h === over.unmodelled ? any : lists.present[h]);
      weight += over.prior[h] * says[h];
    });
    return weight > 0 ? sum / weight : 1;
  };
  const [own, others] = [mean(true), rules.standsAtMost * mean(false)];
  if (own <= others) return lists;
  const out = Object.fromEntries(Object.entries(lists).map(([word, list]) => [word, [...list]]));
  space.hypotheses.forEach((x, h) => {
    if (x.circuit !== circuit) return;
    const present = (lists.present[h] * others) / own;
    for (const word of voltageWords)
      out[word][h] =
        word === 'present' ? present : (lists[word][h] * (1 - present)) / Math.max(1 - lists.present[h], 1e-9);
  });
  return out;
}

const absentWords = ['missing', 'low', 'swings'];

function voltageTable({ space, seen }: Pick<Asked, 'space' | 'seen'>, point: Point, h: number): Words {
  const hypothesis = space.hypotheses[h];
  const { circuit } = point;
  if (circuit === null) return unknownVoltageTable({ space, seen }, point, h);
  const stands = standsAt(hypothesis.circuit, columnOf(point), seen);
  const elsewhere = standingWords(stands);
  if (hypothesis.circuit !== circuit) return elsewhere;
  const kind = kinds[circuit] ?? 'rail';
  const own = (rules.ownVoltage as Record<string, Words>)[(rules.voltageKind as Record<string, string>)[kind]];
  const place = placeAt(space.places, circuit, point.where);
  if (space.closeness === 'own' || !place) return mixed(shareAt(space, circuit), own, elsewhere);
  return hypothesis.place === place.key ? own : elsewhere;
}

/** A voltage at a place that nobody knows the circuit of: as its own fault has it there, else as any rail of that state. */
function unknownVoltageTable({ space, seen }: Pick<Asked, 'space' | 'seen'>, point: Point, h: number): Words {
  const { circuit, place } = space.hypotheses[h];
  const stands = standsAt(circuit, columnOf(point), seen);
  const here = placeAt(space.places, null, point.where);
  if (!here || place !== here.key) return standingWords(stands);
  const kind = (rules.voltageKind as Record<string, string>)[kinds[circuit] ?? 'rail'];
  return (rules.ownVoltage as Record<string, Words>)[kind];
}
