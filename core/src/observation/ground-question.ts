import type { CircuitId } from '../catalogue/index.ts';
import { placeAt, sameNetByName, sameNetShare, type NamedPlace } from '../hypotheses/index.ts';
import { predictRails, twinTrust, type Space } from '../prediction/index.ts';
import type { Question } from './question.ts';
import {
  joined,
  mixed,
  ownGround,
  placeKey,
  railIndexOf,
  shareAt,
  spreadOverHypotheses,
  type Asked,
} from './reading-tables.ts';
import rules from './readings.json';
import { runsSay } from './run.ts';
import type { Point, Words } from './standing.ts';

/** A point that is measured to ground. */
interface GroundPoint extends Pick<Point, 'where' | 'circuit'> {
  /** It is the core rail itself, low by nature; false where a good board reads what no core rail does: the power stage. */
  isCoreRail?: boolean;
  /** Three to thirty ohm: as good as a short on rails that feed no big chip. */
  isPartial?: boolean;
  /** Seen from the load's side of a coil or link that was lifted: what hangs there stayed there. */
  isLoadSide?: boolean;
}

const groundWords = ['short', 'low', 'normal', 'high'] as const;

/** What every hypothesis expects of a measurement to ground, unpowered: diode mode and resistance alike. */
export function groundQuestion(history: Asked, point: GroundPoint): Question {
  const { space } = history;
  const rail = railIndexOf(space, point.where);
  const predicted = rail < 0 ? null : predictRails(space.twin, () => true);
  const trust = twinTrust(space.closeness);
  return {
    key: `ground:${rail >= 0 ? rail : `${point.circuit}:${placeKey(space, point)}`}`,
    repeats: rules.repeats,
    lacking: point.isLoadSide ? 'same' : 'works',
    // Points of one circuit are often points of one net, the oftener the fewer nets such a circuit has: ten capacitors that read
    // short are hardly more than one short.
    ...(rail < 0 && point.circuit !== null
      ? {
          alike: {
            group: `ground:${point.circuit}`,
            no: ['short'],
            certainty: rules.alikeGround * sameNetShare(point.circuit),
          },
        }
      : {}),
    // A cause that is not known does not happen to short the very rail that was measured.
    saysUnmodelled: true,
    outcomes: spreadOverHypotheses(space.hypotheses.length, groundWords, (h) => {
      const table = groundTable(history, point, h);
      const low = predicted?.[h]?.low[rail];
      return joined(trust, low === undefined ? null : low ? rules.predicted.lowOhm : rules.predicted.soundOhm, table);
    }),
  };
}

/**
 * To ground at a place that nobody knows the circuit of: where it is the place of the fault it reads as faults of the circuit
 * do that can be shorted at all; where it is another place, as a sound one, the more so the less the two are of one net.
 */
function unknownPlaceTable(space: Space, { where, isPartial }: GroundPoint, h: number): Words {
  const { circuit, place } = space.hypotheses[h];
  if (circuit === 'none' || circuit === 'unmodelled') return rules.otherGround;
  const sound = naturallyLow.test(where) ? rules.unknownGround.mayBeCore : rules.unknownGround.sound;
  const here = placeAt(space.places, null, where);
  const faultAt = place === null ? null : (space.places.find((p) => p.key === place) ?? null);
  if (!here || !faultAt) return sound;
  const isHere = faultAt.key === here.key;
  const net = isHere ? 1 : sameNetByName(faultAt.name, here.name);
  const shortable = (rules.shortable as Partial<Record<CircuitId, number>>)[circuit] ?? 1;
  const big = isPartial && !rules.partialCounts.includes(circuit) ? rules.unknownGround.partialOnBigRail : 1;
  const own = ownGround(circuit);
  const short = own.short * shortable * big;
  const low = own.low * shortable;
  return mixed(net, { short, low, normal: Math.max(0, 1 - short - low - own.high), high: own.high }, sound);
}

/** What a processor hangs on reads low by nature: a short there may be none. */
const naturallyLow = /\b(coils?|inductors?|processor|core|graphics)\b/i;

/** Wherever an unknown place may be a point of the same net, a fault there can be what another place shows. */
function netOf(space: Space, h: number, here: NamedPlace | null, circuit: CircuitId): number {
  const { place } = space.hypotheses[h];
  const faultAt = space.places.find((p) => p.key === place);
  if (!faultAt) return 0;
  return here && faultAt.circuit === null
    ? Math.max(sameNetByName(faultAt.name, here.name), sameNetShare(circuit))
    : sameNetShare(circuit);
}

function groundTable(history: Asked, point: GroundPoint, h: number): Words {
  const { where, circuit, isCoreRail } = point;
  const { space } = history;
  const hypothesis = space.hypotheses[h];
  if (circuit === null)
    return space.closeness === 'own' ? unknownRailTable(history, h) : unknownPlaceTable(space, point, h);
  if (hypothesis.circuit === 'none') return rules.otherGround;
  if (hypothesis.circuit === circuit) {
    const own = ownGround(circuit);
    const place = placeAt(space.places, circuit, where);
    if (space.closeness === 'own' || !place) {
      // A point that no hypothesis names apart: as likely as its share to be the one.
      const share = shareAt(space, circuit);
      return mixed(share, own, rules.elsewhereGround);
    }
    if (hypothesis.place === place.key) return own;
    // Two names in one circuit are often one net, the oftener the fewer nets such a circuit has.
    return hypothesis.place === null
      ? rules.elsewhereGround
      : mixed(netOf(space, h, place, circuit), own, rules.elsewhereGround);
  }
  const pull = ((rules.pulls as Record<string, Words>)[circuit] ?? {})[hypothesis.circuit] ?? 0;
  // What sits on the other side of the coils does not pull a power stage down.
  if (pull === 0 || isCoreRail === false) return rules.otherGround;
  const short = Math.min(pull, pullsAs(history, circuit, h) * pull) * shareAt(space, circuit);
  const low = rules.pulledLow * short;
  return { short, low, normal: rules.knownShare - short - low, high: 0.01 };
}

/** To ground at an unknown point of a board whose profile is known: short where any of its rails is. */
function unknownRailTable({ space }: Asked, h: number): Words {
  const low = predictRails(space.twin, () => true)[h]?.low.some(Boolean) ?? false;
  return low
    ? mixed(rules.unknownGround.rightRail, rules.predicted.lowOhm, rules.unknownGround.sound)
    : rules.unknownGround.sound;
}

/**
 * What hangs on a rail and shorts it makes the device draw as a short of that rail does. So among the faults of a circuit
 * those that pull the rail down are as likely, after the runs, as the runs look like the rail's own fault rather than like
 * the circuit's: Bayes inside the circuit.
 */
function pullsAs(history: Asked, circuit: CircuitId, h: number): number {
  const shows = runsSay(history);
  const rail = history.space.hypotheses.findIndex((x) => x.circuit === circuit);
  return rail < 0 ? 1 : shows[rail] / Math.max(shows[h], 1e-9);
}
