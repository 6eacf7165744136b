import { median, medianAbsoluteDeviation } from 'simple-statistics';
import type { Device, Run } from '../case/index.ts';
import { deviceTwinOf, twinSetupOf } from '../prediction/index.ts';
import type { Features, Shape } from '../shape/index.ts';
import { seededRandom } from '../trace/index.ts';
import { instrumentOf, markersOf, recordStartUp, startUp, type InstrumentName, type Profile } from '../twin/index.ts';
import { describe } from './assess.ts';
import settings from './learned-profile.json';

/** A run of a unit of the model that was healthy, or works again. */
export interface HealthyRun {
  run: Run;
  shape: Shape;
}

/** How far healthy units are from a profile in one thing. */
interface Drift {
  /** What the profile's figures are to be multiplied by. */
  factor: number;
  /** Runs that say so, and how far they are from each other: a natural logarithm. */
  runs: number;
  spread: number;
}

/** A profile as healthy units say it should be. */
export interface LearnedProfile {
  profile: Profile;
  /** Null where they agree with the profile, or too few say anything. */
  levels: Drift | null;
  times: Drift | null;
}

/**
 * What the healthy and the repaired runs of a model say of its profile: its levels and times against those that the profile
 * would have shown in the same setups. Medians over runs, and only where they are clearly off.
 *
 * @param profile as it is now
 * @param device any unit of it
 * @returns null where nothing is to be changed
 */
export function learnedProfile(profile: Profile, device: Device, runs: readonly HealthyRun[]): LearnedProfile | null {
  const seen = runs.flatMap((one) => {
    const predicted = healthyFeatures(profile, device, one);
    return predicted ? [{ seen: one.shape.features, predicted, isTimed: one.run.typed === null }] : [];
  });
  const levels = driftOf(seen.flatMap((s) => logLevel(s.seen, s.predicted)));
  const times = driftOf(seen.flatMap((s) => (s.isTimed ? logTime(s.seen, s.predicted) : [])));
  if (!levels && !times) return null;
  return { profile: scaled(profile, levels?.factor ?? 1, times?.factor ?? 1), levels, times };
}

/**
 * What the profile would have shown in the setup of a run with nothing wrong, recorded by an instrument like the one at hand and
 * described in the same way, so that what describing adds falls out; null where that cannot be started.
 */
function healthyFeatures(profile: Profile, device: Device, { run, shape }: HealthyRun): Features | null {
  const twin = deviceTwinOf({ ...device, profile: profile.id }, [run], new Map([[profile.id, profile]]));
  const setup = twinSetupOf(twin, run, shape);
  if (!setup) return null;
  const { intervalS, resolutionA, noiseA } = shape.features;
  const instrument = {
    ...instrumentOf(settings.instrument as InstrumentName),
    rateHz: 1 / intervalS,
    resolutionA,
    noiseA,
  };
  const trace = recordStartUp(startUp(twin.board, [], setup, twin.workspace), setup, instrument, seededRandom(1));
  return describe({ device }, { ...run, markers: markersOf(setup) }, trace, null).features;
}

/** Natural log of what was drawn over what the profile draws, by the levels that a display can tell; none where it cannot. */
function logLevel(seen: Features, predicted: Features): number[] {
  const pairs: [number | null | undefined, number | null | undefined][] = [
    [seen.after?.tailA ?? seen.whole.tailA, predicted.after?.tailA ?? predicted.whole.tailA],
    [seen.after?.peakA ?? seen.whole.peakA, predicted.after?.peakA ?? predicted.whole.peakA],
  ];
  const least = settings.minSteps * seen.resolutionA;
  const logs = pairs.flatMap(([a, b]) => (a && b && a > least && b > least ? [Math.log(a / b)] : []));
  return logs.length === 0 ? [] : [median(logs)];
}

function logTime(seen: Features, predicted: Features): number[] {
  const [a, b] = [seen.after?.lastStepAfterS, predicted.after?.lastStepAfterS];
  return a && b && a > settings.minS && b > settings.minS ? [Math.log(a / b)] : [];
}

function driftOf(logs: readonly number[]): Drift | null {
  if (logs.length < settings.minRuns) return null;
  const middle = median([...logs]);
  const spread = medianAbsoluteDeviation([...logs]);
  const isClear = Math.abs(middle) > Math.max(settings.minDrift, (settings.sure * spread) / Math.sqrt(logs.length));
  return isClear ? { factor: Math.exp(middle), runs: logs.length, spread } : null;
}

/** Currents of all loads, and the seconds of all stages, times a factor; three digits are enough for either. */
function scaled(profile: Profile, levels: number, times: number): Profile {
  const by = (x: number, factor: number): number => Number((x * factor).toPrecision(settings.digits));
  const table = (amps: Record<string, number>): Record<string, number> =>
    Object.fromEntries(Object.entries(amps).map(([stage, a]) => [stage, by(a, levels)]));
  return {
    ...profile,
    loads: profile.loads.map((l) => ({ ...l, amps: table(l.amps), bursts: table(l.bursts) })),
    stages: profile.stages.map((s) => ({ ...s, seconds: by(s.seconds, times) })),
  };
}
