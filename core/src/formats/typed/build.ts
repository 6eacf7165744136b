import type { Instrument, Marker, Span, Trace } from '../../trace/index.ts';
import { unknownInstrument } from '../../trace/index.ts';
import type { Run } from '../../case/index.ts';
import { feedVolts } from '../../catalogue/index.ts';
import { typedError } from './tokens.ts';
import { parseTypedLine, type TypedLine, type TypedStep } from './parse.ts';

/** Seconds for which a reading without a time is taken to have stood, and what `hold`, repetition and pulses add. */
const timing = { reading: 2, hold: 10, nothingChanged: 8, loops: 6, pulses: 14, minPulsesS: 6, duty: 0.3 };
const maxRows = 120_000;

interface TypedLevel {
  t0: number;
  t1: number;
  amps: number;
  volts: number;
  limit: boolean;
}

interface Timeline {
  levels: TypedLevel[];
  markers: Marker[];
  now: number;
  amps: number;
  volts: number;
}

/** A typed line as a run with samples: goes the same way as a logged one. */
interface TypedRun {
  run: Run;
  trace: Trace;
}

/**
 * Makes a real run of what a person read off a display: about two rows a second, an instrument of kind `eye` with the
 * resolution of the digits that were typed.
 *
 * @param line the notation of docs/formats.md
 * @throws FormatError with the column and what was expected
 */
export function readTypedRun(line: string, id: string): TypedRun {
  const typed = parseTypedLine(line);
  const timeline = layOut(typed);
  const instrument: Instrument = {
    ...unknownInstrument,
    kind: 'eye',
    rateHz: 2,
    resolutionA: typed.voltageOnly ? null : resolutionOf(typed.steps, 0.01, 0.1),
    resolutionV: typed.voltageOnly ? resolutionOf(typed.steps, 0.1, 0.1) : 0.1,
  };
  const limitSpans = timeline.levels.filter((s) => s.limit).map(({ t0, t1 }): Span => ({ t0, t1 }));
  const limitA = typed.setup.limitA ?? statedLimit(typed.steps);
  const setup = { ...typed.setup, limitA };
  const trace: Trace = {
    ...sample(timeline.levels, typed.voltageOnly),
    quantity: typed.voltageOnly ? 'voltage-only' : 'current',
    feed: typed.feed,
    instrument,
    limitA,
    setV: setup.setV,
    limitSpans,
  };
  const run: Run = {
    id,
    file: null,
    typed: line,
    feed: typed.feed,
    quantity: trace.quantity,
    instrument,
    setup,
    markers: timeline.markers,
    contract: typed.contract ?? busContract(typed),
    after: null,
  };
  return { run, trace };
}

/** The bus voltage alone, on a port: the contract was raised or it was not, and the current is not known. */
function busContract({ feed, voltageOnly, steps }: TypedLine): Run['contract'] {
  if (feed !== 'usb-c' || voltageOnly) return null;
  const readings = steps.filter((s) => s.kind === 'reading');
  if (readings.length === 0 || readings.length !== steps.filter((s) => s.kind !== 'prompt').length) return null;
  if (readings.some((s) => s.amps !== null)) return null;
  const volts = readings.at(-1)?.volts ?? 0;
  if (volts < feedVolts.plainUsb / 2) return null;
  return { kind: volts > feedVolts.raisedFrom ? 'pd' : 'default-5v', volts, amps: null };
}

function layOut(typed: TypedLine): Timeline {
  const on = typed.feed === 'usb-c' ? 'plug' : 'output-on';
  const timeline: Timeline = {
    levels: [],
    markers: [{ t: 0, event: on }],
    now: 0,
    amps: NaN,
    volts: typed.setup.setV ?? NaN,
  };
  typed.steps.forEach((step, k) => addStep(timeline, step, typed, k === typed.steps.length - 1));
  return timeline;
}

function addStep(line: Timeline, step: TypedStep, typed: TypedLine, isLast: boolean): void {
  if (step.kind === 'prompt') {
    line.markers.push({ t: line.now, event: 'prompt' });
    if (isLast) stand(line, timing.nothingChanged, line.amps, line.volts, false);
  } else if (step.kind === 'loop') addLoop(line, step.steps, step.periodS, typed);
  else if (step.kind === 'pulse') addPulses(line, step.amps, step.periodS);
  else {
    moveTo(line, step.at);
    const seconds = timing.reading + (step.hold ? timing.hold : 0);
    const now = levelOf(step, line, typed);
    stand(line, seconds, now.amps, now.volts, step.kind === 'limit');
  }
}

function levelOf(step: TypedStep, line: Timeline, typed: TypedLine): { amps: number; volts: number } {
  if (step.kind === 'reading') {
    return { amps: step.amps ?? NaN, volts: step.volts ?? line.volts };
  }
  if (step.kind === 'limit') return { amps: step.amps ?? typed.setup.limitA ?? NaN, volts: NaN };
  return { amps: typed.voltageOnly ? NaN : 0, volts: typed.voltageOnly ? 0 : line.volts };
}

function moveTo(line: Timeline, at: number | null): void {
  if (at === null) return;
  const last = line.levels[line.levels.length - 1];
  if (at < (last?.t0 ?? 0) + (last ? 0.01 : 0)) {
    throw typedError(
      1,
      `the times after "@" must increase; @${at}s comes after ${Number((last?.t0 ?? 0).toFixed(2))} s`,
    );
  }
  if (last) last.t1 = at;
  else if (at > 0) line.levels.push({ t0: 0, t1: at, amps: NaN, volts: NaN, limit: false });
  line.now = at;
}

function stand(line: Timeline, seconds: number, amps: number, volts: number, limit: boolean): void {
  line.levels.push({ t0: line.now, t1: line.now + seconds, amps, volts, limit });
  line.now += seconds;
  line.amps = amps;
  if (!limit) line.volts = volts;
}

function addLoop(line: Timeline, steps: TypedStep[], periodS: number, typed: TypedLine): void {
  const flat = steps.filter((s) => s.kind !== 'prompt' && s.kind !== 'loop');
  for (let n = 0; n < timing.loops; n++) {
    for (const step of flat) {
      const now = step.kind === 'pulse' ? { amps: step.amps, volts: line.volts } : levelOf(step, line, typed);
      stand(line, periodS / flat.length, now.amps, now.volts, step.kind === 'limit');
    }
  }
}

function addPulses(line: Timeline, amps: number, periodS: number): void {
  const base = Number.isFinite(line.amps) ? line.amps : 0;
  const count = Math.max(timing.pulses, Math.min(60, Math.ceil(timing.minPulsesS / periodS)));
  for (let n = 0; n < count; n++) {
    stand(line, periodS * (1 - timing.duty), base, line.volts, false);
    stand(line, periodS * timing.duty, amps, line.volts, false);
  }
  line.amps = base;
}

/** The finest digit typed, as a step in the SI unit. */
function resolutionOf(steps: TypedStep[], whenBare: number, coarsest: number): number {
  let decimals = -Infinity;
  const visit = (step: TypedStep): void => {
    if (step.kind === 'loop') step.steps.forEach(visit);
    const isZero = step.kind === 'reading' && (step.amps ?? step.volts) === 0 && step.decimals === 0;
    if ((step.kind === 'reading' || step.kind === 'pulse') && !isZero) {
      if (step.kind === 'pulse' || step.amps !== null || step.volts !== null)
        decimals = Math.max(decimals, step.decimals);
    }
  };
  steps.forEach(visit);
  if (!Number.isFinite(decimals)) return whenBare;
  return Math.min(coarsest, 10 ** -Math.max(0, Math.min(9, decimals)));
}

function statedLimit(steps: TypedStep[]): number | null {
  for (const step of steps) if (step.kind === 'limit' && step.amps !== null) return step.amps;
  return null;
}

/** Even rows, at least six in the shortest stand where the length allows it. */
function sample(levels: TypedLevel[], voltageOnly: boolean): Pick<Trace, 't' | 'v' | 'i'> {
  const end = levels[levels.length - 1].t1;
  const shortest = Math.min(...levels.map((s) => s.t1 - s.t0));
  const step = Math.max(Math.min(0.25, shortest / 6), end / maxRows);
  const rows = Math.max(2, Math.round(end / step) + 1);
  const t = new Float64Array(rows);
  const v = new Float32Array(rows);
  const i = new Float32Array(rows);
  let at = 0;
  for (let k = 0; k < rows; k++) {
    t[k] = Math.min(end, k * step);
    while (at < levels.length - 1 && t[k] >= levels[at].t1 - 1e-9) at++;
    v[k] = levels[at].volts;
    i[k] = voltageOnly ? NaN : levels[at].amps;
  }
  return { t, v, i };
}
