import { describe, envelope, type Device, type Run, type Shape, type Summary, type Trace } from '@umbral/core';
import type { Preview } from './protocol.ts';

const bins = 640;

/** What is drawn of a run, small enough to travel with the page. */
export function previewOf(trace: Pick<Trace, 't' | 'v' | 'i' | 'quantity'>, from?: number, to?: number): Preview {
  const { t } = trace;
  const t0 = from ?? (t.length === 0 ? 0 : t[0]);
  const t1 = to ?? (t.length === 0 ? 0 : t[t.length - 1]);
  const current = envelope(t, trace.i, t0, t1, bins);
  const volts = envelope(t, trace.v, t0, t1, bins);
  return {
    t0,
    t1,
    low: short(current.low),
    mean: short(current.mean),
    high: short(current.high),
    volts: short(volts.mean),
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
  return { shape: describe({ device }, run, trace, summary), preview: previewOf(trace) };
}
