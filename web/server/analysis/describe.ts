import {
  correctTrace,
  describe,
  envelopeOf,
  type Device,
  type Envelope,
  type Run,
  type Shape,
  type Summary,
  type Trace,
} from '@umbral/core';
import type { Preview } from './protocol.ts';

/** Stretches of a picture, about one a pixel. */
export const previewBins = 640;

/**
 * What is drawn of a run, small enough to travel with the page.
 *
 * @param trace already corrected for the instrument
 */
export function previewOf(trace: Pick<Trace, 't' | 'v' | 'i'>, from?: number, to?: number): Preview {
  const { t } = trace;
  const t0 = from ?? (t.length === 0 ? 0 : t[0]);
  const t1 = to ?? (t.length === 0 ? 0 : t[t.length - 1]);
  const volts = envelopeOf(t, trace.v, t0, t1, previewBins).mean;
  return previewOfEnvelopes(envelopeOf(t, trace.i, t0, t1, previewBins), volts, t0, t1);
}

/** A picture from what was summed up already. Amperes, volts, seconds. */
export function previewOfEnvelopes(current: Envelope, volts: Float32Array, t0: number, t1: number): Preview {
  return {
    t0,
    t1,
    low: short(current.low),
    mean: short(current.mean),
    high: short(current.high),
    volts: short(volts),
  };
}

function short(values: Float32Array): (number | null)[] {
  return Array.from(values, (x) => (Number.isFinite(x) ? Number(x.toPrecision(4)) : null));
}

/** Shape and picture of a run. */
export function describeWithPreview(
  device: Device,
  run: Run,
  trace: Trace,
  summary: Summary | null,
): { shape: Shape; preview: Preview } {
  return { shape: describe({ device }, run, trace, summary), preview: previewOf(correctTrace(trace)) };
}
