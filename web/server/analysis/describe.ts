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
import type { Preview } from '../record/rows/run-rows.ts';

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
  const drawn = previewOfEnvelopes(envelopeOf(t, trace.i, t0, t1, previewBins), volts, t0, t1);
  const gapS = Math.max(leastGapS, (gapIntervals * (t[t.length - 1] - t[0])) / Math.max(1, t.length - 1));
  const mostBins = Math.floor((gapS * previewBins) / Math.max(1e-9, t1 - t0));
  const { low, mean, high } = drawn;
  return {
    ...drawn,
    low: carried(low, mostBins),
    mean: carried(mean, mostBins),
    high: carried(high, mostBins),
    volts: carried(drawn.volts, mostBins),
  };
}

/** What counts as readings that are missing, as in the run's segments: this long, and so many intervals. */
const [leastGapS, gapIntervals] = [0.4, 6];

/** An instrument slower than the picture is fine: what it showed last stands until its next reading, unless some are missing. */
function carried(values: readonly (number | null)[], mostBins: number): (number | null)[] {
  const out = [...values];
  let last = -1;
  for (const [k, value] of values.entries()) {
    if (value === null) continue;
    if (last >= 0 && k - last - 1 <= mostBins) out.fill(values[last], last + 1, k);
    last = k;
  }
  return out;
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
