import { namedChecks, actionTypes, withArticle, type ActionKind, type CircuitId } from '../catalogue/index.ts';
import { sayStep } from './change-candidates.ts';
import type { Action } from '../case/index.ts';
import { isSamePart, likelySamePlace, suggestedCircuits } from '../hypotheses/index.ts';
import heat from './heat.json';
import { stepObject, type Candidate, type History } from './kind.ts';
import { movedQuestion } from './moved.ts';
import { partStates, partsAway } from './part-states.ts';
import { groundQuestion } from './ground-question.ts';
import rules from './readings.json';
import { shortsOf } from './shorts.ts';
import { runShowsLife, showsItWorks } from './works.ts';

/** A place where damage was seen, in the words of whoever saw it. */
interface DamagedPlace {
  where: string;
  circuit: CircuitId | null;
  outcome: string;
  /** What was found there can be unplugged. */
  isSeparable: boolean;
}

const damage = ['residue', 'corrosion', 'burnt', 'cracked'];
const separable: readonly CircuitId[] = ['periph.board', 'display', 'battery.pack', 'button'];

/** Places where damage was seen and nothing was done about it yet: not measured, cleaned, taken off or unplugged. */
export function damagedPlaces({ value }: Pick<History, 'value'>): DamagedPlace[] {
  return value.checks.flatMap((c): DamagedPlace[] => {
    if (c.id !== namedChecks.look || !damage.includes(c.outcome ?? '') || (c.where === '' && c.circuit === null))
      return [];
    const is = (where: string): boolean => where !== '' && likelySamePlace(where, c.where);
    const isDone =
      value.actions.some(
        (a) => is(a.target) || (a.circuit !== null && a.circuit === c.circuit) || isSamePart(a.target, c.where),
      ) || value.runs.some((r) => r.setup.unplugged.some((u) => isSamePart(u, c.where)));
    if (isDone) return [];
    const named = c.circuit === null ? [...suggestedCircuits(c.where)].sort((x, y) => y[1] - x[1])[0]?.[0] : c.circuit;
    return [
      {
        where: c.where,
        circuit: c.circuit,
        outcome: c.outcome ?? '',
        isSeparable: named !== undefined && separable.includes(named),
      },
    ];
  });
}

/** Work at a place; none where nobody said which, and its circuit is not known either. */
function placeAction(
  history: History,
  kind: ActionKind,
  at: { where: string; circuit: CircuitId | null; minutes: number; depth: number; verb?: string },
): Candidate[] {
  const object = stepObject(at.where, at.circuit);
  if (object === null) return [];
  return [
    {
      id: `place:${kind}:${at.where}`,
      kind: 'action',
      check: null,
      action: { kind, circuit: at.circuit, target: at.where, object },
      where: at.where,
      mode: null,
      circuit: at.circuit,
      minutes: at.minutes,
      depth: at.depth,
      question: movedQuestion(history.space, history.value.actions.length + 1),
      name: at.verb ? `${at.verb} ${withArticle(object)}` : sayStep(kind, object),
    },
  ];
}

/**
 * Work at a place or a part, whether or not anybody knows its circuit: what warmed on a short is taken off, what looks damaged is
 * measured and cleaned, what was taken off gets a new part, and what was unplugged or lifted is put back.
 */
export function placeCandidates(history: History): Candidate[] {
  const { value } = history;
  const parts = partStates(value.actions);
  const isOff = (name: string): boolean => parts.some((p) => p.is === 'off' && isSamePart(p.name, name));
  const shorts = shortsOf(history).filter((s) => !s.isGone);
  const warm = shorts.flatMap((s): Candidate[] => {
    if (s.hot === null || isOff(s.hot)) return [];
    const circuit = s.hotCircuit ?? s.circuit;
    return placeAction(history, 'remove', { where: s.hot, circuit, minutes: heat.minutes.takeOff, depth: heat.depth });
  });
  const damaged = damagedPlaces(history).flatMap((d): Candidate[] => {
    const isMeasured = value.readings.some((r) => likelySamePlace(r.where, d.where));
    const point = { where: d.where, circuit: d.circuit };
    const measure: Candidate = {
      id: `ground:damage:${d.where}`,
      kind: 'reading',
      check: null,
      action: null,
      where: d.where,
      mode: 'resistance',
      circuit: d.circuit,
      minutes: rules.minutes.resistance,
      depth: rules.depth,
      question: groundQuestion(history, point),
      name: `Measure ${withArticle(d.where || 'damaged place')} to ground`,
    };
    const clean = placeAction(history, 'clean', {
      ...point,
      minutes: heat.minutes.clean,
      depth: d.isSeparable ? 2 : rules.depth,
    });
    const isDirty = d.outcome === 'residue' || d.outcome === 'corrosion';
    const isJoint = d.circuit === 'joint.stack' || suggestedCircuits(d.where).has('joint.stack');
    const renew = placeAction(history, isJoint ? 'reflow' : 'replace', {
      ...point,
      minutes: heat.minutes.fit,
      depth: isJoint ? rules.jointDepth : heat.depth,
    });
    return [
      ...(isMeasured || d.isSeparable || isJoint ? [] : [measure]),
      ...(isDirty ? clean : []),
      ...(d.outcome === 'cracked' && (isMeasured || isJoint) ? renew : []),
    ];
  });
  return [...awayCandidates(history), ...warm, ...damaged];
}

/** Whether the device came to life when something was unplugged: then it is what has to be replaced. */
function isCulprit({ value, seen, epochOf }: History, action: Action): boolean {
  const epoch = value.actions.indexOf(action) + 1;
  const since = value.actions.slice(epoch);
  return (
    since.every((a) => !actionTypes[a.kind].isRepair) &&
    (seen.some((s) => epochOf(s.run.after) === epoch && runShowsLife(s)) ||
      value.checks.some((c) => epochOf(c.after) === epoch && showsItWorks(c)))
  );
}

/** A new part where one was taken off, and what was lifted or unplugged put back; while a short stands, nothing goes back. */
function awayCandidates(history: History): Candidate[] {
  const { value } = history;
  const shorts = shortsOf(history);
  if (shorts.some((s) => !s.isGone)) return [];
  return partsAway(history).flatMap((part): Candidate[] => {
    if (part.is === 'off' && part.stays) return [];
    // What was unplugged to be tried goes back once something was done to it, or to what it was unplugged for.
    const freed = part.is === 'unplugged' && isCulprit(history, part.action);
    if (freed)
      return placeAction(history, 'replace', {
        where: part.name,
        circuit: part.circuit,
        minutes: heat.minutes.fit,
        depth: 2,
      });
    const since = value.actions.slice(value.actions.indexOf(part.action) + 1);
    const isDue = since.some((a) => actionTypes[a.kind].isRepair) || shorts.length > 0;
    if (part.is !== 'off' && !isDue) return [];
    if (part.circuit === 'battery.pack' && value.intake.batterySwollen) return [];
    const kind = part.is === 'off' ? 'replace' : part.is === 'lifted' ? 'refit' : 'reconnect';
    return placeAction(history, kind, {
      where: part.name,
      circuit: part.circuit,
      minutes: part.is === 'unplugged' ? heat.minutes.plugIn : heat.minutes.fit,
      depth: part.is === 'unplugged' ? 2 : heat.depth,
      ...(part.is === 'off' ? { verb: 'Fit a new part for' } : {}),
    });
  });
}
