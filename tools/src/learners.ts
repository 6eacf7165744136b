import {
  circuitIds,
  type CircuitId,
  type DeviceClass,
  bareCase,
  type Case,
  assess,
  describe,
  baseRates,
  indexOf,
  beginner,
  chooseNext,
  difficultyOf,
  drawUnit,
  feedsOf,
  instrumentsOf,
  pairsAfter,
  pointsFor,
  practicableCircuits,
  PracticeBench,
  ratedAbility,
  stateAfter,
  type PowerOn,
  type Review,
  type Shape,
  seededRandom,
  type Random,
  type Profile,
} from '@umbral/core';
import settings from './learners.json';

type ByCircuit = readonly number[];

/** A unit of the bank: what it is, and what the engine says of its first runs. */
export interface BankUnit {
  truth: CircuitId;
  /** Probabilities in the order of `circuitIds`. */
  prior: ByCircuit;
  engine: ByCircuit;
}

/**
 * Units of every circuit that profiles can have, each with the runs that somebody makes first: at every feed, pressed.
 *
 * @param perCircuit units of each circuit and profile
 */
export function unitBank(profiles: readonly Profile[], perCircuit: number, seed: number): BankUnit[] {
  return profiles.flatMap((profile, n) =>
    practicableCircuits(profile).flatMap((circuit, k) =>
      Array.from({ length: perCircuit }, (_, i) => {
        const at = seed + n * settings.profileSeeds + k * settings.circuitSeeds + i;
        return bankUnit(profile, circuit, at);
      }),
    ),
  );
}

function bankUnit(profile: Profile, circuit: CircuitId, seed: number): BankUnit {
  const unit = drawUnit({ profile, circuit }, seededRandom(seed));
  const bench = new PracticeBench(unit.device, stateAfter(unit.device, unit.faults, []), seed);
  const device = { class: profile.class as DeviceClass, model: profile.name, profile: profile.id };
  let value: Case = { ...bareCase(device, [], 'bank'), intake: unit.intake, complaintKind: unit.complaintKind };
  const shapes = new Map<string, Shape>();
  for (const [k, feed] of feedsOf(unit.device).entries()) {
    const { run, trace } = bench.record(setupOf(feed), k);
    value = { ...value, runs: [...value.runs, run] };
    shapes.set(run.id, describe(value, run, trace, null));
  }
  const { circuits } = assess(value, shapes, { plan: false, profiles: new Map([[profile.id, profile]]) });
  const engine = circuitIds.map((id) => circuits.find((c) => c.id === id)?.p ?? settings.minP);
  return { truth: circuit, prior: baseRates(profile.class), engine };
}

function setupOf(feed: PowerOn['feed']): PowerOn {
  const instrument = instrumentsOf[feed].find((name) => name.endsWith('logger')) ?? instrumentsOf[feed][0];
  const plain = { setV: null, limitA: null, port: 1, flipped: false, battery: true, presses: true, unplugged: [] };
  return { feed, instrument, ...plain };
}

/** How fast somebody learns from a unit, 0 to 1: the share of what they do not know of its circuit yet. */
export type Speed = keyof typeof settings.speeds;
export const learnerSpeeds = Object.keys(settings.speeds) as Speed[];

/**
 * What a simulated learner would say of a unit. Of each circuit they know a share of what the trace says: at 0 they are left
 * with how often it fails, at 1 they weigh the evidence as the engine does.
 *
 * @param skill by circuit, 0 to 1
 * @returns probabilities in the order of `circuitIds`
 */
export function learnerCall(unit: BankUnit, skill: ByCircuit): number[] {
  const weights = unit.prior.map((p, c) => {
    const evidence = Math.log(Math.max(unit.engine[c], settings.minP) / p);
    return p * Math.exp(skill[c] * evidence);
  });
  const total = weights.reduce((a, b) => a + b, 0);
  return weights.map((w) => w / total);
}

const pointsOf = (p: ByCircuit, truth: CircuitId): number =>
  pointsFor(
    circuitIds.map((id, k) => ({ id, p: p[k] })),
    truth,
  );

/** Mean points over the circuits, each as often as it fails: of a learner, or of the engine where no skill is named. */
export function meanPoints(bank: readonly BankUnit[], skill: ByCircuit | null): number {
  let [sum, weight] = [0, 0];
  for (const unit of bank) {
    const w = unit.prior[indexOf.get(unit.truth) ?? 0];
    sum += w * pointsOf(skill === null ? unit.engine : learnerCall(unit, skill), unit.truth);
    weight += w;
  }
  return sum / weight;
}

/** Points of the engine by circuit: how hard units are. */
export function enginePointsBy(bank: readonly BankUnit[]): Map<CircuitId, number> {
  const by = new Map<CircuitId, number[]>();
  for (const unit of bank) by.set(unit.truth, [...(by.get(unit.truth) ?? []), pointsOf(unit.engine, unit.truth)]);
  return new Map([...by].map(([id, list]) => [id, list.reduce((a, b) => a + b, 0) / list.length]));
}

/** How somebody is given units: by what they get wrong, or as devices come in. */
type UnitsBy = 'scheduler' | 'random';

/** What came of practising. */
interface Practised {
  /** Units until the mean points came to the share asked for; null where that was never reached. */
  units: number | null;
  /** Share of the engine's points after every unit. */
  course: number[];
}

/**
 * A learner practises: unit after unit is called, and what it was is shown. Of its circuit, and of the one that it was taken
 * for, they know more afterwards.
 *
 * @param train units that are practised on
 * @param test units that the points are taken over, which nobody sees
 * @param transfer share of what is learnt from a unit that holds for every circuit, 0 to 1
 */
export function practiseUnits(
  train: readonly BankUnit[],
  test: readonly BankUnit[],
  speed: Speed,
  by: UnitsBy,
  seed: number,
  transfer = 0,
): Practised {
  const random = seededRandom(seed);
  const skill = circuitIds.map(() => settings.begins);
  const circuits = [...new Set(train.map((u) => u.truth))];
  const hard = enginePointsBy(train);
  const goal = meanPoints(test, null);
  let ability = beginner;
  let pairs: Review[] = [];
  const recent: CircuitId[] = [];
  const course: number[] = [];
  let units: number | null = null;
  for (let k = 0; k < settings.maxUnits; k++) {
    const now = new Date(settings.beganAt + k * settings.unitMinutes * minuteMs);
    const attainable = (c: CircuitId): number => hard.get(c) ?? 0;
    const circuit =
      by === 'random'
        ? asTheyCome(circuits, train, random)
        : chooseNext({ ability, pairs, recent }, circuits, attainable, now, random).circuit;
    const own = train.filter((u) => u.truth === circuit);
    const unit = own[Math.floor(random() * own.length)];
    const said = learnerCall(unit, skill);
    const first = circuitIds[said.indexOf(Math.max(...said))];
    learn(skill, [circuit, first], settings.speeds[speed]);
    if (transfer > 0) skill.forEach((x, c) => (skill[c] = x + transfer * settings.speeds[speed] * (1 - x)));
    const points = pointsOf(said, circuit);
    ability = ratedAbility(ability, circuit, difficultyOf(attainable(circuit)), points);
    const changed = pairsAfter(pairs, circuit, first, now);
    pairs = [...pairs.filter((r) => !changed.some((c) => c.key === r.key)), ...changed];
    recent.push(circuit);
    course.push(meanPoints(test, skill) / goal);
    if (units === null && course[k] >= settings.goalShare) units = k + 1;
  }
  return { units, course };
}

const minuteMs = 60_000;

function asTheyCome(circuits: readonly CircuitId[], bank: readonly BankUnit[], random: Random): CircuitId {
  const rates = circuits.map((c) => bank[0].prior[indexOf.get(c) ?? 0]);
  let left = random() * rates.reduce((a, b) => a + b, 0);
  return circuits.find((_, k) => (left -= rates[k]) <= 0) ?? circuits[0];
}

function learn(skill: number[], [truth, said]: [CircuitId, CircuitId], speed: number): void {
  const more = (id: CircuitId, by: number): void => {
    const k = indexOf.get(id) ?? 0;
    skill[k] += by * (1 - skill[k]);
  };
  more(truth, speed);
  // What it was taken for is told apart from it as well, by half.
  if (said !== truth) more(said, speed * settings.contrast);
}
