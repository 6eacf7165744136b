import { gaussianNoise, type InstrumentKind, type Marker, type Random, type Trace } from '../trace/index.ts';
import type { TwinSetup } from './setup.ts';
import type { StartUp, TwinSegment } from './timeline.ts';
import settings from './settings.json';

/** How an instrument shows what flows. Seconds, amperes, volts. */
export interface InstrumentModel {
  kind: InstrumentKind;
  rateHz: number;
  averagingS: number;
  resolutionA: number;
  resolutionV: number;
  /** `shown = true * gain + offset`. */
  gainA: number;
  offsetA: number;
  /** Standard deviation of one sample. */
  noiseA: number;
  /** Shows nothing for this long when the current crosses a range. */
  rangeGapS: number;
  /** Shares by which the spacing of the samples varies, as where a person reads a display. */
  jitter: number;
}

export const instrumentModels = {
  display: {
    kind: 'bench-supply',
    rateHz: 2,
    averagingS: 0.3,
    resolutionA: 0.01,
    resolutionV: 0.01,
    noiseA: 0.002,
    rangeGapS: 0,
    jitter: 0.15,
  },
  'bench-logger': {
    kind: 'bench-supply',
    rateHz: 20,
    averagingS: 0.04,
    resolutionA: 0.001,
    resolutionV: 0.01,
    noiseA: 0.0008,
    rangeGapS: 0,
    jitter: 0.02,
  },
  'usb-meter': {
    kind: 'usb-c-meter',
    rateHz: 10,
    averagingS: 0.08,
    resolutionA: 0.001,
    resolutionV: 0.01,
    noiseA: 0.001,
    rangeGapS: 0,
    jitter: 0.05,
  },
  'coarse-meter': {
    kind: 'usb-c-meter',
    rateHz: 2,
    averagingS: 0.4,
    resolutionA: 0.01,
    resolutionV: 0.1,
    noiseA: 0.003,
    rangeGapS: 0,
    jitter: 0.1,
  },
  'ranging-meter': {
    kind: 'dmm',
    rateHz: 5,
    averagingS: 0.15,
    resolutionA: 0.0001,
    resolutionV: 0.01,
    noiseA: 0.0002,
    rangeGapS: 0.4,
    jitter: 0.05,
  },
  probe: {
    kind: 'current-probe',
    rateHz: 1000,
    averagingS: 0,
    resolutionA: 0.0005,
    resolutionV: 0.01,
    noiseA: 0.0025,
    rangeGapS: 0,
    jitter: 0,
  },
} satisfies Record<string, Omit<InstrumentModel, 'gainA' | 'offsetA'>>;
export type InstrumentName = keyof typeof instrumentModels;

/** An instrument as it left the factory: no offset, no gain error. */
export function instrumentOf(name: InstrumentName): InstrumentModel {
  return { ...instrumentModels[name], gainA: 1, offsetA: 0 };
}

/**
 * Turns a start-up into the samples that an instrument would have logged: activity drawn from the seed, averaged,
 * sampled, with gain, offset and noise, rounded. The same seed gives the same samples.
 *
 * @param random seeded
 */
export function recordStartUp(start: StartUp, setup: TwinSetup, instrument: InstrumentModel, random: Random): Trace {
  const fine = activity(start, random, Math.min(settings.finestS, 0.5 / instrument.rateHz), setup.seconds);
  const t: number[] = [];
  for (let at = 0; at <= setup.seconds + 1e-9; at += (1 + instrument.jitter * (random() - 0.5)) / instrument.rateHz)
    t.push(at);
  const v = new Float32Array(t.length);
  const i = new Float32Array(t.length);
  const window = Math.max(1, Math.round(instrument.averagingS / fine.step));
  let range = 0;
  let blindUntil = -1;
  t.forEach((at, k) => {
    const index = Math.min(fine.amps.length - 1, Math.floor(at / fine.step));
    const from = Math.max(0, index - window + 1);
    let sum = 0;
    for (let j = from; j <= index; j++) sum += fine.amps[j];
    const flows = sum / (index - from + 1);
    const nowRange = settings.meterRangesA.filter((limit) => flows > limit).length;
    if (nowRange !== range) {
      range = nowRange;
      blindUntil = at + instrument.rangeGapS;
    }
    const shown = flows * instrument.gainA + instrument.offsetA + instrument.noiseA * gaussianNoise(random);
    i[k] = instrument.rangeGapS > 0 && at < blindUntil ? NaN : Math.max(0, rounded(shown, instrument.resolutionA));
    v[k] = Math.max(0, rounded(fine.volts[index] + settings.noiseV * gaussianNoise(random), instrument.resolutionV));
  });
  return {
    t: Float64Array.from(t),
    v,
    i,
    quantity: 'current',
    feed: setup.feed,
    instrument: {
      kind: instrument.kind,
      rateHz: instrument.rateHz,
      averagingS: instrument.averagingS,
      resolutionA: instrument.resolutionA,
      resolutionV: instrument.resolutionV,
      gainA: 1,
      offsetA: 0,
      gainV: 1,
      offsetV: 0,
    },
    limitA: setup.feed === 'usb-c' ? null : setup.limitA,
    setV: setup.feed === 'usb-c' ? null : setup.setV,
    limitSpans: [],
  };
}

/** The markers that a careful person would have set. */
export function markersOf(setup: TwinSetup): Marker[] {
  const on: Marker = { t: setup.onS, event: setup.feed === 'usb-c' ? 'plug' : 'output-on' };
  return setup.promptS === null ? [on] : [on, { t: setup.promptS, event: 'prompt' }];
}

function rounded(x: number, step: number): number {
  return step > 0 ? Math.round(x / step) * step : x;
}

/** Current and voltage on a fine grid, with bursts, pulses and the rush into empty capacitors. */
function activity(start: StartUp, random: Random, step: number, seconds: number) {
  const count = Math.max(2, Math.ceil(seconds / step) + 1);
  const amps = new Float64Array(count);
  const volts = new Float64Array(count);
  let before = 0;
  for (const segment of start.segments) {
    const from = Math.round(segment.t0 / step);
    const to = Math.min(count, Math.round(segment.t1 / step) + (segment === start.segments.at(-1) ? 1 : 0));
    fill(segment, amps, from, to, step, random);
    volts.fill(segment.volts, from, to);
    if (segment.kind !== 'off' && segment.meanA > 2 * before && from < count) rush(segment, amps, from, to, step);
    before = segment.meanA;
  }
  return { step, amps, volts };
}

function fill(s: TwinSegment, amps: Float64Array, from: number, to: number, step: number, random: Random): void {
  let until = from;
  let level = s.lowA;
  for (let k = from; k < to; k++) {
    if (s.kind === 'pulses' && s.periodS !== null) {
      const phase = ((k - from) * step) % s.periodS;
      level = phase < (s.duty ?? settings.unknownDuty) * s.periodS ? s.highA : s.lowA;
    } else if (s.kind === 'bursts') {
      if (k >= until) {
        level = s.lowA + (s.highA - s.lowA) * random() ** settings.burstSkew;
        until = k + Math.max(1, Math.round((settings.burstMinS + 0.5 * random()) / step));
      }
    } else level = s.meanA;
    amps[k] = level;
  }
}

/** Capacitors fill within milliseconds: a spike that only a fast instrument sees. */
function rush(s: TwinSegment, amps: Float64Array, from: number, to: number, step: number): void {
  const extra = s.kind === 'limit' ? 0 : 0.5 * s.meanA;
  for (let k = from; k < to && (k - from) * step < settings.inrush.withinS; k++)
    amps[k] += extra * Math.exp((-(k - from) * step) / settings.inrush.decayS);
}
