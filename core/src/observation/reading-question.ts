import type { CircuitId } from '../catalogue/index.ts';
import type { Reading } from '../case/index.ts';
import { circuitIndex, elsewhereShare, placeAt, placeName, sameNetShare } from '../hypotheses/index.ts';
import { predictRails, standingExpected, twinTrust, type ProbePhase, type Space } from '../prediction/index.ts';
import { atProbe, elementNamed } from '../twin/index.ts';
import type { History } from './kind.ts';
import { populationOf } from './population.ts';
import { background, type Question } from './question.ts';
import { senseOf, type Sense } from './reading-sense.ts';
import { runsSay } from './run.ts';
import rules from './readings.json';
import { columnOf, standsAt, standingWords } from './standing.ts';
import { type Words, type Point } from './standing.ts';

/** What of a history a question about a reading takes: the hypotheses, and what the runs say of them. */
type Asked = Pick<History, 'value' | 'space' | 'seen' | 'over' | 'epochOf' | 'learned'>;

/** A point that is measured to ground. */
export interface GroundPoint extends Pick<Point, 'where' | 'circuit'> {
  /** It is the core rail itself, low by nature; false where a good board reads what no core rail does: the power stage. */
  isCoreRail?: boolean;
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
    lacking: 'works',
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

function groundTable(history: Asked, { where, circuit, isCoreRail }: GroundPoint, h: number): Words {
  const { space } = history;
  const hypothesis = space.hypotheses[h];
  if (circuit === null || hypothesis.circuit === 'none') return rules.otherGround;
  const kinds = rules.kind as Partial<Record<CircuitId, string>>;
  if (hypothesis.circuit === circuit) {
    const own = (rules.ownGround as Record<string, Words>)[kinds[circuit] ?? 'rail'];
    const place = placeAt(space.places, circuit, where);
    if (space.closeness === 'own' || !place) {
      // A point that no hypothesis names apart: as likely as its share to be the one.
      const share = shareAt(space, circuit);
      return mixed(share, own, rules.elsewhereGround);
    }
    if (hypothesis.place === place.key) return own;
    // Two names in one circuit are often one net, the oftener the fewer nets such a circuit has.
    return hypothesis.place === null ? rules.elsewhereGround : mixed(sameNetShare(circuit), own, rules.elsewhereGround);
  }
  const pull = ((rules.pulls as Record<string, Words>)[circuit] ?? {})[hypothesis.circuit] ?? 0;
  // What sits on the other side of the coils does not pull a power stage down.
  if (pull === 0 || isCoreRail === false) return rules.otherGround;
  const short = Math.min(pull, pullsAs(history, circuit, h) * pull) * shareAt(space, circuit);
  const low = rules.pulledLow * short;
  return { short, low, normal: rules.knownShare - short - low, high: 0.01 };
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
  const stands = standsAt(hypothesis.circuit, columnOf(point)) ?? rules.standsUnlisted;
  const elsewhere = standingWords(stands);
  if (circuit === null || hypothesis.circuit !== circuit) return elsewhere;
  const kind = (rules.kind as Partial<Record<CircuitId, string>>)[circuit] ?? 'rail';
  const own = (rules.ownVoltage as Record<string, Words>)[(rules.voltageKind as Record<string, string>)[kind]];
  const place = placeAt(space.places, circuit, point.where);
  if (space.closeness === 'own' || !place) return mixed(shareAt(space, circuit), own, elsewhere);
  return hypothesis.place === place.key ? own : elsewhere;
}

/** Between the ends of a part that should conduct: open is the fault or stands in its way. */
function acrossQuestion(space: Space, circuit: CircuitId | null, where: string): Question {
  const table = rules.acrossOpen as Partial<Record<CircuitId, number>>;
  const own = circuit === null ? 0 : (table[circuit] ?? rules.acrossDefault);
  return {
    key: `across:${circuit}:${placeName(where)}`,
    repeats: rules.repeats,
    lacking: 'works',
    outcomes: spread(space.hypotheses.length, ['conducts', 'open'], (h) => {
      const open = space.hypotheses[h].circuit === circuit ? own : rules.acrossOther;
      return { open, conducts: 1 - open };
    }),
  };
}

/** The question that a reading answers; null where it says nothing, with the reason in `sense`. */
export function questionOf(history: Asked, reading: Reading): { question: Question | null; sense: Sense } {
  const { space, value } = history;
  const sense = senseOf(reading, value.device.expect);
  const circuit = reading.circuit ?? circuitOfRail(space, reading.where);
  if (sense.of === 'nothing') return { question: null, sense };
  if (circuit === null && reading.state === null)
    return {
      question: null,
      sense: { of: 'nothing', why: 'it names no circuit and no power state: say which circuit the point belongs to' },
    };
  const point = { where: reading.where, circuit, state: reading.state, phase: phaseOf(reading) };
  if (sense.of === 'across') return { question: acrossQuestion(space, circuit, reading.where), sense };
  if (sense.of === 'voltage') return { question: voltageQuestion(history, point), sense };
  if (circuit === null)
    return {
      question: null,
      sense: { of: 'nothing', why: 'it names no circuit: say which circuit the point belongs to' },
    };
  return { question: groundQuestion(history, { ...point, isCoreRail: isCoreRail(reading) }), sense };
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
