import { actionTypes, namedChecks, withArticle, type CircuitId } from '../catalogue/index.ts';
import type { RailState, Reading, ReadingMode } from '../case/index.ts';
import { samePlace } from '../hypotheses/index.ts';
import { atProbe, elementNamed } from '../twin/index.ts';
import { predictRails, type ProbePhase } from '../prediction/index.ts';
import type { Candidate, History } from './kind.ts';
import points from './points.json';
import { groundQuestion } from './ground-question.ts';
import { phaseOf, voltageQuestion } from './voltage-question.ts';
import { senseOf } from './reading-sense.ts';
import rules from './readings.json';

/** A point that every board of a class has. */
export interface UsualPoint {
  where: string;
  circuit: CircuitId;
  state: RailState | null;
  mode: ReadingMode;
  feeds?: string[];
  classes: string[] | null;
}

/** Everything that can be measured and was not yet, in this state of the device. */
export function probeCandidates(history: History): Candidate[] {
  return history.space.closeness === 'own' ? railCandidates(history) : pointCandidates(history);
}

/** Readings that still say how the device is: those since the last change that was more than taking it apart or together. */
function measured({ value, epochOf }: History): Reading[] {
  const since = value.actions.findLastIndex((a) => actionTypes[a.kind].isAssembly !== true) + 1;
  return value.readings.filter((r) => epochOf(r.after) >= since);
}

/** Points that boards of the device's class have, as far as its feeds go. */
export function usualPoints({ value }: Pick<History, 'value'>): UsualPoint[] {
  return (points.points as UsualPoint[]).filter(
    (p) =>
      (p.classes === null || p.classes.includes(value.device.class)) &&
      (!p.feeds || value.runs.some((r) => p.feeds?.includes(r.feed))),
  );
}

/** Points that every board of the class has, and what the readings so far ask for. */
function pointCandidates(history: History): Candidate[] {
  const { value } = history;
  const done = measured(history);
  const stands = (r: Reading): boolean => {
    const sense = senseOf(r, value.device.expect);
    return sense.of === 'voltage' && sense.word === 'present';
  };
  const isDone = (p: UsualPoint): boolean =>
    done.some(
      (r) =>
        r.circuit === p.circuit &&
        (r.mode === 'voltage') === (p.mode === 'voltage') &&
        // "A standby rail" is any of them: one that stands answers it.
        (isSingle(p.circuit) || samePlace(r.where, p.where) || stands(r)),
    ) ||
    (p.circuit === 'rail.main' &&
      p.mode !== 'voltage' &&
      value.checks.some((c) => c.id === namedChecks.mainRail && c.outcome !== null));
  const usual = usualPoints(history).filter((p) => !isDone(p));
  return [...followUps(history, done), ...usual].map((p) => pointCandidate(history, p));
}

const isSingle = (circuit: CircuitId): boolean => circuit === 'rail.main';

/** A rail that is missing or swings is measured to ground next, and so is every other output of what makes it. */
function followUps(history: History, done: readonly Reading[]): UsualPoint[] {
  const grounded = (where: string, circuit: CircuitId | null): boolean =>
    done.some((r) => r.mode !== 'voltage' && !r.across && r.circuit === circuit && samePlace(r.where, where));
  const out: UsualPoint[] = [];
  for (const reading of done) {
    const sense = senseOf(reading, history.value.device.expect);
    if (sense.of !== 'voltage' || sense.word === 'present' || sense.word === 'high' || reading.circuit === null)
      continue;
    const { where, circuit, state } = reading;
    const add = (at: string): void => {
      if (!grounded(at, circuit) && !out.some((p) => p.where === at))
        out.push({ where: at, circuit, state, mode: 'resistance', classes: null });
    };
    add(where);
    if (sense.word === 'swings') add('every other output of the same converter');
  }
  return out;
}

/** What is measured and where, as a heading: "Measure the main system rail to ground". */
function sayProbe(mode: ReadingMode, where: string): string {
  const place = withArticle(where);
  if (mode === 'voltage') return `Measure the voltage at ${place}`;
  return mode === 'diode' ? `Read ${place} in diode mode` : `Measure ${place} to ground`;
}

function pointCandidate(history: History, p: UsualPoint): Candidate {
  const at = { where: p.where, circuit: p.circuit, state: p.state, phase: 'after' as const };
  return {
    id: `${p.mode === 'voltage' ? 'voltage' : 'ground'}:${p.circuit}:${p.where}`,
    kind: 'reading',
    check: null,
    action: null,
    where: p.where,
    mode: p.mode,
    circuit: p.circuit,
    minutes: rules.minutes[p.mode],
    depth: rules.depth,
    question: p.mode === 'voltage' ? voltageQuestion(history, at) : groundQuestion(history, at),
    name: sayProbe(p.mode, p.where),
  };
}

/** A device that has no other feed than the one on the bench is not plugged in for its own sake. */
function phasesOf({ space }: History): ProbePhase[] {
  const { profile } = space.twin.board;
  const hasTwoFeeds = profile.battery !== null && (profile.ports.length > 0 || profile.dcIn !== null);
  return hasTwoFeeds ? ['after', 'before', 'plugged'] : ['after', 'before'];
}

/** Every rail of the model's own profile: its voltage in every phase in which a good unit has it, and to ground. */
function railCandidates(history: History): Candidate[] {
  const { space } = history;
  const { profile } = space.twin.board;
  const done = measured(history).flatMap((r) => {
    const found = elementNamed(profile, r.where, atProbe);
    return found?.element === 'rail'
      ? [`${r.mode === 'voltage' ? `voltage:${found.id}:${phaseOf(r)}` : `ground:${found.id}`}`]
      : [];
  });
  const good = predictRails(space.twin, (h) => h === space.none)[space.none];
  return profile.rails.flatMap((rail, k): Candidate[] => {
    const common = {
      kind: 'reading' as const,
      check: null,
      action: null,
      where: rail.id,
      circuit: rail.circuit,
      depth: Math.max(rules.depth, rail.depth),
      at: [rail.id],
    };
    const volts = phasesOf(history)
      .filter((phase) => good?.[phase][k] === 'up')
      .map((phase): Candidate => ({
        ...common,
        id: `voltage:${rail.id}:${phase}`,
        mode: 'voltage',
        phase,
        minutes: rules.minutes.voltage,
        question: voltageQuestion(history, { where: rail.id, circuit: common.circuit, state: null, phase }),
        name: `Measure ${rail.name}`,
      }));
    const ground: Candidate = {
      ...common,
      id: `ground:${rail.id}`,
      mode: 'resistance',
      phase: null,
      minutes: rules.minutes.resistance,
      question: groundQuestion(history, { where: rail.id, circuit: common.circuit }),
      name: `Measure ${rail.name} to ground`,
    };
    return [...volts, ground].filter((c) => !done.includes(c.id));
  });
}
