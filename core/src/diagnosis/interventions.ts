import type { Action, ActionKind, Case, Run } from '../case/index.ts';
import { elementNamed, targetOf, type Fault, type FaultTarget, type TwinSetup } from '../twin/index.ts';
import effects from './data/effects.json';
import settings from './data/fit.json';
import type { DeviceTwin } from './device-twin.ts';
import type { PerCircuit } from './model.ts';
import { movedBetween, type Moved, type Trial } from './predict-checks.ts';
import { trialsOf } from './twin-checks.ts';

type Element = FaultTarget & { id: string };

const takesAway = (action: Action): boolean => effects.takesAway.includes(action.kind);

/** The element of the model's own profile that an action was done to; null where the profile has none of that name. */
export function elementOf(twin: DeviceTwin, action: Action): Element | null {
  return twin.closeness === 'own' ? elementNamed(twin.board.profile, action.target) : null;
}

/** What is off the board in a run because the action before it took it off: ids of the profile. */
export function takenOff(value: Case, twin: DeviceTwin, run: Run): string[] {
  const action = value.actions.find((a) => a.id === run.after);
  const element = action && takesAway(action) ? elementOf(twin, action) : null;
  return element && element.element !== 'rail' ? [element.id] : [];
}

/**
 * Likelihood of what an action did to the reading for every hypothesis: the twin is started with the fault, before and
 * after the element was worked on. Lifting a part takes what it feeds along; a part that is replaced takes its own fault
 * along, if the work succeeds. Null where the profile has no such element.
 *
 * @param usual likelihood by circuit from the tables
 */
export function movedLikelihood(
  twin: DeviceTwin,
  action: Action,
  run: Run,
  moved: Moved,
  usual: PerCircuit,
): number[] | null {
  const element = elementOf(twin, action);
  if (!element) return null;
  const { outcomeTrust } = settings;
  return twin.hypotheses.map((h, k) => {
    const told = toldMoves(twin, k, action.kind, element, run.feed === 'usb-c');
    if (!told) return usual[h.index];
    return (1 - outcomeTrust.own) * usual[h.index] + outcomeTrust.own * told[moved];
  });
}

/** Probability of every way in which a reading can move, as the twin expects it of one hypothesis; null where it cannot. */
function toldMoves(
  twin: DeviceTwin,
  hypothesis: number,
  kind: ActionKind,
  element: Element,
  onPort: boolean,
): Record<Moved, number> | null {
  const trial = trialsOf(twin)[hypothesis];
  if (!trial) return null;
  const { cures } = effects.kinds[kind];
  const at = (change: Partial<TwinSetup>, faults?: readonly Fault[]) =>
    onPort ? trial.outside(change, faults) : trial.bench(change, faults);
  const before = at({});
  const off = effects.takesAway.includes(kind) && element.element !== 'rail' ? { unplugged: [element.id] } : {};
  const left = trial.faults.filter((f) => f.at !== element.id);
  const [cured, not] = [at(off, left), at(off)];
  if (!before || !cured || !not) return null;
  const told: Record<Moved, number> = { recovers: 0, falls: 0, rises: 0, same: 0 };
  told[movedBetween(before, cured)] += cures;
  told[movedBetween(before, not)] += 1 - cures;
  return told;
}

/**
 * What working on an element does to the reading of a unit, looked at on the supply and on the charger: recovery on either
 * counts, else the first that moved.
 *
 * @param id id of an element of the profile
 * @param left faults that the unit still has after the work
 */
export function movedByWork(trial: Trial, kind: ActionKind, id: string, left: readonly Fault[]): Moved | null {
  const target = targetOf(trial.board.profile, id);
  const off = effects.takesAway.includes(kind) && target?.element !== 'rail' ? { unplugged: [id] } : {};
  // A unit with nothing left is the same whatever it had: it is started once for all hypotheses.
  const [after, still] = left.length === 0 ? [trial.healthyTwin(), undefined] : [trial, left];
  const moved = [
    [trial.bench({}), after.bench(off, still)],
    [trial.outside({}), after.outside(off, still)],
  ].flatMap(([before, after]) => (before && after ? [movedBetween(before, after)] : []));
  return moved.find((m) => m === 'recovers') ?? moved.find((m) => m !== 'same') ?? moved[0] ?? null;
}

/**
 * What every hypothesis expects of the next runs if an element is worked on now: probability of each way in which the
 * reading can move. Null by hypothesis where the twin cannot tell.
 *
 * @param id id of an element of the profile
 * @param wanted hypotheses that are asked about
 * @throws {RangeError} for an id that the profile does not have
 */
export function movedLikelihoods(
  twin: DeviceTwin,
  kind: ActionKind,
  id: string,
  wanted: (hypothesis: number) => boolean,
): (Record<Moved, number> | null)[] {
  if (!targetOf(twin.board.profile, id))
    throw new RangeError(`"${id}" is not an element of the profile ${twin.board.profile.id}`);
  const { cures } = effects.kinds[kind];
  const trust = settings.outcomeTrust[twin.closeness];
  return trialsOf(twin).map((trial, k) => {
    if (!trial || !wanted(k)) return null;
    const cured = movedByWork(
      trial,
      kind,
      id,
      trial.faults.filter((f) => f.at !== id),
    );
    const not = movedByWork(trial, kind, id, trial.faults);
    if (cured === null || not === null) return null;
    const any = (1 - trust) / 4;
    const told: Record<Moved, number> = { recovers: any, falls: any, rises: any, same: any };
    told[cured] += trust * cures;
    told[not] += trust * (1 - cures);
    return told;
  });
}
