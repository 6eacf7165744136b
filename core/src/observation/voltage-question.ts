import { circuitIds } from '../catalogue/index.ts';
import type { PerHypothesis } from '../inference/index.ts';
import type { Reading } from '../case/index.ts';
import { placeAt } from '../hypotheses/index.ts';
import { predictRails, twinTrust, type ProbePhase, type Space } from '../prediction/index.ts';
import { marginalsOf, meanOverFaults, type Over, type Question, type SharedFact } from './question.ts';
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
import { runsAnyway } from './check-table.ts';
import { ladderOf, type Ladder } from './ladder.ts';
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
  const trust = twinTrust(space);
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

type Fed = Pick<Asked, 'space' | 'seen' | 'over' | 'value'>;

/** By step and net: the ladder, with what probing a rail of the step finds by where it is broken. */
type Ladders = (Ladder & { words: Words[] })[][];

const known = new WeakMap<Over, { seen: Fed['seen']; complaint: Fed['value']['complaintKind']; ladders: Ladders }>();

/** The ladders of all nets, worked out once for the runs of a case. */
function laddersOf({ space, seen, over, value }: Fed): Ladders {
  const kept = known.get(over);
  if (kept && kept.seen === seen && kept.complaint === value.complaintKind) return kept.ladders;
  const nets = circuitIds.map((circuit) => rules.columns.map((_, k) => standsAt(circuit, k, seen)));
  // A cause that is not known leaves standing what any would.
  const any = rules.columns.map((_, k) =>
    meanOverFaults(
      space.netOf.map((net) => nets[net][k]),
      over,
    ),
  );
  const runs = runsAnyway(value.complaintKind);
  const byNet = nets.map((row, net) => ladderOf(net === space.netOf[over.unmodelled] ? any : row, runs));
  const ladders = rules.columns.map((_, column) =>
    byNet.map((ladder) => ({ ...ladder, words: ladder.stands[column].map(standingWords) })),
  );
  known.set(over, { seen, complaint: value.complaintKind, ladders });
  return ladders;
}

/**
 * How far up the ladder the rails stand on one feed: all voltages rest on that, before the press and after it.
 */
function ladderUpTo(history: Asked, point: Point): SharedFact {
  const { space } = history;
  const byNet = laddersOf(history)[columnOf(point)];
  const ladders = space.netOf.map((net) => byNet[net]);
  const given = ladders.map(({ words }, h) => words.map((elsewhere) => voltageTable(space, point, h, elsewhere)));
  const breaks = ladders[0].broken.map((_, v) => v);
  return neverRaised(history, point, {
    fact: `ladder:${point.phase === 'plugged' ? 'plugged' : 'fed'}`,
    values: breaks.map((v) => ladders.map(({ broken }) => broken[v])),
    given: Object.fromEntries(voltageWords.map((word) => [word, breaks.map((v) => given.map((by) => by[v][word]))])),
  });
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
    const of = space.netOf.flatMap((net, h) => ((circuitIds[net] === circuit) === isOwn ? [h] : []));
    const weight = of.reduce((sum, h) => sum + over.prior[h] * says[h], 0);
    return weight > 0 ? of.reduce((sum, h) => sum + over.prior[h] * says[h] * present[h], 0) / weight : 1;
  };
  const least = (rules.standsAtMost * mean(false)) / mean(true);
  if (least >= 1) return fact;
  const scaled = (word: string, by: PerHypothesis, v: number): PerHypothesis =>
    by.map((p, h) => {
      if (circuitIds[space.netOf[h]] !== circuit) return p;
      const stands = fact.given.present[v][h];
      return word === 'present' ? p * least : (p * (1 - stands * least)) / Math.max(1 - stands, 1e-9);
    });
  const given = Object.entries(fact.given).map(([word, list]) => [word, list.map((by, v) => scaled(word, by, v))]);
  return { ...fact, given: Object.fromEntries(given) as SharedFact['given'] };
}

/** A voltage at a point: as its own fault has it there, else as the ladder stands. */
function voltageTable(space: Space, point: Point, h: number, elsewhere: Words): Words {
  const hypothesis = space.hypotheses[h];
  const net = circuitIds[hypothesis.net];
  const kind = (rules.voltageKind as Record<string, string>)[kinds[net] ?? 'rail'];
  const own = (rules.ownVoltage as Record<string, Words>)[kind];
  const place = placeAt(space.places, point.circuit, point.where);
  if (point.circuit === null) return place && hypothesis.place === place.key ? own : elsewhere;
  // A pack stands by itself, whatever it feeds.
  if (point.circuit === 'battery.pack' && net !== 'battery.pack') {
    const stands = rules.packStands as Partial<Record<string, number>>;
    return standingWords(stands[net] ?? rules.packStands.default);
  }
  if (net !== point.circuit) return elsewhere;
  if (space.closeness === 'own' || !place || net !== hypothesis.circuit)
    return mixed(shareAt(space, point.circuit), own, elsewhere);
  return hypothesis.place === place.key ? own : elsewhere;
}
