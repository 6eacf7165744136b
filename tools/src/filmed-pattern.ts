import { DisplayReader, type Network, type StyleFamily } from '@umbral/core/display';
import {
  type DeviceClass,
  type PatternId,
  bareCase,
  describe,
  contextFor,
  drawUnit,
  usualRun,
  type SeenUsual,
  recognisePatterns,
  topPattern,
  seededRandom,
  type Random,
  type Trace,
  shippedProfiles,
} from '@umbral/core';
import settings from './filmed-pattern.json';
import { filmTrace } from './filmed-video.ts';

/** Kinds of run that a camera has to see as a logging instrument does. */
type FilmedKind = keyof typeof settings.patterns;
export const filmedKinds = Object.keys(settings.patterns) as FilmedKind[];

/** One run, as its log and its filmed display tell it. */
interface FilmedPattern {
  kind: FilmedKind;
  display: string;
  logged: PatternId;
  filmed: PatternId;
  /** Share of the numbers of all pictures that were absent. */
  doubtShare: number;
  samples: number;
}

/**
 * Records a run with an instrument that logs, films the display of one that does not, and names the pattern of both.
 *
 * @param seed of the device, its fault, the display, the camera
 * @param maxSeconds of the run that are filmed
 */
export function filmPattern(
  net: Network,
  family: StyleFamily,
  kind: FilmedKind,
  seed: number,
  maxSeconds = settings.maxSeconds,
): FilmedPattern {
  const random = seededRandom(seed);
  const logged = runOfKind(kind, random);
  const video = filmTrace(family, logged.trace, 0, random, settings.fps);
  const reader = new DisplayReader(net, video.framing);
  const seconds = Math.min(maxSeconds, logged.trace.t.at(-1) ?? 0);
  const read: { t: number; v: number; i: number }[] = [];
  let [absent, all] = [0, 0];
  for (let n = 0; n < seconds * video.fps; n++) {
    const t = n / video.fps;
    const reading = reader.take(t, video.at(t).picture);
    if (!reading) continue;
    all += 2;
    absent += reading.doubts.filter((d) => d !== null).length;
    if (reading.isSample) read.push({ t: reading.t, v: reading.volts ?? NaN, i: reading.amps ?? NaN });
  }
  const { stepV, stepA } = reader.state;
  const trace: Trace = {
    ...logged.trace,
    t: Float64Array.from(read, (r) => r.t),
    v: Float32Array.from(read, (r) => r.v),
    i: Float32Array.from(read, (r) => r.i),
    instrument: { ...logged.trace.instrument, resolutionV: stepV, resolutionA: stepA },
  };
  const { run } = logged;
  const { profile } = logged;
  const value = {
    ...bareCase({ class: profile.class as DeviceClass, model: profile.name, profile: profile.id }, [], 'filmed'),
    runs: [run],
  };
  const shape = describe(value, run, trace, null);
  return {
    kind,
    display: video.kind,
    logged: logged.pattern,
    filmed: topPattern(recognisePatterns(shape, contextFor(value, run))),
    doubtShare: absent / Math.max(1, all),
    samples: read.length,
  };
}

/** A run of a device with a fault by chance that its log names as one of the patterns of a kind. */
function runOfKind(kind: FilmedKind, random: Random) {
  const wanted: readonly string[] = settings.patterns[kind];
  const profiles = shippedProfiles.filter((p) => !p.generic && p.battery !== null);
  for (let tries = 0; tries < settings.maxTries; tries++) {
    const profile = profiles[Math.floor(random() * profiles.length)];
    const unit = drawUnit({ profile }, random);
    const seen: SeenUsual = usualRun(unit.device, unit.faults, { feed: 'battery', battery: false }, random);
    if (wanted.includes(seen.pattern)) return { ...seen, profile };
  }
  throw new RangeError(`No device draws a run of kind "${kind}" in ${settings.maxTries} tries.`);
}
