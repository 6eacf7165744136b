import {
  type Board,
  bareCase,
  compileProfile,
  conditionOf,
  contextFor,
  describe,
  heatOf,
  instrumentOf,
  markersOf,
  parseFault,
  recognisePatterns,
  recordedRun,
  recordStartUp,
  seededRandom,
  startUp,
  usualSetup,
  type DeviceClass,
  type Fault,
  type InstrumentName,
  type PatternId,
  type Profile,
  type Shape,
  type TwinSegment,
  type TwinSetup,
} from '@umbral/core';

/** What the form asks for, as it stands in the address. */
export interface StartQuestion {
  fault: string;
  feed: TwinSetup['feed'];
  port: number;
  flipped: boolean;
  battery: boolean;
  instrument: InstrumentName;
  seed: number;
}

/** A start of the twin and what is seen of it, for the pages to put into words. */
export interface DeviceStart {
  fault: Fault;
  setup: TwinSetup;
  start: StartUp;
  /** The highest current of each of so many equal stretches of the run, A; of the fault and of a healthy device. */
  levels: number[];
  healthy: number[];
  shape: Shape;
  pattern: PatternId;
  /** Where the power goes when it is worth looking for warmth, the warmest first. */
  heat: { name: string; watts: number }[];
}

type StartUp = ReturnType<typeof startUp>;

/** Stretches that a silhouette is drawn of. */
const stretchCount = 220;

/**
 * Starts a device virtually, with a fault and without.
 *
 * @throws {RangeError} for a fault that this profile cannot have
 */
export function startOf(profile: Profile, question: StartQuestion): DeviceStart {
  const board = compileProfile(profile);
  const fault = parseFault(profile, question.fault);
  const setup: TwinSetup = {
    ...usualSetup,
    feed: question.feed,
    limitA: question.feed === 'usb-c' ? null : usualSetup.limitA,
    port: question.port,
    flipped: question.flipped,
    battery: question.feed !== 'battery' && question.battery && profile.battery !== null,
    seconds: 26,
  };
  const start = startUp(board, [fault], setup);
  const record = (faults: Fault[]) =>
    recordStartUp(startUp(board, faults, setup), setup, instrumentOf(question.instrument), seededRandom(question.seed));
  const trace = record([fault]);
  const run = recordedRun('virtual', setup, trace.instrument, markersOf(setup));
  const device = { class: profile.class as DeviceClass, model: profile.name, profile: profile.id };
  const value = bareCase(device, [run], 'virtual');
  const shape = describe(value, run, trace, null);
  const [top] = recognisePatterns(shape, contextFor(value, run));
  return {
    fault,
    setup,
    start,
    levels: stretches(trace.i, stretchCount),
    healthy: stretches(record([]).i, stretchCount),
    shape,
    pattern: top.id,
    heat: heatLines(board, [fault], setup, start),
  };
}

function heatLines(board: Board, faults: Fault[], setup: TwinSetup, start: StartUp): DeviceStart['heat'] {
  const { profile } = board;
  const { condition } = conditionOf(board, faults, setup);
  // Where a short takes power, that is the moment to look for warmth; else the longest hold.
  const shortW = (s: TwinSegment): number => heatOf(board, condition, s.solution).shorts.reduce((a, b) => a + b, 0);
  const hold = start.segments.reduce((best, s) => {
    const more = shortW(s) - shortW(best);
    return more > 0.01 || (Math.abs(more) <= 0.01 && s.t1 - s.t0 >= best.t1 - best.t0) ? s : best;
  }, start.segments[0]);
  const heat = heatOf(board, condition, hold.solution);
  return [
    ...profile.converters.map((c, k) => ({ name: c.name, watts: heat.converters[k] })),
    ...profile.rails.map((r, k) => ({ name: `short on ${r.name}`, watts: heat.shorts[k] })),
    ...profile.rails.map((r, k) => ({ name: `loads on ${r.name}`, watts: heat.loads[k] })),
  ]
    .filter((h) => h.watts >= 0.02)
    .sort((a, b) => b.watts - a.watts)
    .slice(0, 6);
}

function stretches(values: Float32Array, count: number): number[] {
  return Array.from({ length: count }, (_, k) => {
    const from = Math.floor((k * values.length) / count);
    const part = values.subarray(from, Math.max(from + 1, Math.floor(((k + 1) * values.length) / count)));
    return part.reduce((most, x) => (x > most ? x : most), 0);
  });
}
