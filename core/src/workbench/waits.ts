import { type ActionKind, type WaitKind } from '../catalogue/index.ts';
import settings from './waits.json';

const minutesPerDay = 1440;

/** A wait that is over, as far as it tells how long such a wait takes. */
export interface PastWait {
  kind: WaitKind;
  /** Minutes from its start until it was ended by hand. */
  minutes: number;
}

/**
 * How long a wait of a kind takes here: the usual of the policy, moved by the shop's own past. Waits are long by factors
 * rather than by minutes, so the mean is that of the logarithms, with the policy's figure counting as a few waits (a normal
 * prior with known variance ratio; Gelman et al., Bayesian Data Analysis, 2.5).
 *
 * @param usual minutes of the policy; those that ship where left out
 * @returns minutes
 */
export function usualWait(
  kind: WaitKind,
  past: readonly PastWait[] = [],
  usual: Partial<Record<WaitKind, number>> = {},
): number {
  const prior = usual[kind] ?? settings.usualMinutes[kind];
  const own = past.filter((p) => p.kind === kind && p.minutes >= settings.minMinutes);
  if (own.length === 0) return prior;
  const sum = own.reduce(
    (s, p) => s + Math.log(Math.min(p.minutes, settings.maxMinutes)),
    settings.worth * Math.log(prior),
  );
  return Math.round(Math.exp(sum / (own.length + settings.worth)));
}

/** The wait that a change to a device usually begins: cleaned boards dry, heated ones cool; null for none. */
export function waitAfter(kind: ActionKind): WaitKind | null {
  return ((settings.after as Partial<Record<ActionKind, string>>)[kind] as WaitKind | undefined) ?? null;
}

/** Minutes that a wait may take at most. */
export const longestWaitMinutes = settings.maxMinutes;

/**
 * What is wrong with a wait, in a sentence; null where nothing is.
 *
 * @param now the clock of the server
 */
export function waitProblem(minutes: number | null, until: Date | null, now: Date): string | null {
  if (minutes !== null && !(minutes >= settings.minMinutes && minutes <= settings.maxMinutes))
    return `How long: expected 1 minute to ${settings.maxMinutes / minutesPerDay} days.`;
  if (until !== null && until <= now) return 'Until: that moment has passed; a wait ends in the future.';
  return null;
}
