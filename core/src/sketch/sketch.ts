import type { Feed } from '../catalogue/index.ts';
import { gaussianNoise, unknownInstrument, type InstrumentKind, type Random, type Trace } from '../trace/index.ts';

/** One stroke of a sketch: seconds, amperes, volts. */
export interface Stroke {
  seconds: number;
  amps: number;
  /** Amperes at the end, for a ramp; the level stands where left out. */
  toAmps?: number;
  /** Bursts of activity up to this level, lasting about `burstS` each. */
  burstTo?: number;
  burstS?: number;
  /** Holds from here on until changed. */
  volts?: number;
}

export interface SketchInstrument {
  kind: InstrumentKind;
  rateHz: number;
  resolutionA: number;
  /** Standard deviation of one sample, A. */
  noiseA: number;
  averagingS?: number;
}

/** Instruments as benches have them. */
export const sketchInstruments = {
  display: { kind: 'bench-supply', rateHz: 2, resolutionA: 0.01, noiseA: 0.002, averagingS: 0.3 },
  logger: { kind: 'bench-supply', rateHz: 20, resolutionA: 0.001, noiseA: 0.0008, averagingS: 0.04 },
  meter: { kind: 'usb-c-meter', rateHz: 10, resolutionA: 0.001, noiseA: 0.001, averagingS: 0.08 },
  coarseMeter: { kind: 'usb-c-meter', rateHz: 2, resolutionA: 0.01, noiseA: 0.003, averagingS: 0.3 },
  probe: { kind: 'current-probe', rateHz: 1000, resolutionA: 0.0005, noiseA: 0.0025, averagingS: 0 },
} satisfies Record<string, SketchInstrument>;

/** Repeats strokes. */
export function repeatStrokes(count: number, strokes: Stroke[]): Stroke[] {
  return Array.from({ length: count }, () => strokes).flat();
}

/**
 * Draws a run from a written outline, as an instrument would have logged it: averaged, sampled, with noise and rounded
 * to its resolution. For tests, measurements and demonstration data.
 *
 * @param strokes what the device draws, in order; at least one
 * @param random seeded, so that a sketch can be drawn again
 */
export function sketchTrace(
  feed: Feed,
  strokes: Stroke[],
  instrument: SketchInstrument,
  random: Random,
  source: { limitA?: number; setV?: number } = {},
): Trace {
  const fine = drawFine(strokes, random, source.setV ?? 5, Math.min(0.01, 0.5 / instrument.rateHz));
  const seconds = strokes.reduce((sum, s) => sum + s.seconds, 0);
  const rows = Math.max(2, Math.floor(seconds * instrument.rateHz) + 1);
  const t = new Float64Array(rows);
  const v = new Float32Array(rows);
  const i = new Float32Array(rows);
  const window = Math.max(1, Math.round((instrument.averagingS ?? 0) / fine.step));
  for (let k = 0; k < rows; k++) {
    t[k] = k / instrument.rateHz;
    const at = Math.min(fine.amps.length - 1, Math.floor(t[k] / fine.step));
    let sum = 0;
    const from = Math.max(0, at - window + 1);
    for (let j = from; j <= at; j++) sum += fine.amps[j];
    let amps = sum / (at - from + 1) + instrument.noiseA * gaussianNoise(random);
    let volts = fine.volts[at] + 0.004 * gaussianNoise(random);
    if (source.limitA !== undefined && amps >= source.limitA) {
      volts *= Math.min(1, (0.6 * source.limitA) / amps);
      amps = source.limitA + 0.3 * instrument.noiseA * gaussianNoise(random);
    }
    i[k] = Math.max(0, round(amps, instrument.resolutionA));
    v[k] = Math.max(0, round(volts, 0.01));
  }
  return {
    t,
    v,
    i,
    quantity: 'current',
    feed,
    instrument: {
      ...unknownInstrument,
      kind: instrument.kind,
      rateHz: instrument.rateHz,
      averagingS: instrument.averagingS ?? null,
      resolutionA: instrument.resolutionA,
      resolutionV: 0.01,
    },
    limitA: source.limitA ?? null,
    setV: source.setV ?? null,
    limitSpans: [],
  };
}

function round(x: number, step: number): number {
  return Math.round(x / step) * step;
}

function drawFine(strokes: Stroke[], random: Random, setV: number, step: number) {
  const amps: number[] = [];
  const volts: number[] = [];
  let v = setV;
  for (const stroke of strokes) {
    v = stroke.volts ?? v;
    const count = Math.max(1, Math.round(stroke.seconds / step));
    let level = stroke.amps;
    let until = 0;
    for (let k = 0; k < count; k++) {
      if (stroke.burstTo !== undefined && k * step >= until) {
        level = stroke.amps + (stroke.burstTo - stroke.amps) * random() ** 1.3;
        until = k * step + (stroke.burstS ?? 0.4) * (0.4 + 1.2 * random());
      }
      const ramp = stroke.toAmps === undefined ? 0 : ((stroke.toAmps - stroke.amps) * k) / count;
      amps.push(level + ramp);
      volts.push(v);
    }
  }
  return { step, amps: Float64Array.from(amps), volts: Float64Array.from(volts) };
}
