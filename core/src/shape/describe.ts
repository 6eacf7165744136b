import { formatSeconds } from '../quantity/index.ts';
import {
  correctTrace,
  samplingInterval,
  summariseTrace,
  type Marker,
  type Summary,
  type Trace,
} from '../trace/index.ts';
import { courseOf } from './course.ts';
import { findContradictions } from './contradictions.ts';
import { readMarkers, type MarkerContext } from './markers.ts';
import { describePhase } from './phases.ts';
import { pieceSeconds, type Piece } from './pieces.ts';
import settings from './settings.json';
import { segmentTrace, type Segmentation } from './segments.ts';
import type { Features, Phase, Shape, VoltageFeatures } from './types.ts';
import { describeVoltage } from './voltage.ts';

export interface DescribeOptions extends MarkerContext {
  /** Volts to reckon power with where the log has none. */
  feedV: number;
  /** Exact figures of all rows where the trace was reduced on the way in. */
  summary?: Summary;
}

/**
 * What is seen in a run: corrected, segmented, with its markers completed and its features measured.
 *
 * @param raw the run as the instrument showed it
 * @param given markers as recorded, in any order
 */
export function describeRun(raw: Trace, given: Marker[], options: DescribeOptions): Shape {
  const trace = correctTrace(raw);
  const found = segmentTrace(trace);
  const voltage = describeVoltage(trace);
  const markers = readMarkers(given, trace, found, voltage, options);
  const features = measureFeatures(trace, found, voltage, markers.used, options);
  return {
    summary: options.summary ?? summariseTrace(trace),
    segments: found.segments,
    markers: markers.shown,
    features,
    warnings: [...markers.warnings, ...inferenceNotes(markers.used), ...placedNotes(markers.used)],
  };
}

const saidAs: Readonly<Record<string, string>> = {
  'output-on': 'output on',
  plug: 'plug-in',
  prompt: 'power-on',
  'output-off': 'output off',
  unplug: 'unplugging',
  'part-on': 'the part put on',
  'part-off': 'the part taken off',
};

/** Markers that were given by hand and stand where the trace has their step. */
function placedNotes(markers: Marker[]): string[] {
  return markers.flatMap(({ event, t, said }) =>
    said === undefined || t === said
      ? []
      : [
          `The marker for ${saidAs[event] ?? event} was given at ${formatSeconds(said)}; its step is at ${formatSeconds(t)}.`,
        ],
  );
}

function inferenceNotes(markers: Marker[]): string[] {
  return markers
    .filter((m) => m.inferred)
    .map((m) => `No marker for ${saidAs[m.event] ?? m.event}: read from the trace at ${formatSeconds(m.t)}.`);
}

/** How people note that a device rests from here on. */
const sleepWords =
  /\b(asleep|sleeps?|sleeping|standby|stand-by|suspend(ed)?|hibernat\w+|locked|lid (closed|shut)|shut ?down|powered (off|down))\b/i;

function measureFeatures(
  trace: Trace,
  found: Segmentation,
  voltage: VoltageFeatures,
  markers: Marker[],
  options: DescribeOptions,
): Features {
  const { t } = trace;
  const first = t.length === 0 ? 0 : t[0];
  const last = t.length === 0 ? 0 : t[t.length - 1];
  const on = markers.find((m) => m.event === 'output-on' || m.event === 'plug');
  const from = on?.t ?? first;
  const off = markers.find((m) => (m.event === 'output-off' || m.event === 'unplug') && m.t > from);
  const end = off?.t ?? (voltage.lostForGood ? lastPresent(trace) : last);
  const prompt = markers.find((m) => m.event === 'prompt' && m.t >= from - settings.promptSlackS && m.t <= end);
  const slept = markers.find((m) => m.event === 'note' && sleepWords.test(m.note ?? '') && m.t > from && m.t < end);
  const resolutionA = trace.instrument.resolutionA ?? 0;
  const phase = (t0: number, t1: number, skipInrush: boolean, fromA: number | null): Phase => {
    const measured = describePhase(found, t0, t1, options.feedV, resolutionA, { skipInrush, fromA });
    return trace.quantity === 'current' ? measured : { ...measured, ...noCurrent };
  };
  const before = prompt ? phase(from, Math.max(from, prompt.t), true, null) : null;
  return {
    whole: phase(from, end, true, 0),
    before,
    after: prompt ? phase(prompt.t, end, false, before?.levelA ?? 0) : null,
    asleep: slept ? phase(slept.t, end, true, null) : null,
    prompted: prompt !== undefined,
    promptT: prompt?.t ?? null,
    startsHot: startsHot(found, from),
    promptInferred: prompt?.inferred ?? false,
    endedOff: off !== undefined,
    onSeen: on !== undefined,
    voltage,
    noiseA: found.channels.noise,
    resolutionA,
    intervalS: samplingInterval(t),
    limitKnownA: trace.limitA,
    contradictions: findContradictions(trace, found, voltage, off !== undefined),
    course: trace.quantity === 'current' ? courseOf(found.channels, prompt?.t ?? from, end, options.feedV) : [],
    smoothShare: smoothShare(found),
  };
}

/** What a log that holds only a voltage says of currents: nothing. */
const noCurrent = {
  levelA: null,
  levelW: null,
  peakA: null,
  peakW: null,
  peakAfterS: null,
  riseAfterS: null,
  lastStepAfterS: null,
  tailA: null,
  tailW: null,
  steps: 0,
  reversals: 0,
  limitShare: 0,
  burstShare: 0,
} satisfies Partial<Phase>;

function lastPresent(trace: Trace): number {
  for (let k = trace.t.length - 1; k >= 0; k--) if (trace.v[k] >= 1) return trace.t[k];
  return trace.t.length === 0 ? 0 : trace.t[trace.t.length - 1];
}

/** A fall by two fifths or more, over a tenth of a second to a few seconds right after the source comes on, to a hold. */
function startsHot(found: Segmentation, on: number): boolean {
  const { pieces, channels: c } = found;
  const start = pieces.findIndex(
    (p) => c.t[p.to - 1] > on + settings.switchOnSlackS && p.mean > settings.clearNoise * c.noise,
  );
  if (start < 0 || c.t[pieces[start].from] > on + settings.inrushS) return false;
  let at = start;
  const falls = (p: Piece, next: Piece | undefined): boolean =>
    next !== undefined && next.mean < settings.hotFallsTo * p.mean;
  while (pieceSeconds(c, pieces[at]) < 2 && falls(pieces[at], pieces[at + 1])) at++;
  const [first, hold] = [pieces[start], pieces[at]];
  const seconds = c.t[hold.from] - c.t[first.from];
  const samples = hold.from - first.from;
  const fallen = hold.mean < settings.hotHoldsUnder * first.high && hold.mean > settings.clearNoise * c.noise;
  return (
    fallen &&
    samples >= settings.hotSamples &&
    seconds >= settings.hotFromS &&
    seconds < settings.hotUpToS &&
    pieceSeconds(c, hold) > settings.hotHoldFactor * seconds
  );
}

/** Share of the time in ramps and in smooth repetitions: nothing that a device does on its own. */
function smoothShare(found: Segmentation): number {
  let total = 0;
  let smooth = 0;
  for (const s of found.segments) {
    const seconds = s.t1 - s.t0;
    if (s.kind === 'gap') continue;
    total += seconds;
    const plateau = found.pulses?.plateau ?? null;
    if (s.kind === 'ramp' || (s.kind === 'pulses' && plateau !== null && plateau < settings.steppedFrom))
      smooth += seconds;
  }
  return total === 0 ? 0 : smooth / total;
}
