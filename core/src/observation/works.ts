import { patternTypes } from '../catalogue/index.ts';
import type { Check } from '../case/index.ts';
import type { History } from './kind.ts';
import { topPattern } from '../shape/index.ts';
import { isHealthy, type SeenRun } from './observed-run.ts';
import { partStates } from './part-states.ts';
import rules from './works.json';

/**
 * Whether a check shows what a device that does not work cannot show: a picture, a charge, a computer that sees it.
 *
 * @param check with its outcome
 */
export function showsItWorks({
  id,
  outcome,
  half,
  unplugged,
}: Pick<Check, 'id' | 'outcome' | 'half' | 'unplugged'>): boolean {
  const words = (rules.shows as Partial<Record<string, string[]>>)[id];
  return half === null && unplugged.length === 0 && outcome !== null && (words?.includes(outcome) ?? false);
}

/** The same of one half alone: it lives, and that is no cure of the whole. */
export function showsHalfAlive(check: Check): boolean {
  return check.half !== null && showsItWorks({ ...check, half: null });
}

/** Whether a run shows a device that lives: a rest before any press shows none. */
export function runShowsLife({ run, patterns }: Pick<SeenRun, 'run' | 'patterns'>): boolean {
  return (
    isHealthy({ patterns }) &&
    patternTypes[topPattern(patterns)].healthyWhen !== 'rest' &&
    run.setup.assembly !== 'half'
  );
}

type Standing = Pick<History, 'value' | 'seen' | 'epochOf'>;

/**
 * Whether the device was seen to work in its present state, in what is complained of: "it works" is never said of one that was
 * only mended.
 */
export function wasSeenWorking({ value, seen, epochOf }: Standing): boolean {
  const now = value.actions.length;
  const asksCharge = value.complaintKind !== null && rules.asksCharge.includes(value.complaintKind);
  const runs = seen.filter((s) => epochOf(s.run.after) === now && runShowsLife(s));
  const checks = value.checks.filter((c) => epochOf(c.after) === now && showsItWorks(c));
  if (value.proofs.some((p) => epochOf(p.after) === now && p.result === 'pass')) return true;
  if (!asksCharge) return runs.length > 0 || checks.length > 0;
  const { checks: words, patterns } = rules.showsCharge;
  return (
    runs.some((s) => patterns.includes(topPattern(s.patterns))) ||
    checks.some((c) => (words as Partial<Record<string, string[]>>)[c.id]?.includes(c.outcome ?? '') ?? false)
  );
}

/**
 * Whether the device was switched on since the last change: a run of it, or a check that only a device with power can answer.
 * What a meter says of a board without power is no trial.
 */
export function wasTried({ value, seen, epochOf }: Standing): boolean {
  const now = value.actions.length;
  const isNow = ({ after }: { after: string | null }): boolean => epochOf(after) === now;
  return seen.some((s) => isNow(s.run)) || value.checks.some((c) => c.id in rules.shows && isNow(c));
}

/**
 * How surely the device can work at most, where nobody has seen it work since the last change: with a part off the board or its
 * halves apart hardly, after a repair about as often as such repairs succeed. 1 where it was seen to work.
 */
export function worksAtMost(history: Standing): number {
  const { value } = history;
  if (value.actions.length === 0 || wasSeenWorking(history)) return 1;
  const away = partStates(value.actions).some((p) => (p.is === 'off' && !p.stays) || p.is === 'lifted');
  return away ? rules.notSeen.partOff : rules.notSeen.mended;
}
