import { closeSync, openSync, writeSync } from 'node:fs';
import { seededRandom, unknownInstrument, type Trace } from '@umbral/core';
import { filmFile, filmTrace } from '@umbral/tools';

/** Volts and amperes that hold for so many seconds, one after the other. */
export type Levels = [seconds: number, volts: number, amps: number][];

/** What an instrument would log of levels, many times a second. */
function traceOf(levels: Levels): Trace {
  const everyS = 0.02;
  const rows = levels.flatMap(([seconds, v, i]) =>
    Array.from({ length: Math.round(seconds / everyS) }, () => ({ v, i })),
  );
  return {
    t: Float64Array.from(rows, (_, k) => k * everyS),
    v: Float32Array.from(rows, (r) => r.v),
    i: Float32Array.from(rows, (r) => r.i),
    quantity: 'current',
    instrument: unknownInstrument,
    limitA: null,
  } as unknown as Trace;
}

/**
 * Films the display of an instrument that shows levels, tilted and noisy, into a file that Chromium takes for a camera.
 *
 * @param file of uncompressed pictures, YUV4MPEG2
 * @param seed of the display and the camera
 * @param isMirrored as a camera that is meant for oneself gives it
 */
export function filmLevels(file: string, levels: Levels, seed: number, isMirrored = false): void {
  const video = filmTrace('strange', traceOf(levels), 0, seededRandom(seed), [15]);
  const seconds = levels.reduce((sum, [s]) => sum + s, 0);
  const out = openSync(file, 'w');
  for (const piece of filmFile(video, seconds, isMirrored)) writeSync(out, piece);
  closeSync(out);
}
