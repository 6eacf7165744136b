import type { CircuitId } from '../catalogue/index.ts';
import type { Reading } from '../case/index.ts';
import {
  circuitIndex,
  elsewhereShare,
  likelySamePlace,
  placeAt,
  placeName,
  sameNetByName,
  sameNetShare,
  suggestedCircuits,
  type NamedPlace,
} from '../hypotheses/index.ts';
import { predictRails, standingExpected, twinTrust, type ProbePhase, type Space } from '../prediction/index.ts';
import { atProbe, elementNamed } from '../twin/index.ts';
import type { History } from './kind.ts';
import { populationOf } from './population.ts';
import { background, type Question } from './question.ts';
import { senseOf, type PlaceBefore, type Sense } from './reading-sense.ts';
import { runsSay } from './run.ts';
import rules from './readings.json';
import { columnOf, standsAt, standingWords } from './standing.ts';
import { type Words, type Point } from './standing.ts';

/** What of a history a question about a reading takes: the hypotheses, and what the runs say of them. */
type Asked = Pick<History, 'value' | 'space' | 'seen' | 'over' | 'epochOf'>;

/** A point that is measured to ground. */
export interface GroundPoint extends Pick<Point, 'where' | 'circuit'> {
  /** It is the core rail itself, low by nature; false where a good board reads what no core rail does: the power stage. */
  isCoreRail?: boolean;
  /** Three to thirty ohm: as good as a short on rails that feed no big chip. */
  isPartial?: boolean;
  /** Seen from the load's side of a coil or link that was lifted: what hangs there stayed there. */
  isLoadSide?: boolean;
}

/** The phase in which a voltage was read. Nobody said: while it holds. */
export function phaseOf(reading: Pick<Reading, 'prompted' | 'feed'>): ProbePhase {
  if (reading.feed !== null) return 'plugged';
  return reading.prompted === false ? 'before' : 'after';
}

/**
 * Index of the rail in the model's own profile; -1 where it has none of that name.
 *
 * @param where as somebody typed it
 */
export function railIndexOf(space: Space, where: string): number {
  if (space.closeness !== 'own') return -1;
  const found = elementNamed(space.twin.board.profile, where, atProbe);
  return found?.element === 'rail' ? found.index : -1;
}

function spread(hypotheses: number, words: readonly string[], of: (h: number) => Words): Record<string, number[]> {
  const lists = Object.fromEntries(words.map((word) => [word, new Array<number>(hypotheses).fill(0)]));
  for (let h = 0; h < hypotheses; h++) {
    const predicted = of(h);
    const sum = words.reduce((total, word) => total + (predicted[word] ?? 0), 0);
    for (const word of words) lists[word][h] = sum > 0 ? (predicted[word] ?? 0) / sum : 1 / words.length;
  }
  return lists;
}

const groundWords = ['short', 'low', 'normal', 'high'] as const;
const voltageWords = ['present', 'low', 'swings', 'missing', 'high'] as const;

/** The two sources of what is expected, joined at one place: the twin with its trust, the table with the rest. */
const joined = (trust: number, twin: Words | null, table: Words): Words => {
  if (!twin) return table;
  return Object.fromEntries(
    Object.keys(table).map((word) => [word, trust * (twin[word] ?? 0) + (1 - trust) * table[word]]),
  );
};

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
    // Points of one circuit are often points of one net: ten capacitors that read short are hardly more than one short.
    ...(rail < 0 && point.circuit !== null
      ? { alike: { group: `ground:${point.circuit}`, no: ['short'], certainty: rules.alikeGround } }
      : {}),
    // A cause that is not known does not happen to short the very rail that was measured.
    saysUnmodelled: true,
    outcomes: spread(space.hypotheses.length, groundWords, (h) => {
      const table = groundTable(history, point, h);
      const low = predicted?.[h]?.low[rail];
      return joined(trust, low === undefined ? null : low ? rules.predicted.lowOhm : rules.predicted.soundOhm, table);
    }),
  };
}

function placeKey(space: Space, point: { circuit: CircuitId | null; where: string }): string {
  return placeAt(space.places, point.circuit, point.where)?.key ?? placeName(point.where);
}

/** Share of a circuit that sits at one point of it. */
function shareAt(space: Space, circuit: CircuitId): number {
  const named = space.places.filter((p) => p.circuit === circuit).length || 1;
  return (1 - elsewhereShare(circuit, named)) / named;
}

const kinds = rules.kind as Partial<Record<CircuitId, string>>;
const ownGround = (circuit: CircuitId): Words => (rules.ownGround as Record<string, Words>)[kinds[circuit] ?? 'rail'];

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

const mixed = (share: number, a: Words, b: Words): Words =>
  Object.fromEntries(Object.keys(b).map((word) => [word, share * (a[word] ?? 0) + (1 - share) * b[word]]));

/** What every hypothesis expects of a voltage with the device fed, by how far up the ladder the point stands. */
export function voltageQuestion(history: Asked, point: Point): Question {
  const { space } = history;
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
        spread(space.hypotheses.length, voltageWords, (h) => {
          const word = predicted?.[h]?.[point.phase][rail];
          return joined(trust, word === undefined ? null : rules.predicted[word], voltageTable(space, point, h));
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
  const any = background(lists.present, over);
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

function voltageTable(space: Space, point: Point, h: number): Words {
  const hypothesis = space.hypotheses[h];
  const { circuit } = point;
  if (circuit === null) return unknownVoltageTable(space, point, h);
  const stands = standsAt(hypothesis.circuit, columnOf(point)) ?? rules.standsUnlisted;
  const elsewhere = standingWords(stands);
  if (hypothesis.circuit !== circuit) return elsewhere;
  const kind = kinds[circuit] ?? 'rail';
  const own = (rules.ownVoltage as Record<string, Words>)[(rules.voltageKind as Record<string, string>)[kind]];
  const place = placeAt(space.places, circuit, point.where);
  if (space.closeness === 'own' || !place) return mixed(shareAt(space, circuit), own, elsewhere);
  return hypothesis.place === place.key ? own : elsewhere;
}

/** A voltage at a place that nobody knows the circuit of: as its own fault has it there, else as any rail of that state. */
function unknownVoltageTable(space: Space, point: Point, h: number): Words {
  const { circuit, place } = space.hypotheses[h];
  const stands = standsAt(circuit, columnOf(point)) ?? rules.standsUnlisted;
  const here = placeAt(space.places, null, point.where);
  if (!here || place !== here.key) return standingWords(stands);
  const kind = (rules.voltageKind as Record<string, string>)[kinds[circuit] ?? 'rail'];
  return (rules.ownVoltage as Record<string, Words>)[kind];
}

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
    outcomes: spread(space.hypotheses.length, ['conducts', 'open'], (h) => {
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
      .filter((r) => likelySamePlace(r.where, reading.where)),
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
