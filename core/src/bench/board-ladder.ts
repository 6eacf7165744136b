import { depthOf, patternTypes, type CircuitId } from '../catalogue/index.ts';
import { measuredOf, type Measured, type Reading } from '../case/index.ts';
import type { Belief } from '../diagnosis/index.ts';
import { samePlace } from '../hypotheses/index.ts';
import {
  nominalOf,
  phaseOf,
  readsShort,
  shortedRail,
  shortsOf,
  stateIndex,
  usualPoints,
  type History,
  type UsualPoint,
} from '../observation/index.ts';
import { predictRails, type ProbePhase } from '../prediction/index.ts';
import { topPattern } from '../shape/index.ts';
import { atProbe, elementNamed } from '../twin/index.ts';
import policy from './measuring.json';
import { contradictionsOf, findingOf, needsOf, rungsOf, type Contradiction, type RailFinding } from './ladder.ts';
import { injectionFacts, type RailFacts } from './rail-facts.ts';
import { compareReading, type ReadingComparison } from './reference.ts';

/** One finding at a rail, as the ladder shows it. */
export interface RungReading extends Measured {
  /** Place in the case's readings. */
  reading: number;
  finding: RailFinding | null;
  /** Against the good board, where one was read with the probes the same way. */
  against: ReadingComparison | null;
  /** It finds its place short to ground. */
  isShort: boolean;
  /** Something was changed since: it describes the device as it was. */
  isOld: boolean;
  /** What stood there before the last change, where it was read again since; null where it was not. */
  was: Measured | null;
}

/** What is known of a rail in one phase. */
export interface RungPhase {
  /** Stands in a good unit then. */
  expected: boolean;
  seen: RungReading | null;
  implied: 'present' | 'explained' | null;
  /** Name of the rail from which it follows. */
  from: string | null;
}

/** A rail on the ladder, or a point of one's own. Volts, ohms. */
export interface LadderRung {
  id: string;
  name: string;
  state: string;
  /** null for a point that nobody has put to one. */
  circuit: CircuitId | null;
  /** What it is made for; null where nobody knows. */
  nominalV: number | null;
  depth: number;
  capacitors: number | null;
  half: string | null;
  phases: Record<ProbePhase, RungPhase>;
  diode: RungReading | null;
  resistance: RungReading | null;
  /** Probability that something is shorted on it. */
  shorted: number;
  /** What the injection planner takes from what is known of it. */
  facts: RailFacts;
}

/** Every rail and point with what was found at it, and findings that cannot all be so. */
export interface Ladder {
  rungs: LadderRung[];
  contradictions: Contradiction[];
}

interface Placed {
  reading: Reading;
  place: number;
}

const phases: ProbePhase[] = ['before', 'after', 'plugged'];

/** The ladder of a belief: rails of the model's own profile with what follows from what was found, and points of one's own. */
export function ladderOf(belief: Belief): Ladder {
  const { space } = belief.history;
  const placed = belief.history.value.readings
    .map((reading, place) => ({ reading, place }))
    .filter(({ reading }) => !reading.across);
  if (space.closeness !== 'own')
    return { rungs: inOrder(freeRungs(belief, placed, usualPoints(belief.history))), contradictions: [] };
  const { profile } = space.twin.board;
  const byRail = new Map<number, Placed[]>();
  const free: Placed[] = [];
  for (const one of placed) {
    const rail = elementNamed(profile, one.reading.where, atProbe);
    if (rail?.element === 'rail') byRail.set(rail.index, [...(byRail.get(rail.index) ?? []), one]);
    else free.push(one);
  }
  const own = profileRungs(belief, byRail);
  return { rungs: inOrder([...own.rungs, ...freeRungs(belief, free)]), contradictions: own.contradictions };
}

/** The rails of the model's own profile, with what follows from what was found. */
function profileRungs(belief: Belief, readings: ReadonlyMap<number, Placed[]>): Ladder {
  const { history, posterior } = belief;
  const { space, seen } = history;
  const { board } = space.twin;
  const { rails } = board.profile;
  const needs = needsOf(board);
  const good = predictRails(space.twin, (h) => h === space.none)[space.none];
  const voltages = (rail: number, phase: ProbePhase): Placed[] =>
    (readings.get(rail) ?? []).filter(({ reading }) => reading.mode === 'voltage' && phaseOf(reading) === phase);
  const rungsBy = new Map(
    phases.map((phase) => {
      const found = rails.map((r, k) => {
        const last = voltages(k, phase).at(-1);
        return last ? findingOf(last.reading, r.nominalV) : null;
      });
      return [phase, { found, rungs: rungsOf(needs, found) }] as const;
    }),
  );
  const shorted = rails.map(() => 0);
  space.hypotheses.forEach((h, k) => {
    const rail = shortedRail(board, h.fault);
    if (rail >= 0) shorted[rail] += posterior[k] * stillThere(belief, k);
  });
  const rungs = rails.map((r, k): LadderRung => {
    const inMode = (mode: Reading['mode']): Placed[] =>
      (readings.get(k) ?? []).filter(({ reading }) => reading.mode === mode);
    const inPhase = (phase: ProbePhase): RungPhase => {
      const rung = rungsBy.get(phase)?.rungs[k];
      const from = rung?.from ?? null;
      return {
        expected: good?.[phase][k] === 'up',
        seen: rungReading(belief, voltages(k, phase), r.nominalV),
        implied: rung?.implied ?? null,
        from: from === null ? null : rails[from].name,
      };
    };
    const { id, name, state, circuit, nominalV, depth, capacitors, half } = r;
    return {
      ...{ id, name, state, circuit, nominalV, depth, capacitors, half },
      phases: { before: inPhase('before'), after: inPhase('after'), plugged: inPhase('plugged') },
      diode: rungReading(belief, inMode('diode'), r.nominalV),
      resistance: rungReading(belief, inMode('resistance'), r.nominalV),
      shorted: shorted[k],
      facts: injectionFacts(history, id, circuit),
    };
  });
  // Findings of two phases are held against one another too: a rail read before the press and one read after.
  const latest = rails.map((_, k) => readings.get(k)?.findLast(({ reading }) => reading.mode === 'voltage') ?? null);
  const contradictions = contradictionsOf(
    board,
    needs,
    latest.map((l, k) => (l ? findingOf(l.reading, rails[k].nominalV) : null)),
    latest.map((l) => (l ? phaseOf(l.reading) !== 'before' : null)),
    latest.map((l) => l?.reading.value ?? null),
    seen.some((s) => patternTypes[topPattern(s.patterns)].startsOver),
  );
  return { rungs, contradictions };
}

interface FreePoint {
  name: string;
  circuit: CircuitId | null;
  of: Placed[];
}

/** Points that somebody named, and those that every board of the class has. */
function freePoints(belief: Belief, placed: readonly Placed[], usual: readonly UsualPoint[]): FreePoint[] {
  const { history } = belief;
  const points: FreePoint[] = [];
  const add = (where: string, circuit: CircuitId | null, one: Placed | null): void => {
    const known = points.find((p) => p.circuit === circuit && samePlace(p.name, where));
    if (known && one) known.of.push(one);
    if (!known) points.push({ name: where, circuit, of: one ? [one] : [] });
  };
  for (const one of placed) add(one.reading.where, one.reading.circuit, one);
  // What was fed, and what is short by a check, stands on the ladder as well.
  for (const i of history.value.injections) if (!isProfileRail(belief, i.rail)) add(i.rail, i.circuit, null);
  for (const s of shortsOf(history)) if (!isProfileRail(belief, s.where)) add(s.where, s.circuit, null);
  const named = points.length;
  for (const p of usual)
    if (!points.slice(0, named).some((x) => x.circuit === p.circuit && samePlace(x.name, p.where)))
      add(p.where, p.circuit, null);
  return points;
}

/** Points without a place in a profile, with a rung each. */
function freeRungs(belief: Belief, placed: readonly Placed[], usual: readonly UsualPoint[] = []): LadderRung[] {
  return freePoints(belief, placed, usual).map((point) => freeRung(belief, point, usual));
}

function freeRung(belief: Belief, { name, circuit, of }: FreePoint, usual: readonly UsualPoint[]): LadderRung {
  const { history } = belief;
  const nominalV = of.map(({ reading }) => voltageNominal(reading, history)).find((v) => v !== null) ?? null;
  const readingsWhere = (test: (r: Reading) => boolean) =>
    rungReading(
      belief,
      of.filter(({ reading }) => test(reading)),
      nominalV,
    );
  const inPhase = (phase: ProbePhase): RungPhase => ({
    expected: true,
    seen: readingsWhere((r) => r.mode === 'voltage' && phaseOf(r) === phase),
    implied: null,
    from: null,
  });
  const state =
    of.find(({ reading }) => reading.state !== null)?.reading.state ??
    (usual.find((p) => p.where === name) ?? usual.find((p) => p.circuit === circuit))?.state ??
    '';
  return {
    id: name,
    name,
    state,
    circuit,
    nominalV,
    depth: depthOf.boardOut,
    capacitors: null,
    half: null,
    phases: { before: inPhase('before'), after: inPhase('after'), plugged: inPhase('plugged') },
    diode: readingsWhere((r) => r.mode === 'diode'),
    resistance: readingsWhere((r) => r.mode === 'resistance'),
    shorted: shortedAt(belief, name, circuit),
    facts: injectionFacts(history, name, circuit),
  };
}

/** What a point's voltage should be, V, by any reading of it. */
function voltageNominal(reading: Reading, { value }: History): number | null {
  const reference = reading.mode === 'voltage' ? reading.reference : null;
  return nominalOf({ ...reading, mode: 'voltage', reference }, value.device.expect);
}

/** Probability that a point outside a profile is shorted now; 0 where no short was measured there. */
function shortedAt(belief: Belief, name: string, circuit: CircuitId | null): number {
  const { history, posterior } = belief;
  const isShort = shortsOf(history).some(
    (s) => !s.isGone && s.circuit === circuit && (circuit === 'rail.main' || samePlace(s.where, name)),
  );
  if (!isShort) return 0;
  return history.space.hypotheses.reduce(
    (sum, h, k) =>
      h.circuit === circuit && h.target !== null && samePlace(h.target, name)
        ? sum + posterior[k] * stillThere(belief, k)
        : sum,
    0,
  );
}

function isProfileRail({ history: { space } }: Belief, where: string): boolean {
  return space.closeness === 'own' && elementNamed(space.twin.board.profile, where, atProbe) !== null;
}

const stateOrder = ['always', 'G3', 'standby', 'S5', 'S4', 'S3', 'boot', 'run', 'S0', ''];

/** By power state as it comes up, as they were listed within one. */
function inOrder(rungs: LadderRung[]): LadderRung[] {
  return [...rungs].sort((a, b) => stateOrder.indexOf(a.state) - stateOrder.indexOf(b.state));
}

/** Probability that the fault of a hypothesis is still in the device after everything that was done, 0 to 1. */
function stillThere({ chain }: Belief, hypothesis: number): number {
  return chain.states[stateIndex.same][hypothesis] + chain.states[stateIndex.altered][hypothesis];
}

/** The latest of the readings of one kind at a point, with what stood there before the change that it follows. */
function rungReading({ history }: Belief, of: readonly Placed[], nominalV: number | null): RungReading | null {
  const latest = of.at(-1);
  if (!latest) return null;
  const { reading, place } = latest;
  const epoch = history.epochOf(reading.after);
  const before = of.findLast((x) => history.epochOf(x.reading.after) < epoch)?.reading;
  const { mode, value, ol, reference, redProbe } = reading;
  const against =
    reference === null
      ? null
      : compareReading({ mode, value, ol, redProbe }, { mode, value: reference, ol: false, redProbe });
  const isOld = epoch < history.value.actions.length;
  return {
    reading: place,
    finding: nominalV === null ? plainFinding(reading) : findingOf(reading, nominalV),
    ...measuredOf(reading),
    against,
    isShort: readsShort(history, reading) === true,
    isOld,
    was: before ? measuredOf(before) : null,
  };
}

/** Where nobody knows what should stand there, only nothing and something can be told apart. */
function plainFinding({ mode, value, swing, says }: Reading): RailFinding | null {
  if (mode === 'voltage' && says === 'ok') return 'present';
  if (mode !== 'voltage' || value === null) return null;
  if (swing) return 'swinging';
  if (value < policy.nothingV) return 'missing';
  return value > policy.somethingV ? 'present' : null;
}
