import { formatCurrent } from '../quantity/index.ts';
import type { Trace } from '../trace/index.ts';
import { isPluggedByHand } from './markers.ts';
import { pieceSeconds, type Channels, type Piece } from './pieces.ts';
import type { Segmentation } from './segments.ts';
import settings from './settings.json';
import type { Segment, VoltageFeatures } from './types.ts';

/**
 * Things that cannot be so, or that no device does: the log contradicts itself, its limit, or physics.
 *
 * @param offMarked whether the end of the supply is known, by a marker or from the trace
 * @returns sentences, none where all is plausible
 */
export function findContradictions(
  trace: Trace,
  found: Segmentation,
  voltage: VoltageFeatures,
  offMarked: boolean,
): string[] {
  const out: string[] = [];
  if (trace.quantity === 'current') {
    out.push(...currentProblems(trace, found));
    if (hasEvenSteps(found))
      out.push('It climbs in equal steps at equal intervals. That is a swept load, not a device.');
  }
  const seconds = trace.t.length === 0 ? 0 : trace.t[trace.t.length - 1];
  if (
    voltage.lostForGood &&
    isPluggedByHand(voltage) &&
    !offMarked &&
    voltage.presentS > settings.pluggedShare * seconds
  )
    out.push('The supply voltage disappeared before the end of the run, for no stated reason.');
  else if (trace.feed === 'usb-c' && isUsedMeanwhile(voltage))
    out.push('It was unplugged for a while and plugged in again. That part says nothing about a circuit.');
  if (trace.quantity === 'current' && trace.feed === 'usb-c' && wanders(trace.v))
    out.push('The port voltage jumps from reading to reading. No charger does that, so check the meter.');
  return out;
}

/** Away for longer than any retry, and there for as long in between: somebody lives with the device. */
function isUsedMeanwhile(voltage: VoltageFeatures): boolean {
  const { longestAwayS, presentS, collapses, cycles } = voltage;
  const long = settings.leftUnpluggedS;
  return cycles === null && longestAwayS > long && presentS > long * (collapses + 1);
}

function currentProblems(trace: Trace, found: Segmentation): string[] {
  const out: string[] = [];
  const { limitA, feed } = trace;
  const noise = Math.max(found.channels.noise, trace.instrument.resolutionA ?? 0);
  const seconds = (test: (s: Segment) => boolean): number =>
    found.segments.filter(test).reduce((sum, s) => sum + s.t1 - s.t0, 0);
  const total = Math.max(
    1e-9,
    seconds((s) => s.kind !== 'gap'),
  );
  if (limitA !== null) {
    const above = seconds((s) => s.meanA !== null && s.meanA > settings.overLimit * limitA + 2 * noise);
    if (above > settings.overLimitShare * total) {
      const highest = Math.max(...found.segments.map((s) => s.meanA ?? 0));
      out.push(`${formatCurrent(highest)} was measured, but the supply was limited to ${formatCurrent(limitA)}.`);
    }
  }
  const limitFloor = limitA === null ? Infinity : settings.nearLimit * limitA;
  const flows = Math.max(settings.flowsA, settings.clearNoise * noise);
  const powerless = seconds(
    (s) =>
      s.meanV !== null && s.meanV < settings.noVoltageV && s.meanA !== null && s.meanA > flows && s.meanA < limitFloor,
  );
  const mayBeLimiting = feed !== 'usb-c' && limitA === null;
  if (powerless > settings.powerlessShare * total && !mayBeLimiting)
    out.push('A current was measured while there was no voltage.');
  const backwards = seconds(
    (s) => s.meanA !== null && s.meanA < -Math.max(settings.backwardsA, settings.clearNoise * noise),
  );
  if (backwards > settings.backwardsShare * total)
    out.push('The current is negative part of the time. The instrument may be connected the wrong way round.');
  return out;
}

/** Six rising steps and more of one height and one length: stages of a start differ in both. */
function hasEvenSteps({ pieces, channels }: Segmentation): boolean {
  const isEven = (a: number, b: number): boolean => Math.abs(a - b) <= settings.evenStepsWithin * Math.abs(a);
  for (let from = 1; from + 1 < pieces.length; from++) {
    const [height, length] = [riseOf(pieces, from), pieceSeconds(channels, pieces[from])];
    // A ramp that is read twice a second climbs evenly too; a step stands.
    if (
      height <= settings.evenStepNoise * channels.noise ||
      pieces[from].to - pieces[from].from < settings.evenStepSamples
    )
      continue;
    let steps = 1;
    while (
      from + steps < pieces.length &&
      isEven(height, riseOf(pieces, from + steps)) &&
      isEven(length, lengthOf(channels, pieces, from + steps))
    )
      steps++;
    if (steps >= settings.evenSteps) return true;
  }
  return false;
}

function riseOf(pieces: Piece[], k: number): number {
  return pieces[k].from === pieces[k - 1].to ? pieces[k].mean - pieces[k - 1].mean : 0;
}

function lengthOf(c: Channels, pieces: Piece[], k: number): number {
  return pieceSeconds(c, pieces[k]);
}

/** The bus stands nowhere: it takes more levels, each for a while, than there are contracts and steps between them. */
function wanders(v: Float32Array): boolean {
  const counts = new Map<number, number>();
  let present = 0;
  for (const volts of v) {
    if (!(volts > settings.wandersFromV)) continue;
    const level = Math.round(Math.log(volts) / settings.wanderLevel);
    counts.set(level, (counts.get(level) ?? 0) + 1);
    present++;
  }
  const taken = [...counts.values()].filter((n) => n >= settings.wanderLeastShare * present).length;
  return present >= settings.wanderPresentS && taken >= settings.wanderLevels;
}
