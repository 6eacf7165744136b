import { type ActionKind, actionsThat } from '../catalogue/index.ts';
import { targetOf, type Fault } from '../twin/index.ts';
import type { DeviceTwin } from './device-twin.ts';
import settings from './fit.json';
import { trialsOf } from './outcomes.ts';
import { movedBetween, type Moved, type Trial } from './trial.ts';

/** Kinds of work that take an element, and what it feeds, off the board. */
export const takesAway: readonly ActionKind[] = actionsThat('takesAway');

/**
 * What working on an element does to the reading of a unit, looked at on the supply and on the charger: recovery on either
 * counts, else the first that moved.
 *
 * @param id id of an element of the profile
 * @param left faults that the unit still has after the work
 */
function movedByWork(trial: Trial, kind: ActionKind, id: string, left: readonly Fault[]): Moved | null {
  const target = targetOf(trial.board.profile, id);
  const off = takesAway.includes(kind) && target?.element !== 'rail' ? { unplugged: [id] } : {};
  // A unit with nothing left is the same whatever it had: it is started once for all hypotheses.
  const [after, still] = left.length === 0 ? [trial.healthyTwin(), undefined] : [trial, left];
  const moved = [
    [trial.bench({}), after.bench(off, still)],
    [trial.outside({}), after.outside(off, still)],
  ].flatMap(([before, after]) => (before && after ? [movedBetween(before, after)] : []));
  return moved.find((m) => m === 'recovers') ?? moved.find((m) => m !== 'same') ?? moved[0] ?? null;
}

/** How a reading moves with the work done, and with it failed; null where the twin cannot tell. */
export interface PredictedMoves {
  cured: Moved;
  not: Moved;
}

/**
 * What every hypothesis expects of the next runs if an element is worked on now.
 *
 * @param id id of an element of the profile
 * @param wanted hypotheses that are asked about; each costs some start-ups
 * @throws {RangeError} for an id that the profile does not have
 */
export function predictedMoves(
  twin: DeviceTwin,
  kind: ActionKind,
  id: string,
  wanted: (hypothesis: number) => boolean,
): (PredictedMoves | null)[] {
  if (!targetOf(twin.board.profile, id))
    throw new RangeError(`"${id}" is not an element of the profile ${twin.board.profile.id}`);
  return trialsOf(twin).map((trial, k) => {
    if (!trial || !wanted(k)) return null;
    const left = trial.faults.filter((f) => f.at !== id);
    const cured = movedByWork(trial, kind, id, left);
    const not = left.length === trial.faults.length ? cured : movedByWork(trial, kind, id, trial.faults);
    return cured === null || not === null ? null : { cured, not };
  });
}

/**
 * How surely the twin is believed where it has an opinion: as the profile is that of the device, and as such an outcome comes.
 *
 * @returns 0 to 1
 */
export function twinTrust({ closeness, trust }: { closeness: DeviceTwin['closeness']; trust: number }): number {
  return settings.outcomeTrust[closeness] * (closeness === 'own' ? trust : 1);
}
