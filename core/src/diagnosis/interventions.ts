import type { Action, Case, Run } from '../case/index.ts';
import { elementNamed, type Fault, type FaultTarget, type TwinSetup } from '../twin/index.ts';
import effects from './data/effects.json';
import settings from './data/fit.json';
import type { DeviceTwin } from './device-twin.ts';
import type { PerCircuit } from './model.ts';
import { movedBetween, type Moved } from './predict-checks.ts';
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
  const { cures } = effects.kinds[action.kind];
  const trust = settings.outcomeTrust.own;
  const trials = trialsOf(twin);
  return twin.hypotheses.map((h, k) => {
    const trial = trials[k];
    if (!trial) return usual[h.index];
    const at = (change: Partial<TwinSetup>, faults?: readonly Fault[]) =>
      run.feed === 'usb-c' ? trial.outside(change, faults) : trial.bench(change, faults);
    const before = at({});
    const off = takesAway(action) && element.element !== 'rail' ? { unplugged: [element.id] } : {};
    const left = trial.faults.filter((f) => f.at !== element.id);
    const [cured, not] = [at(off, left), at(off)];
    if (!before || !cured || !not) return usual[h.index];
    const told =
      (moved === movedBetween(before, cured) ? cures : 0) + (moved === movedBetween(before, not) ? 1 - cures : 0);
    return (1 - trust) * usual[h.index] + trust * told;
  });
}
