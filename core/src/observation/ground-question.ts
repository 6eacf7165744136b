import { circuitIds, type CircuitId } from '../catalogue/index.ts';
import {
  likelySamePlace,
  placeAt,
  pointOnNet,
  pullShare,
  saidOneNet,
  sameNetByName,
  sameNetShare,
  samePlace,
  type NamedPlace,
} from '../hypotheses/index.ts';
import { predictRails, twinTrust, type Space } from '../prediction/index.ts';
import { marginalsOf, type Question, type SharedFact } from './question.ts';
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
  const trust = twinTrust(space);
  const fact = point.circuit === null ? null : shortIn(history, { ...point, circuit: point.circuit });
  const usually = fact && marginalsOf(fact, groundWords);
  return {
    key: `ground:${rail >= 0 ? rail : `${point.circuit}:${placeKey(space, point)}`}`,
    repeats: rules.repeats,
    lacking: point.isLoadSide ? 'same' : 'works',
    ...(fact && rail < 0 && { rests: fact }),
    // A cause that is not known does not happen to short the very rail that was measured.
    saysUnmodelled: true,
    outcomes: spreadOverHypotheses(space.hypotheses.length, groundWords, (h) => {
      const usual = usually
        ? Object.fromEntries(groundWords.map((word) => [word, usually[word][h]]))
        : unknownTable(history, point, h);
      const low = predicted?.[h]?.low[rail];
      return joined(trust, low === undefined ? null : low ? rules.predicted.lowOhm : rules.predicted.soundOhm, usual);
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
  const net = isHere ? 1 : (saidOneNet(faultAt, here) ?? sameNetByName(faultAt.name, here.name));
  const shortable = (rules.shortable as Partial<Record<CircuitId, number>>)[circuit] ?? 1;
  const big = isPartial && !rules.partialCounts.includes(circuit) ? rules.unknownGround.partialOnBigRail : 1;
  const own = ownGround(circuit);
  const short = own.short * shortable * big;
  const low = own.low * shortable;
  return mixed(net, { short, low, normal: Math.max(0, 1 - short - low - own.high), high: own.high }, sound);
}

/** What a processor hangs on reads low by nature: a short there may be none. */
const naturallyLow = /\b(coils?|inductors?|processor|core|graphics)\b/i;

/** To ground at a point that nobody knows the circuit of. */
function unknownTable(history: Asked, point: GroundPoint, h: number): Words {
  return history.space.closeness === 'own' ? unknownRailTable(history, h) : unknownPlaceTable(history.space, point, h);
}

/** What a net shows that something of another circuit pulls down: it is short or low. */
const pulled: Words = (() => {
  const { normal, high } = rules.pulledGround;
  const short = (1 - normal - high) / (1 + rules.pulledLow);
  return { short, low: rules.pulledLow * short, normal, high };
})();

/** What stands where nothing is wrong; most of the shorts that are found beside another fault are one short all the same. */
const soundGround: Words = (() => {
  const { short, normal } = rules.otherGround;
  const alone = (1 - rules.alikeGround) * short;
  return { ...rules.otherGround, short: alone, normal: normal + short - alone };
})();

/**
 * Where in a circuit a fault to ground sits, and how it reads there. All measurements in the circuit rest on that: a fault of the
 * circuit has its place; what pulls the circuit down pulls it at one of its nets; and any other fault hardly ever comes with a short
 * there. So ten capacitors that read short are one short, and a good neighbour says of none that it is good.
 */
function shortIn(history: Asked, point: GroundPoint & { circuit: CircuitId }): SharedFact {
  const { space } = history;
  const { circuit } = point;
  const own = ownGround(circuit);
  const named = space.places.filter((p) => p.circuit === circuit);
  const share = shareAt(space, circuit);
  const shareOf = (site: NamedPlace | null): number =>
    site === null ? 1 - named.length * share : site.circuit === circuit ? share : 0;
  /** Probability that a point of this circuit is short with a fault of another: it is on the net that is down, or short beside it. */
  const chanceOf = (h: number): number => {
    const { circuit: other, net } = space.hypotheses[h];
    const pull = space.closeness === 'own' ? pullShare(other, circuit) : 0;
    return Math.max(
      pull,
      pointOnNet(circuit, circuitIds[net]),
      (rules.alikeGround * rules.otherGround.short) / pulled.short,
    );
  };
  const valueOf = (h: number, site: NamedPlace | null, reads: string): number => {
    const hypothesis = space.hypotheses[h];
    if (hypothesis.circuit !== circuit) return chanceOf(h) * shareOf(site) * pulled[reads];
    if (space.closeness === 'own') return shareOf(site) * own[reads];
    return hypothesis.place === (site?.key ?? null) ? own[reads] : 0;
  };
  const sites = [...space.places.filter((p) => p.circuit === circuit || p.circuit === null), null];
  const facts = sites.flatMap((site) => groundWords.map((reads) => ({ site, reads })));
  const values = facts.map(({ site, reads }) => space.hypotheses.map((_, h) => valueOf(h, site, reads)));
  const sound = space.hypotheses.map(({ circuit: c }, h) => (c === circuit ? 0 : 1 - chanceOf(h)));
  const tableOf = ({ site, reads }: (typeof facts)[number], isOwn: boolean): Words => {
    // What sits on the other side of the coils does not pull a power stage down.
    if (!isOwn && point.isCoreRail === false) return soundGround;
    const repeated = mixed(rules.alikeGround, { [reads]: 1 }, isOwn ? own : pulled);
    return mixed(reachFrom(space, point, site), repeated, rules.elsewhereGround);
  };
  const tables = [
    ...facts.map((fact) => {
      const [own, others] = [tableOf(fact, true), tableOf(fact, false)];
      return space.hypotheses.map((h) => (h.circuit === circuit ? own : others));
    }),
    space.hypotheses.map(() => soundGround),
  ];
  return {
    fact: `ground:${circuit}`,
    values: [...values, sound],
    given: Object.fromEntries(groundWords.map((word) => [word, tables.map((by) => by.map((table) => table[word]))])),
  };
}

/** How likely a fault at a site is seen at a point of a circuit: surely at the site, elsewhere where both are of one net. */
function reachFrom(
  space: Space,
  { where, circuit }: GroundPoint & { circuit: CircuitId },
  site: NamedPlace | null,
): number {
  const isNamed = placeAt(space.places, circuit, where) !== null;
  if (site === null) return isNamed ? 0 : shareAt(space, circuit);
  if (site.circuit !== null && samePlace(site.name, where)) return 1;
  const said = saidOneNet(site, placeAt(space.places, circuit, where));
  if (said !== null) return said;
  const byName = site.circuit === null || likelySamePlace(site.name, where) ? sameNetByName(site.name, where) : 0;
  return Math.max(byName, sameNetShare(circuit));
}

/** To ground at an unknown point of a board whose profile is known: short where any of its rails is. */
function unknownRailTable({ space }: Asked, h: number): Words {
  const low = predictRails(space.twin, () => true)[h]?.low.some(Boolean) ?? false;
  return low
    ? mixed(rules.unknownGround.rightRail, rules.predicted.lowOhm, rules.unknownGround.sound)
    : rules.unknownGround.sound;
}
