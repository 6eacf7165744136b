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
  minutes: number;
  probes: number;
  wasted: number;
  risks: number;
  /** Groups of calls by how sure they were: how often they were right. */
  calibration: { said: number; right: number; of: number }[];
}

/** Adds up calls: means a unit, and how well sureness holds. All zero for none. */
export function practiceFigures(calls: readonly CalledUnit[]): PracticeFigures {
  const mean = (of: (c: CalledUnit) => number): number =>
    calls.length === 0 ? 0 : calls.reduce((sum, c) => sum + of(c), 0) / calls.length;
  const groups = settings.sureFrom.map((from, k) => {
    const to = settings.sureFrom[k + 1] ?? Infinity;
    const inside = calls.filter((c) => c.sure >= from && c.sure < to);
    return {
      said: inside.reduce((sum, c) => sum + c.sure, 0) / Math.max(1, inside.length),
      right: inside.filter((c) => c.said === c.circuit).length,
      of: inside.length,
    };
  });
  return {
    units: calls.length,
    right: calls.filter((c) => c.said === c.circuit).length,
    points: mean((c) => c.points),
    enginePoints: mean((c) => c.enginePoints),
    minutes: mean((c) => c.minutes),
    probes: mean((c) => c.probes),
    wasted: mean((c) => c.wasted),
    risks: calls.reduce((sum, c) => sum + c.risks.length, 0),
    calibration: groups.filter((g) => g.of > 0),
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
    return { isReady: false, says: `${Math.round(f.points)} points, the engine ${Math.round(f.enginePoints)}` };
  const sure = last.reduce((sum, c) => sum + c.sure, 0) / last.length;
  if (sure - f.right / f.units > settings.sureOver)
    return { isReady: false, says: `sure to ${Math.round(percent * sure)} %, right in ${f.right} of ${f.units}` };
  return { isReady: true, says: `right in ${f.right} of the last ${f.units}, ${Math.round(f.points)} points` };
}

const percent = 100;
