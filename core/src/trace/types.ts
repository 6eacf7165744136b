import type { Feed } from '../catalogue/index.ts';

export const quantities = ['current', 'voltage-only'] as const;
export type RunQuantity = (typeof quantities)[number];

export const instrumentKinds = ['bench-supply', 'usb-c-meter', 'dmm', 'current-probe', 'eye'] as const;
export type InstrumentKind = (typeof instrumentKinds)[number];

/** What recorded the run, and how far it can be trusted. `true = (shown - offset) / gain`. */
export interface Instrument {
  kind: InstrumentKind | null;
  rateHz: number | null;
  averagingS: number | null;
  resolutionA: number | null;
  resolutionV: number | null;
  gainA: number;
  offsetA: number;
  gainV: number;
  offsetV: number;
}

export const markerEvents = [
  'output-on',
  'output-off',
  'plug',
  'unplug',
  'flip',
  'prompt',
  'release',
  'part-off',
  'part-on',
  'note',
] as const;
export type MarkerEvent = (typeof markerEvents)[number];

/** Something that happened during a run; `t` in seconds after its first row. */
export interface Marker {
  t: number;
  event: MarkerEvent;
  note?: string;
  inferred?: boolean;
  /** When somebody said it by hand, seconds: `t` is looked for around it. Left out where `t` is exact. */
  said?: number;
}

/** A stretch of time in seconds. */
export interface Span {
  t0: number;
  t1: number;
}

/**
 * One recording. Times in seconds from the first row, rising; volts and amperes with NaN where absent.
 * Immutable by agreement: functions return new traces.
 */
export interface Trace {
  t: Float64Array;
  v: Float32Array;
  i: Float32Array;
  quantity: RunQuantity;
  feed: Feed;
  instrument: Instrument;
  /** Current limit of the source in A, null where unknown. */
  limitA: number | null;
  /** Voltage that the source was set to in V, null where unknown. */
  setV: number | null;
  /** Where the source is known to have been in its limit (a display's CC lamp, a typed `limit`). */
  limitSpans: Span[];
}

/** Figures of the whole run, after repair and correction. Amperes, volts, seconds; null where nothing was measured. */
export interface Summary {
  rows: number;
  firstS: number | null;
  lastS: number | null;
  meanA: number | null;
  maxA: number | null;
  meanV: number | null;
}

/** An instrument of which nothing is known. */
export const unknownInstrument: Instrument = {
  kind: null,
  rateHz: null,
  averagingS: null,
  resolutionA: null,
  resolutionV: null,
  gainA: 1,
  offsetA: 0,
  gainV: 1,
  offsetV: 0,
};
