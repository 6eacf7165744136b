import { closeSync, openSync, writeSync } from 'node:fs';
import { filmTrace, seededRandom, unknownInstrument, type Trace } from '@umbral/core';

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
  const random = seededRandom(seed);
  const fps = 15;
  const video = filmTrace('strange', traceOf(levels), 0, random, [fps]);
  const seconds = levels.reduce((sum, [s]) => sum + s, 0);
  const out = openSync(file, 'w');
  for (let n = 0; n < Math.round(seconds * fps); n++) {
    const { picture } = video.at(n / fps);
    const { width, height, data } = picture;
    if (n === 0) writeSync(out, `YUV4MPEG2 W${width} H${height} F${fps}:1 Ip A1:1 C420jpeg\n`);
    const bytes = Buffer.alloc((width * height * 3) / 2, 128);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++)
        bytes[y * width + x] = Math.round(255 * data[y * width + (isMirrored ? width - 1 - x : x)]);
    writeSync(out, 'FRAME\n');
    writeSync(out, bytes);
  }
  closeSync(out);
}
