import { type CircuitId } from '../catalogue/index.ts';
import type { Risk } from './tally.ts';
import settings from './readiness.json';

/** One unit that was called, for figures. */
export interface CalledUnit {
  circuit: CircuitId;
  /** The circuit that the call thought likeliest, and how sure it was, 0 to 1. */
  said: CircuitId;
  sure: number;
  points: number;
  enginePoints: number;
  /** What the test was worth that was named next, 0 to 100; null where none was. */
  testPoints: number | null;
  /** Points of what was said at the end, after measuring, with the engine's; null where nothing was said. */
  final: { points: number; engine: number } | null;
  minutes: number;
  probes: number;
  wasted: number;
  /** How deep the device was opened, 0 to 5. */
  depth: number;
  risks: readonly Risk[];
  at: Date;
}

/** What a number of calls comes to. */
export interface PracticeFigures {
  units: number;
  /** Calls whose likeliest circuit was right. */
  right: number;
  points: number;
  enginePoints: number;
  /** Mean over the calls that named a next test; null where none did. */
  testPoints: number | null;
  /** Means over the units that were said anew at the end, and how many; null where none was. */
  final: { points: number; engine: number; of: number } | null;
  minutes: number;
  probes: number;
  wasted: number;
  risks: number;
  /** Groups of calls by how sure they were: how often they were right. */
  calibration: Sureness[];
  /** The same of one stretch of calls after the other, the oldest first. */
  overTime: Sureness[];
}

/** How sure a number of calls were on the average, 0 to 1, and how many of them were right. */
interface Sureness {
  said: number;
  right: number;
  of: number;
}

function surenessOf(calls: readonly CalledUnit[]): Sureness {
  return {
    said: calls.reduce((sum, c) => sum + c.sure, 0) / Math.max(1, calls.length),
    right: calls.filter((c) => c.said === c.circuit).length,
    of: calls.length,
  };
}

/** Null for the mean of nothing. */
const meanOf = (list: readonly number[]): number | null =>
  list.length === 0 ? null : list.reduce((a, b) => a + b, 0) / list.length;

/** Stretches of calls of one length, counted back from the last; what is left over at the beginning is left out. */
function stretchesOf(calls: readonly CalledUnit[]): CalledUnit[][] {
  const whole = Math.floor(calls.length / settings.stretch);
  const first = calls.length - whole * settings.stretch;
  return Array.from({ length: whole }, (_, k) =>
    calls.slice(first + k * settings.stretch, first + (k + 1) * settings.stretch),
  );
}

/**
 * Adds up calls: means a unit, and how well sureness holds. All zero for none.
 *
 * @param calls the oldest first
 */
export function practiceFigures(calls: readonly CalledUnit[]): PracticeFigures {
  const mean = (of: (c: CalledUnit) => number): number => meanOf(calls.map(of)) ?? 0;
  const groups = settings.sureFrom.map((from, k) => {
    const to = settings.sureFrom[k + 1] ?? Infinity;
    return surenessOf(calls.filter((c) => c.sure >= from && c.sure < to));
  });
  const final = calls.flatMap((c) => (c.final ? [c.final] : []));
  return {
    units: calls.length,
    right: calls.filter((c) => c.said === c.circuit).length,
    points: mean((c) => c.points),
    enginePoints: mean((c) => c.enginePoints),
    testPoints: meanOf(calls.flatMap((c) => (c.testPoints === null ? [] : [c.testPoints]))),
    final:
      final.length === 0
        ? null
        : {
            points: meanOf(final.map((f) => f.points)) ?? 0,
            engine: meanOf(final.map((f) => f.engine)) ?? 0,
            of: final.length,
          },
    minutes: mean((c) => c.minutes),
    probes: mean((c) => c.probes),
    wasted: mean((c) => c.wasted),
    risks: calls.reduce((sum, c) => sum + c.risks.length, 0),
    calibration: groups.filter((g) => g.of > 0),
    overTime: stretchesOf(calls).map(surenessOf),
  };
}

/** Whether somebody may be given such devices, with what that stands on. */
export interface Readiness {
  isReady: boolean;
  /** What is missing, in a few words; what it stands on where nothing is. */
  says: string;
}

/**
 * What the last calls of one kind say: enough of them, as good as the engine to a share, right as often as said, and without
 * a risk.
 *
 * @param calls of one person, of one kind of device or depth, in any order
 */
export function readinessOf(calls: readonly CalledUnit[]): Readiness {
  const last = [...calls].sort((a, b) => a.at.getTime() - b.at.getTime()).slice(-settings.last);
  if (last.length < settings.units) return { isReady: false, says: `${last.length} of ${settings.units} units` };
  const f = practiceFigures(last);
  const risk = last.find((c) => c.risks.length > 0)?.risks[0];
  if (risk) return { isReady: false, says: risk.says };
  const share = f.enginePoints > 0 ? f.points / f.enginePoints : 1;
  if (share < settings.shareOfEngine)
    return { isReady: false, says: `${Math.round(f.points)} points; the engine got ${Math.round(f.enginePoints)}` };
  const sure = last.reduce((sum, c) => sum + c.sure, 0) / last.length;
  if (sure - f.right / f.units > settings.sureOver)
    return { isReady: false, says: `said ${Math.round(percent * sure)} %, right in ${f.right} of ${f.units}` };
  return { isReady: true, says: `right in ${f.right} of the last ${f.units}, ${Math.round(f.points)} points` };
}

const percent = 100;
