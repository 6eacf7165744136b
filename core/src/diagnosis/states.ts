import { plainAction, type Action, type Case, type Run } from '../case/index.ts';
import {
  isHealthy,
  placeBefore,
  runShowsLife,
  sameSetup,
  senseOf,
  showsItFails,
  showsItWorks,
  type SeenRun,
} from '../observation/index.ts';

/** A case whose history is divided wherever the device changed, also where it changed by itself. */
interface DividedCase {
  value: Case;
  seen: SeenRun[];
}

/**
 * Divides a history where the device changed by itself: a healthy start, a charge, a picture or a free rail with no change in
 * between, where the same was seen to fail before, begins a new state; and what fails again in the same setup returns to the
 * old one. A pseudo-change stands between the states, so that everything that holds of a change holds of these too.
 *
 * @param value as it was entered
 * @param seen its runs as they were recognised, in the order of the case
 */
export function divideStates(value: Case, seen: readonly SeenRun[]): DividedCase {
  const epochs: (string | null)[] = [null, ...value.actions.map((a) => a.id)];
  const actions: Action[] = [];
  /** New `after` of what belongs to a later part of a state, by object. */
  const moved = new Map<object, string>();
  epochs.forEach((after, k) => {
    if (k > 0) actions.push(value.actions[k - 1]);
    const parts = partsOf(value, seen, after);
    parts.forEach((part, n) => {
      const id = `${after ?? 'start'}~${n + 1}`;
      actions.push({ ...plainAction, id, kind: 'other', byItself: true });
      for (const one of part) moved.set(one, id);
    });
  });
  if (moved.size === 0) return { value, seen: [...seen] };
  const placed = <T extends { after: string | null }>(list: readonly T[]): T[] =>
    list.map((one) => (moved.has(one) ? { ...one, after: moved.get(one) ?? null } : one));
  const runs = placed(value.runs);
  const byId = new Map(runs.map((r) => [r.id, r]));
  return {
    value: {
      ...value,
      runs,
      checks: placed(value.checks),
      readings: placed(value.readings),
      injections: placed(value.injections),
      proofs: placed(value.proofs),
      actions,
    },
    seen: seen.map((s) => ({ ...s, run: byId.get(s.run.id) ?? s.run })),
  };
}

/** What belongs to each state of the device after its first, all of them after one change: objects of the case. */
function partsOf(value: Case, seen: readonly SeenRun[], after: string | null): object[][] {
  const runs = seen.filter((s) => s.run.after === after);
  const flips = runFlips(runs);
  const readings = value.readings.filter((r) => r.after === after);
  const freed = freedAt(value, readings);
  const checks = value.checks.filter((c) => c.after === after);
  const worked = checks.findIndex(
    (c, k) => showsItWorks(c) && checks.slice(0, k).some((b) => b.id === c.id && showsItFails(b) && b.half === c.half),
  );
  const isFlipped = flips.length > 0 || freed >= 0 || worked >= 0;
  if (!isFlipped) return [];
  const parts: object[][] = Array.from({ length: Math.max(flips.length, 1) }, () => []);
  runs.forEach((s, k) => {
    const part = flips.filter((at) => at <= k).length;
    if (part > 0) parts[part - 1].push(s.run);
    // Without a run that failed before, one that works belongs to the state in which it works.
    else if (flips.length === 0 && runShowsLife(s) && runs.slice(0, k).every((b) => !runShowsLife(b)))
      parts[0].push(s.run);
  });
  const last = parts[flips.length % 2 === 0 && flips.length > 0 ? flips.length - 2 : parts.length - 1] ?? parts[0];
  if (freed >= 0) parts[0].push(...readings.slice(freed));
  checks.forEach((c, k) => {
    if (showsItWorks(c) || (worked >= 0 && k >= worked)) last.push(c);
  });
  return parts;
}

/** Indices of runs from which the device is another than before: it works where it failed, or fails where it worked. */
function runFlips(runs: readonly SeenRun[]): number[] {
  const flips: number[] = [];
  let works: boolean | null = null;
  runs.forEach((one, k) => {
    const before = isHandledDuring(one) ? undefined : runs.slice(0, k).findLast((b) => isSameTrial(b.run, one.run));
    const [now, was] = [isHealthy(one), before ? isHealthy(before) : null];
    // A rest says nothing, neither that it works nor that it fails.
    if (was === null || was === now || isQuiet(one) || (before && isQuiet(before))) return;
    if (works === null ? now : works !== now) {
      flips.push(k);
      works = now;
    }
  });
  return flips;
}

/** Something was unplugged or put back while it was recorded: what changed then has its reason. */
const isHandledDuring = ({ shape }: SeenRun): boolean =>
  shape.markers.some((m) => m.event === 'part-off' || m.event === 'part-on' || m.event === 'flip');

const isQuiet = (s: SeenRun): boolean => isHealthy(s) && !runShowsLife(s);

/** Whether two runs try the same thing in the same way: nothing was swapped, turned or unplugged between them. */
function isSameTrial(a: Run, b: Run): boolean {
  const [x, y] = [a.setup, b.setup];
  const parts = (names: readonly string[]): string => [...names].sort().join('|');
  return (
    sameSetup(a, b) &&
    (x.port ?? 1) === (y.port ?? 1) &&
    x.flipped === y.flipped &&
    (x.charger ?? 'own') === (y.charger ?? 'own') &&
    (x.display === 'known-good') === (y.display === 'known-good') &&
    parts(x.unplugged) === parts(y.unplugged)
  );
}

/** Index of the first reading that finds a place free that was short before; -1 where none does. */
function freedAt(value: Case, readings: readonly Case['readings'][number][]): number {
  const epochOf = (): number => 0;
  return readings.findIndex((reading, k) => {
    const before = placeBefore({ value, epochOf }, reading);
    const sense = senseOf(reading, value.device.expect, before);
    if (sense.of !== 'ground' || sense.word !== 'normal') return false;
    return before.readings.some((b) => {
      const was =
        readings.indexOf(b) < k && readings.includes(b) && b.circuit === reading.circuit
          ? senseOf(b, value.device.expect)
          : null;
      return was?.of === 'ground' && was.word === 'short';
    });
  });
}
