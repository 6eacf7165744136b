import type { Instrument, Trace } from './types.ts';

/**
 * `true = (shown - offset) / gain`; one reading.
 *
 * @param shown volts or amperes as the instrument shows them
 * @param gain above 0; 1.02 shows 2 % too much
 * @param offset in the unit of the reading
 * @example correctReading(1.02, 1.02, 0) // 1
 */
export function correctReading(shown: number, gain: number, offset: number): number {
  return (shown - offset) / gain;
}

/** True where the instrument needs no correction. */
function isIdeal(instrument: Instrument): boolean {
  return instrument.gainA === 1 && instrument.gainV === 1 && instrument.offsetA === 0 && instrument.offsetV === 0;
}

/**
 * Applies the instrument's calibration to every sample.
 *
 * @returns a trace in true volts and amperes, with an ideal instrument (resolution scaled by the gain)
 */
export function correctTrace(trace: Trace): Trace {
  const { gainA, offsetA, gainV, offsetV, resolutionA, resolutionV } = trace.instrument;
  if (isIdeal(trace.instrument)) return trace;
  return {
    ...trace,
    i: trace.i.map((x) => correctReading(x, gainA, offsetA)),
    v: trace.v.map((x) => correctReading(x, gainV, offsetV)),
    instrument: {
      ...trace.instrument,
      resolutionA: resolutionA === null ? null : resolutionA / Math.abs(gainA),
      resolutionV: resolutionV === null ? null : resolutionV / Math.abs(gainV),
      gainA: 1,
      offsetA: 0,
      gainV: 1,
      offsetV: 0,
    },
  };
}
