import {
  type DeviceClass,
  type PatternId,
  bareCase,
  type Case,
  describe,
  hypothesesOf,
  contextFor,
  featuresOf,
  recordedRun,
  recognisePatterns,
  topPattern,
  type Segment,
  type Random,
  type Trace,
  compileProfile,
  instrumentOf,
  makeWorkspace,
  markersOf,
  recordStartUp,
  startUp,
  usualSetup,
  type Fault,
  type InstrumentModel,
  type Profile,
  type StartUp,
  type TwinSetup,
} from '@umbral/core';

/** Instruments from a probe at 1 kHz to a display read twice a second, averaging and not. */
export const recognitionInstruments: Record<string, InstrumentModel> = {
  'probe, 1 kHz': instrumentOf('probe'),
  'logger, 73 a second, 1 mA': { ...instrumentOf('bench-logger'), rateHz: 73, averagingS: 0.012 },
  'logger, 20 a second, 1 mA': instrumentOf('bench-logger'),
  'ranging meter, 5 a second, 0.1 mA': instrumentOf('ranging-meter'),
  'display, 2 a second, 10 mA': instrumentOf('display'),
};

/** What is done in a run besides switching on and pressing. */
type RunCourse = 'as recorded' | 'no markers' | 'off at the end';

/** What one fault shows through one instrument, beside what its start-up is by its own power over time. */
interface Recognised {
  profile: string;
  fault: string;
  feed: string;
  instrument: string;
  course: RunCourse;
  expected: PatternId;
  /** How sure the windows are of the start-up itself: between two windows either name is right. */
  expectedP: number;
  seen: PatternId;
  seenP: number;
  /** Probability that was given to the expected pattern. */
  p: number;
  /** Changes of power of the start-up that last and are large enough to be seen, and how many of them no segment border marks. */
  changes: number;
  missed: number;
}

/**
 * Starts every fault of a profile in every usual setup, records it through an instrument, and names the pattern twice:
 * from the start-up itself and from what was recorded.
 *
 * @param take which of the faults, by their order: all where left out
 */
export function recogniseFaults(
  profile: Profile,
  instrument: string,
  course: RunCourse,
  random: Random,
  take: (k: number) => boolean = () => true,
): Recognised[] {
  const model = recognitionInstruments[instrument];
  const board = compileProfile(profile);
  const workspace = makeWorkspace(board);
  const bare = bareCase({ class: profile.class as DeviceClass, model: profile.name, profile: null }, [], 'recognition');
  const faults = hypothesesOf(profile).filter((h, k): h is typeof h & { fault: Fault } => h.fault !== null && take(k));
  return recognitionSetups(profile).flatMap((setup) =>
    faults.map((h): Recognised => {
      const start = startUp(board, [h.fault], setup, workspace);
      const recorded = recordStartUp(start, setup, model, random);
      const trace = course === 'off at the end' ? switchedOff(recorded, model) : recorded;
      const run = recordedRun('r1', setup, trace.instrument, course === 'no markers' ? [] : markersOf(setup));
      const value: Case = { ...bare, runs: [run] };
      const shape = describe(value, run, trace, null);
      const context = contextFor(value, run);
      const limits = {
        noiseA: shape.features.noiseA,
        resolutionA: shape.features.resolutionA,
        intervalS: shape.features.intervalS,
      };
      const own = recognisePatterns({ ...shape, features: featuresOf(start, setup, limits) }, context);
      const seen = recognisePatterns(shape, context);
      const expected = topPattern(own);
      return {
        profile: profile.id,
        fault: h.target ? `${h.fault.kind} ${h.target}` : h.circuit,
        feed: setup.feed,
        instrument,
        course,
        expected,
        expectedP: own[0].p,
        seen: topPattern(seen),
        seenP: seen[0].p,
        p: seen.find((x) => x.id === expected)?.p ?? 0,
        ...borders(start, setup, shape.segments, limits),
      };
    }),
  );
}

/** The runs that are usually made: every feed that the device has, pressed. */
export function recognitionSetups(profile: Profile): TwinSetup[] {
  const out: TwinSetup[] = [];
  if (profile.battery) out.push({ ...usualSetup, setV: profile.battery.nominalV });
  if (profile.ports.length > 0)
    out.push({ ...usualSetup, feed: 'usb-c', limitA: null, battery: profile.battery !== null });
  if (profile.dcIn) out.push({ ...usualSetup, feed: 'dc-in', limitA: 5 });
  return out;
}

/** The supply is switched off three seconds before the recording ends, and nobody marks it. */
function switchedOff(trace: Trace, model: InstrumentModel): Trace {
  const last = trace.t[trace.t.length - 1] ?? 0;
  const extra = Math.round(3 * model.rateHz);
  const t = Float64Array.from([...trace.t, ...Array.from({ length: extra }, (_, k) => last + (k + 1) / model.rateHz)]);
  const v = new Float32Array(t.length);
  const i = new Float32Array(t.length);
  v.set(trace.v);
  i.set(trace.i);
  return { ...trace, t, v, i };
}

/** Which changes of the start-up's power an instrument could show, and which of them are no border of a segment. */
function borders(
  start: StartUp,
  setup: TwinSetup,
  segments: readonly Segment[],
  limits: { noiseA: number; resolutionA: number; intervalS: number },
): { changes: number; missed: number } {
  const lasting = start.segments.filter((s) => s.t1 - s.t0 > Math.max(0.5, 6 * limits.intervalS));
  let changes = 0;
  let missed = 0;
  for (let k = 1; k < lasting.length; k++) {
    const [a, b] = [lasting[k - 1], lasting[k]];
    if (a.kind !== 'level' || b.kind !== 'level' || b.t0 - a.t1 > 1e-6 || b.t0 >= setup.seconds) continue;
    const step = Math.abs(a.meanA - b.meanA);
    if (step < Math.max(6 * limits.noiseA, 3 * limits.resolutionA, 0.3 * Math.max(a.meanA, b.meanA))) continue;
    changes++;
    const near = Math.max(0.15, 2.5 * limits.intervalS);
    if (!segments.some((s) => Math.abs(s.t0 - b.t0) <= near || Math.abs(s.t1 - b.t0) <= near)) missed++;
  }
  return { changes, missed };
}
