import { priorOfHypotheses } from '../hypotheses/index.ts';
import { logSumExp, type PerCircuit, type PerHypothesis } from '../inference/index.ts';
import { deviceTwinOf, runFit, takesAway, type RunFit } from '../prediction/index.ts';
import { elementsNamed } from '../twin/index.ts';
import type { Case } from '../case/index.ts';
import type { History } from './kind.ts';
import type { SeenRun } from './observed-run.ts';

type Needed = Pick<History, 'value' | 'seen' | 'space' | 'over' | 'epochOf'>;

/** Ids of what is off the board in a state of the device, by what was done up to it. */
function offTheBoard({ value, space }: Needed, epoch: number): string[] {
  const undone = new Set(value.actions.slice(0, epoch).flatMap((a) => (a.undoes === null ? [] : [a.undoes])));
  return value.actions.slice(0, epoch).flatMap((a) => {
    if (!takesAway.includes(a.kind) || undone.has(a.id)) return [];
    return elementsNamed(space.twin.board.profile, a.target)
      .filter((e) => e.element !== 'rail')
      .map((e) => e.id);
  });
}

const fits = new WeakMap<SeenRun, RunFit | null>();

/** How well the model's own profile explains a run; null without one, or where it cannot stand in the setup. */
export function fitOfRun(history: Needed, seen: SeenRun): RunFit | null {
  if (history.space.closeness !== 'own') return null;
  const known = fits.get(seen);
  if (known !== undefined) return known;
  const { value, space, over, epochOf } = history;
  const observed = { features: seen.shape.features, patterns: seen.patterns };
  const off = offTheBoard(history, epochOf(seen.run.after));
  const fit = runFit(value, seen.run, seen.shape, observed, space.twin, over.prior, off);
  fits.set(seen, fit);
  return fit;
}

/**
 * How surely a profile is that of the device in hand, once its runs were seen: the profile and the usual board of its class are two
 * models, and each is as likely as it explains all runs that were made before any change, with one fault for all of them.
 *
 * @param stated the case with what was stated of the device, and nothing that its profile says
 * @param prior by circuit, before anything was seen
 * @returns 0 to 1; 0 for a model without a profile of its own
 */
export function profileTrust(history: Needed, stated: Case, prior: PerCircuit): number {
  const { space, over, epochOf } = history;
  if (space.closeness !== 'own') return 0;
  const twin = deviceTwinOf({ ...stated.device, profile: null }, stated.runs);
  const usual = priorOfHypotheses(prior, twin.hypotheses);
  const both = history.seen.flatMap((seen) => {
    if (epochOf(seen.run.after) > 0) return [];
    const own = fitOfRun(history, seen);
    const { run, shape, patterns } = seen;
    const usualFit = runFit(stated, run, shape, { features: shape.features, patterns }, twin, usual, []);
    if (!own || !usualFit) return [];
    const most = Math.max(own.weight, usualFit.weight);
    return [{ own: own.against(most), usual: usualFit.against(most) }];
  });
  if (both.length === 0) return space.trust;
  const explained = (prior: PerHypothesis, logs: (number | null)[][]): number => {
    const known = prior.flatMap((_, h) => (logs.every((of) => of[h] !== null) ? [h] : []));
    return (
      logSumExp(known.map((h) => Math.log(prior[h]) + logs.reduce((sum, of) => sum + (of[h] ?? 0), 0))) -
      Math.log(known.reduce((sum, h) => sum + prior[h], 0))
    );
  };
  const factor =
    explained(
      over.prior,
      both.map((b) => b.own),
    ) -
    explained(
      usual,
      both.map((b) => b.usual),
    );
  const odds = (space.trust / (1 - space.trust)) * Math.exp(factor);
  return odds / (1 + odds);
}
